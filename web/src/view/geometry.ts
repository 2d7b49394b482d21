/** Geometry of meshes for the view: fetched once, kept, with a search tree made in a worker. */
import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { SnapFeatures } from '@noble-prism/core/measure/snapFeatures';
import { unpackMesh } from '@noble-prism/core/mesh/mesh';
import { fetchBlob } from '../api/client.ts';
import type { CurvesAnswer, CurvesRequest, TreeAnswer, TreeRequest } from '../workers/searchTree.worker.ts';

export interface ViewGeometry {
  surface: BufferGeometry;
  /** Feature edges as pairs of points. */
  edges: BufferGeometry;
  positions: Float32Array;
  slots: number[];
  shape: 'triangles' | 'points' | 'lines';
  /** True where vertices have colours of their own. */
  coloured: boolean;
  /** True where the back of its faces can be seen, as its figures say; set where it is drawn. */
  backs?: boolean;
  /** For picking; absent until the worker is done. */
  tree?: MeshBVH;
  /** For snapping: made when somebody points at a part with it. */
  features?: SnapFeatures;
}

/** Requests at a time: more would make the first parts wait for the last. */
const PARALLEL = 6;

export class GeometryStore {
  readonly #ready = new Map<string, ViewGeometry>();
  readonly #wanted: string[] = [];
  readonly #known = new Set<string>();
  readonly #missed = new Set<string>();
  /** Meshes whose curves were asked for. */
  readonly #asked = new Set<string>();
  #running = 0;
  /** How many have become ready so far. */
  arrivals = 0;
  readonly #worker = new Worker(new URL('../workers/searchTree.worker.ts', import.meta.url), { type: 'module' });

  constructor(
    /** Called when some geometry has become ready. */
    readonly arrived: (mesh: string) => void,
    readonly failed: (error: unknown) => void,
  ) {
    this.#worker.onmessage = ({ data }: MessageEvent<TreeAnswer | CurvesAnswer>) => {
      const geometry = this.#ready.get(data.mesh);
      if (!geometry) return;
      if ('curves' in data) {
        geometry.features = new SnapFeatures(data.curves);
        return;
      }
      geometry.tree = MeshBVH.deserialize(
        { version: 1, roots: data.roots, index: null, indirectBuffer: data.indirect } as never,
        geometry.surface,
        { setIndex: false },
      );
    };
  }

  get(mesh: string): ViewGeometry | undefined {
    return this.#ready.get(mesh);
  }

  positionsOf = (mesh: string): Float32Array | undefined => this.#ready.get(mesh)?.positions;

  /** What of a mesh can be snapped to; asked for the first time it comes a moment later. */
  featuresOf(mesh: string): SnapFeatures | undefined {
    const geometry = this.#ready.get(mesh);
    if (geometry?.features || !geometry || this.#asked.has(mesh)) return geometry?.features;
    this.#asked.add(mesh);
    const request: CurvesRequest = {
      mesh,
      edges: (geometry.edges.getAttribute('position').array as Float32Array).slice(),
    };
    this.#worker.postMessage(request, [request.edges.buffer]);
    return undefined;
  }

  /** Fetches what is not there yet, in the order given. */
  want(meshes: Iterable<string>): void {
    for (const mesh of meshes) {
      if (this.#known.has(mesh)) continue;
      this.#known.add(mesh);
      this.#wanted.push(mesh);
    }
    this.#pump();
  }

  /** Fetches again what could not be fetched: it may have been made anew. */
  retry(): void {
    const again = [...this.#missed];
    this.#missed.clear();
    this.want(again);
  }

  #pump(): void {
    while (this.#running < PARALLEL) {
      const mesh = this.#wanted.shift();
      if (!mesh) return;
      this.#running++;
      this.#load(mesh)
        .catch((error: unknown) => {
          this.#known.delete(mesh);
          this.#missed.add(mesh);
          this.failed(error);
        })
        .finally(() => {
          this.#running--;
          this.#pump();
        });
    }
  }

  async #load(mesh: string): Promise<void> {
    const { positions, normals, indices, groups, edges, uvs, colours } = unpackMesh(await fetchBlob(mesh));
    const surface = new BufferGeometry();
    surface.setAttribute('position', new BufferAttribute(positions, 3));
    surface.setAttribute('normal', new BufferAttribute(normals, 3));
    uvs?.slice(0, 4).forEach((set, i) => surface.setAttribute(i === 0 ? 'uv' : `uv${i}`, new BufferAttribute(set, 2)));
    if (colours) surface.setAttribute('color', new BufferAttribute(colours, 4));
    if (indices.length > 0) surface.setIndex(new BufferAttribute(indices, 1));
    groups.forEach((group, i) => surface.addGroup(group.start, group.count, i));
    surface.computeBoundingSphere();
    surface.computeBoundingBox();
    const lines = new BufferGeometry();
    lines.setAttribute('position', new BufferAttribute(edges, 3));
    this.#ready.set(mesh, {
      surface,
      edges: lines,
      positions,
      slots: groups.map((group) => group.slot),
      shape: indices.length > 0 ? 'triangles' : positions.length > 0 ? 'points' : 'lines',
      coloured: colours !== undefined,
    });
    this.arrivals++;
    this.arrived(mesh);
    if (indices.length === 0) return;
    const request: TreeRequest = { mesh, positions: positions.slice(), indices: indices.slice() };
    this.#worker.postMessage(request, [request.positions.buffer, request.indices.buffer]);
  }

  dispose(): void {
    this.#worker.terminate();
    for (const { surface, edges } of this.#ready.values()) {
      surface.dispose();
      edges.dispose();
    }
    this.#ready.clear();
  }
}
