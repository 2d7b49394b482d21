// What is told to the pages arrives whatever letters it is in: PostgreSQL counts bytes, and takes 8000 of them.
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { JobEvent } from '@noble-prism/wire/task';
import { emptyDatabase } from '../testing.ts';
import { connect } from './connect.ts';
import type { Db } from './connect.ts';
import { Listener, tell } from './events.ts';

let db: Db;
let listener: Listener;
let drop: () => Promise<void>;
const heard: JobEvent[] = [];
beforeAll(async () => {
  const made = await emptyDatabase();
  drop = made.drop;
  db = connect(made.url);
  listener = new Listener(made.url, (event) => heard.push(event));
  await listener.open();
});
afterAll(async () => {
  await listener.close();
  await db.destroy();
  await drop();
});

const failed = (message: string): JobEvent => ({ type: 'task', job: 'j', task: '1', kind: 'read', state: 'failed', error: { code: 'not-readable', message } }); // prettier-ignore

it.each([
  ['short', failed('Файл Станция.stp не читается.'), 'task'],
  ['long, in letters of one byte', failed('a'.repeat(9000)), 'job'],
  // Two bytes each: fewer letters than the limit has bytes, and more bytes.
  ['long, in Cyrillic', failed('Ж'.repeat(5000)), 'job'],
  ['long, in Chinese', failed('站'.repeat(3000)), 'job'],
  ['a result that is too large to be told', { type: 'result', job: 'j', key: 'k', value: 'Щ'.repeat(5000) }, 'result'],
] as const)('what is %s is heard, with less in it where it is too much', async (_, event, type) => {
  heard.length = 0;
  await tell(db, event);
  await vi.waitFor(() => expect(heard).toHaveLength(1));
  expect(heard[0]).toMatchObject({ type, job: 'j' });
  if (type === 'task') expect(heard[0]).toEqual(event);
});
