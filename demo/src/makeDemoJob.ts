/** Puts the demo job into the database where it is not there yet: files authored, received and prepared like any others. */
import { existsSync } from 'node:fs';
import { mkdir, readFile, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { BlobFolder } from '@noble-prism/node/blobFolder';
import { readConfig } from '@noble-prism/server/config';
import { connect, migrate } from '@noble-prism/server/db/connect';
import { createJob, findJob, saveVersion, setView } from '@noble-prism/server/db/jobs';
import { receiveSource } from '@noble-prism/server/db/sources';
import { enqueue } from '@noble-prism/server/db/tasks';
import { DEMO_FILES, writeDemoFiles } from './author.ts';
import { DEMO_VIEW, demoSteps } from './preparation.ts';

const JOB = 'demo';
const NAME = 'Tarn Gondola, lower station';
const sourceId = (file: string) => `demo-${file.replace(/\..*$/, '')}`;

const config = readConfig();
const db = connect(config.databaseUrl);
await migrate(db);
const exists = await findJob(db, JOB).then(
  () => true,
  () => false,
);
if (!exists) {
  const folder = join(config.dataDir, 'demo');
  if (!DEMO_FILES.every((file) => existsSync(join(folder, file)))) {
    process.stdout.write('Authoring the demo job’s files, about 15 s …\n');
    const work = `${folder}-${process.pid}`;
    await mkdir(config.dataDir, { recursive: true });
    await writeDemoFiles(work);
    await rm(folder, { recursive: true, force: true });
    await rename(work, folder);
  }
  const blobs = new BlobFolder(join(config.dataDir, 'blobs'));
  await createJob(db, NAME, JOB);
  for (const file of DEMO_FILES) {
    const bytes = await readFile(join(folder, file));
    await receiveSource(db, {
      id: sourceId(file),
      job: JOB,
      name: file,
      bytes: bytes.length,
      blob: await blobs.put(bytes),
    });
  }
  const { version } = await findJob(db, JOB);
  await saveVersion(db, JOB, version.number, { steps: demoSteps(sourceId), note: 'Prepared for the rehearsal' });
  await setView(db, JOB, DEMO_VIEW);
  await enqueue(db, JOB, 'evaluate', {});
}
await db.destroy();
process.exit(0);
