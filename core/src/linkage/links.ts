/** The links of a scene: hinges and slides that were named between rows, and the linkage that they make as everything stands now. */
import { factsOf } from '../scene/facts.ts';
import type { SceneFacts } from '../scene/facts.ts';
import { IDENTITY, invert, isSingular, multiply, transformPoint } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { directionIn } from '../scene/spot.ts';
import type { Scene } from '../scene/types.ts';
import type { Joint, JointKind, Seat } from './joint.ts';
import { Linkage } from './linkage.ts';

/** A hinge or a slide between two rows, as a step named it. */
export interface Link {
  /** By which other steps know it. */
  id: string;
  name: string;
  kind: JointKind;
  /** Rows; the base is -1 where it is what stands still. */
  part: number;
  base: number;
  /** In the frames of the rows. */
  inPart: Seat;
  inBase: Seat;
  least?: number;
  greatest?: number;
}

/** A seat of the world in the frame of a row. */
export function seatIn(facts: SceneFacts, row: number, seat: Seat): Seat {
  return row < 0 ? seat : placed(invert(facts.world(row)), seat);
}

function placed(place: Matrix, { point, axis, across }: Seat): Seat {
  return { point: transformPoint(place, point), axis: directionIn(place, axis), across: directionIn(place, across) };
}

/** The links that there still are: of rows that are gone there is none. */
export function linksOf({ nodes, links = [] }: Scene): Link[] {
  return links.filter(({ part, base }) => nodes.has(part) && (base < 0 || nodes.has(base)));
}

/** A link by its id, or by its name. */
export function linkCalled(links: readonly Link[], called: string): Link | undefined {
  return links.find(({ id }) => id === called) ?? links.find(({ name }) => name === called);
}

/**
 * Which of two rows is said to move on the other. What is in a link already and does not move in it is what others move on; what moves
 * already takes along what is new.
 * @returns the part and its base
 */
export function movesOn(links: readonly Link[], one: number, other: number): [part: number, base: number] {
  const moves = (row: number) => links.some(({ part }) => part === row);
  const isNew = (row: number) => links.every(({ part, base }) => part !== row && base !== row);
  return moves(one) && isNew(other) ? [other, one] : [one, other];
}

/** Where a link is in the world now, by the row that moves in it. */
export function seatOf(scene: Scene, { part, inPart }: Link): Seat {
  return placed(factsOf(scene).world(part), inPart);
}

/** What can be driven: a linkage and the rows that its bodies are. */
export interface Mechanism {
  linkage: Linkage;
  links: Link[];
  /** Row of each body. */
  rows: number[];
  /** Rows that something is linked to and that stand still, since they are not said to move themselves. */
  still: number[];
}

/** The linkage as everything stands now. */
export function mechanismOf(scene: Scene, driver: Link): Mechanism {
  const facts = factsOf(scene);
  const links = linksOf(scene);
  const rows: number[] = [];
  const still = new Set<number>();
  const { parent } = scene.nodes.columns;
  const parts = new Set(links.map(({ part }) => part));
  const body = (row: number) => {
    const known = rows.indexOf(row);
    return known >= 0 ? known : rows.push(row) - 1;
  };
  // What nobody said moves stands still, unless it is inside of something that moves.
  const bodyUnder = (base: number) => {
    for (let at = base; at >= 0; at = parent[at]) if (parts.has(at)) return body(at);
    if (base >= 0) still.add(base);
    return -1;
  };
  const joints = links.map((link): Joint => {
    const { name, kind, part, base, least, greatest } = link;
    return {
      name,
      kind,
      part: body(part),
      base: bodyUnder(base),
      inPart: placed(facts.world(part), link.inPart),
      inBase: base < 0 ? link.inBase : placed(facts.world(base), link.inBase),
      ...(least === undefined ? {} : { least }),
      ...(greatest === undefined ? {} : { greatest }),
    };
  });
  return { linkage: new Linkage(joints, rows.length, links.indexOf(driver)), links, rows, still: [...still] };
}

/** A row that moves: what has to be done before its own place, in its parent. */
export interface BodyPlace {
  row: number;
  /** Number of the body, and of the nearest one above it; -1 where none is. */
  body: number;
  above: number;
  /** World of its parent, as everything stands. */
  parent: Matrix;
}

/** The rows that bodies are, those above before those below; a fault in words where one cannot move by itself. */
export function bodyPlaces(scene: Scene, { linkage, rows }: Mechanism): BodyPlace[] | string {
  const facts = factsOf(scene);
  const { parent } = scene.nodes.columns;
  const driven = new Set(linkage.driven);
  const bodies = new Map(rows.map((row, body) => [row, body]));
  const out: (BodyPlace & { depth: number })[] = [];
  for (const body of driven) {
    const row = rows[body];
    let depth = 0;
    let above = -1;
    for (let at = parent[row]; at >= 0; at = parent[at]) {
      depth++;
      if (above < 0 && driven.has(bodies.get(at) ?? -1)) above = bodies.get(at) ?? -1;
    }
    const frame = parent[row] < 0 ? IDENTITY : facts.world(parent[row]);
    if (isSingular(frame))
      return `${scene.nodes.text('name', row)} cannot move: something above it has a scale of zero.`;
    out.push({ row, body, above, parent: frame, depth });
  }
  return out.sort((a, b) => a.depth - b.depth || a.row - b.row).map(({ depth: _, ...place }) => place);
}

/** What is done before the own place of a body, in its parent, when all bodies have moved. */
export function beforeOwn(
  { body, above, parent }: Pick<BodyPlace, 'body' | 'above' | 'parent'>,
  moves: readonly Matrix[],
): Matrix {
  // What is above it takes it along already.
  const own = above < 0 ? moves[body] : multiply(invert(moves[above]), moves[body]);
  return multiply(invert(parent), multiply(own, parent));
}

/** Places in their parents of the rows that move, when all bodies have moved: for a view that shows them there. */
export function placesOf(scene: Scene, places: readonly BodyPlace[], moves: readonly Matrix[]): Map<number, Matrix> {
  return new Map(places.map((place) => [place.row, multiply(beforeOwn(place, moves), scene.nodes.place(place.row))]));
}
