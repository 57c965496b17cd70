import { randomBytes } from 'node:crypto';
import { chmodSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import { join } from 'node:path';
import { Problem } from '#core/1-ground/problem.ts';
import { cleanUpScratch } from '#engine/scratch/left.ts';
import { mountPointsNow } from '#engine/volumes/real/discovery.ts';
import type { StandInPace } from '#engine/volumes/stand-in/tools.ts';
import type { VolumesContext } from '#engine/volumes/registry.ts';
import { system } from '#engine/system/this-system.ts';
import { isAlive, ownIdentity, type ProcessIdentity } from '#engine/locks/process-identity.ts';
import { createApp } from '#server/app.ts';
import { metricsRoute } from '#server/http/health.ts';
import { openHouse, readHouse, type HouseOptions } from '#server/http/house-door.ts';
import { challengeAnswer } from '#server/http/security.ts';
import { createRecordings } from '#engine/processes/recordings.ts';
import { createArchiveReader } from '#server/archive/archive-reader.ts';
import { createComposer } from '#server/reports/composer.ts';
import { createProfiles } from '#server/store/profiles.ts';
import { openLog } from '#server/log.ts';
import { logRuns } from '#server/runs/log-runs.ts';
import { createAgents } from '#server/runs/agents.ts';
import { createRunManager } from '#server/runs/run-manager.ts';
import { shareRuns } from '#server/runs/house-runs.ts';
import { storeFiles, webFolder } from '#server/store/files.ts';
import { databaseUrlOf } from '#server/store/folder.ts';
import { hostOf } from '#server/store/host.ts';
import { isBackupDue } from '#server/store/backups.ts';
import { drivesUsedWhole } from '#server/store/drives.ts';
import { closeInterruptedRuns } from '#server/store/runs.ts';
import { seedExamples } from '#server/store/seed-examples.ts';
import { findToken } from '#server/store/tokens.ts';
import { openStore } from '#server/store/store.ts';

export interface ServeOptions {
  dataFolder: string;
  port: number;
  /** Without the demo workspace on first use. */
  empty: boolean;
  pace: StandInPace;
  /** Its store is in the data folder whatever DATABASE_URL says: it goes with the folder. */
  isThrownAway?: boolean;
  /** Where machines and people elsewhere come in; left out where nobody does. */
  house?: HouseOptions;
}

export interface RunningServer {
  /** Address that lets one browser in, once. */
  address: string;
  port: number;
  /** Where it is reached from other machines; empty where it is not. */
  origins: string[];
  close(): Promise<void>;
}

/** How the command line finds a running server; readable by its user only. */
export interface ServerNote extends ProcessIdentity {
  port: number;
  secret: string;
}

/** How often it is looked whether a backup is due. */
const BACKUP_MILLISECONDS = 3_600_000;

/** How long a connection that nothing comes over is kept. */
const KEEP_ALIVE_MILLISECONDS = 120_000;

/** How long a server may take to show that it is one. */
const CHALLENGE_MILLISECONDS = 10_000;

/** How often folders left on unplugged drives are looked for. */
const CLEAN_UP_MILLISECONDS = 30_000;

/** TAVROX_DATA, or where the system keeps what belongs to a user’s programs. */
export const defaultDataFolder = (): string => process.env['TAVROX_DATA'] ?? system.ownFolders().data;

export function journalFolderOf(dataFolder: string): string {
  return join(dataFolder, 'scratch');
}

function noteFile(dataFolder: string): string {
  return join(dataFolder, 'server.json');
}

/**
 * The server that runs on a data folder; undefined when none does. A note that was left behind names a process that is
 * another by now, or a port that somebody else took: the key is told to nobody who has not shown to hold it.
 */
export async function findServer(dataFolder: string): Promise<ServerNote | undefined> {
  try {
    const note = JSON.parse(readFileSync(noteFile(dataFolder), 'utf8')) as ServerNote;
    if (!isAlive(note)) return undefined;
    const challenge = randomBytes(24).toString('base64url');
    const asked = `http://127.0.0.1:${note.port}/api/challenge?challenge=${challenge}`;
    const answer = await fetch(asked, { signal: AbortSignal.timeout(CHALLENGE_MILLISECONDS) });
    const { answer: given } = (await answer.json()) as { answer?: string };
    return given === challengeAnswer(note.secret, challenge) ? note : undefined;
  } catch {
    return undefined;
  }
}

/** Opens the store, puts right what a crash left, and serves on the loopback address. */
export async function serve({
  dataFolder,
  port,
  empty,
  pace,
  house: door,
  isThrownAway = false,
}: ServeOptions): Promise<RunningServer> {
  const house = door ? readHouse(door) : null;
  /** What was begun and has to be ended, the latest first. */
  const endings: (() => unknown)[] = [];
  const endAll = async (): Promise<void> => {
    for (const end of endings.splice(0).reverse()) await end();
  };
  const { log, close: closeLog } = openLog(dataFolder);
  const reportFault = (error: unknown): void => log.error({ err: error }, 'The store refused something');
  endings.push(closeLog);
  try {
    const store = await openStore(dataFolder, storeFiles, !empty, isThrownAway ? null : databaseUrlOf(process.env));
    endings.push(() => store.close());
    const journalFolder = journalFolderOf(dataFolder);
    if (store.lacksExamples) await seedExamples(store.db);
    const host = hostOf(dataFolder);
    // A store of several machines has runs that go on elsewhere.
    await closeInterruptedRuns(store.db, store.postgres === null ? null : host.id);
    const volumes: VolumesContext = {
      journalFolder,
      pace,
      faults: new Map(),
      usedWhole: () => drivesUsedWhole(store.db),
    };
    const local = createRunManager(store.db, volumes, reportFault, host);
    const runs = store.postgres ? await shareRuns(local, store.db, store.postgres, host, reportFault) : local;
    let cleaningUp: Promise<unknown> = Promise.resolve();
    const cleanUp = (): void => {
      const isRunning = (runId: string) => runs.activeDocument(runId) !== undefined;
      cleaningUp = cleaningUp.then(() => cleanUpScratch(journalFolder, isRunning, mountPointsNow)).catch(reportFault);
    };
    cleanUp();
    endings.push(() => cleaningUp);
    endings.push(() => runs.close());
    const recordings = createRecordings();
    endings.push(() => recordings.close());
    const composer = createComposer();
    endings.push(() => composer.close());
    const archives = createArchiveReader();
    endings.push(() => archives.close());
    const profiles = createProfiles(store.db);
    const cleaning = setInterval(cleanUp, CLEAN_UP_MILLISECONDS);
    endings.push(() => clearInterval(cleaning));

    const metrics = metricsRoute(local, runs);
    endings.push(metrics.close, logRuns(local, log));
    let boundPort = port;
    const { app, gate, address } = createApp(
      {
        db: store.db,
        store,
        dataFolder,
        volumes,
        runs,
        agents: createAgents(),
        recordings,
        profiles,
        composer,
        archives,
      },
      metrics.route,
      webFolder,
      () => boundPort,
      log,
      house && { origins: house.origins, find: (token) => findToken(store.db, token) },
    );
    const server = await listen(app, port);
    // Ended after the runs, which tell of their end, and before the store.
    endings.splice(
      2,
      0,
      () => new Promise((resolve) => server.close(resolve)),
      () => server.closeAllConnections(),
    );
    boundPort = (server.address() as { port: number }).port;
    if (house) {
      const open = await openHouse(app, house);
      endings.splice(
        2,
        0,
        () => new Promise((resolve) => open.close(resolve)),
        () => open.closeAllConnections(),
      );
      log.info({ port: house.port }, 'The house is open');
    }
    const backUp = (): void => {
      if (store.postgres === null && isBackupDue(dataFolder, new Date()))
        backingUp = backingUp.then(() => store.backUp()).then(() => log.info('A backup was made'), reportFault);
    };
    let backingUp: Promise<unknown> = Promise.resolve();
    backUp();
    const backups = setInterval(backUp, BACKUP_MILLISECONDS);
    endings.push(
      () => backingUp,
      () => clearInterval(backups),
    );
    writeNote(dataFolder, { ...ownIdentity(), port: boundPort, secret: gate.secret });
    endings.push(() => rmSync(noteFile(dataFolder), { force: true }));
    log.info({ port: boundPort, store: store.postgres ? 'postgresql' : 'embedded' }, 'Tavrox serves');
    endings.push(() => log.info('Tavrox ends'));

    return { address: address(gate.newCode()), port: boundPort, origins: house?.origins ?? [], close: endAll };
  } catch (error) {
    await endAll();
    throw error;
  }
}

function writeNote(dataFolder: string, note: ServerNote): void {
  const file = noteFile(dataFolder);
  writeFileSync(file, JSON.stringify(note), { mode: 0o600 });
  chmodSync(file, 0o600);
}

function listen(app: ReturnType<typeof createApp>['app'], port: number): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = app.listen(port, '127.0.0.1', (error?: Error) => {
      if (!error) {
        // Closed while the other side takes it up again, a kept connection loses a request: after 5 s that is to be met.
        server.keepAliveTimeout = KEEP_ALIVE_MILLISECONDS;
        resolve(server);
        return;
      }
      const code = (error as NodeJS.ErrnoException).code;
      reject(
        new Problem(
          'port-in-use',
          `Port ${port} cannot be used (${code}). Set PORT to another one, such as PORT=${port + 1}.`,
          { status: 409 },
        ),
      );
    });
  });
}
