/**
 * The queue of heavy work. A task is claimed by one worker at a time, which keeps its heartbeat going; a task whose
 * heartbeat stops is claimed again by the next worker. Three attempts, then it has failed.
 */
import { sql } from 'kysely';
import { PrismError } from '@noble-prism/core/errors';
import type { Progress } from '@noble-prism/core/surroundings';
import type { Db } from './connect.ts';
import { tell } from './events.ts';
import type { ErrorJson, Task as WireTask, TaskKind, TaskState } from '@noble-prism/wire/task';

/** A worker that has been silent for this long is taken for dead. */
export const HEARTBEAT_SECONDS = 10;
export const MAX_ATTEMPTS = 3;

export interface Task {
  id: string;
  job: string;
  kind: TaskKind;
  payload: Record<string, unknown>;
  attempt: number;
}

/**
 * Queues a task. A newer evaluation, forecast or comparison of the same job takes the place of older ones that wait or run; but
 * one that `continues` lets the evaluation of the first shapes of a source end: it is short, and all that it does is needed.
 */
export async function enqueue(
  db: Db,
  job: string,
  kind: TaskKind,
  payload: Record<string, unknown>,
  { continues = false } = {},
): Promise<string> {
  if (kind !== 'read' && kind !== 'transmit') {
    const older = await db
      .selectFrom('tasks')
      .select(['id', 'state', 'payload'])
      .where('job', '=', job)
      .where('kind', '=', kind)
      .where('state', 'in', ['queued', 'running'])
      .execute();
    for (const { id, state, payload } of older)
      if (!(continues && state === 'running' && payload.beginning)) await cancelTask(db, String(id));
  }
  const { id } = await db
    .insertInto('tasks')
    .values({
      job,
      kind,
      payload: JSON.stringify(payload),
      state: 'queued',
      progress: 'null',
      error: 'null',
      result: 'null',
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  // Pages first: a worker that is called may be through before they hear that it waited.
  await tell(db, { type: 'task', job, task: String(id), kind, state: 'queued' });
  await tell(db, { type: 'queued', job });
  return String(id);
}

/** Takes the oldest task of some kinds that waits, or whose worker has fallen silent. */
export async function claim(db: Db, worker: string, kinds: readonly TaskKind[]): Promise<Task | undefined> {
  const { rows } = await sql<Task>`
    update tasks set state = 'running', worker = ${worker}, heartbeat = now(), attempt = attempt + 1
    where id = (
      select id from tasks
      where kind = any(${sql.val([...kinds])}::text[])
        and (state = 'queued' or (state = 'running' and heartbeat < now() - make_interval(secs => ${HEARTBEAT_SECONDS})))
      order by id
      for update skip locked limit 1
    )
    returning id::text, job, kind, payload, attempt`.execute(db);
  return rows[0];
}

/** Puts what somebody waits for at the head of the evaluations of a job that wait or run. */
export async function want(db: Db, job: string, keys: readonly string[]): Promise<void> {
  await sql`
    update tasks set payload = payload || jsonb_build_object('wanted', ${JSON.stringify(keys)}::jsonb)
    where job = ${job} and kind = 'evaluate' and state in ('queued', 'running')`.execute(db);
}

/** Keys of the work that somebody waits for, the latest wish alone. */
export async function wantedKeys(db: Db, job: string): Promise<string[]> {
  const row = await db
    .selectFrom('tasks')
    .select('payload')
    .where('job', '=', job)
    .where('kind', '=', 'evaluate')
    .where('state', '=', 'running')
    .orderBy('id', 'desc')
    .executeTakeFirst();
  return Array.isArray(row?.payload.wanted) ? (row.payload.wanted as string[]) : [];
}

/** Keeps a claim alive. Returns false where the task was cancelled or taken by another worker. */
export async function beat(db: Db, task: string, worker: string): Promise<boolean> {
  const { numUpdatedRows } = await db
    .updateTable('tasks')
    .set({ heartbeat: new Date() })
    .where('id', '=', task as never)
    .where('worker', '=', worker)
    .where('state', '=', 'running')
    .executeTakeFirst();
  return numUpdatedRows > 0n;
}

export async function reportProgress(db: Db, task: Task, progress: Progress): Promise<void> {
  await db
    .updateTable('tasks')
    .set({ progress: JSON.stringify(progress) })
    .where('id', '=', task.id as never)
    .execute();
  await tell(db, { type: 'task', job: task.job, task: task.id, kind: task.kind, state: 'running', progress });
}

/** Ends a running task; one that was cancelled meanwhile stays cancelled. */
export async function finish(
  db: Db,
  task: Task,
  state: Extract<TaskState, 'done' | 'failed' | 'queued'>,
  outcome: { result?: Record<string, unknown>; error?: ErrorJson } = {},
): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('tasks')
    .set({
      state,
      worker: null,
      finished_at: state === 'queued' ? null : new Date(),
      result: JSON.stringify(outcome.result ?? null),
      error: JSON.stringify(outcome.error ?? null),
    })
    .where('id', '=', task.id as never)
    .where('state', '=', 'running')
    .executeTakeFirst();
  if (numUpdatedRows > 0n)
    await tell(db, { type: 'task', job: task.job, task: task.id, kind: task.kind, state, ...outcome });
}

/** Marks a task as cancelled and tells its worker, which ends the work. Does nothing to a task that has ended. */
export async function cancelTask(db: Db, task: string): Promise<void> {
  const row = await db
    .updateTable('tasks')
    .set({ state: 'cancelled', finished_at: new Date() })
    .where('id', '=', task as never)
    .where('state', 'in', ['queued', 'running'])
    .returning(['job', 'kind'])
    .executeTakeFirst();
  if (!row) return;
  await tell(db, { type: 'cancel', job: row.job, task });
  await tell(db, { type: 'task', job: row.job, task, kind: row.kind, state: 'cancelled' });
}

/** @throws PrismError `not-found` */
export async function findTask(db: Db, task: string) {
  const row = /^\d{1,18}$/.test(task)
    ? await db
        .selectFrom('tasks')
        .selectAll()
        .where('id', '=', task as never)
        .executeTakeFirst()
    : undefined;
  if (!row) throw new PrismError('not-found', 'There is no such task.');
  return row;
}

/** Tasks that wait or run, and the latest of each kind that has ended. */
export async function listTasks(db: Db, job: string) {
  const { rows } = await sql<WireTask & { payload: object }>`
    select id::text, kind, state, progress, error, result, payload - 'wanted' - 'steps' as payload from tasks
    where job = ${job} and (state in ('queued', 'running') or id in (select max(id) from tasks where job = ${job} group by kind))
    order by id`.execute(db);
  return rows;
}

/** Gives back tasks of workers on this machine whose process is gone, so that they need not wait for the heartbeat. */
export async function releaseDead(db: Db, host: string): Promise<void> {
  const rows = await db.selectFrom('tasks').select(['id', 'worker']).where('state', '=', 'running').execute();
  for (const { id, worker } of rows) {
    const [where, pid] = worker?.split('/') ?? [];
    if (where !== host || !pid) continue;
    try {
      process.kill(Number(pid), 0);
    } catch {
      await db
        .updateTable('tasks')
        .set({ state: 'queued', worker: null })
        .where('id', '=', id as never)
        .where('worker', '=', worker)
        .execute();
    }
  }
}
