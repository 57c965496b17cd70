import { mkdtempSync, readFileSync, readdirSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from 'pg';
import { removeFolder, startApp } from '../e2e/support/app.ts';
import { startPostgres } from '#server/testing/postgres-server.ts';

/**
 * Many runs of stand-ins one after the other, with people watching: memory, descriptors and disk of the server.
 * `npm run bench:soak`, with the number of runs and of viewers behind it.
 */
const RUNS = Number(process.argv[2] ?? 2000);
const VIEWERS = Number(process.argv[3] ?? 50);
const STEPS = 4;
const SIDE_BY_SIDE = 4;

const say = (...cells: (string | number)[]): void => void process.stdout.write(`${cells.join('\t')}\n`);

function bytesIn(folder: string): number {
  let bytes = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    bytes += entry.isDirectory() ? bytesIn(path) : statSync(path).size;
  }
  return bytes;
}

async function soak(name: string, databaseUrl?: string): Promise<void> {
  const dataFolder = mkdtempSync(join(tmpdir(), 'tavrox-soak-'));
  const app = await startApp({ dataFolder, empty: true, standInSpeed: 1e9, ...(databaseUrl ? { databaseUrl } : {}) });
  const headers = {
    Authorization: `Bearer ${app.key}`,
    Origin: app.origin,
    'X-Tavrox': '1',
    'Content-Type': 'application/json',
  };
  const gone = new AbortController();
  let heard = 0;
  const running = new Set<string>();
  for (let viewer = 0; viewer < VIEWERS; viewer += 1) {
    const response = await fetch(`${app.origin}/api/live`, { headers, signal: gone.signal });
    void (async () => {
      const decoder = new TextDecoder();
      let text = '';
      for await (const part of response.body! as unknown as AsyncIterable<Uint8Array>) {
        heard += part.length;
        if (viewer > 0) continue;
        text += decoder.decode(part, { stream: true });
        for (const match of text.matchAll(/"runId":"(\w+)","event":\{"type":"ended"/g)) running.delete(match[1]!);
        // What was cut in the middle is whole with the next part.
        text = text.slice(-200);
      }
    })().catch(() => undefined);
  }
  const facts = async (done: number): Promise<void> => {
    const { pid } = app.process;
    const resident = Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * 4096;
    const open = readdirSync(`/proc/${pid}/fd`).length;
    let disk = bytesIn(dataFolder);
    if (databaseUrl) {
      const client = new Client({ connectionString: databaseUrl });
      await client.connect();
      disk += Number(
        (await client.query<{ bytes: string }>('select pg_database_size(current_database()) as bytes')).rows[0]!.bytes,
      );
      await client.end();
    }
    say(
      name,
      `${done} runs`,
      `${(resident / 1e6).toFixed(0)} MB`,
      `${open} descriptors`,
      `${(disk / 1e6).toFixed(0)} MB of disk`,
      `${(disk / Math.max(1, done) / 1e3).toFixed(0)} kB a run`,
    );
  };
  const volumes = (
    (await (await fetch(`${app.origin}/api/volumes`, { headers })).json()) as { id: string; kind: string }[]
  )
    .filter(({ kind }) => kind === 'stand-in')
    .map(({ id }) => id);
  await facts(0);
  const began = performance.now();
  for (let step = 1; step <= STEPS; step += 1) {
    for (let run = 0; run < RUNS / STEPS; run += 1) {
      while (running.size >= SIDE_BY_SIDE) await new Promise((resolve) => setTimeout(resolve, 5));
      const body = {
        volumeId: volumes[run % volumes.length],
        folder: '',
        recipeId: 'short-passes',
        options: { passes: 1, sizeBytes: 1e9 },
      };
      const answer = await fetch(`${app.origin}/api/runs`, { method: 'POST', headers, body: JSON.stringify(body) });
      if (answer.status !== 201) throw new Error(await answer.text());
      running.add(((await answer.json()) as { id: string }).id);
    }
    while (running.size > 0) await new Promise((resolve) => setTimeout(resolve, 5));
    await facts((RUNS / STEPS) * step);
  }
  const seconds = (performance.now() - began) / 1000;
  say(name, `${(RUNS / seconds).toFixed(1)} runs a second`, `${VIEWERS} viewers heard ${(heard / 1e6).toFixed(0)} MB`);
  gone.abort();
  await app.stop();
  removeFolder(dataFolder);
}

await soak('embedded');
const postgres = await startPostgres();
if (postgres) {
  await soak('PostgreSQL', postgres.url);
  await postgres.remove();
} else say('PostgreSQL', 'is not installed');
