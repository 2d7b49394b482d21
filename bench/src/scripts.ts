/** What a fresh machine needs, by the scripts of the project as they lie there: bundled with a bench they would take the folder of the bundles for the root. */
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

const script = (name: string): Promise<unknown> =>
  import(pathToFileURL(join(process.cwd(), 'scripts', 'lib', name)).href);

/** A database of its own for benches; what is started afterwards uses it. */
export async function startPostgres(): Promise<{ stop(): void }> {
  const { ensurePostgres } = (await script('postgres.mjs')) as { ensurePostgres(name: string): Promise<{ url: string; stop(): void }> }; // prettier-ignore
  const postgres = await ensurePostgres('prism_bench');
  process.env.DATABASE_URL = postgres.url;
  return postgres;
}

/** The interface, built where it is older than its sources. */
export async function buildInterface(): Promise<void> {
  ((await script('build.mjs')) as { ensureBuild(): void }).ensureBuild();
}
