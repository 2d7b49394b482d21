/** A sweep in a process of its own: it reads every scene, and must not hold up the server. Says its result as JSON. */
import { join } from 'node:path';
import { BlobFolder } from '@noble-prism/node/blobFolder';
import { readConfig } from '../config.ts';
import { connect } from '../db/connect.ts';
import { sweep } from './sweep.ts';

const config = readConfig();
const db = connect(config.databaseUrl);
const hours = Number(process.env.SWEEP_AGE_HOURS ?? 24);
const result = await sweep(db, new BlobFolder(join(config.dataDir, 'blobs')), config.dataDir, hours * 3600_000);
await db.destroy();
process.send?.(result);
process.exit(0);
