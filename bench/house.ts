import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from 'pg';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { runOf } from '#core/testing/run-of.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { serve } from '#server/serve.ts';
import { openStore } from '#server/store/store.ts';
import { storeFiles } from '#server/store/files.ts';
import { insertWholeRun } from '#server/store/runs.ts';
import { addDrive } from '#server/store/drives.ts';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { startPostgres } from '#server/testing/postgres-server.ts';

/**
 * A house after years: a hundred thousand runs of a thousand samples on twelve drives, in PostgreSQL. Made in minutes, then
 * asked for what people look at. `npm run bench:house`, or with a number of runs behind it.
 */

const RUNS = Number(process.argv[2] ?? 100_000);
const DRIVES = 12;
const CHUNKS = 100;
const SAMPLES_A_CHUNK = 10;
const TIMES = 7;

const milliseconds = async (doing: () => Promise<unknown>): Promise<number> => {
  const began = performance.now();
  await doing();
  return performance.now() - began;
};
const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]!;
const say = (...cells: string[]): void => void process.stdout.write(`${cells.join('\t')}\n`);

const postgres = await startPostgres();
if (postgres === null) {
  process.stderr.write('PostgreSQL is not installed.\n');
  process.exit(1);
}
const dataFolder = mkdtempSync(join(tmpdir(), 'tavrox-bench-house-'));
process.env['DATABASE_URL'] = postgres.url;
try {
  await fill(postgres.url);
  await ask();
} finally {
  await postgres.remove();
  rmSync(dataFolder, { recursive: true, force: true });
}
process.exit(0);

/** One whole run as a pattern, and all the others made of it by the database itself. */
async function fill(url: string): Promise<void> {
  const store = await openStore(dataFolder, storeFiles, false, url);
  const drives = [];
  for (let drive = 0; drive < DRIVES; drive += 1)
    drives.push(await addDrive(store.db, parseDriveLine(`Drive ${drive}: 2 TB flash, 2000 MB/s`)));
  const rates = Array.from(
    { length: CHUNKS },
    (_, second) => (second < 60 ? 2000e6 : 450e6) * (1 + 0.01 * Math.sin(second)),
  );
  const pattern = {
    ...runOf([{ direction: 'write', rates }]),
    id: 'pattern',
    drive: { ...runOf([]).drive, id: drives[0]!.id },
  };
  await insertWholeRun(store.db, pattern);
  const summary = JSON.stringify(summaryOf(pattern)).length;
  await store.close();
  const client = new Client({ connectionString: url });
  await client.connect();
  const seconds =
    (await milliseconds(async () => {
      await client.query("update drives set identity_kind = 'serial', identity_value = id");
      await client.query(
        'create temp table numbered as select id, row_number() over (order by id) - 1 as at from drives',
      );
      await client.query(`
      insert into runs (id, host_id, drive_id, state, started_at, example, opening, summary, analysis_version)
      select 'r' || n, 'h-' || (n % 8), d.id, 'finished',
             timestamptz '2020-01-01' + n * interval '30 minutes', false,
             p.opening || jsonb_build_object('id', 'r' || n, 'startedAt', timestamptz '2020-01-01' + n * interval '30 minutes',
               'drive', p.opening->'drive' || jsonb_build_object('id', d.id)),
             p.summary, p.analysis_version
      from generate_series(1, ${RUNS}) n join numbered d on d.at = n % ${DRIVES}, runs p where p.id = 'pattern'`);
      await client.query(`
      insert into run_chunks (run_id, sequence, at_seconds, cumulative_bytes, direction, pass, file, operations, latency_max_seconds, events)
      select 'r' || n, c,
             array(select c + s / 10.0 from generate_series(1, ${SAMPLES_A_CHUNK}) s)::float8[],
             array(select (c * 10 + s) * (case when c < 60 then 2e8 else 4.5e7 end) from generate_series(1, ${SAMPLES_A_CHUNK}) s)::float8[],
             array_fill(0::smallint, array[${SAMPLES_A_CHUNK}]), array_fill(1, array[${SAMPLES_A_CHUNK}]),
             array_fill(0, array[${SAMPLES_A_CHUNK}]), array_fill(24, array[${SAMPLES_A_CHUNK}]),
             array_fill(0.004::float8, array[${SAMPLES_A_CHUNK}]), '[]'
      from generate_series(1, ${RUNS}) n, generate_series(0, ${CHUNKS - 1}) c`);
      await client.query("delete from runs where id = 'pattern'");
      await client.query('vacuum analyze');
    })) / 1000;
  const { rows } = await client.query<{ bytes: string; samples: string }>(
    `select pg_database_size(current_database()) as bytes, (select count(*) from run_chunks) * ${SAMPLES_A_CHUNK} as samples`,
  );
  await client.end();
  say(
    'made',
    `${formatNumber(RUNS, 'full')} runs, ${formatNumber(Number(rows[0]!.samples), 'full')} samples in ${seconds.toFixed(0)} s, ${(Number(rows[0]!.bytes) / 1e9).toFixed(1)} GB`,
  );
  say('figures of a run', `${summary} bytes`);
}

async function ask(): Promise<void> {
  const server = await serve({ dataFolder, port: 0, empty: true, pace: { speed: 1, seed: 1 } });
  const { secret } = JSON.parse(readFileSync(join(dataFolder, 'server.json'), 'utf8')) as { secret: string };
  const get = async (path: string): Promise<unknown> => {
    const answer = await fetch(`http://127.0.0.1:${server.port}/api${path}`, {
      headers: { Authorization: `Bearer ${secret}` },
    });
    if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
    return answer.json();
  };
  const drives = (await get('/drives')) as { id: string }[];
  const heap = (): string => `${(process.memoryUsage().rss / 1e6).toFixed(0)} MB`;
  const before = heap();
  /** As the page asks: what it holds already is not sent again. */
  const marks = new Map<string, string>();
  const getUnlessHeld = async (path: string): Promise<void> => {
    const answer = await fetch(`http://127.0.0.1:${server.port}/api${path}`, {
      headers: { Authorization: `Bearer ${secret}`, 'If-None-Match': marks.get(path) ?? '' },
    });
    if (answer.status === 304) return;
    await answer.json();
    marks.set(path, answer.headers.get('ETag')!);
  };
  const measured = async (what: string, doing: () => Promise<unknown>): Promise<void> => {
    const first = await milliseconds(doing);
    const later: number[] = [];
    for (let time = 0; time < TIMES; time += 1) later.push(await milliseconds(doing));
    say(what, `first ${first.toFixed(0)} ms`, `then ${median(later).toFixed(1)} ms`);
  };
  await measured('list of runs', () => get('/runs'));
  await measured('drives', () => get('/drives'));
  await measured('one run whole', () => get(`/runs/r${RUNS >> 1}`));
  await measured('one drive’s profile', () => get(`/drives/${drives[0]!.id}/profiles`));
  await measured('profiles of 12 drives, for Fit', () =>
    Promise.all(drives.map(({ id }) => get(`/drives/${id}/profiles`))),
  );
  await measured('the same, as a page that is open asks', () =>
    Promise.all(drives.map(({ id }) => getUnlessHeld(`/drives/${id}/profiles`))),
  );
  const page = ['/runs', '/drives', '/volumes', '/workloads', '/projects', '/settings'];
  await measured('everything a first page asks for', () => Promise.all(page.map(get)));
  say('memory of the server', `${before} before, ${heap()} after`);
  await server.close();
}
