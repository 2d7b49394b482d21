/** `prism`: the command line as a program. */
import { run } from './run.ts';

const terminal = {
  out: (text: string) => void process.stdout.write(text),
  err: (text: string) => void process.stderr.write(text),
};
// Threads and sockets of what was done may still be open.
process.exit(await run(process.argv.slice(2), terminal));
