import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { chownSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { Client } from 'pg';

/** A PostgreSQL server of its own for tests, which is thrown away with everything in it. */
export interface TestPostgres {
  /** Address of its first database. */
  url: string;
  /** Ends it as a crash would, or with its word; the data stays. */
  halt(how: 'immediate' | 'fast'): Promise<void>;
  /** Starts it again where it was; one that runs still is left as it is. */
  resume(): Promise<void>;
  remove(): Promise<void>;
}

const VERSIONS = '/usr/lib/postgresql';

function programs(): string | null {
  if (!existsSync(VERSIONS)) return null;
  const found = readdirSync(VERSIONS)
    .sort((a, b) => Number(b) - Number(a))
    .map((version) => join(VERSIONS, version, 'bin'))
    .find((folder) => existsSync(join(folder, 'initdb')));
  return found ?? null;
}

export const hasPostgres = (): boolean => programs() !== null;

/** A server does not run as root: it runs as the user that its package made. */
function userOfServer(): { uid?: number; gid?: number } {
  if (process.getuid?.() !== 0) return {};
  const id = (flag: string) => Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8' }));
  return { uid: id('-u'), gid: id('-g') };
}

export const freePort = (): Promise<number> =>
  new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

/** @param parent folder that its data is put in. Null where PostgreSQL is not installed. */
export async function startPostgres(parent = tmpdir()): Promise<TestPostgres | null> {
  const bin = programs();
  if (bin === null) return null;
  const user = userOfServer();
  const folder = mkdtempSync(join(parent, 'tavrox-postgres-'));
  if (user.uid !== undefined) chownSync(folder, user.uid, user.gid!);
  const data = join(folder, 'data');
  // Names and texts sort as the embedded store sorts them.
  const made = spawnSync(
    join(bin, 'initdb'),
    ['-D', data, '-U', 'tavrox', '--auth=trust', '--encoding=UTF8', '--locale=C', '--no-sync'],
    { ...user, cwd: folder, encoding: 'utf8' },
  );
  if (made.status !== 0) throw new Error(`initdb: ${made.stderr}`);
  const port = await freePort();
  const urlOf = (name: string) => `postgres://tavrox@127.0.0.1:${port}/${name}`;
  let server: ChildProcess | undefined;

  const resume = async (): Promise<void> => {
    if (server?.exitCode === null && server.signalCode === null) return;
    server = spawn(
      join(bin, 'postgres'),
      ['-D', data, '-p', String(port), '-k', folder, '-c', 'listen_addresses=127.0.0.1', '-c', 'timezone=Asia/Tokyo'],
      { ...user, cwd: folder, stdio: 'ignore' },
    );
    for (;;) {
      const client = new Client({ connectionString: urlOf('postgres') });
      try {
        await client.connect();
        return;
      } catch (error) {
        if (server?.exitCode !== null) throw error;
        await wait(50);
      } finally {
        await client.end().catch(() => undefined);
      }
    }
  };
  const halt = async (how: 'immediate' | 'fast'): Promise<void> => {
    const running = server;
    if (running?.exitCode !== null) return;
    const ended = new Promise((resolve) => running.once('exit', resolve));
    running.kill(how === 'immediate' ? 'SIGQUIT' : 'SIGINT');
    await ended;
  };
  await resume();
  return {
    url: urlOf('postgres'),
    halt,
    resume,
    async remove() {
      await halt('immediate');
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
