import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import tseslint from 'typescript-eslint';

/** Packages that only the interface, only the server, or only Node may use. */
const outside = ['vue', 'pinia', 'primevue', 'primevue/*', 'koa', '@koa/*', 'kysely', 'pg', 'node:*', '@noble-prism/*'];

export default tseslint.config(
  { ignores: ['**/dist/**', 'build/**', '**/node_modules/**', '.data/**', 'test-results/**', 'playwright-report/**'] },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'].map((config) => ({ ...config, files: ['**/*.vue'] })),
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser } },
    rules: { 'vue/multi-word-component-names': 'off' },
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      'no-console': 'error',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    // The core knows no interface, no server, no database and no file system.
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.test.ts', 'core/src/testing/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: outside.map((name) => ({
            group: [name],
            message: 'The core stands alone: hand it in through Surroundings.',
          })),
        },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'localStorage', 'fetch'],
    },
  },
  {
    // One check of types sees all workspaces: what only Node has is kept out of pages here.
    files: ['web/src/**/*.ts', 'web/src/**/*.vue'],
    ignores: ['**/*.test.ts', 'web/src/testing/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            { group: ['node:*', '@noble-prism/node/*', '@noble-prism/server/*'], message: 'Pages have no Node.' },
          ],
        },
      ],
      'no-restricted-globals': ['error', 'process', 'Buffer', 'global', 'require', 'setImmediate'],
    },
  },
  { files: ['scripts/**', '**/*.mjs'], rules: { 'no-console': 'off' } },
  prettier,
);
