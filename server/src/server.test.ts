// The server as its users meet it: over HTTP, with its worker, on a real database; and what is left when processes are killed.
import { unpackExact } from '@noble-prism/core/steps/exact';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { request } from 'node:http';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import { evaluateNow, figuresOf } from '@noble-prism/core/preparation/evaluate';
import { mergeSlots } from '@noble-prism/core/preparation/slots';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Step } from '@noble-prism/core/steps/kinds';
import { DEFAULT_TARGET } from '@noble-prism/core/transmit/targets/target';
import { atLength } from '@noble-prism/core/testing/atLength';
import { StepText } from '@noble-prism/core/testing/stepText';
import { TestServer } from './testing.ts';
import type { TestJob } from './testing.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server?.stop());

/** A file with some distinct solids, each placed twice. */
function sample(solids = 3, size = 10): Uint8Array {
  const step = new StepText();
  const unit = step.product('Unit');
  for (let i = 0; i < solids; i++) {
    const part = step.product(`Part ${i}`, [step.tetrahedron(size + i).solid]);
    step.place(unit, part, step.axis([i * 30, 0, 0]));
    step.place(unit, part, step.axis([i * 30, 50, 0]));
  }
  return step.bytes();
}

const evaluated = (job: TestJob) =>
  job.tasks.some(
    (task) => task.kind === 'evaluate' && task.state === 'done' && task.result?.version === job.version.number,
  );

/** The scene of the sources of a job, as the server and the bench put it together. */
async function sceneOf(job: TestJob): Promise<Scene> {
  const scenes = job.sources.map(async ({ slot, scene }) => ({ slot, scene: await server.scene(String(scene)) }));
  return mergeSlots(await Promise.all(scenes));
}

async function received(bytes = sample(), name = 'unit.stp'): Promise<TestJob> {
  const job = await server.makeJob();
  await server.upload(job.id, name, bytes);
  return server.until(job.id, evaluated);
}

describe('a job', () => {
  it('is made, listed and renamed', async () => {
    const job = await server.makeJob('Tarn Gondola');
    expect(job.version).toMatchObject({ number: 1, parent: null, sources: [] });
    expect(job.version.steps.map((step) => step.kind)).toEqual(['tessellate', 'turn']);
    await server.call('PATCH', `/api/jobs/${job.id}`, { name: 'Upper station' });
    const { body } = await server.call<{ id: string; name: string }[]>('GET', '/api/jobs');
    expect(body[0]).toMatchObject({ id: job.id, name: 'Upper station' });
  });

  it.each([{}, { name: '' }, { name: 7 }, { name: 'x'.repeat(201) }, { name: 'x', extra: 1 }])(
    'is refused with %j',
    async (body) => {
      const answer = await server.call<{ error: { code: string } }>('POST', '/api/jobs', body);
      expect(answer).toMatchObject({ status: 422, body: { error: { code: 'bad-parameters' } } });
    },
  );

  it('that does not exist is said not to', async () => {
    expect(await server.call('GET', '/api/jobs/nobody')).toMatchObject({
      status: 404,
      body: { error: { code: 'not-found' } },
    });
    expect(await server.call('GET', '/api/nothing')).toMatchObject({ status: 404 });
  });
});

describe('receiving and evaluating', () => {
  it('takes a file all the way to triangles', async () => {
    const job = await received();
    expect(job.sources).toEqual([
      expect.objectContaining({
        name: 'unit.stp',
        state: 'ready',
        scene: expect.any(String),
        survey: expect.any(String),
      }),
    ]);
    const task = job.tasks.findLast((entry) => entry.kind === 'evaluate');
    expect(task?.result).toMatchObject({ counts: { worked: 3 }, problems: 0 });
    expect(job.version.note).toBe('Received unit.stp');
  });

  it('says what is wrong with a file that is none, and goes on', async () => {
    const job = await server.makeJob();
    await server.upload(job.id, 'holiday.stp', new TextEncoder().encode('JPEG, honestly'));
    const failed = await server.until(job.id, ({ sources }) => sources[0]?.state === 'failed');
    expect(failed.sources[0].error).toMatchObject({
      file: 'holiday.stp',
      message: expect.stringContaining('not a STEP file'),
    });
    await server.upload(job.id, 'unit.stp', sample());
    await server.until(job.id, (state) => state.sources.some((source) => source.state === 'ready'));
  });

  it('refuses an empty file and one that is too large before it is sent', async () => {
    const job = await server.makeJob();
    const create = (length: number) =>
      fetch(`${server.url}/api/uploads`, {
        method: 'POST',
        headers: {
          'Tus-Resumable': '1.0.0',
          'Upload-Length': String(length),
          'Upload-Metadata': `filename ${btoa('big.stp')},job ${btoa(job.id)}`,
        },
      });
    const empty = await create(0);
    expect(empty.status).toBe(422);
    expect(await empty.text()).toContain('0 bytes');
    expect((await create(2_000_000_000)).status).toBe(413);
    expect((await create(10)).status).toBe(201);
  });

  it('takes many files at once', async () => {
    const job = await server.makeJob();
    const names = Array.from({ length: 8 }, (_, i) => `part-${i}.stp`);
    await Promise.all(names.map((name, i) => server.upload(job.id, name, sample(1, 10 + i))));
    const state = await server.until(job.id, ({ sources }) => sources.every((source) => source.state === 'ready'));
    expect(state.sources.map((source) => source.name).sort()).toEqual(names);
    expect(state.version.sources).toHaveLength(8);
  });

  it('makes a source of each model of a zip, in its place among the others, and goes back before all of them', async () => {
    const job = await server.makeJob();
    await server.upload(job.id, 'first.stp', sample(1));
    const text = (value: string) => new TextEncoder().encode(value);
    const zip = zipSync({
      'wedge.obj': text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'),
      'part.stp': sample(1, 30),
      'readme.txt': text('hello'),
    });
    await server.upload(job.id, 'mixed.zip', zip);
    await server.upload(job.id, 'last.stp', sample(1, 40));
    const ready = ({ sources }: TestJob) => sources.length === 4 && sources.every(({ state }) => state === 'ready');
    const state = await server.until(job.id, ready);
    const named = state.version.sources.map((id) => state.sources.find((source) => source.id === id)?.name);
    expect(named).toEqual(['first.stp', 'wedge.obj', 'part.stp', 'last.stp']);
    const scenes = await Promise.all(state.sources.map(({ scene }) => server.scene(String(scene))));
    const infos = Object.fromEntries(scenes.map(({ sources: [info] }) => [info.name, info]));
    expect([infos['wedge.obj'].unit.name, infos['part.stp'].unit.name]).toEqual(['m', 'mm']);
    expect(infos['wedge.obj'].warnings.map(({ message }) => message)).toContainEqual(
      'mixed.zip: 1 file that is no model was left out: readme.txt.',
    );
    for (const steps of [1, 2]) {
      const { body } = await server.call<TestJob>('POST', `/api/jobs/${job.id}/undo`, {
        base: state.version.number - steps + 1,
      });
      expect(body.version.sources).toHaveLength(steps === 1 ? 3 : 1);
    }
  });

  it('keeps a file name in its place, whatever it says', async () => {
    const job = await server.makeJob();
    await server.upload(job.id, '../../../etc/passwd.stp', sample(1));
    const state = await server.until(job.id, ({ sources }) => sources[0]?.state === 'ready');
    expect(state.sources[0].name).toBe('passwd.stp');
    for (const path of ['/api/blobs/..%2f..%2fetc%2fpasswd', '/api/blobs/zz', `/api/blobs/${'0'.repeat(64)}`]) {
      expect((await server.call('GET', path)).status).toBe(404);
    }
  });

  it('resumes an upload where it stopped', async () => {
    const job = await server.makeJob();
    const bytes = sample(2);
    const metadata = `filename ${btoa('half.stp')},job ${btoa(job.id)}`;
    const tus = { 'Tus-Resumable': '1.0.0' };
    const created = await fetch(`${server.url}/api/uploads`, {
      method: 'POST',
      headers: { ...tus, 'Upload-Length': String(bytes.length), 'Upload-Metadata': metadata },
    });
    const place = new URL(created.headers.get('Location') as string, created.url);
    const patch = (offset: number, part: Uint8Array) =>
      fetch(place, {
        method: 'PATCH',
        body: Buffer.from(part),
        headers: { ...tus, 'Upload-Offset': String(offset), 'Content-Type': 'application/offset+octet-stream' },
      });
    await patch(0, bytes.subarray(0, 1000));
    const head = await fetch(place, { method: 'HEAD', headers: tus });
    expect(head.headers.get('Upload-Offset')).toBe('1000');
    await patch(1000, bytes.subarray(1000));
    await server.until(job.id, ({ sources }) => sources[0]?.state === 'ready');
  });
});

describe('versions', () => {
  const rename = {
    id: 'n',
    kind: 'rename',
    on: true,
    selector: { by: 'all' },
    parameters: { name: 'X', of: 'picked' },
  };
  const save = (job: TestJob, base: number, steps: object[], note = 'edit') =>
    server.call<TestJob & { current: { number: number } }>('POST', `/api/jobs/${job.id}/versions`, {
      base,
      note,
      steps,
      sources: job.version.sources,
    });
  const move = (way: string, job: TestJob) =>
    server.call<TestJob>('POST', `/api/jobs/${job.id}/${way}`, { base: job.version.number });

  it('are saved, undone and redone, and none is lost', async () => {
    const job = await server.makeJob();
    const second = (await save(job, 1, [rename])).body;
    expect(second.version).toMatchObject({ number: 2, parent: 1, steps: [rename] });
    const back = (await move('undo', second)).body;
    expect(back.version.number).toBe(1);
    expect(back.newest).toBe(2);
    const forth = (await move('redo', back)).body;
    expect(forth.version.number).toBe(2);
    expect((await move('redo', forth)).status).toBe(409);
    const again = (await move('undo', forth)).body;
    // Another branch: redo now leads to it, the older one stays in the database.
    const branch = (await save(again, 1, [])).body;
    expect(branch.version).toMatchObject({ number: 3, parent: 1 });
  });

  it('cannot be undone beyond the first', async () => {
    expect((await move('undo', await server.makeJob())).status).toBe(409);
  });

  it('refuse the later of two saves and hand over the current one', async () => {
    const job = await server.makeJob();
    await save(job, 1, [rename], 'theirs');
    const late = await save(job, 1, [], 'mine');
    expect(late).toMatchObject({
      status: 409,
      body: { error: { code: 'conflict' }, current: { number: 2, note: 'theirs' } },
    });
    expect((await server.job(job.id)).version.note).toBe('theirs');
  });

  it('let only one of many simultaneous saves through', async () => {
    const job = await server.makeJob();
    const answers = await Promise.all(Array.from({ length: 8 }, (_, i) => save(job, 1, [rename], `save ${i}`)));
    expect(answers.map((answer) => answer.status).sort()).toEqual([200, 409, 409, 409, 409, 409, 409, 409]);
  });

  it('refuse steps that make no sense, and sources of other jobs', async () => {
    const job = await server.makeJob();
    expect((await save(job, 1, [{ ...rename, kind: 'melt' }])).status).toBe(422);
    const stranger = { ...job, version: { ...job.version, sources: ['somebody-else'] } };
    expect((await save(stranger, 1, [])).status).toBe(422);
  });

  it('are evaluated to the same hash here, with the results that the server knows, as there', async () => {
    const job = await received();
    const steps = [...job.version.steps, { ...rename, parameters: { name: '{name}, new', of: 'parts' } }];
    await save(job, job.version.number, steps);
    const after = await server.until(job.id, evaluated);
    const base = await sceneOf(after);
    const ask = async (keys: string[]) =>
      new Map(Object.entries((await server.call<object>('POST', `/api/jobs/${job.id}/results`, { keys })).body));
    const { missing } = evaluateNow(base, 'base', steps as Step[], () => undefined);
    const results = await ask(missing.map((work) => work.key));
    const here = evaluateNow(base, 'base', steps as Step[], (key) => results.get(key));
    expect(here.missing).toEqual([]);
    expect(after.tasks.findLast((task) => task.kind === 'evaluate')?.result?.figures).toBe(figuresOf(here));
  });

  it('compute only what is new when a step is added', async () => {
    const job = await received();
    await save(job, job.version.number, [...job.version.steps, rename]);
    const after = await server.until(job.id, evaluated);
    expect(after.tasks.findLast((task) => task.kind === 'evaluate')?.result).toMatchObject({
      counts: { worked: 0, applied: 1 },
    });
  });
});

describe('sending', () => {
  it('makes a file, reads it back and keeps both for download', async () => {
    const job = await received();
    await server.call('POST', `/api/jobs/${job.id}/transmittals`, {
      targets: [{ name: 'Whole scene', settings: DEFAULT_TARGET }],
      name: 'Lower station',
      version: job.version.number,
    });
    const { transmittals } = await server.until(job.id, (state) => state.transmittals.length === 1);
    expect(transmittals[0]).toMatchObject({
      name: `Lower-station_v${job.version.number}`,
      files: [{ name: `Lower-station_v${job.version.number}.glb`, mime: 'model/gltf-binary' }],
      outputs: [
        { name: 'Whole scene', parts: 6, triangles: 24, readBack: { holds: true }, carryOver: { holds: true } },
      ],
    });
    const file = await fetch(`${server.url}/api/transmittals/${transmittals[0].id}/file`);
    expect(file.headers.get('Content-Disposition')).toContain(`Lower-station_v${job.version.number}.glb`);
    expect(new TextDecoder().decode((await file.arrayBuffer()).slice(0, 4))).toBe('glTF');
    const manifest = (await (await fetch(`${server.url}/api/transmittals/${transmittals[0].id}/manifest`)).json()) as {
      parts: object[];
    };
    expect(manifest.parts).toHaveLength(6);
  });

  it('to several targets keeps a file for each, as single downloads, in ranges, in one zip and in a folder', async () => {
    const job = await received();
    const targets = [
      { name: 'Real time', settings: DEFAULT_TARGET },
      { name: 'Print', settings: { ...DEFAULT_TARGET, format: 'stl', unit: 'mm' } },
      { name: 'Nothing', settings: { ...DEFAULT_TARGET, format: '3mf', without: { by: 'all' } } },
    ];
    const version = job.version.number;
    await server.call('POST', `/api/jobs/${job.id}/transmittals`, { targets, name: 'Station', version, folder: true });
    const { transmittals } = await server.until(job.id, (state) => state.transmittals.length === 1);
    const [{ id, files, outputs, folder }] = transmittals;
    expect(outputs).toMatchObject([
      { name: 'Real time', files: [`Station_v${version}.glb`], readBack: { holds: true } },
      { name: 'Print', files: [`Station_v${version}_mm.stl`], readBack: { holds: true } },
      { name: 'Nothing', files: [], error: { code: 'no-geometry' } },
    ]);
    const whole = new Uint8Array(await (await fetch(`${server.url}/api/transmittals/${id}/files/1`)).arrayBuffer());
    expect(whole).toHaveLength(84 + 24 * 50);
    const zip = `${server.url}/api/transmittals/${id}/file`;
    const all = new Uint8Array(await (await fetch(zip)).arrayBuffer());
    expect(Object.keys(unzipSync(all)).sort()).toEqual([`Station_v${version}.glb`, `Station_v${version}.manifest.json`, `Station_v${version}.report.html`, `Station_v${version}_mm.stl`]);
    const report = await (await fetch(`${server.url}/api/transmittals/${id}/report`)).text();
    expect(report).toContain(`<td>Station_v${version}_mm.stl</td>`);
    expect(report).toContain('Nothing is left to send as 3MF');
    // Broken off in the middle, and taken up again.
    const rest = await fetch(zip, { headers: { Range: 'bytes=100-' } });
    expect([rest.status, rest.headers.get('Content-Range')]).toEqual([206, `bytes 100-${all.length - 1}/${all.length}`]);
    expect(new Uint8Array(await rest.arrayBuffer())).toEqual(all.slice(100));
    expect((await fetch(zip, { headers: { Range: `bytes=${all.length}-` } })).status).toBe(416);
    expect((await fetch(zip, { headers: { Range: 'bytes=100-', 'If-Range': '"another"' } })).status).toBe(200);
    expect(folder).toBe(`${(await server.job(job.id)).name}/Station_v${version}`);
    expect(new Uint8Array(await readFile(join(server.dataDir, 'deliveries', folder!, files[1].name)))).toEqual(whole);
    expect((await readdir(join(server.dataDir, 'deliveries'))).filter((name) => name.startsWith('.'))).toEqual([]);
  }); // prettier-ignore

  it('keeps the targets of a job, refuses what no format can do, and gives them to a copy', async () => {
    const job = await server.makeJob();
    expect(job.targets).toMatchObject([{ name: 'Whole scene', on: true }]);
    const targets = [{ id: 't', name: 'Print', on: false, settings: { ...DEFAULT_TARGET, format: 'stl', unit: 'in' } }];
    const kept = await server.call<TestJob>('PUT', `/api/jobs/${job.id}/targets`, { targets });
    expect(kept.body.targets).toEqual(targets);
    const wrong = [{ ...targets[0], settings: { ...DEFAULT_TARGET, unit: 'mm' } }];
    const refused = await server.call<{ error: { message: string } }>('PUT', `/api/jobs/${job.id}/targets`, { targets: wrong }); // prettier-ignore
    expect([refused.status, refused.body.error.message]).toEqual([422, expect.stringContaining('Binary glTF 2.0 is in m, not in mm')]); // prettier-ignore
    const { body: copy } = await server.call<TestJob>('POST', `/api/jobs/${job.id}/copy`, { name: 'Copy' });
    expect(copy.targets).toEqual(targets);
  });

  it('of nothing is refused with a sentence', async () => {
    const job = await server.makeJob();
    await server.call('POST', `/api/jobs/${job.id}/transmittals`, {
      targets: [{ name: 'Whole scene', settings: DEFAULT_TARGET }],
      name: 'x',
      version: 1,
    });
    const state = await server.until(job.id, ({ tasks }) =>
      tasks.some((task) => task.kind === 'transmit' && task.state === 'failed'),
    );
    expect(state.tasks.find((task) => task.kind === 'transmit')?.error?.message).toMatch(
      /no geometry to send: the scene is empty/,
    );
  });
});

describe('strangers', () => {
  /** fetch does not let a Host be set. */
  const get = (headers: Record<string, string>, path = '/api/jobs') =>
    new Promise<number>((resolve, reject) => {
      request({ host: '127.0.0.1', port: server.port, path, headers }, (answer) => {
        answer.resume();
        resolve(answer.statusCode ?? 0);
      })
        .on('error', reject)
        .end();
    });

  it('under another host name, or from another page, are refused', async () => {
    expect(await get({ Host: `127.0.0.1:${server.port}` })).toBe(200);
    expect(await get({ Host: `localhost:${server.port}`, Origin: `http://localhost:${server.port}` })).toBe(200);
    expect(await get({ Host: 'evil.example' })).toBe(403);
    expect(await get({ Host: `127.0.0.1:${server.port}`, Origin: 'http://evil.example' })).toBe(403);
    expect(await get({ Host: `127.0.0.1:${server.port}`, Origin: 'null' })).toBe(403);
    expect(await get({ Host: `127.0.0.1:${server.port}`, Origin: 'http://127.0.0.1:1' })).toBe(403);
    expect(
      await get({ Host: `127.0.0.1:${server.port}`, 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'no-cors' }),
    ).toBe(403);
  });

  it('are kept out of uploads too', async () => {
    const answer = await fetch(`${server.url}/api/uploads`, {
      method: 'POST',
      headers: { Origin: 'http://evil.example', 'Tus-Resumable': '1.0.0', 'Upload-Length': '5' },
    });
    expect(answer.status).toBe(403);
  });

  it('find a strict content security policy', async () => {
    const policy = (await fetch(`${server.url}/api/jobs`)).headers.get('Content-Security-Policy') ?? '';
    expect(policy).toContain("default-src 'self'");
    expect(policy).toContain("frame-ancestors 'none'");
    expect(policy).not.toMatch(/unsafe-(inline|eval)/);
  });

  it('can read which routes there are', async () => {
    const { body } = await server.call<{ openapi: string; paths: Record<string, object> }>('GET', '/api');
    expect(body.openapi).toBe('3.1.0');
    expect(Object.keys(body.paths)).toEqual(
      expect.arrayContaining(['/api/jobs', '/api/jobs/{job}', '/api/jobs/{job}/versions', '/api/blobs/{hash}']),
    );
  });
});

describe('events', () => {
  it('tell of results as they are ready', async () => {
    const job = await server.makeJob();
    const controller = new AbortController();
    const stream = await fetch(`${server.url}/api/jobs/${job.id}/events`, { signal: controller.signal });
    await server.upload(job.id, 'unit.stp', sample(4, 70));
    const seen = new Set<string>();
    let text = '';
    const decoder = new TextDecoder();
    for await (const chunk of stream.body as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(chunk, { stream: true });
      for (const [, json] of text.matchAll(/data: (\{.*\})\n\n/g)) {
        const event = JSON.parse(json) as { type?: string; kind?: string; state?: string };
        seen.add([event.type, event.kind, event.state].filter(Boolean).join(' '));
      }
      if (seen.has('task evaluate done')) break;
    }
    controller.abort();
    expect([...seen]).toEqual(expect.arrayContaining(['source', 'task read done', 'result', 'task evaluate running']));
  });
});

describe('when processes are killed', () => {
  /** Distinct solids that nobody has computed before: fine limits make them take a while. */
  async function longWork(size: number, solids = 24): Promise<TestJob> {
    const job = await server.makeJob();
    await server.upload(job.id, 'long.stp', sample(solids, size));
    return server.until(job.id, (state) =>
      state.tasks.some(
        (task) =>
          task.kind === 'evaluate' &&
          task.state === 'running' &&
          (task.progress?.done ?? 0) >= 1 &&
          // Not the short one that begins with the largest few.
          (task.progress?.total ?? 0) > 10,
      ),
    );
  }

  atLength('the runner in the middle costs a retry and nothing else', async () => {
    const job = await longWork(200, 60);
    const worker = (await server.children())[0];
    const runners = await server.children(worker);
    for (const pid of runners) process.kill(pid, 'SIGKILL');
    const after = await server.until(job.id, evaluated);
    expect(after.tasks.findLast((task) => task.kind === 'evaluate')?.result).toMatchObject({ problems: 0 });
    expect(
      (after.tasks.findLast((task) => task.kind === 'evaluate')?.result?.counts as { worked: number }).worked,
    ).toBeLessThan(60);
  });

  atLength('the worker with everything below it is started again and goes on', async () => {
    const job = await longWork(400, 60);
    const all = await server.children();
    for (const pid of all) process.kill(pid, 'SIGKILL');
    await server.until(job.id, evaluated);
  });

  it('the server loses nothing that was acknowledged', async () => {
    const job = await longWork(450);
    const { body: saved } = await server.call<TestJob>('POST', `/api/jobs/${job.id}/versions`, {
      base: job.version.number,
      note: 'last words',
      steps: job.version.steps,
      sources: job.version.sources,
    });
    await server.kill();
    await server.launch();
    const after = await server.job(job.id);
    expect(after.version).toEqual(saved.version);
    await server.until(job.id, evaluated);
  });

  it('what somebody waits for is done before the rest', async () => {
    const job = await longWork(300);
    const scene = await sceneOf(job);
    const { missing } = evaluateNow(scene, 'k', checkSteps(job.version.steps), () => undefined);
    const last = missing.at(-1)?.key ?? '';
    const { status } = await server.call('POST', `/api/jobs/${job.id}/want`, { keys: [last] });
    expect(status).toBe(200);
    await server.until(job.id, () => true);
    for (let tries = 0; ; tries++) {
      const { body } = await server.call<Record<string, unknown>>('POST', `/api/jobs/${job.id}/results`, {
        keys: missing.map(({ key }) => key),
      });
      if (last in body) {
        // The smallest solid, last of all, is there while others still wait.
        expect(Object.keys(body).length).toBeLessThan(missing.length);
        break;
      }
      expect(tries).toBeLessThan(200);
    }
    await server.until(job.id, evaluated);
  });

  it('compares one part at two settings, and refuses settings that make no sense', async () => {
    const job = await received();
    const scene = await sceneOf(job);
    const part = scene.nodes.find(({ solid }) => solid)?.key ?? '';
    const settings = [
      { chord: 0.001, angle: 0.5, preset: 'own' },
      { chord: 0.001, angle: 0.5, preset: 'own', longest: 0.002 },
    ];
    await server.call('POST', `/api/jobs/${job.id}/compare`, { part, settings });
    const done = await server.until(job.id, ({ tasks }) =>
      tasks.some(({ kind, state }) => kind === 'compare' && state === 'done'),
    );
    const { made } = done.tasks.find(({ kind }) => kind === 'compare')?.result as {
      made: { figures: { triangles: number } }[];
    };
    expect(made[1].figures.triangles).toBeGreaterThan(made[0].figures.triangles);
    const { status } = await server.call('POST', `/api/jobs/${job.id}/compare`, {
      part,
      settings: [{ chord: -1, angle: 0.5, preset: 'own' }],
    });
    expect(status).toBe(422);
  });

  it('does the work of what is only tried, saves nothing, and has nothing left to do when it is applied', async () => {
    const job = await received();
    const tried = { id: 'sheets', kind: 'unwrap', on: true, selector: { by: 'all' }, parameters: { set: 'second', pixels: '256', padding: 2 } }; // prettier-ignore
    const steps = [...job.version.steps, tried];
    const { status } = await server.call('POST', `/api/jobs/${job.id}/try`, { steps });
    expect(status).toBe(202);
    const done = await server.until(job.id, ({ tasks }) =>
      tasks.some(({ kind, state }) => kind === 'try' && state === 'done'),
    );
    expect(done.version.number).toBe(job.version.number);
    const task = done.tasks.find(({ kind }) => kind === 'try') as unknown as { result: { worked: number }; payload: object }; // prettier-ignore
    expect(task.result.worked).toBeGreaterThan(0);
    expect(task.payload).toEqual({});

    const { version } = job;
    await server.call('POST', `/api/jobs/${job.id}/versions`, { base: version.number, note: 'applied', steps, sources: version.sources }); // prettier-ignore
    const applied = await server.until(job.id, evaluated);
    const last = applied.tasks.findLast(({ kind, state }) => kind === 'evaluate' && state === 'done');
    expect((last?.result as { counts: { worked: number } }).counts.worked).toBe(0);
    const wrong = await server.call('POST', `/api/jobs/${job.id}/try`, { steps: [{ ...tried, kind: 'nonsense' }] });
    expect(wrong.status).toBe(422);
  });

  it('reads what is exact in solids that are pointed at, and leaves out what it does not have', async () => {
    const job = await received();
    const { nodes } = await sceneOf(job);
    const solid = nodes.find((node) => node.solid)?.solid ?? '';
    await server.call('POST', `/api/jobs/${job.id}/exact`, { solids: [solid, 'nothing'] });
    const done = await server.until(job.id, ({ tasks }) =>
      tasks.some(({ kind, state }) => kind === 'exact' && state === 'done'),
    );
    const { shapes } = done.tasks.find(({ kind }) => kind === 'exact')?.result as {
      shapes: Record<string, { shape: string; volume: number }>;
    };
    expect(Object.keys(shapes)).toEqual([solid]);
    const blob = await fetch(`${server.url}/api/blobs/${shapes[solid].shape}`);
    const exact = unpackExact(new Uint8Array(await blob.arrayBuffer()));
    expect(exact.faces.length).toBeGreaterThan(0);
    expect(exact.volume).toBe(shapes[solid].volume);
    const { status } = await server.call('POST', `/api/jobs/${job.id}/exact`, { solids: [] });
    expect(status).toBe(422);
  });

  it('a cancelled evaluation ends, keeps what it has, and can be continued', async () => {
    const job = await longWork(800);
    const task = job.tasks.find((entry) => entry.kind === 'evaluate' && entry.state === 'running');
    await server.call('POST', `/api/tasks/${task?.id}/cancel`);
    await server.until(job.id, ({ tasks }) =>
      tasks.some((entry) => entry.id === task?.id && entry.state === 'cancelled'),
    );
    await server.call('POST', `/api/jobs/${job.id}/evaluate`);
    const done = await server.until(job.id, evaluated);
    const { worked } = done.tasks.findLast((entry) => entry.kind === 'evaluate')?.result?.counts as { worked: number };
    expect(worked).toBeGreaterThan(0);
    expect(worked).toBeLessThan(24);
  });
});
