// Before unit tests: what they start as processes and threads is there as its sources are.
import { ensurePrograms } from './programs.mjs';

export async function setup() {
  await ensurePrograms();
}
