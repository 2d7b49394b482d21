// The services by themselves, on a database of their own: evaluation, storage, templates, sweeping.
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { evaluateNow, figuresOf, SceneMemo } from '@noble-prism/core/preparation/evaluate';
import { hashScene } from '@noble-prism/core/scene/plain';
import { THIS_SOURCE } from '@noble-prism/core/scene/slot';
import type { Scene } from '@noble-prism/core/scene/types';
import { newStep } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Workbench } from '@noble-prism/core/surroundings';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { sceneWith } from '@noble-prism/core/testing/scenes';
import { BlobFolder } from '@noble-prism/node/blobFolder';
import type { Db } from '../db/connect.ts';
import { createJob, findJob, saveVersion } from '../db/jobs.ts';
import { receiveSource, sourceReady, splitSource } from '../db/sources.ts';
import { addTemplate, changeTemplate, deleteTemplate, firstSteps, listTemplates } from '../db/templates.ts';
import { listTasks } from '../db/tasks.ts';
import { sweep } from '../sweep/sweep.ts';
import { testDatabase } from '../testing.ts';
import { EvaluationService, summarized } from './evaluation.ts';
import { sourceScenes, storedScene, storeScene } from './storage.ts';

let db: Db;
let drop: () => Promise<void>;
let folder: string;
let blobs: BlobFolder;

beforeAll(async () => {
  ({ db, drop } = await testDatabase());
  folder = await mkdtemp(join(tmpdir(), 'noble-prism-services-'));
  blobs = new BlobFolder(join(folder, 'blobs'));
});
afterAll(async () => {
  await drop();
  await rm(folder, { recursive: true, force: true });
});

async function boxes(): Promise<Scene> {
  const { scene } = await sceneWith([
    { name: 'Rack', children: [{ name: 'Bolt', mesh: boxMesh(1, 1, 1), layer: 'BOLTS' }, { name: 'Nut' }] },
  ]);
  return { ...scene, sources: scene.sources.map((source) => ({ ...source, id: THIS_SOURCE })) };
}

/** A job with a source that has been read. */
async function jobWith(name: string, steps: Step[]): Promise<{ job: string; scene: string }> {
  const job = await createJob(db, name, undefined, steps);
  const scene = await storeScene(blobs, await boxes());
  const file = await blobs.put(new TextEncoder().encode(name));
  await receiveSource(db, { id: `${name}-1`, job, name: 'rack.stp', bytes: 4, blob: file });
  await sourceReady(db, { job, id: `${name}-1` }, scene);
  return { job, scene };
}

/** Heavy work is none of these tests'. */
const idle: Workbench = { width: 1, run: () => Promise.reject(new Error('No heavy work is expected.')) };
const service = (signal = new AbortController().signal) =>
  new EvaluationService(
    { db, blobs, workbench: idle, scenes: new SceneMemo(), deliveries: '/nowhere', unfinished: '/nowhere' },
    () => {},
    signal,
  );
const named = newStep('n', 'rename', { by: 'layer', layers: ['BOLTS'] }, { name: 'Screw', of: 'parts' });

describe('evaluation', () => {
  it('of the current version, or of an older one, is what the page computes', async () => {
    const { job } = await jobWith('evaluated', [named]);
    const { evaluation } = await service().version(job);
    expect(evaluation.scene.nodes.map(({ name }) => name)).toEqual(['Rack', 'Screw', 'Nut']);
    const { version } = await findJob(db, job);
    const { base, key } = await sourceScenes(db, blobs, job, version.sources);
    const page = evaluateNow(base, key, version.steps, () => undefined);
    expect(summarized(evaluation)).toMatchObject({ key: page.key, figures: figuresOf(page), problems: 0 });

    await saveVersion(db, job, version.number, { steps: [], note: 'None' });
    expect((await service().version(job)).evaluation.scene.nodes.row(1).name).toBe('Bolt');
    expect((await service().version(job, version.number)).evaluation.scene.nodes.row(1).name).toBe('Screw');
  });

  it('of a version or job that is not there says so', async () => {
    await expect(service().version('nobody')).rejects.toMatchObject({ code: 'not-found' });
    const { job } = await jobWith('short', []);
    await expect(service().version(job, 99)).rejects.toMatchObject({ code: 'not-found' });
  });

  it('before any tessellation leaves out the steps that come later', async () => {
    const gone = newStep('g', 'leave-out', { by: 'name', pattern: 'Nut' }, {});
    const { job } = await jobWith('before', [gone, named]);
    const { steps, scene } = await service().untessellated(job);
    expect(steps.map(({ kind }) => kind)).toEqual(['leave-out']);
    expect(scene.nodes.map(({ name }) => name)).toEqual(['Rack', 'Bolt']);
  });
});

describe('storage', () => {
  it('keeps a scene under its content, and gives the same one back', async () => {
    const scene = await boxes();
    const name = await storeScene(blobs, scene);
    expect(await storeScene(blobs, await boxes())).toBe(name);
    const back = await storedScene(blobs, name);
    expect(back && hashScene(back)).toBe(hashScene(scene));
  });

  it('has a source read again whose scene is of no use, once, and goes on without it', async () => {
    const { job, scene } = await jobWith('spoiled', []);
    const { version } = await findJob(db, job);
    const junk = await blobs.put(new TextEncoder().encode('{"nodes":[]}'));
    await db.updateTable('sources').set({ scene: junk }).where('job', '=', job).execute();
    expect(await storedScene(blobs, junk)).toBeUndefined();
    const reading = async () => (await listTasks(db, job)).filter(({ kind }) => kind === 'read').length;
    const before = await reading();
    const found = await sourceScenes(db, blobs, job, version.sources);
    expect([found.base.nodes.length, found.waiting]).toEqual([0, 1]);
    expect((await sourceScenes(db, blobs, job, version.sources)).waiting).toBe(1);
    expect(await reading()).toBe(before + 1);
    await sourceReady(db, { job, id: 'spoiled-1' }, scene);
    expect((await sourceScenes(db, blobs, job, version.sources)).base.nodes.length).toBe(3);
  });
});

describe('templates', () => {
  const template = { name: 'Halls', steps: [named], sources: [{ id: 's1', name: 'rack.stp' }] };

  it('are what a new job begins with, where one is so for every one', async () => {
    expect((await firstSteps(db)).map(({ kind }) => kind)).toEqual(['tessellate', 'turn']);
    const [a, b] = [await addTemplate(db, template), await addTemplate(db, { ...template, name: 'Stairs' })];
    await changeTemplate(db, a, { every: true });
    await changeTemplate(db, b, { every: true, name: 'Stairs and rails' });
    expect((await listTemplates(db)).map(({ name, every }) => [name, every])).toEqual([
      ['Halls', false],
      ['Stairs and rails', true],
    ]);
    expect((await firstSteps(db)).map(({ kind }) => kind)).toEqual(['rename']);
    expect((await firstSteps(db, null)).map(({ kind }) => kind)).toEqual(['tessellate', 'turn']);
    expect(await firstSteps(db, a)).toEqual([named]);
    await deleteTemplate(db, a);
    await expect(firstSteps(db, a)).rejects.toMatchObject({ code: 'not-found' });
    await expect(deleteTemplate(db, a)).rejects.toMatchObject({ code: 'not-found' });
    await expect(changeTemplate(db, a, { name: 'x' })).rejects.toMatchObject({ code: 'not-found' });
  });
});

describe('steps about sources that are not there yet', () => {
  const about = (slot: string) => newStep('a', 'leave-out', { by: 'picked', keys: [`${slot}:/Rack/Nut`] }, {});
  const keysOf = async (job: string) => {
    const { version } = await findJob(db, job);
    return version.steps.map(({ selector }) => (selector as { keys?: string[] }).keys);
  };
  const receive = async (job: string, id: string, name: string) =>
    receiveSource(db, { id, job, name, bytes: 1, blob: await blobs.put(new TextEncoder().encode(name)) });

  it('are about the source of that name when it arrives, in the same version; no other one is taken for it', async () => {
    const template = await addTemplate(db, { name: 'Racks', steps: [about('far')], sources: [{ id: 'far', name: 'rack.stp' }] }); // prettier-ignore
    const job = await createJob(db, 'Waiting', undefined, await firstSteps(db, template));
    await receive(job, 'waiting-hall', 'hall.stp');
    expect(await keysOf(job)).toEqual([['far:/Rack/Nut']]);
    await receive(job, 'waiting-rack', 'rack.stp');
    expect(await keysOf(job)).toEqual([['waiting-rack:/Rack/Nut']]);
    const { version } = await findJob(db, job);
    expect(version).toMatchObject({ note: 'Received rack.stp', sources: ['waiting-hall', 'waiting-rack'] });
    // The next of the same name is another source.
    await receive(job, 'waiting-again', 'rack.stp');
    expect(await keysOf(job)).toEqual([['waiting-rack:/Rack/Nut']]);
    await deleteTemplate(db, template);
  });

  it('find it in a zip of several models too, and where they came from another job', async () => {
    const from = await createJob(db, 'From', undefined, []);
    await receive(from, 'from-rack', 'rack.stp');
    const job = await createJob(db, 'To', undefined, [about('from-rack')]);
    await receive(job, 'to-zip', 'all.zip');
    const parts = ['hall.stp', 'rack.stp'].map((name) => ({ name, bytes: 1, blob: 'x' }));
    await splitSource(db, { id: 'to-zip', job }, parts, { package: 'all.zip', names: [] });
    const { version } = await findJob(db, job);
    expect(await keysOf(job)).toEqual([[`${version.sources[1]}:/Rack/Nut`]]);
    expect(version.note).toContain('rack.stp');
  });
});

describe('a sweep', () => {
  it('keeps what steps of templates say, and takes what nobody says any more', async () => {
    const only = newStep('o', 'rename', { by: 'all' }, { name: 'Kept by a template', of: 'parts' });
    const lost = newStep('l', 'rename', { by: 'all' }, { name: 'Said by nobody', of: 'parts' });
    const id = await addTemplate(db, { name: 'Swept', steps: [only], sources: [] });
    const given = await addTemplate(db, { name: 'Given up', steps: [lost], sources: [] });
    await deleteTemplate(db, given);
    const said = async () =>
      (await db.selectFrom('step_contents').select('content').execute()).map(({ content }) => JSON.stringify(content));
    expect((await said()).join()).toContain('Said by nobody');
    await sweep(db, blobs, folder, -1000);
    expect((await said()).join()).toContain('Kept by a template');
    expect((await said()).join()).not.toContain('Said by nobody');
    expect((await listTemplates(db)).find((template) => template.id === id)?.steps).toEqual([only]);
  });

  it('takes blobs that nothing refers to, and leaves those of transmittals of several files', async () => {
    const { job } = await jobWith('sent', []);
    const [first, second, spare] = await Promise.all(
      ['one', 'two', 'three'].map((text) => blobs.put(new TextEncoder().encode(text))),
    );
    await db
      .insertInto('transmittals')
      .values({
        id: 'several',
        job,
        version: 1,
        name: 'hall',
        outputs: '[]',
        files: JSON.stringify([
          { name: 'hall.gltf', mime: 'model/gltf+json', bytes: 3, blob: first },
          { name: 'textures/oak.png', mime: 'image/png', bytes: 3, blob: second },
        ]),
        manifest: first,
      })
      .execute();
    await sweep(db, blobs, folder, -1000);
    expect([await blobs.has(first), await blobs.has(second), await blobs.has(spare)]).toEqual([true, true, false]);
  });
});
