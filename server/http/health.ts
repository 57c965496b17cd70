import type { RequestHandler } from 'express';
import { sql } from 'drizzle-orm';
import type { OpenMetricsContentType, Registry } from 'prom-client';
import type { RunManager } from '#server/runs/run-manager.ts';
import type { Database } from '#server/store/database.ts';
import type { Store } from '#server/store/store.ts';
import { SOFTWARE_VERSION } from '#engine/software.ts';

/** What a machine asks that looks after this one: whether it works, and how much it does. */

/** How long a store may take to say that it is there. */
const ANSWER_MILLISECONDS = 3000;

async function answers(db: Database): Promise<boolean> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<false>((resolve) => {
    timer = setTimeout(() => resolve(false), ANSWER_MILLISECONDS);
  });
  const asked = db.execute(sql`select 1`).then(
    () => true,
    () => false,
  );
  return Promise.race([asked, late]).finally(() => clearTimeout(timer));
}

/** `GET /healthz`: 200 while requests can be answered, 503 while the store does not. It says nothing of anybody’s. */
export function healthRoute(db: Database, { postgres }: Pick<Store, 'postgres'>): RequestHandler {
  return async (_request, response) => {
    const isThere = await answers(db);
    response.status(isThere ? 200 : 503).json({
      status: isThere ? 'ok' : 'store does not answer',
      store: postgres ? 'postgresql' : 'embedded',
      version: SOFTWARE_VERSION,
    });
  };
}

/**
 * `GET /metrics` in the OpenMetrics text format (https://prometheus.io/docs/specs/om/open_metrics_spec/): the process
 * itself, runs that go on and wait, how they ended, and bytes that they moved.
 * @param local runs of this machine
 * @param runs of all that share the store
 */
export function metricsRoute(
  local: Pick<RunManager, 'subscribe'>,
  runs: Pick<RunManager, 'active'>,
): { route: RequestHandler; close: () => void } {
  const ended = new Map<string, number>();
  const moved = new Map<string, number>();
  /** Bytes told so far of each run that goes on here. */
  const told = new Map<string, number>();
  const close = local.subscribe((message) => {
    if (message.type !== 'event') return;
    const { runId, event } = message;
    if (event.type === 'ended') {
      told.delete(runId);
      count(ended, event.state, 1);
    } else if (event.type === 'samples') {
      const { cumulativeBytes, direction } = event.samples;
      for (const [row, bytes] of cumulativeBytes.entries()) {
        // Each pass counts from nothing.
        const before = told.get(runId) ?? 0;
        count(moved, direction[row]!, bytes >= before ? bytes - before : bytes);
        told.set(runId, bytes);
      }
    }
  });
  /** Made when it is first asked for: its clock of the event loop ticks a hundred times a second from then on. */
  let registry: Promise<Registry<OpenMetricsContentType>> | undefined;
  return {
    async route(_request, response) {
      const known = await (registry ??= registryOf(runs, { ended, moved }));
      response.type(known.contentType).send(await known.metrics());
    },
    close,
  };
}

const count = (counts: Map<string, number>, of: string, more: number): void =>
  void counts.set(of, (counts.get(of) ?? 0) + more);

interface Counts {
  /** Runs by how they ended, bytes by their direction. */
  ended: ReadonlyMap<string, number>;
  moved: ReadonlyMap<string, number>;
}

async function registryOf(runs: Pick<RunManager, 'active'>, { ended, moved }: Counts) {
  const { Counter, Gauge, Registry, collectDefaultMetrics } = await import('prom-client');
  const registry = new Registry<OpenMetricsContentType>();
  registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE);
  collectDefaultMetrics({ register: registry });
  const registers = [registry];
  new Gauge({
    name: 'tavrox_runs_active',
    help: 'Runs that go on and wait, here and on machines that share the store',
    labelNames: ['state', 'host'],
    registers,
    collect() {
      this.reset();
      for (const state of ['running', 'queued']) this.set({ state, host: 'this' }, 0);
      for (const run of runs.active()) this.inc({ state: run.state, host: run.host === null ? 'this' : 'other' });
    },
  });
  new Gauge({
    name: 'tavrox_runs_unkept',
    help: 'Runs of which something is only in memory for now',
    registers,
    collect() {
      this.set(runs.active().filter(({ unkept }) => unkept !== null).length);
    },
  });
  new Counter({
    name: 'tavrox_runs_ended',
    help: 'Runs of this machine that ended, by how',
    labelNames: ['state'],
    registers,
    collect() {
      this.reset();
      for (const [state, runsEnded] of ended) this.inc({ state }, runsEnded);
    },
  });
  new Counter({
    name: 'tavrox_bytes_moved',
    help: 'Bytes that runs of this machine wrote and read',
    labelNames: ['direction'],
    registers,
    collect() {
      this.reset();
      for (const [direction, bytes] of moved) this.inc({ direction }, bytes);
    },
  });
  return registry;
}
