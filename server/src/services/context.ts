/** What services and tasks work with. */
import type { SceneMemo } from '@noble-prism/core/preparation/evaluate';
import type { BlobStore, Workbench } from '@noble-prism/core/surroundings';
import type { Db } from '../db/connect.ts';

export interface WorkContext {
  db: Db;
  blobs: BlobStore;
  workbench: Workbench;
  scenes: SceneMemo;
  /** Folder of deliveries that are wanted as plain files. */
  deliveries: string;
  /** Folder in which files grow that are not whole yet. */
  unfinished: string;
}
