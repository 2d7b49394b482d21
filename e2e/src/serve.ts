/** Starts the application for the end-to-end tests: an empty database of their own, a fresh data folder, the demo job in it. */
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { keptDemoFiles } from '@noble-prism/demo/kept';
import { programFile } from '@noble-prism/node/programs';

const base = process.env.DATABASE_URL;
if (!base) throw new Error('DATABASE_URL is not set: run the tests with "npm test", which starts PostgreSQL.');

const admin = new pg.Client({ connectionString: base });
await admin.connect();
await admin.query('drop database if exists prism_e2e with (force)');
await admin.query('create database prism_e2e');
await admin.end();

const data = join(process.cwd(), 'test-results', 'e2e-data');
rmSync(data, { recursive: true, force: true });
cpSync(await keptDemoFiles(), join(data, 'demo'), { recursive: true });
const env = {
  ...process.env,
  DATABASE_URL: base.replace(/\/[^/]*$/, '/prism_e2e'),
  DATA_DIR: data,
  WEB_DIR: join(process.cwd(), 'web', 'dist'),
  PORT: process.argv[2],
};
const demo = spawnSync(process.execPath, [programFile('makeDemoJob')], { env, stdio: 'inherit' });
if (demo.status !== 0) process.exit(1);
const server = spawn(process.execPath, [programFile('server')], { env, stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => server.kill('SIGTERM'));
server.on('exit', (code) => process.exit(code ?? 0));
