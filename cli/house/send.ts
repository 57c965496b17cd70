import { mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:https';
import { join } from 'node:path';
import { note } from '#cli/output.ts';
import { Problem, badInput, type ProblemDocument } from '#core/1-ground/problem.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';

/** Runs that go to a house: what cannot be sent is kept, and sent later, once. */

export interface Sending {
  /** Address of the house, such as `https://tavrox.example:4781`. */
  url: string;
  token: string;
  /** Certificate that the house is trusted by, as PEM, where the system does not know it. */
  ca: Buffer | null;
}

/** What is waiting to be sent, in a data folder. */
const outboxOf = (dataFolder: string): string => join(dataFolder, 'outbox');
const ANSWER_MILLISECONDS = 60_000;

/** @throws Problem `bad-input` */
export function sendingTo(url: string, token: string | undefined, caFile: string | undefined): Sending {
  const parsed = URL.canParse(url) ? new URL(url) : null;
  if (parsed?.protocol !== 'https:') {
    throw badInput(
      'send',
      `send: “${url}” is no https address. Type that of the house, such as https://tavrox.example:4781.`,
    );
  }
  if (!token) throw badInput('token', 'token: is missing. Set TAVROX_TOKEN to the token you were given.');
  try {
    return { url: parsed.origin, token, ca: caFile === undefined ? null : readFileSync(caFile) };
  } catch (error) {
    throw badInput('ca', `ca: ${caFile} cannot be read (${(error as NodeJS.ErrnoException).code}).`);
  }
}

/** Keeps a run to be sent; a crash leaves all of it or nothing. */
export function keepToSend(dataFolder: string, run: RunDocument, { url }: Sending): void {
  const folder = outboxOf(dataFolder);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const file = join(folder, `${run.id}.json`);
  writeFileSync(`${file}.part`, JSON.stringify({ url, run }), { mode: 0o600 });
  renameSync(`${file}.part`, file);
}

export interface Sent {
  sent: number;
  /** Kept for later. */
  waiting: number;
  /** Why something waits, as a sentence; null where nothing does. */
  why: string | null;
}

/**
 * Sends what waits for a house, the oldest first. What it has already is not sent twice: a run is known by its id.
 * What does not reach it is kept.
 */
export async function sendWaiting(dataFolder: string, sending: Sending): Promise<Sent> {
  let waiting: string[];
  try {
    waiting = readdirSync(outboxOf(dataFolder)).filter((name) => name.endsWith('.json'));
  } catch {
    return { sent: 0, waiting: 0, why: null };
  }
  let [sent, why]: [number, string | null] = [0, null];
  const left: string[] = [];
  for (const name of waiting.sort()) {
    const file = join(outboxOf(dataFolder), name);
    const { url, run } = readJson(readFileSync(file, 'utf8'), 'outbox') as { url: string; run: RunDocument };
    if (url !== sending.url) continue;
    try {
      await post(sending, `/api/archive?take=newer&name=${encodeURIComponent(name)}`, JSON.stringify(run));
      rmSync(file);
      sent += 1;
    } catch (error) {
      left.push(name);
      why =
        error instanceof Problem
          ? error.detail
          : `${sending.url} could not be reached (${(error as NodeJS.ErrnoException).code ?? (error as Error).message}).`;
    }
  }
  return { sent, waiting: left.length, why };
}

/** Says what became of it on standard error. */
export function tellSent({ sent, waiting, why }: Sent, { url }: Sending): void {
  if (sent > 0) note(`${sent} ${sent === 1 ? 'run was' : 'runs were'} sent to ${url}.`);
  if (waiting > 0) note(`${waiting} ${waiting === 1 ? 'run waits' : 'runs wait'} to be sent with the next: ${why}`);
}

/** @throws Problem that the house answers with, or the system’s error */
function post({ url, token, ca }: Sending, path: string, body: string): Promise<void> {
  return new Promise((resolve, reject) => {
    const sending = request(
      `${url}${path}`,
      {
        method: 'POST',
        ...(ca ? { ca } : {}),
        timeout: ANSWER_MILLISECONDS,
        headers: {
          Authorization: `Bearer ${token}`,
          Origin: url,
          'X-Tavrox': '1',
          'Content-Type': 'application/octet-stream',
          'Content-Length': Buffer.byteLength(body),
        },
      },
      (response) => {
        let text = '';
        response.setEncoding('utf8').on('data', (part: string) => (text += part));
        response.on('error', reject).on('end', () => {
          if ((response.statusCode ?? 500) < 300) resolve();
          else reject(refusalOf(text, response.statusCode ?? 500, url));
        });
      },
    );
    sending.on('timeout', () => sending.destroy(new Error('no answer')));
    sending.on('error', reject);
    sending.end(body);
  });
}

function refusalOf(text: string, status: number, url: string): Problem {
  try {
    const { detail } = JSON.parse(text) as ProblemDocument;
    return new Problem('house-refused', `The house said: ${detail}`, { status });
  } catch {
    return new Problem('house-refused', `${url} answered with ${status}, and is no Tavrox.`, { status });
  }
}
