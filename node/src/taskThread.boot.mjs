// A worker thread does not inherit the TypeScript loader of its process, so it registers its own before the real thread.
import { register } from 'tsx/esm/api';

register();
await import('./taskThread.ts');
