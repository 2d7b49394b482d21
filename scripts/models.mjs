// Open files to test with, as a program of its own: they are unpacked while packages are installed. Its last line is where they are.
import { ensureModels } from './lib/models.mjs';

try {
  console.log(ensureModels());
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
