/**
 * Puts layers together into one tree of prims: what stands on sublayers, chosen variants, references and payloads to other
 * prims and files, and classes that are inherited, each stronger than what it brings in.
 */
import type { UsdArc, UsdLayer, UsdPrim, UsdProperty } from './layer.ts';

/** Arcs that a prim may be reached through, and prims above each other. */
const MAX_DEPTH = 100;
/** Opinions about one prim. */
const MAX_OPINIONS = 2000;

/** A layer with the name by which its own references are resolved. */
export interface LoadedLayer {
  file: string;
  layer: UsdLayer;
  /** Layers that it stands on, already loaded, strongest first. */
  below: LoadedLayer[];
}

/** How other files are found. Undefined where there is none, or it cannot be read. */
export type LoadLayer = (file: string, from: LoadedLayer) => LoadedLayer | undefined;

/** One opinion about a prim: where it stands, and how paths of that place are to be read in the scene. */
interface Opinion {
  prim: UsdPrim;
  layer: LoadedLayer;
  /** Path that the prim has in the scene. */
  shown: string;
  /** The reference that it came through: a path of its layer, and the path that this has in the scene. */
  base: { own: string; shown: string };
  /** The reference that brought it in, and so on. */
  through?: Opinion;
}

/** A prim as it is in the scene. */
export interface ComposedPrim {
  path: string;
  name: string;
  type: string;
  isDefined: boolean;
  isClass: boolean;
  isActive: boolean;
  /** One of several that are alike: what is below it is its prototype's. */
  isInstance: boolean;
  displayName: string | undefined;
  property(name: string): ComposedProperty | undefined;
  properties(): IterableIterator<string>;
  children(): ComposedPrim[];
  /** The same object for all prims that have this property from the same place: what is made of it can be shared. */
  origin(name: string): UsdProperty | undefined;
}

export interface ComposedProperty extends UsdProperty {
  /** Layer that the value stands in: names of files are relative to it. */
  layer: LoadedLayer;
}

export interface StageNotes {
  missing(file: string, path: string): void;
  cyclic(path: string): void;
}

export class Stage {
  readonly #byPath = new Map<string, ComposedPrim | undefined>();
  readonly root: ComposedPrim;

  constructor(
    readonly top: LoadedLayer,
    readonly load: LoadLayer,
    readonly notes: StageNotes,
  ) {
    const opinions = stackOf(top).map((layer): Opinion => ({
      prim: layer.layer.root,
      layer,
      shown: '',
      base: { own: '', shown: '' },
    }));
    this.root = this.#composed('', '', opinions);
  }

  /** The prim at a path of the scene. */
  at(path: string): ComposedPrim | undefined {
    if (!this.#byPath.has(path)) {
      const cut = path.lastIndexOf('/');
      const parent = cut > 0 ? this.at(path.slice(0, cut)) : this.root;
      this.#byPath.set(
        path,
        parent?.children().find(({ name }) => name === path.slice(cut + 1)),
      );
    }
    return this.#byPath.get(path);
  }

  #composed(path: string, name: string, direct: Opinion[]): ComposedPrim {
    const opinions = this.#expanded(direct);
    const strongest = <T>(read: (prim: UsdPrim) => T | undefined): T | undefined => {
      for (const { prim } of opinions) {
        const found = read(prim);
        if (found !== undefined) return found;
      }
      return undefined;
    };
    const properties = new Map<string, ComposedProperty>();
    const origins = new Map<string, UsdProperty>();
    for (const opinion of opinions) {
      for (const [key, property] of opinion.prim.properties) {
        const known = properties.get(key);
        const own = readIn(opinion, property);
        // A weaker opinion fills in what a stronger one leaves open.
        properties.set(key, known ? merged(own, known) : own);
        if (!origins.has(key) && (property.value !== undefined || property.first !== undefined))
          origins.set(key, property);
      }
    }
    let children: ComposedPrim[] | undefined;
    return {
      path,
      name,
      type: strongest(({ type }) => type || undefined) ?? '',
      isDefined: opinions.some(({ prim }) => prim.specifier === 'def'),
      isClass: opinions[0]?.prim.specifier === 'class',
      isActive: strongest(({ active }) => active) ?? true,
      isInstance: strongest(({ instanceable }) => instanceable) ?? false,
      displayName: strongest(({ displayName }) => displayName || undefined),
      property: (key) => properties.get(key),
      properties: () => properties.keys(),
      children: () => (children ??= this.#children(path, opinions)),
      origin: (key) => origins.get(key),
    };
  }

  #children(path: string, opinions: Opinion[]): ComposedPrim[] {
    if (path.split('/').length > MAX_DEPTH) {
      this.notes.cyclic(path);
      return [];
    }
    const byName = new Map<string, Opinion[]>();
    // Weaker layers come first in the order of children, as references bring in what is then added to.
    for (const opinion of [...opinions].reverse())
      for (const child of opinion.prim.children) if (!byName.has(child.name)) byName.set(child.name, []);
    for (const opinion of opinions)
      for (const child of opinion.prim.children)
        byName.get(child.name)?.push({
          ...opinion,
          prim: child,
          shown: `${path}/${child.name}`,
        });
    return [...byName].map(([name, list]) => this.#composed(`${path}/${name}`, name, list));
  }

  /** All opinions about a prim, strongest first, with what they bring in. */
  #expanded(direct: Opinion[]): Opinion[] {
    const out: Opinion[] = [];
    const selections: Record<string, string> = {};
    const visit = (opinion: Opinion, depth: number): void => {
      if (depth > MAX_DEPTH || out.length > MAX_OPINIONS || reaches(opinion)) {
        this.notes.cyclic(opinion.shown);
        return;
      }
      out.push(opinion);
      const { prim } = opinion;
      for (const [set, name] of Object.entries(prim.selections)) selections[set] ??= name;
      const variants: Opinion[] = [];
      for (const [set, list] of prim.variants) {
        const chosen = list.get(selections[set] ?? '');
        if (chosen) variants.push({ ...opinion, prim: chosen });
      }
      for (const path of prim.inherits) for (const found of this.#resolve({ path }, opinion)) visit(found, depth + 1);
      for (const variant of variants) visit(variant, depth + 1);
      for (const arc of [...prim.references, ...prim.payloads])
        for (const found of this.#resolve(arc, opinion)) visit(found, depth + 1);
    };
    for (const opinion of direct) visit(opinion, 0);
    return out;
  }

  /** Opinions at the end of a reference: those of all layers that the file stands on. */
  #resolve(arc: UsdArc, from: Opinion): Opinion[] {
    const target = arc.file === undefined ? from.layer : this.load(arc.file, from.layer);
    if (!target) {
      this.notes.missing(arc.file ?? '', from.shown);
      return [];
    }
    const path = arc.path ?? (target.layer.defaultPrim ? `/${target.layer.defaultPrim}` : undefined);
    const stack = stackOf(target);
    const own = path ?? `/${stack[0].layer.root.children[0]?.name ?? ''}`;
    const found = stack.flatMap((layer): Opinion[] => {
      const prim = primAt(layer.layer, own);
      return prim ? [{ prim, layer, shown: from.shown, base: { own, shown: from.shown }, through: from }] : [];
    });
    if (found.length === 0) this.notes.missing(`${arc.file ?? ''}<${own}>`, from.shown);
    return found;
  }
}

/** A layer and those that it stands on, strongest first. */
function stackOf(layer: LoadedLayer, seen = new Set<LoadedLayer>()): LoadedLayer[] {
  if (seen.has(layer)) return [];
  seen.add(layer);
  return [layer, ...layer.below.flatMap((below) => stackOf(below, seen))];
}

function primAt(layer: UsdLayer, path: string): UsdPrim | undefined {
  let prim: UsdPrim | undefined = layer.root;
  for (const name of path.split('/').filter(Boolean)) prim = prim?.children.find((child) => child.name === name);
  return prim;
}

/** True where a prim is brought in by itself. */
function reaches(opinion: Opinion): boolean {
  for (let up = opinion.through; up; up = up.through) if (up.prim === opinion.prim) return true;
  return false;
}

/** A property with its paths as they are in the scene. */
function readIn({ shown, base, layer }: Opinion, property: UsdProperty): ComposedProperty {
  const moved = (path: string) => {
    const whole = path.startsWith('/') ? path : `${shown}/${path}`;
    const isInside = whole === base.own || whole.startsWith(`${base.own}/`) || whole.startsWith(`${base.own}.`);
    return isInside ? base.shown + whole.slice(base.own.length) : whole;
  };
  return {
    ...property,
    layer,
    ...(property.connection ? { connection: moved(property.connection) } : {}),
    ...(property.targets ? { targets: property.targets.map(moved) } : {}),
  };
}

function merged(weaker: ComposedProperty, stronger: ComposedProperty): ComposedProperty {
  const hasValue = stronger.value !== undefined || stronger.first !== undefined;
  return {
    ...weaker,
    ...Object.fromEntries(Object.entries(stronger).filter(([, value]) => value !== undefined)),
    samples: hasValue ? stronger.samples : weaker.samples,
    layer: hasValue ? stronger.layer : weaker.layer,
  } as ComposedProperty;
}
