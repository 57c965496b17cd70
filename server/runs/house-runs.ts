import { and, asc, eq, gt, sql } from 'drizzle-orm';
import type { ActiveRun, LiveMessage } from '#core/6-exchange/api/wire.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { applyRunEvent, type RunEvent, type RunProgress } from '#core/4-runs/run/run-events.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { checkCanBeHeld, type LocalRuns, type RunManager } from '#server/runs/run-manager.ts';
import type { Database } from '#server/store/database.ts';
import type { Host } from '#server/store/host.ts';
import type { Postgres } from '#server/store/postgres.ts';
import { chunkEvents, findRun, findRunSoFar } from '#server/store/runs.ts';
import { hosts, runChunks, runs } from '#server/store/schema.ts';

/**
 * The runs of all machines that share a store: each measures its own, and every one is seen, followed and stopped from
 * all of them. What goes on is told by the database’s own notices, which hold few bytes: they say what was kept, and
 * whoever follows it reads it.
 */

const CHANNEL = 'tavrox';
/** A notice holds less than 8,000 bytes. */
const MOST_NOTICE_BYTES = 7500;
const HEARTBEAT_MILLISECONDS = 5000;
/** A machine that was not heard of for so long has ended without a word. */
const GONE_SECONDS = 20;
const AGAIN_MILLISECONDS = 1000;
const PROGRESS_MILLISECONDS = 500;

type Ask = 'stop' | 'pause' | 'resume' | 'annotated';
type Ended = Extract<RunEvent, { type: 'ended' }>;
type Notice = { from: string } & (
  | { type: 'active' }
  | { type: 'chunk'; runId: string }
  | { type: 'progress'; runId: string; progress: RunProgress }
  /** Without the event where a notice cannot hold it: it is read from the run then. */
  | { type: 'ended'; runId: string; event: Ended | null }
  | { type: 'ask'; to: string; runId: string; ask: Ask }
);

/** A run of another machine that somebody here follows. */
interface Mirror {
  run: RunDocument;
  lastSequence: number;
  /** When it was first not among what goes on any more; what it told last may still be on its way. */
  goneSince: number | null;
  /** Reads what came, one time after the other. */
  reading: Promise<void>;
}

/** @param onFault hears of what could not be told or heard; it is tried again */
export async function shareRuns(
  local: LocalRuns,
  db: Database,
  postgres: Postgres,
  host: Host,
  onFault: (error: unknown) => void,
): Promise<RunManager> {
  /** A database that is away is told of once, and not with everything that is tried meanwhile. */
  let isAway = false;
  const failed = (error: unknown): void => {
    if (!isAway) onFault(error);
    isAway = true;
  };
  /** What goes on elsewhere, by its machine. */
  const others = new Map<string, ActiveRun[]>();
  const mirrors = new Map<string, Mirror>();
  const listeners = new Set<(message: LiveMessage) => void>();
  const tell = (message: LiveMessage): void => listeners.forEach((listener) => listener(message));
  const active = (): ActiveRun[] => [...local.active(), ...[...others.values()].flat()];
  const elsewhere = (runId: string): { hostId: string; run: ActiveRun } | null => {
    for (const [hostId, those] of others) {
      const run = those.find((one) => one.runId === runId);
      if (run) return { hostId, run };
    }
    return null;
  };
  let isClosed = false;

  const notify = async (notice: Notice): Promise<void> => {
    const text = JSON.stringify(notice);
    if (Buffer.byteLength(text) <= MOST_NOTICE_BYTES) await db.execute(sql`select pg_notify(${CHANNEL}, ${text})`);
    else if (notice.type === 'ended') await notify({ ...notice, event: null });
  };
  const saying = (notice: Notice): void => void notify(notice).catch(failed);

  /** Says what goes on here, once at a time: what changes meanwhile is said after it. */
  let isSaying = false;
  let isNew = false;
  const sayActive = async (): Promise<void> => {
    isNew = true;
    if (isSaying) return;
    isSaying = true;
    try {
      while (isNew) {
        isNew = false;
        const values = {
          name: host.name,
          seenAt: sql`now()`,
          active: local.active().map((run) => ({ ...run, host: host.name })),
        };
        await db
          .insert(hosts)
          .values({ id: host.id, ...values })
          .onConflictDoUpdate({ target: hosts.id, set: values });
        await notify({ from: host.id, type: 'active' });
      }
    } finally {
      isSaying = false;
    }
  };

  /** Reads what goes on elsewhere, of machines that were heard of lately. */
  const readOthers = async (): Promise<void> => {
    const isThere = sql`${hosts.seenAt} > now() - make_interval(secs => ${GONE_SECONDS})`;
    const rows = await db.select().from(hosts).where(isThere);
    const before = JSON.stringify([...others]);
    others.clear();
    for (const row of rows) if (row.id !== host.id && row.active.length > 0) others.set(row.id, row.active);
    for (const [runId, mirror] of mirrors) {
      mirror.goneSince = elsewhere(runId) === null ? (mirror.goneSince ?? performance.now()) : null;
      const isGone = mirror.goneSince !== null && performance.now() - mirror.goneSince > GONE_SECONDS * 1000;
      if (isGone) mirrors.delete(runId);
    }
    if (JSON.stringify([...others]) !== before) tell({ type: 'active', active: active() });
  };

  /** Reads what was kept of a followed run since the last time, and tells it. */
  const readOn = (runId: string): Promise<void> => {
    const mirror = mirrors.get(runId);
    if (!mirror) return Promise.resolve();
    mirror.reading = mirror.reading.then(async () => {
      const chunks = await db
        .select()
        .from(runChunks)
        .where(and(eq(runChunks.runId, runId), gt(runChunks.sequence, mirror.lastSequence)))
        .orderBy(asc(runChunks.sequence));
      for (const chunk of chunks) {
        mirror.lastSequence = chunk.sequence;
        for (const event of chunkEvents(chunk)) {
          applyRunEvent(mirror.run, event);
          tell({ type: 'event', runId, event });
        }
      }
    });
    // One that failed is made up for by the next.
    mirror.reading = mirror.reading.catch(failed);
    return mirror.reading;
  };

  const heard = (notice: Notice): void => {
    if (notice.from === host.id) return;
    switch (notice.type) {
      case 'active':
        void readOthers().catch(failed);
        return;
      case 'chunk':
        void readOn(notice.runId);
        return;
      case 'progress':
        others.set(
          notice.from,
          (others.get(notice.from) ?? []).map((run) =>
            run.runId === notice.runId ? { ...run, progress: notice.progress } : run,
          ),
        );
        tell({ type: 'progress', runId: notice.runId, progress: notice.progress });
        return;
      case 'ended':
        void ended(notice.runId, notice.event).catch(failed);
        return;
      case 'ask':
        if (notice.to === host.id) void asked(notice.runId, notice.ask).catch(failed);
    }
  };

  const ended = async (runId: string, told: Ended | null): Promise<void> => {
    await readOn(runId);
    mirrors.delete(runId);
    const event = told ?? (await endOf(db, runId));
    if (event !== null) tell({ type: 'event', runId, event });
  };

  const asked = async (runId: string, ask: Ask): Promise<void> => {
    if (local.activeDocument(runId) === undefined) return;
    if (ask === 'stop') local.stop(runId);
    else if (ask === 'annotated') {
      const [row] = await db.select({ opening: runs.opening }).from(runs).where(eq(runs.id, runId));
      if (row) local.annotate(runId, { note: row.opening.note, tags: row.opening.tags, leftOut: row.opening.leftOut });
    } else local.setPaused(runId, ask === 'pause');
  };

  /** Listens on a connection of its own; one that is lost is opened again, and what was missed is read. */
  let listening: Awaited<ReturnType<Postgres['connect']>> | null = null;
  let again: NodeJS.Timeout | undefined;
  const listen = async (): Promise<void> => {
    const client = await postgres.connect();
    const lost = (error?: unknown): void => {
      if (listening !== client) return;
      listening = null;
      if (error) failed(error);
      if (!isClosed) again = setTimeout(listenAgain, AGAIN_MILLISECONDS);
    };
    listening = client;
    client.on('error', lost);
    client.on('end', () => lost());
    client.on('notification', ({ payload }) => {
      if (payload) heard(JSON.parse(payload) as Notice);
    });
    await client.query(`listen ${CHANNEL}`);
    await sayActive();
    await readOthers();
    isAway = false;
    for (const runId of mirrors.keys()) await readOn(runId);
  };
  const listenAgain = (): void => {
    void listen().catch(() => {
      listening = null;
      if (!isClosed) again = setTimeout(listenAgain, AGAIN_MILLISECONDS);
    });
  };
  await listen();

  const told = new Map<string, number>();
  const stopLocal = local.subscribe((message) => {
    tell(message.type === 'active' ? { type: 'active', active: active() } : message);
    if (message.type === 'active') void sayActive().catch(failed);
    else if (message.type === 'event' && message.event.type === 'ended') {
      told.delete(message.runId);
      saying({ from: host.id, type: 'ended', runId: message.runId, event: message.event });
    } else if (message.type === 'progress') {
      const last = told.get(message.runId) ?? -Infinity;
      if (performance.now() - last < PROGRESS_MILLISECONDS) return;
      told.set(message.runId, performance.now());
      saying({ from: host.id, ...message });
    }
  });
  const stopKept = local.onKept((runId) => saying({ from: host.id, type: 'chunk', runId }));
  const heartbeat = setInterval(() => {
    void db
      .update(hosts)
      .set({ seenAt: sql`now()` })
      .where(eq(hosts.id, host.id))
      .then(readOthers)
      .catch(() => undefined);
  }, HEARTBEAT_MILLISECONDS);

  /** Passes something on to the machine that measures; a run of this one is none of it. */
  const passOn = (runId: string, ask: Ask): boolean => {
    const found = local.activeDocument(runId) === undefined ? elsewhere(runId) : null;
    if (!found) return false;
    saying({ from: host.id, type: 'ask', to: found.hostId, runId, ask });
    return true;
  };

  return {
    ...local,
    active,
    subscribe(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    stop(runId) {
      if (!passOn(runId, 'stop')) local.stop(runId);
    },
    setPaused(runId, paused) {
      const found = elsewhere(runId);
      if (found) checkCanBeHeld(recipeById(found.run.recipeId).kind);
      if (!passOn(runId, paused ? 'pause' : 'resume')) local.setPaused(runId, paused);
    },
    annotated(runId) {
      passOn(runId, 'annotated');
    },
    async document(runId) {
      const own = await local.document(runId);
      if (own) return own;
      if (elsewhere(runId) === null) return undefined;
      const known = mirrors.get(runId);
      if (known) return known.run;
      const found = await findRunSoFar(db, runId);
      if (found === null) return undefined;
      // Somebody else may have opened it meanwhile.
      const mirror = mirrors.get(runId) ?? {
        run: found.run,
        lastSequence: found.lastSequence,
        goneSince: null,
        reading: Promise.resolve(),
      };
      mirrors.set(runId, mirror);
      await readOn(runId);
      return mirror.run;
    },
    async close() {
      isClosed = true;
      clearTimeout(again);
      clearInterval(heartbeat);
      await local.close();
      stopLocal();
      stopKept();
      await sayActive().catch(() => undefined);
      await listening?.end().catch(() => undefined);
    },
  };
}

/** How a run ended, from what is kept of it; null where it is there no more. */
async function endOf(db: Database, runId: string): Promise<Ended | null> {
  const run = await findRun(db, runId);
  if (run === null || run.endedAt === null) return null;
  const { state, endedAt, failure, conditions, connection } = run;
  return { type: 'ended', state, endedAt, freeBytes: conditions.end?.freeBytes ?? null, connection, failure };
}
