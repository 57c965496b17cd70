import { closeSync, existsSync, mkdtempSync, openSync, rmSync, statfsSync, statSync, writeSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { bytesText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { system as machine } from '#engine/system/this-system.ts';
import { locksFolder } from '#engine/run/device-locks.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { listLeft } from '#engine/scratch/left.ts';
import { findServer, journalFolderOf } from '#server/serve.ts';
import { listBackups } from '#server/store/backups.ts';
import { storeFolderOf } from '#server/store/folder.ts';
import { LEAST_VERSION, databaseClient, databaseName, whyText } from '#server/store/postgres.ts';

/** What is right and wrong with an installation; nothing of it is changed by looking. */

export interface Finding {
  what: string;
  /** `wrong` keeps Tavrox from working as it should; `note` is worth knowing; `unknown` could not be found out. */
  verdict: 'fine' | 'note' | 'wrong' | 'unknown';
  text: string;
}

const fine = (what: string, text: string): Finding => ({ what, verdict: 'fine', text });
const wrong = (what: string, text: string): Finding => ({ what, verdict: 'wrong', text });
const worthKnowing = (what: string, text: string): Finding => ({ what, verdict: 'note', text });

export interface DoctorOptions {
  dataFolder: string;
  port: number;
  databaseUrl: string | null;
}

const CHECKS: readonly ((options: DoctorOptions) => Promise<Finding> | Finding)[] = [
  system,
  dataFolderRights,
  room,
  store,
  server,
  cacheBypass,
  systemCalls,
  volumes,
  volumeFacts,
  locks,
  leftScratch,
  backups,
];

/** All findings in order; a check that fails by itself is one of them. */
export async function examine(options: DoctorOptions): Promise<Finding[]> {
  const findings: Finding[] = [];
  for (const check of CHECKS) {
    try {
      findings.push(await check(options));
    } catch (error) {
      findings.push({ what: check.name, verdict: 'unknown', text: (error as Error).message });
    }
  }
  return findings;
}

function system(): Finding {
  const [major, minor] = process.versions.node.split('.').map(Number) as [number, number];
  const text = `Node ${process.versions.node} on ${machine.name} ${process.arch}`;
  return major > 20 || (major === 20 && minor >= 19)
    ? fine('System', `${text}.`)
    : wrong('System', `${text}: Tavrox needs Node 20.19 or later.`);
}

/** Makes a file and removes it, where there is a folder. */
function dataFolderRights({ dataFolder }: DoctorOptions): Finding {
  const what = 'Data folder';
  if (!existsSync(dataFolder)) return worthKnowing(what, `${dataFolder} is not there yet: the first start makes it.`);
  const { mode } = statSync(dataFolder);
  try {
    const folder = mkdtempSync(join(dataFolder, 'doctor-'));
    rmSync(folder, { recursive: true });
  } catch (error) {
    return wrong(
      what,
      `${dataFolder} cannot be written to (${(error as NodeJS.ErrnoException).code}). Give this user the right, or set TAVROX_DATA to another folder.`,
    );
  }
  return machine.hasFileModes && (mode & 0o077) !== 0
    ? worthKnowing(what, `${dataFolder} can be read by other users of this machine. “chmod 700” keeps it to you.`)
    : fine(what, `${dataFolder} can be written to.`);
}

const LEAST_FREE_BYTES = 1e9;

function room({ dataFolder }: DoctorOptions): Finding {
  const folder = existsSync(dataFolder) ? dataFolder : process.cwd();
  const { bavail, bsize } = statfsSync(folder);
  const free = bavail * bsize;
  const text = `${bytesText(free)} are free on the disk of the data folder.`;
  return free < LEAST_FREE_BYTES
    ? wrong('Room', `${text} A long run keeps some hundred megabytes: free some space.`)
    : fine('Room', text);
}

/** How far the clocks of this machine and of a database may be apart, seconds. */
const CLOCKS_APART_SECONDS = 5;

async function store({ dataFolder, databaseUrl }: DoctorOptions): Promise<Finding> {
  const what = 'Store';
  if (databaseUrl === null) {
    const folder = storeFolderOf(dataFolder);
    if (!existsSync(folder)) return worthKnowing(what, 'There is none yet: the first start makes it.');
    return existsSync(join(folder, 'PG_VERSION'))
      ? fine(what, 'In the data folder.')
      : wrong(
          what,
          `${folder} is not whole: its file PG_VERSION is missing. “tavrox restore” puts a backup in its place.`,
        );
  }
  const name = databaseName(databaseUrl);
  const client = await databaseClient(databaseUrl);
  try {
    await client.connect();
    const asked = Date.now();
    const { rows } = await client.query<{ version: string; now: Date; applied: boolean }>(
      "select current_setting('server_version') as version, now() as now, to_regclass('drizzle.__drizzle_migrations') is not null as applied",
    );
    const { version, now, applied } = rows[0]!;
    if (Number.parseInt(version, 10) < LEAST_VERSION)
      return wrong(what, `${name} is PostgreSQL ${version}; Tavrox needs ${LEAST_VERSION} or later.`);
    const apart = Math.abs(now.getTime() - (asked + Date.now()) / 2) / 1000;
    if (apart > CLOCKS_APART_SECONDS)
      return wrong(
        what,
        `The clock of ${name} and that of this machine are ${formatDuration(apart)} apart: set both by a time server.`,
      );
    return fine(what, `${name}, PostgreSQL ${version}${applied ? '' : ', empty: the first start fills it'}.`);
  } catch (error) {
    return wrong(what, `${name} ${whyText(error)}`);
  } finally {
    await client.end().catch(() => undefined);
  }
}

async function server({ dataFolder, port }: DoctorOptions): Promise<Finding> {
  const what = 'Server';
  const running = await findServer(dataFolder);
  if (running) {
    const health = await fetch(`http://127.0.0.1:${running.port}/healthz`).then(
      (answer) => answer.ok,
      () => false,
    );
    return health
      ? fine(what, `Tavrox runs on port ${running.port}.`)
      : wrong(what, `Tavrox runs on port ${running.port}, and its store does not answer.`);
  }
  const isFree = await new Promise<boolean>((resolve) => {
    const trial = createServer();
    trial.once('error', () => resolve(false));
    trial.listen(port, '127.0.0.1', () => trial.close(() => resolve(true)));
  });
  return isFree
    ? fine(what, `None runs on this data folder; port ${port} is free.`)
    : wrong(what, `Something else uses port ${port}. Start Tavrox with PORT=${port + 1}.`);
}

/** Opens a file past the system’s cache, where the data folder lies: other drives are tried in every run. */
function cacheBypass({ dataFolder }: DoctorOptions): Finding {
  const what = 'Past the cache';
  const folder = mkdtempSync(join(existsSync(dataFolder) ? dataFolder : process.cwd(), 'doctor-'));
  try {
    const file = join(folder, 'trial');
    const descriptor = openSync(file, 'w');
    writeSync(descriptor, Buffer.alloc(4096));
    closeSync(descriptor);
    try {
      const direct = openSync(file, machine.directFlag);
      const does = machine.bypassCache(direct);
      closeSync(direct);
      return does
        ? fine(
            what,
            'Files can be opened past the system’s cache where the data folder lies. Whether a drive’s are is proven in every run.',
          )
        : worthKnowing(what, 'This system offers no way past its cache: runs say so.');
    } catch {
      return worthKnowing(
        what,
        'The disk of the data folder takes no requests past the cache. Drives are tried in every run.',
      );
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function systemCalls(): Finding {
  return machine.canCall()
    ? fine('System calls', 'The system’s own libraries can be called.')
    : worthKnowing('System calls', 'The system’s own libraries cannot be called: some facts of drives stay unknown.');
}

async function volumes(): Promise<Finding> {
  const found = await discoverVolumes();
  const writable = found.filter(({ readOnly }) => !readOnly);
  const text = `${formatNumber(found.length)} are attached, ${formatNumber(writable.length)} can be written to: ${writable
    .slice(0, 6)
    .map(({ mountPoint }) => mountPoint)
    .join(', ')}${writable.length > 6 ? ' …' : ''}.`;
  return writable.length > 0
    ? fine('Volumes', text)
    : wrong('Volumes', 'None was found that can be written to. Attach a drive, or look at its rights.');
}

/** What is known of each volume and by what: what a system does not tell is told as not known. */
async function volumeFacts(): Promise<Finding> {
  const known = (await discoverVolumes()).map(({ mountPoint, filesystem, medium, connection, told }) => {
    const by = (fact: string, source: string | null) => `${fact} ${source === null ? 'not known' : `by ${source}`}`;
    const link = connection.hops.map(({ label }) => label).join(', ');
    return `${mountPoint}: ${[
      filesystem,
      by(medium === 'unknown' ? 'medium' : medium, told.medium),
      by(link || 'link', told.link),
      by('identity', told.identity),
      by('bytes moved', told.counters),
    ].join(', ')}.`;
  });
  return fine('Facts', known.join(' ') || 'None is attached.');
}

function locks(): Finding {
  const folder = locksFolder();
  if (!existsSync(folder)) return fine('Locks', `${folder} is made with the first run.`);
  try {
    rmSync(mkdtempSync(join(folder, 'doctor-')), { recursive: true });
    return fine('Locks', `${folder} can be written to.`);
  } catch (error) {
    return wrong(
      'Locks',
      `${folder} cannot be written to (${(error as NodeJS.ErrnoException).code}): two runs could meet on one drive. Set TAVROX_LOCKS to a folder of yours.`,
    );
  }
}

async function leftScratch({ dataFolder }: DoctorOptions): Promise<Finding> {
  const what = 'Left on drives';
  const left = await listLeft(journalFolderOf(dataFolder));
  return left.length === 0
    ? fine(what, 'Nothing that could not be removed.')
    : worthKnowing(what, left.map(({ folder, why }) => `${folder}: ${why}`).join(' '));
}

const DAY_SECONDS = 86_400;

function backups({ dataFolder, databaseUrl }: DoctorOptions): Finding {
  const what = 'Backups';
  if (databaseUrl !== null) return worthKnowing(what, 'The database server keeps its own: ask whoever looks after it.');
  const [newest] = listBackups(dataFolder);
  if (!newest) return worthKnowing(what, 'There is none yet: one is made each day that Tavrox runs.');
  const age = (Date.now() - Date.parse(newest.madeAt)) / 1000;
  return age > 7 * DAY_SECONDS
    ? worthKnowing(what, `The newest is ${formatDuration(age)} old.`)
    : fine(what, `The newest is ${formatDuration(age)} old.`);
}
