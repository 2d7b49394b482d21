/** A prepared scene in the coordinates that it is to go out in: as the job has them, as everything came in, or those of the map. */
import { PrismError } from '../errors.ts';
import { SceneEditor } from '../scene/editor.ts';
import { isIdentity } from '../scene/matrix.ts';
import { putElsewhere } from '../scene/motion.ts';
import { GONE } from '../scene/nodes.ts';
import { intoCoordinates, originIn } from '../scene/origin.ts';
import type { Coordinates } from '../scene/origin.ts';
import type { Scene } from '../scene/types.ts';

/**
 * The roots are put elsewhere, in doubles; what is below them stays small and near.
 * @throws PrismError `bad-parameters` where nobody said what these coordinates are
 */
export function sceneIn(scene: Scene, coordinates: Coordinates): Scene {
  const { origin = {} } = scene;
  if (coordinates === 'restored' && !origin.offset)
    throw new PrismError(
      'bad-parameters',
      'The job has no local origin, so there is no offset to put back. Nothing was written.',
    );
  if (coordinates === 'map' && !origin.map)
    throw new PrismError('bad-parameters', 'Nobody said where the job lies on the map: add a step “Map coordinates” first. Nothing was written.'); // prettier-ignore
  const around = intoCoordinates(origin, coordinates);
  if (isIdentity(around, 0)) return scene;
  const edit = new SceneEditor(scene);
  const { kind, parent } = scene.nodes.columns;
  for (let row = 0; row < scene.nodes.rows; row++)
    if (kind[row] !== GONE && parent[row] < 0) putElsewhere(edit, row, { before: around });
  edit.setOrigin(originIn(origin, coordinates));
  return edit.finish().scene;
}
