/** Where the server listens and keeps its data, from the environment. */
import { join, resolve } from 'node:path';

export interface Config {
  host: string;
  port: number;
  databaseUrl: string;
  /** Folder of blobs, uploads and logs. */
  dataDir: string;
  /** Folder that deliveries are put into where that is asked for. */
  deliveries: string;
  /** Folder of the built interface, or undefined to serve the API only. */
  webDir?: string;
  /** Threads that tessellate side by side, each with a kernel of its own. */
  threads: number;
  /** Largest upload, bytes. */
  maxUpload: number;
}

/** @throws Error naming the variable that is missing */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  if (!env.DATABASE_URL) throw new Error('DATABASE_URL is not set. Start with "npm run demo", which sets it.');
  return {
    // Loopback only, unless somebody decides otherwise on purpose.
    host: env.HOST ?? '127.0.0.1',
    port: Number(env.PORT ?? 4780),
    databaseUrl: env.DATABASE_URL,
    dataDir: resolve(env.DATA_DIR ?? '.data'),
    deliveries: resolve(env.DELIVERIES ?? join(env.DATA_DIR ?? '.data', 'deliveries')),
    webDir: env.WEB_DIR ? resolve(env.WEB_DIR) : undefined,
    threads: Number(env.THREADS ?? 2),
    maxUpload: Number(env.MAX_UPLOAD ?? 1_000_000_000),
  };
}
