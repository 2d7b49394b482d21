/** The heavy tasks by name: what a worker thread can be asked to do. Input and output can be cloned between threads. */
import type { BakeInput, BakeOutput } from './linkage/bake.ts';
import type { PictureInput, PictureOutput } from './finish/sets/makePicture.ts';
import type { SurfaceInput, SurfaceOutput } from './finish/made/surface.ts';
import type { LandmarksInput, LandmarksOutput } from './mesh/landmarks.ts';
import type { MassInput, MassOutput } from './mesh/mass.ts';
import type { JoinInput, JoinOutput } from './mesh/join.ts';
import type { PaintInput, PaintOutput } from './mesh/paint.ts';
import type { PiecesInput, PiecesOutput } from './mesh/pieces.ts';
import type { ProjectInput, ProjectOutput } from './mesh/project.ts';
import type { ReduceInput, ReduceOutput } from './mesh/reduce.ts';
import type { ScaleInput, ScaleOutput } from './mesh/scale.ts';
import type { ExactShape } from './measure/exactShape.ts';
import type { SplitInput, SplitOutput } from './mesh/split.ts';
import type { UnwrapInput, UnwrapOutput } from './mesh/unwrap.ts';
import type { BodiesInput, BodiesOutput } from './solid/bodies.ts';
import type { ExactInput } from './solid/readExact.ts';
import type { ForecastInput, ForecastOutput } from './solid/forecast.ts';
import type { TessellateInput, TessellateOutput } from './solid/tessellate.ts';

export interface TaskInputs {
  bodies: BodiesInput;
  tessellate: TessellateInput;
  reduce: ReduceInput;
  paint: PaintInput;
  pieces: PiecesInput;
  project: ProjectInput;
  unwrap: UnwrapInput;
  scale: ScaleInput;
  join: JoinInput;
  split: SplitInput;
  mass: MassInput;
  landmarks: LandmarksInput;
  forecast: ForecastInput;
  exact: ExactInput;
  bake: BakeInput;
  surface: SurfaceInput;
  picture: PictureInput;
}

export interface TaskOutputs {
  bodies: BodiesOutput;
  tessellate: TessellateOutput;
  reduce: ReduceOutput;
  paint: PaintOutput;
  pieces: PiecesOutput;
  project: ProjectOutput;
  unwrap: UnwrapOutput;
  scale: ScaleOutput;
  join: JoinOutput;
  split: SplitOutput;
  mass: MassOutput;
  landmarks: LandmarksOutput;
  forecast: ForecastOutput;
  exact: ExactShape;
  bake: BakeOutput;
  surface: SurfaceOutput;
  picture: PictureOutput;
}

export type TaskName = keyof TaskInputs;

/** Hears which share of a task is done, 0 to 1. */
export type Tell = (share: number) => void;

/** Each is loaded when it is first asked for: a thread that tessellates needs nothing of what reduces. */
export const TASKS: { [K in TaskName]: (input: TaskInputs[K], tell?: Tell) => Promise<TaskOutputs[K]> } = {
  bodies: async (input) => (await import('./solid/bodies.ts')).bodiesOf(input),
  tessellate: async (input) => (await import('./solid/tessellate.ts')).tessellate(input),
  reduce: async (input) => (await import('./mesh/reduce.ts')).reduce(input),
  forecast: async (input) => (await import('./solid/forecast.ts')).forecastSolid(input),
  exact: async (input) => (await import('./solid/readExact.ts')).readExact(input),
  bake: async (input) => (await import('./linkage/bake.ts')).bake(input),
  surface: async (input) => (await import('./finish/made/surface.ts')).surface(input),
  picture: async (input) => (await import('./finish/sets/makePicture.ts')).makePicture(input),
  join: async (input) => (await import('./mesh/join.ts')).join(input),
  split: async (input) => (await import('./mesh/split.ts')).split(input),
  landmarks: async (input) => (await import('./mesh/landmarks.ts')).landmarks(input),
  mass: async (input) => (await import('./mesh/mass.ts')).mass(input),
  paint: async (input) => (await import('./mesh/paint.ts')).paint(input),
  pieces: async (input) => (await import('./mesh/pieces.ts')).pieces(input),
  project: async (input) => (await import('./mesh/project.ts')).project(input),
  unwrap: async (input, tell) => (await import('./mesh/unwrap.ts')).unwrap(input, tell),
  scale: async (input) => (await import('./mesh/scale.ts')).scale(input),
};
