// Files that grow where they are told to: every format writes there, and a disk that is full in the middle costs its target alone.
import { expect, it } from 'vitest';
import { memorySpool } from '../content.ts';
import type { Spool } from '../content.ts';
import { PrismError } from '../errors.ts';
import { ballMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { MESH_WRITERS } from '../write/formats.ts';
import { DEFAULT_TARGET } from './targets/target.ts';
import { deliver } from './transmit.ts';

const target = (format: string) => ({ name: format, settings: { ...DEFAULT_TARGET, format } });
const about = { name: 'x', title: 'x', steps: [], made: '2026-01-01T00:00:00Z' };

/** Counts what is written, and takes no more once it is full. */
function counting(room = Infinity): Spool & { bytes: number; room: number } {
  const spool = {
    bytes: 0,
    room,
    open() {
      const file = memorySpool.open();
      const write = (bytes: Uint8Array) => {
        if (spool.bytes + bytes.length > spool.room) throw new PrismError('internal', 'It could not be written: the disk is full.'); // prettier-ignore
        spool.bytes += bytes.length;
        file.write(bytes);
      };
      return { write, end: () => file.end() };
    },
  };
  return spool;
}

it.each(MESH_WRITERS.map(({ target: format }) => format))('%s', async (format) => {
  const { scene: made, blobs } = await sceneWith([{ name: 'Ball', mesh: ballMesh(1, 24), materials: ['#112233'] }]);
  const scene = { ...made, sources: made.sources.map((source) => ({ ...source, up: 'y' as const })) };
  const spool = counting();
  const whole = await deliver(scene, blobs, { ...about, targets: [target(format)], spool });
  const [main] = whole.outputs[0].files;
  expect(whole.outputs[0].readBack).toMatchObject({ holds: true, differences: [] });
  expect(spool.bytes).toBeGreaterThanOrEqual(main.content.length);

  // Full in the middle of the first target; there is room again for the second.
  const narrow = counting(main.content.length / 2);
  const progress = ({ what }: { what: string }) => {
    if (what === 'next: Arranging') narrow.room = Infinity;
  };
  const { outputs } = await deliver(scene, blobs, { ...about, targets: [target(format), { ...target('stl'), name: 'next' }], spool: narrow, progress }); // prettier-ignore
  expect(outputs[0]).toMatchObject({ files: [], error: { code: 'internal', message: expect.stringContaining('the disk is full') as string } }); // prettier-ignore
  expect(outputs[1].readBack?.holds).toBe(true);
});
