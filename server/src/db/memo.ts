/** Results of heavy work, kept in the database so that no process computes them twice. */
import type { Memo } from '@noble-prism/core/surroundings';
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
