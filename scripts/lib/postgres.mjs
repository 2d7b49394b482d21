// A private PostgreSQL cluster on a socket that only its owner can reach. Found, installed if we may, started, stopped.
import { createHash } from 'node:crypto';
import {
  chmodSync,
  chownSync,
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  readdirSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { join } from 'node:path';
import { aptInstall, ask, find, isRoot, root, run, say } from './run.mjs';

const VERSIONS = '/usr/lib/postgresql';

function binaries() {
  if (existsSync(VERSIONS)) {
    const newest = readdirSync(VERSIONS)
      .filter((name) => existsSync(join(VERSIONS, name, 'bin', 'initdb')))
      .sort((a, b) => Number(b) - Number(a))[0];
    if (newest) return join(VERSIONS, newest, 'bin');
  }
  const initdb = find('initdb');
  return initdb ? join(initdb, '..') : undefined;
}

/** Names that are short: the path of a socket may have 107 bytes only. */
function places() {
  const tag = createHash('sha256').update(root).digest('hex').slice(0, 10);
  const user = isRoot ? 'postgres' : (process.env.USER ?? String(process.getuid?.() ?? ''));
  const socket = `/tmp/noble-prism-${user}-${tag}`;
  const own = join(root, '.data', 'postgres');
  // Under a closed home the user postgres cannot reach our folder.
  const reachable = !isRoot || ask('runuser', ['-u', 'postgres', '--', 'test', '-x', root]) !== undefined;
  return { cluster: reachable ? own : `/var/lib/postgresql/noble-prism-${tag}`, socket };
}

function as(command, args) {
  return isRoot ? ['runuser', ['-u', 'postgres', '--', command, ...args]] : [command, args];
}

function isAlive(cluster) {
  try {
    const pid = Number(readFileSync(join(cluster, 'postmaster.pid'), 'utf8').split('\n')[0]);
    // A killed postmaster may linger as a zombie, without a command line.
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('postgres');
  } catch {
    return false;
  }
}

/** Only one start at a time; a lock whose owner is gone is taken over. */
async function locked(path, work) {
  for (;;) {
    try {
      const file = openSync(path, 'wx');
      writeSync(file, String(process.pid));
      closeSync(file);
      break;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const owner = Number(readFileSync(path, 'utf8') || 0);
      if (owner && !existsSync(`/proc/${owner}`)) rmSync(path, { force: true });
      else await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  try {
    return await work();
  } finally {
    rmSync(path, { force: true });
  }
}

/** Commands that use the cluster, each a file named by its process: one that was killed leaves its file, and counts no longer. */
const users = join(root, '.data', 'postgres-users');

function othersUse() {
  if (!existsSync(users)) return false;
  return readdirSync(users).some((pid) => {
    if (Number(pid) === process.pid) return false;
    if (existsSync(`/proc/${pid}`)) return true;
    rmSync(join(users, pid), { force: true });
    return false;
  });
}

/**
 * Makes sure that the cluster runs and holds a database.
 * Returns its address, and how to stop it: what the last of those who use it does, whoever started it. One that was killed could not.
 */
export async function ensurePostgres(database, { fresh = false } = {}) {
  let bin = binaries();
  if (!bin && isRoot) {
    aptInstall('postgresql');
    bin = binaries();
  }
  if (!bin)
    throw new Error(
      'PostgreSQL is missing. Install it (Debian: apt-get install postgresql), or set DATABASE_URL to a server of yours.',
    );
  mkdirSync(join(root, '.data'), { recursive: true });
  const { cluster, socket } = places();
  return locked(join(root, '.data', 'postgres.lock'), async () => {
    mkdirSync(socket, { recursive: true });
    if (isRoot) {
      const id = (flag) => Number(ask('id', [flag, 'postgres']));
      chownSync(socket, id('-u'), id('-g'));
      if (!existsSync(cluster)) {
        mkdirSync(cluster, { recursive: true });
        chownSync(cluster, id('-u'), id('-g'));
      }
    }
    chmodSync(socket, 0o700);
    const quiet = { stdio: ['ignore', 'ignore', 'inherit'], cwd: '/' };
    if (!existsSync(join(cluster, 'PG_VERSION'))) {
      say('Making a private PostgreSQL cluster, about 2 s …');
      run(
        ...as(join(bin, 'initdb'), [
          '-D',
          cluster,
          '-U',
          'prism',
          '--auth=trust',
          '--encoding=UTF8',
          '--locale=C.UTF-8',
        ]),
        quiet,
      );
    }
    const started = !isAlive(cluster);
    if (started) {
      rmSync(join(cluster, 'postmaster.pid'), { force: true });
      const options = `-c listen_addresses='' -c unix_socket_directories='${socket}' -c unix_socket_permissions=0700`;
      run(
        ...as(join(bin, 'pg_ctl'), ['-D', cluster, '-w', '-l', join(cluster, 'server.log'), '-o', options, 'start']),
        quiet,
      );
    }
    mkdirSync(users, { recursive: true });
    writeFileSync(join(users, String(process.pid)), '');
    const client = ['-h', socket, '-U', 'prism'];
    if (fresh) ask(...as(join(bin, 'dropdb'), [...client, '--if-exists', '--force', database]));
    const list =
      ask(...as(join(bin, 'psql'), [...client, '-d', 'postgres', '-Atc', 'select datname from pg_database']), {
        cwd: '/',
      }) ?? '';
    if (!list.split('\n').includes(database)) run(...as(join(bin, 'createdb'), [...client, database]), quiet);
    return {
      url: `postgresql://prism@${encodeURIComponent(socket)}/${database}`,
      stop() {
        rmSync(join(users, String(process.pid)), { force: true });
        if (othersUse()) return;
        // Somebody else may have begun to use it: the demo while the tests ran, or the other way round.
        const others = ask(
          ...as(join(bin, 'psql'), [
            ...client,
            '-d',
            'postgres',
            '-Atc',
            "select count(*) from pg_stat_activity where backend_type = 'client backend' and pid <> pg_backend_pid()",
          ]),
          { cwd: '/' },
        );
        if (!Number(others)) ask(...as(join(bin, 'pg_ctl'), ['-D', cluster, '-m', 'fast', '-w', 'stop']), { cwd: '/' });
      },
    };
  });
}
