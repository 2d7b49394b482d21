/** All routes of the API but the uploads. */
import { BATCH_ROUTES } from './batchRoutes.ts';
import { JOB_ROUTES } from './jobRoutes.ts';
import type { Route } from './route.ts';
import { SHELF_ROUTES } from './shelfRoutes.ts';
import { STORAGE_ROUTES } from './storageRoutes.ts';
import { TRANSMITTAL_ROUTES } from './transmittalRoutes.ts';
import { WORK_ROUTES } from './workRoutes.ts';

export const ROUTES: readonly Route[] = [
  ...JOB_ROUTES,
  ...WORK_ROUTES,
  ...TRANSMITTAL_ROUTES,
  ...BATCH_ROUTES,
  ...SHELF_ROUTES,
  ...STORAGE_ROUTES,
];
