/**
 * Folds the steps of a preparation over the sources. The prepared scene is a pure function of both: intermediate scenes are
 * remembered by a key made of everything that went into them, heavy results by the key of their own input.
 */
import { PrismError, asPrismError } from '../errors.ts';
import type { Measured } from '../measure/kept.ts';
import { hashData } from '../scene/hash.ts';
import type { Scene } from '../scene/types.ts';
import { settledSteps } from './equals.ts';
import { isNewer, stepKind, titleOf } from '../steps/kinds.ts';
import type { Step } from '../steps/kinds.ts';
import { applyStep } from '../steps/kind.ts';
import { hasLandmarks, landmarkWork, lostLandmarks } from '../steps/landmarks.ts';
import type { Lookup, Work } from '../steps/kind.ts';
import { COLUMN_NAMES } from '../scene/nodes.ts';
import { STRIDE } from '../scene/places.ts';
import { inLanes } from '../sideBySide.ts';
import type { Surroundings } from '../surroundings.ts';
import { startOf } from '../steps/wires.ts';
import { factsOf, takeOff } from '../scene/facts.ts';
import { lostKeys, select } from '../select/select.ts';
import type { Selector } from '../select/select.ts';

/** What one step did. */
export interface StepReport {
  id: string;
  kind: string;
  on: boolean;
  /** Nodes that its rule named, and nodes that it changed. */
  matched: number;
  changed: number;
  pending: number;
  /** Picked parts that are no longer there. */
  lost: string[];
  problems: string[];
  /** What it found out, where it did. */
  notes?: string[];
  /** What it measured, where it did. */
  measured?: Measured;
  /** Triangles drawn after this step. */
  triangles: number;
  /** What it took: its heavy work, wherever and whenever that was done, and applying it. */
  seconds: number;
}

export interface Evaluation {
  scene: Scene;
  /** Hash of the sources and steps: the name of this result. */
  key: string;
  reports: StepReport[];
  /** Heavy work that is not known yet; empty when the scene is final. */
  missing: Work[];
  /** How much was done: steps applied, steps remembered, pieces of work run. */
  counts: { applied: number; remembered: number; worked: number };
}

/** What the steps did, in short: wherever the same is evaluated, it is the same. Times are not. */
export function figuresOf({ reports, scene }: Pick<Evaluation, 'reports' | 'scene'>): string {
  return hashData([reports.map(({ id: _, seconds: __, ...report }) => report), takeOff(scene)]);
}

interface Remembered {
  scene: Scene;
  report: StepReport;
  /** What the step still lacks; none where it is complete. */
  missing: Work[];
  /** Memory that it takes beside the scene before it. */
  bytes: number;
  /** Each that is made has another number. */
  number: number;
}

/** Megabytes that scenes between steps may take, where nothing else is said. */
const MOST_MEGABYTES = 256;

/** Scenes after each step, most recent last, within a limit of memory. Kept by whoever evaluates again and again. */
export class SceneMemo {
  readonly #entries = new Map<string, Remembered>();
  #bytes = 0;
  constructor(readonly megabytes = MOST_MEGABYTES) {}

  get(key: string): Remembered | undefined {
    const found = this.#entries.get(key);
    if (found) {
      this.#entries.delete(key);
      this.#entries.set(key, found);
    }
    return found;
  }

  set(key: string, value: Remembered): void {
    this.#drop(key);
    this.#entries.set(key, value);
    this.#bytes += value.bytes;
    for (const oldest of this.#entries.keys()) {
      // The latest is kept, however large it is.
      if (this.#bytes <= this.megabytes * 1e6 || oldest === key) break;
      this.#drop(oldest);
    }
  }

  #drop(key: string): void {
    this.#bytes -= this.#entries.get(key)?.bytes ?? 0;
    this.#entries.delete(key);
  }
}

/** Memory that a scene takes beside the one before it, bytes, about. */
function bytesOf(scene: Scene, before: Scene): number {
  let bytes = 1000;
  for (const name of COLUMN_NAMES)
    if (scene.nodes.columns[name] !== before.nodes.columns[name]) bytes += scene.nodes.columns[name].byteLength;
  const [own, old] = [scene.nodes.tables, before.nodes.tables];
  bytes += (own.places.length - old.places.length) * STRIDE * 8 + (own.texts.length - old.texts.length) * 40;
  // Worlds are made anew where places are different.
  if (scene.nodes.columns.place !== before.nodes.columns.place) bytes += scene.nodes.rows * STRIDE * 8;
  if (scene.meshes !== before.meshes) bytes += Object.keys(scene.meshes).length * 50;
  return bytes;
}

/** Key of a scene after a step: what came before, and everything about the step that matters to the result. */
function keyAfter(before: string, step: Step): string {
  const kind = stepKind(step.kind);
  return hashData([before, step.kind, kind.version, step.selector, step.parameters]);
}

/** All rules of a step: which rows it concerns, and those that its parameters hold. */
function rulesOf({ kind, rule, parameters }: Planned): Selector[] {
  const rules = [rule];
  stepKind(kind).mapRules?.(parameters, (inner) => {
    rules.push(inner);
    return inner;
  });
  return rules;
}

/** A step as it is applied: it leaves out what the next one of its kind replaces anyway. */
interface Planned extends Step {
  /** The rule as it was written. */
  rule: Selector;
}

/** Rules about the same thing that stand together: each part is left to the last one that names it. */
function planned(steps: readonly Step[]): Planned[] {
  return steps.map((step, i) => {
    const later: Selector[] = [];
    if (step.on && !isNewer(step) && stepKind(step.kind).replaces)
      for (let next = i + 1; next < steps.length && steps[next].kind === step.kind; next++)
        if (steps[next].on) later.push(steps[next].selector);
    const selector: Selector =
      later.length > 0 ? { by: 'and', of: [step.selector, { by: 'not', of: later }] } : step.selector;
    return { ...step, selector, rule: step.selector };
  });
}

/**
 * Applies the steps at once, with the heavy results that `lookup` knows; what is not known yet is left out and listed as
 * missing. This is what the browser shows while the server works.
 */
export function evaluateNow(
  base: Scene,
  baseKey: string,
  steps: readonly Step[],
  lookup: Lookup,
  memo?: SceneMemo,
): Evaluation {
  const settled = settledSteps(base, steps);
  return fold(base, baseKey, planned(settled), settled, lookup, memo);
}

function fold(
  base: Scene,
  baseKey: string,
  steps: readonly Planned[],
  all: readonly Step[],
  lookup: Lookup,
  memo?: SceneMemo,
): Evaluation {
  const start = startOf(base, baseKey, all);
  let { scene, key } = start;
  const reports: StepReport[] = [];
  const missing: Work[] = [];
  const counts = { applied: 0, remembered: 0, worked: 0 };
  for (const step of steps) {
    if (step.on && isNewer(step)) {
      reports.push({ ...emptyReport(step, reports.at(-1)?.triangles ?? 0), on: true, problems: [NEWER] });
      continue;
    }
    if (!step.on) {
      reports.push(emptyReport(step, reports.at(-1)?.triangles ?? 0));
      continue;
    }
    const before = key;
    key = keyAfter(before, step);
    const known = memo?.get(key);
    const isWhole = known !== undefined && known.missing.every((work) => lookup(work.key) === undefined);
    if (known && isWhole) {
      scene = known.scene;
      missing.push(...known.missing);
      // What follows an unfinished scene is named by what it lacks.
      if (known.missing.length > 0) key = unfinished(key, known);
      // The scene is the same for equal steps; which step it was is not.
      reports.push({ ...known.report, id: step.id });
      counts.remembered++;
      continue;
    }
    const kind = stepKind(step.kind);
    const began = performance.now();
    const rows = select(scene, step.selector, kind.themselves?.(step.parameters));
    // Looked for before the step: what it takes away itself is not lost.
    const lost = [...new Set(rulesOf(step).flatMap((rule) => lostKeys(scene, rule)))];
    // Of a step that was left unfinished only what it lacked can be lacking still.
    const work = known?.missing ?? [
      ...(kind.work?.(scene, rows, step.parameters) ?? []),
      ...landmarkWork(scene, kind, step.parameters),
    ];
    const lacking = work.filter((piece) => lookup(piece.key) === undefined);
    const outcome = applyStep(kind, scene, rows, step.parameters, lookup);
    counts.applied++;
    const report: StepReport = {
      id: step.id,
      kind: step.kind,
      on: true,
      matched: rows.size,
      changed: outcome.changed,
      pending: outcome.pending,
      lost,
      problems: [...outcome.problems, ...lostLandmarks(scene, kind, step.parameters, lookup)].slice(0, 100),
      ...(outcome.notes?.length ? { notes: outcome.notes.slice(0, 100) } : {}),
      ...(outcome.measured ? { measured: outcome.measured } : {}),
      triangles: factsOf(outcome.scene).drawnTriangles,
      seconds: (outcome.worked ?? 0) + (performance.now() - began) / 1000,
    };
    reports.push(report);
    missing.push(...lacking);
    const made = {
      scene: outcome.scene,
      report,
      missing: lacking,
      bytes: bytesOf(outcome.scene, scene),
      number: ++scenesMade,
    };
    memo?.set(key, made);
    scene = outcome.scene;
    if (lacking.length > 0) key = unfinished(key, made);
  }
  return { scene, key, reports, missing, counts };
}

const mayNeedWork = ({ kind: name, parameters }: Step): boolean => {
  const kind = stepKind(name);
  return kind.work !== undefined || hasLandmarks(kind, parameters);
};

const NEWER = 'A newer Noble Prism saved this step: it is passed over here.';

let scenesMade = 0;

/** Name of a scene that lacks some work: what is computed on it holds until it is made anew with more. */
function unfinished(key: string, { number }: Remembered): string {
  return `${key} as of ${number}`;
}

function emptyReport(step: Step, triangles: number): StepReport {
  return {
    id: step.id,
    kind: step.kind,
    on: false,
    matched: 0,
    changed: 0,
    pending: 0,
    lost: [],
    problems: [],
    triangles,
    seconds: 0,
  };
}

/**
 * Evaluates to the end: runs the heavy work that is missing, side by side as the workbench allows, step after step.
 * A piece of work that fails is remembered as failed and costs only its parts.
 * @throws PrismError `cancelled`; what was finished until then stays remembered
 */
export async function evaluate(
  base: Scene,
  baseKey: string,
  given: readonly Step[],
  around: Surroundings,
  memo = new SceneMemo(),
): Promise<Evaluation> {
  const steps = settledSteps(base, given);
  const results = new Map<string, unknown>();
  const lookup = (key: string) => results.get(key);
  const counts = { applied: 0, remembered: 0, worked: 0 };
  const plan = planned(steps);
  // A step can only plan its work on the scene before it, so the list grows by one step that needs work at a time.
  for (let upTo = 1; upTo <= steps.length; upTo++) {
    const step = steps[upTo - 1];
    if (upTo < steps.length && (!step.on || isNewer(step) || !mayNeedWork(step))) continue;
    const partial = fold(base, baseKey, plan.slice(0, upTo), steps, lookup, memo);
    counts.applied += partial.counts.applied;
    counts.remembered += partial.counts.remembered;
    if (partial.missing.length > 0) counts.worked += await runWork(partial.missing, titleOf(step), results, around);
  }
  const final = evaluateNow(base, baseKey, steps, lookup, memo);
  counts.applied += final.counts.applied;
  counts.remembered += final.counts.remembered;
  return { ...final, counts };
}

/** Runs work that is not remembered yet. Returns how many pieces were computed. */
export async function runWork(
  missing: Work[],
  title: string,
  results: Map<string, unknown>,
  around: Surroundings,
): Promise<number> {
  const known = await around.memo.get(missing.map((work) => work.key));
  for (const [key, value] of known) results.set(key, value);
  const open = missing.filter((work) => !results.has(work.key));
  const waiting = new Map(open.map((work) => [work.key, work]));
  let done = 0;
  const report = (what: string) => around.progress({ what, done, total: open.length });
  if (open.length > 0) report(`${title} ${open[0].label}`);
  /** What somebody waits for, or the next in the order of the step. */
  const take = async (): Promise<Work | undefined> => {
    const wanted = waiting.size > 1 ? ((await around.wanted?.()) ?? []) : [];
    const key = wanted.find((candidate) => waiting.has(candidate)) ?? waiting.keys().next().value;
    const work = key === undefined ? undefined : waiting.get(key);
    if (work) waiting.delete(work.key);
    return work;
  };
  const run = async (work: Work): Promise<void> => {
    around.signal?.throwIfAborted();
    // A single piece says how far it is itself, where it can.
    const tell = (share: number) =>
      around.progress({ what: `${title} ${work.label}`, done: Math.floor(share * 100), total: 100, unit: '%' });
    const result = await runOne(work, around, open.length === 1 ? tell : undefined);
    results.set(work.key, result);
    await around.memo.set(work.key, result);
    done++;
    around.finished?.(work.key, result);
    report(`${title} ${work.label}`);
  };
  try {
    await inLanes(Math.min(around.workbench.width, open.length), take, run);
  } catch (error) {
    throw around.signal?.aborted ? new PrismError('cancelled', 'Cancelled. What was finished is kept.') : error;
  }
  return open.length;
}

async function runOne(work: Work, around: Surroundings, tell?: (share: number) => void): Promise<unknown> {
  try {
    const began = performance.now();
    const output = await around.workbench.run(work.task, await work.input(around.blobs), around.signal, tell);
    const kept = await work.keep(output, around.blobs);
    return typeof kept === 'object' && kept !== null ? { ...kept, took: (performance.now() - began) / 1000 } : kept;
  } catch (error) {
    const known = asPrismError(error);
    // Only what the input itself causes is remembered; a full disk or a lost blob is not the fault of the part.
    if (known.code === 'solid-failed' || known.code === 'timed-out') return { failed: known.message };
    throw known;
  }
}
