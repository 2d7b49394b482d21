/** Routes of what is kept for all jobs: templates and own materials. */
import { array, boolean, object, string } from 'yup';
import { PrismError } from '@noble-prism/core/errors';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import { ownMaterialSchema } from '@noble-prism/core/finish/library/own';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { NamedSource } from '@noble-prism/core/preparation/template';
import { deleteMaterial, keepMaterial, listMaterials } from '../db/materials.ts';
import { addTemplate, changeTemplate, deleteTemplate, listTemplates } from '../db/templates.ts';
import { nameOf } from './names.ts';
import type { Route } from './route.ts';

export const SHELF_ROUTES: readonly Route[] = [
  {
    method: 'get',
    path: '/api/templates',
    summary: 'Preparations kept without sources',
    answer: 'A list of `{ id, name, steps, sources, every, made_at }`.',
    handle: (_ctx, _body, { db }) => listTemplates(db),
  },
  {
    method: 'post',
    path: '/api/templates',
    summary: 'Keeps steps as a template, with the names of the sources that they name',
    body: object({
      name: nameOf('template'),
      steps: array().required().min(1, 'A template has at least one step.').max(500),
      sources: array(object({ id: string().required().max(64), name: string().required().max(1000) }).noUnknown())
        .required()
        .max(500),
    }).noUnknown(),
    answer: 'All templates.',
    status: 201,
    handle: async (_ctx, body: { name: string; steps: unknown[]; sources: NamedSource[] }, { db }) => {
      await addTemplate(db, { ...body, steps: checkSteps(body.steps) });
      return listTemplates(db);
    },
  },
  {
    method: 'patch',
    path: '/api/templates/:template',
    summary: 'Renames a template, or has every new job begin with it',
    body: object({ name: nameOf('template').optional(), every: boolean() }).noUnknown(),
    answer: 'All templates.',
    handle: async (ctx, change: { name?: string; every?: boolean }, { db }) => {
      if (Object.keys(change).length === 0) throw new PrismError('bad-parameters', 'Say what is to be changed.');
      await changeTemplate(db, ctx.params.template, change);
      return listTemplates(db);
    },
  },
  {
    method: 'get',
    path: '/api/materials',
    summary: 'Own materials of the library',
    answer: 'A list of `{ material, textures, size, of }`.',
    handle: (_ctx, _body, { db }) => listMaterials(db),
  },
  {
    method: 'put',
    path: '/api/materials',
    summary: 'Keeps an own material, or what became of one with the same id; jobs keep what they have of it',
    body: ownMaterialSchema,
    answer: 'All own materials.',
    handle: async (_ctx, own: OwnMaterial, { db }) => {
      await keepMaterial(db, own);
      return listMaterials(db);
    },
  },
  {
    method: 'delete',
    path: '/api/materials/:material',
    summary: 'Deletes an own material; jobs keep what they have of it',
    answer: 'All own materials.',
    handle: async (ctx, _body, { db }) => {
      await deleteMaterial(db, ctx.params.material);
      return listMaterials(db);
    },
  },
  {
    method: 'delete',
    path: '/api/templates/:template',
    summary: 'Deletes a template; jobs that were given it keep their steps',
    answer: 'All templates.',
    handle: async (ctx, _body, { db }) => {
      await deleteTemplate(db, ctx.params.template);
      return listTemplates(db);
    },
  },
];
