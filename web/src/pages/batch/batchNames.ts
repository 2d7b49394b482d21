/** Names of the jobs of a batch, by the files that they are for. */
import { baseName } from '@noble-prism/core/read/paths';

/** Without its ending, which it keeps where two would be called the same. */
export function jobNames(files: readonly { name: string }[]): string[] {
  const plain = files.map(({ name }) => baseName(name));
  const uses = (name: string) => plain.filter((other) => other.toLowerCase() === name.toLowerCase()).length;
  return files.map(({ name }, i) => (uses(plain[i]) > 1 ? name : plain[i]).slice(0, 200));
}

/** Which of some files each job waits for: the one that it is called after. */
export function filesFor<F extends { name: string }>(
  jobs: readonly { job: string; name: string }[],
  files: readonly F[],
): { job: string; file: F }[] {
  return jobs.flatMap(({ job, name }) => {
    const file = files.find((one) => one.name === name) ?? files.find((one) => baseName(one.name) === name);
    return file ? [{ job, file }] : [];
  });
}
