/** Step: take only a part of a source. What the rule names is left out, with all below it, before anything is computed of it. */
import { object } from 'yup';
import { withDescendants } from '../scene/tree.ts';
import type { StepKind } from './kind.ts';

export const leaveOutStep: StepKind<object> = {
  kind: 'leave-out',
  title: 'Leave out',
  version: 1,
  needs: 'manifest',
  schema: object({}) as StepKind['schema'],
  defaults: {},

  summary: () => 'not taken',

  apply(scene, nodes) {
    const gone = withDescendants(scene, nodes);
    if (gone.size === 0) return { scene, changed: 0, pending: 0, problems: [] };
    // Assemblies that held nothing else go too; those that were empty as received stay.
    const children = new Map<number, number>();
    const kept = new Map<number, number>();
    for (const { parent } of scene.nodes) if (parent !== null) children.set(parent, (children.get(parent) ?? 0) + 1);
    for (let i = scene.nodes.length - 1; i >= 0; i--) {
      const { id, kind, parent } = scene.nodes[i];
      if (kind === 'assembly' && children.has(id) && !kept.has(id)) gone.add(id);
      if (!gone.has(id) && parent !== null) kept.set(parent, (kept.get(parent) ?? 0) + 1);
    }
    return {
      scene: { ...scene, nodes: scene.nodes.filter((node) => !gone.has(node.id)) },
      changed: gone.size,
      pending: 0,
      problems: [],
    };
  },
};
