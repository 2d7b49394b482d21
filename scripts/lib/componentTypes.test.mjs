// What a compiler finds in the module of a component is told where it stands in the component, and nothing else is told.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { errorsInComponents, nativeCompiler, writeComponentTypes } from './componentTypes.mjs';
import { root } from './run.mjs';

const BAD = `<script setup lang="ts">
import { ref } from 'vue';
const sides = ref(1);
const words: string = sides.value;
defineProps<{ title: string }>();
</script>

<template>
  <p :title>{{ sides.area }} {{ words }}</p>
</template>
`;
const GOOD = `<script setup lang="ts">
import Bad from './Bad.vue';
</script>

<template>
  <Bad title="Cabin" />
  <Bad :title="3" />
</template>
`;

let folder;
beforeAll(() => {
  mkdirSync(join(root, 'build'), { recursive: true });
  // Beside the packages: modules name them by their way to them.
  folder = mkdtempSync(join(root, 'build', 'components-'));
  mkdirSync(join(folder, 'src', 'parts'), { recursive: true });
  writeFileSync(join(folder, 'src', 'Good.vue'), GOOD.replace('./Bad', './parts/Bad'));
  writeFileSync(join(folder, 'src', 'parts', 'Bad.vue'), BAD);
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('types of components', () => {
  it('are checked with their templates, and told at their places', () => {
    const modules = writeComponentTypes(join(folder, 'src'), join(folder, 'types'));
    expect([...modules.keys()]).toEqual(['Good.vue.ts', 'parts/Bad.vue.ts'].map((name) => join(folder, 'types', name)));

    const config = join(folder, 'tsconfig.json');
    const compilerOptions = { rootDirs: ['src', 'types'], types: [] };
    writeFileSync(
      config,
      JSON.stringify({ extends: '../../tsconfig.json', compilerOptions, include: ['types'], exclude: [] }),
    );
    const errors = errorsInComponents(nativeCompiler(config).said, modules);
    const places = errors.map((line) => /src(.*error TS\d+)/.exec(line)[1]);
    expect(places.sort()).toEqual([
      '/Good.vue(7,8): error TS2322',
      '/parts/Bad.vue(4,7): error TS2322',
      '/parts/Bad.vue(9,22): error TS2339',
    ]);
  });
});
