// What is asked of files that are called like sources, and where several models go that came as one revision.
import { zipSync } from 'fflate';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Source } from '../api/client.ts';
import { useReceiving } from './receiving.ts';

const sent: { name: string; slot: string | undefined }[] = [];
vi.mock('../api/upload.ts', () => ({
  upload: (_job: string, { name }: File, _progress: unknown, slot?: string) => {
    sent.push({ name, slot });
    return { cancel: () => {}, done: Promise.resolve() };
  },
}));

const SOURCES = [
  { id: 'a', name: 'frame.stp' },
  { id: 'b', name: 'cover.stp' },
] as Source[];
const failed: unknown[] = [];
const receiving = () =>
  useReceiving({ job: () => 'job', sources: () => SOURCES, received: async () => {}, fail: (thrown) => failed.push(thrown) }); // prettier-ignore

const dropped = (name: string, bytes: Uint8Array = new TextEncoder().encode('ISO-10303-21;')) => ({ path: name, file: new File([bytes as Uint8Array<ArrayBuffer>], name) }); // prettier-ignore
const zip = (...names: string[]) => zipSync(Object.fromEntries(names.map((name) => [name, new Uint8Array([1, 2, 3])])));

beforeEach(() => {
  sent.length = failed.length = 0;
});

describe('files that are dropped', () => {
  it('are sent, but for those that are called like a source, which are asked about', async () => {
    const { receive, sameNames, takeSameNames } = receiving();
    await receive([dropped('lever.stp'), dropped('frame.stp')]);
    expect(sent).toEqual([{ name: 'lever.stp', slot: undefined }]);
    expect(sameNames.value.map(({ source, names }) => [source.id, names])).toEqual([['a', ['frame.stp']]]);
    await takeSameNames('revisions');
    expect(sent.at(-1)).toEqual({ name: 'frame.stp', slot: 'a' });
    expect(sameNames.value).toEqual([]);
  });

  it('are asked about where a zip holds models that are called like sources, and are what is answered', async () => {
    const { receive, sameNames, takeSameNames } = receiving();
    await receive([dropped('B.zip', zip('B/cover.stp', 'B/lever.stp', 'B/FRAME.stp'))]);
    expect(sent).toEqual([]);
    expect(sameNames.value.map(({ source, names }) => [source.id, names])).toEqual([['b', ['cover.stp', 'FRAME.stp']]]);
    await takeSameNames('sources');
    expect(sent).toEqual([{ name: 'B.zip', slot: undefined }]);
  });

  it('are sent at once where a zip holds others, is damaged, or is a format that is packed', async () => {
    const { receive, sameNames } = receiving();
    const whole = zip('frame.stp');
    await receive([
      dropped('C.zip', zip('lever.stp')),
      dropped('D.zip', whole.subarray(0, 30)),
      dropped('scene.3mf', whole),
    ]);
    expect(sent.map(({ name }) => name)).toEqual(['C.zip', 'D.zip', 'scene.3mf']);
    expect(sameNames.value).toEqual([]);
  });
});

describe('files that are chosen as the new revision of a source', () => {
  it('go by their names where there are several', async () => {
    await receiving().revise('a', [dropped('lever.stp'), dropped('frame.stp'), dropped('cover.stp')]);
    expect(sent).toEqual([
      { name: 'lever.stp', slot: undefined },
      { name: 'frame.stp', slot: 'a' },
      { name: 'cover.stp', slot: 'b' },
    ]);
  });

  it('are its revision whatever they are called, where there is one', async () => {
    await receiving().revise('a', [dropped('frame, final.stp')]);
    expect(sent).toEqual([{ name: 'frame, final.stp', slot: 'a' }]);
  });

  it('are not sent where it could be either of two', async () => {
    await receiving().revise('a', [dropped('frame 2.stp'), dropped('frame 3.stp')]);
    expect(sent).toEqual([]);
    expect(failed).toMatchObject([{ code: 'bad-parameters' }]);
  });
});
