/** Measures how texture coordinates lie on meshes, away from the page: one after the other, each told as soon as it is known. */
import { unpackMesh } from '@noble-prism/core/mesh/mesh';
import { uvFigures } from '@noble-prism/core/mesh/uvFigures';
import type { UvFigures } from '@noble-prism/core/mesh/uvFigures';
import { fetchBlob } from '../api/client.ts';

export interface UvRequest {
  /** Tells this from earlier ones, which are given up. */
  number: number;
  meshes: string[];
  set: number;
}

export interface UvAnswer {
  number: number;
  mesh: string;
  /** Nothing where it has no such set. */
  figures?: UvFigures;
  /** Why it could not be measured. */
  failed?: string;
}

let latest = 0;

self.onmessage = async ({ data: { number, meshes, set } }: MessageEvent<UvRequest>) => {
  latest = number;
  for (const mesh of meshes) {
    if (latest !== number) return;
    const answer: UvAnswer = { number, mesh };
    try {
      const figures = uvFigures(unpackMesh(await fetchBlob(mesh)), set);
      if (figures) answer.figures = figures;
    } catch (error) {
      answer.failed = (error as Error).message;
    }
    self.postMessage(answer);
  }
};
