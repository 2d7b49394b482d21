/** Results of heavy work, kept in the database so that no process computes them twice. */
import { sideBySide } from '@noble-prism/core/sideBySide';
import type { BlobStore, Memo } from '@noble-prism/core/surroundings';
import type { Db } from './connect.ts';

export class DatabaseMemo implements Memo {
  constructor(readonly db: Db) {}

  async get(keys: string[]): Promise<Map<string, unknown>> {
    const out = new Map<string, unknown>();
    for (let at = 0; at < keys.length; at += 5000) {
      const rows = await this.db
        .selectFrom('memo')
        .selectAll()
        .where('key', 'in', keys.slice(at, at + 5000))
        .execute();
      for (const { key, value } of rows) out.set(key, value);
    }
    return out;
  }

  async set(key: string, value: unknown): Promise<void> {
    const text = JSON.stringify(value);
    await this.db
      .insertInto('memo')
      .values({ key, value: text })
      .onConflict((conflict) => conflict.column('key').doUpdateSet({ value: text }))
      .execute();
  }
}

/** Looked for at a time. */
const AT_ONCE = 64;

/** Results whose blobs are really there: what was deleted by hand is computed again, and not referred to for ever. */
export class CheckedMemo implements Memo {
  constructor(
    readonly memo: Memo,
    readonly blobs: Pick<BlobStore, 'has'>,
  ) {}

  async get(keys: string[]): Promise<Map<string, unknown>> {
    const known = await this.memo.get(keys);
    await sideBySide([...known], AT_ONCE, async ([key, value]) => {
      const { mesh, shape } = (value ?? {}) as { mesh?: unknown; shape?: unknown };
      for (const blob of [mesh, shape])
        if (typeof blob === 'string' && !(await this.blobs.has(blob))) known.delete(key);
    });
    return known;
  }

  set(key: string, value: unknown): Promise<void> {
    return this.memo.set(key, value);
  }
}
