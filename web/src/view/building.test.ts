// What is drawn anew, and what is only added to: in turns, so that the page answers in between.
import { expect, it, vi } from 'vitest';
import { Rows } from '@noble-prism/core/scene/rowSet';
import { fakeFrames } from '../testing/frames.ts';
import { Building } from './building.ts';
import type { Stage } from './building.ts';

const { frame } = fakeFrames();

/** Pieces of the stage that only write down what they are asked for. */
function made() {
  const log: string[] = [];
  const note = (what: string) => () => void log.push(what);
  const box = { min: [0, 0, 0], max: [1, 1, 1] };
  const parts = {
    isLate: false,
    batches: { children: [] },
    held: { group: { children: [] } },
    *draw(_standing: unknown, only?: ReadonlySet<string>) {
      log.push(only ? `add ${[...only].join()}` : 'draw');
      yield;
      log.push('drawn');
    },
  };
  const stage = {
    parts,
    model: { standing: {}, shown: new Rows(new Uint8Array([1, 1])), drawn: note('known as drawn'), knownBox: box, *findBox() {} }, // prettier-ignore
    geometry: {},
    outline: { parts: [], *draw({ rows }: { rows: { size: number } }) { log.push(`outline of ${rows.size}`); } }, // prettier-ignore
    wipe: { scene: undefined },
    ground: { lay: () => true },
    studio: { renew: () => {}, fit: note('light fitted') },
    eye: { isTaken: false, setPlanes: () => {}, frame: note('framed') },
    compile: () => {},
    drawOptics: () => {},
    canBePicked: note('can be picked'),
    changed: note('changed'),
    invalidate: () => {},
  };
  return { building: new Building(stage as unknown as Stage), log, stage };
}

it('draws the parts, then what marks the selection, then the ground; the camera is framed until somebody takes it', () => {
  const { building, log, stage } = made();
  building.all();
  expect([building.isBusy, log]).toEqual([true, []]);
  frame();
  expect(log).toEqual(['draw', 'drawn', 'known as drawn', 'can be picked', 'outline of 0', 'light fitted', 'framed', 'changed']); // prettier-ignore
  expect(building.isBusy).toBe(false);
  stage.eye.isTaken = true;
  building.all();
  frame();
  expect(log.filter((what) => what === 'framed')).toHaveLength(1);
});

it('begins anew where the scene has changed meanwhile', () => {
  const { building, log } = made();
  vi.setSystemTime(0);
  // Each look at the clock takes so long that a turn is over after one piece of work.
  vi.spyOn(performance, 'now').mockImplementation(() => (vi.setSystemTime(Date.now() + 10), Date.now()));
  building.all();
  frame();
  expect([building.isBusy, log]).toEqual([true, ['draw']]);
  building.all();
  for (let i = 0; i < 20 && building.isBusy; i++) frame();
  expect(log.slice(0, 3)).toEqual(['draw', 'draw', 'drawn']);
  expect(log.filter((what) => what === 'drawn')).toHaveLength(1);
  vi.restoreAllMocks();
});

it('adds what has arrived together, and draws the mark of the selection again; all anew where too much came bit by bit', () => {
  const { building, log, stage } = made();
  building.select(new Rows(new Uint8Array([1, 0])));
  frame();
  log.length = 0;
  building.arrived('bolt');
  building.arrived('nut');
  vi.advanceTimersByTime(1);
  expect(log).toEqual(['add bolt,nut', 'drawn']);
  frame();
  expect(log.slice(2)).toEqual(['outline of 1', 'light fitted', 'framed', 'changed']);
  log.length = 0;
  stage.parts.isLate = true;
  building.arrived('washer');
  vi.advanceTimersByTime(2000);
  frame();
  expect(log[0]).toBe('draw');
});

it('waits with what arrives while all is being drawn, and has nothing left to add then', () => {
  const { building, log } = made();
  building.arrived('bolt');
  building.all();
  vi.advanceTimersByTime(1);
  expect(log).toEqual([]);
  frame();
  vi.advanceTimersByTime(5000);
  frame();
  expect(log.filter((what) => what.startsWith('add'))).toEqual([]);
});
