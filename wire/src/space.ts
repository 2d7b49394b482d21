/** How much space the data take. */

export interface SpaceUsed {
  files: number;
  bytes: number;
}

export interface Space {
  used: SpaceUsed;
  uploads: SpaceUsed;
  /** Bytes. */
  database: number;
  /** What the latest sweep freed. */
  latest?: { at: string; freed: SpaceUsed };
}
