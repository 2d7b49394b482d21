/** What is known of the tasks of a job, from answers and from events, which may overtake each other. */
import type { Task } from '@noble-prism/wire/task';

const RANK: Record<Task['state'], number> = { queued: 0, running: 1, done: 2, failed: 2, cancelled: 2 };

/** Whether an event is news of a task: one that has ended never goes back, whichever event overtook which. */
export const isNews = (known: Task['state'] | undefined, state: Task['state']): boolean =>
  known === undefined || RANK[known] < 2 || RANK[state] === 2;

/**
 * Tasks of an answer, with what events have said since it was written: a task never goes back from an end, and one that is newer than
 * the answer stays.
 */
export function withNewerStates(answered: readonly Task[], known: readonly Task[]): Task[] {
  const states = new Map(known.map((task) => [task.id, task]));
  const newest = Math.max(-1, ...answered.map(({ id }) => Number(id)));
  const merged = answered.map((task) => {
    const other = states.get(task.id);
    return other && RANK[other.state] > RANK[task.state] ? other : task;
  });
  const unheard = known.filter(({ id, state }) => Number(id) > newest && RANK[state] < 2);
  return [...merged, ...unheard];
}
