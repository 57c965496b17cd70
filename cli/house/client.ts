import { readFileSync } from 'node:fs';
import type { ClientRequest, IncomingMessage } from 'node:http';
import { request } from 'node:https';
import { Problem, badInput, type ProblemDocument } from '#core/1-ground/problem.ts';

/** Speaks to a house: over TLS, with a token. */

export interface HouseAddress {
  /** Origin of the house, such as `https://tavrox.example:4781`. */
  url: string;
  token: string;
  /** Certificate that the house is trusted by, as PEM, where the system does not know it. */
  ca: Buffer | null;
}

const ANSWER_MILLISECONDS = 60_000;

/**
 * @param where flag that the address was given by
 * @throws Problem `bad-input`
 */
export function houseAt(
  url: string,
  token: string | undefined,
  caFile: string | undefined,
  where: string,
): HouseAddress {
  const parsed = URL.canParse(url) ? new URL(url) : null;
  if (parsed?.protocol !== 'https:') {
    throw badInput(
      where,
      `${where}: “${url}” is no https address. Type that of the house, such as https://tavrox.example:4781.`,
    );
  }
  if (!token) throw badInput('token', 'token: is missing. Set TAVROX_TOKEN to the token you were given.');
  try {
    return { url: parsed.origin, token, ca: caFile === undefined ? null : readFileSync(caFile) };
  } catch (error) {
    throw badInput('ca', `ca: ${caFile} cannot be read (${(error as NodeJS.ErrnoException).code}).`);
  }
}

/** Sends a body and gives what answers, refusals included. */
function open(
  { url, token, ca }: HouseAddress,
  path: string,
  body: string,
  type: string,
  onAnswer: (response: IncomingMessage) => void,
): ClientRequest {
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
        'Content-Type': type,
        'Content-Length': Buffer.byteLength(body),
      },
    },
    onAnswer,
  );
  sending.on('timeout', () => sending.destroy(new Error('it does not answer')));
  sending.end(body);
  return sending;
}

const isFine = ({ statusCode = 500 }: IncomingMessage): boolean => statusCode < 300;

function wholeText(response: IncomingMessage, then: (text: string) => void): void {
  let text = '';
  response.setEncoding('utf8').on('data', (part: string) => (text += part));
  response.on('end', () => then(text));
}

/** @throws Problem that the house answers with, or the system’s error */
export function tellHouse(house: HouseAddress, path: string, body: string, type = 'application/json'): Promise<void> {
  return new Promise((resolve, reject) => {
    open(house, path, body, type, (response) => {
      response.on('error', reject);
      wholeText(response, (text) => {
        if (isFine(response)) resolve();
        else reject(refusalOf(text, response.statusCode ?? 500, house));
      });
    }).on('error', reject);
  });
}

/**
 * Holds a feed open until it ends or the signal aborts; a house that says nothing at all any more has ended it.
 * @throws Problem that the house answers with, or the system’s error
 */
export function hearHouse<T>(
  house: HouseAddress,
  path: string,
  body: object,
  { signal, onOpen, hear }: { signal: AbortSignal; onOpen: () => void; hear: (message: T) => void },
): Promise<void> {
  return new Promise((resolve, reject) => {
    /** Whoever ended it needs no reason. */
    const broken = (error: Error): void => (signal.aborted ? resolve() : reject(error));
    const sending = open(house, path, JSON.stringify(body), 'application/json', (response) => {
      if (!isFine(response)) {
        wholeText(response, (text) => reject(refusalOf(text, response.statusCode ?? 500, house)));
        return;
      }
      onOpen();
      let text = '';
      response.setEncoding('utf8').on('data', (part: string) => {
        const blocks = (text + part).split('\n\n');
        text = blocks.pop() ?? '';
        for (const block of blocks) if (block.startsWith('data: ')) (JSON.parse(block.slice(6)) as T[]).forEach(hear);
      });
      response.on('error', broken).on('close', resolve);
    });
    sending.on('error', broken);
    signal.addEventListener('abort', () => sending.destroy(), { once: true });
  });
}

function refusalOf(text: string, status: number, { url }: HouseAddress): Problem {
  try {
    const { detail } = JSON.parse(text) as ProblemDocument;
    return new Problem('house-refused', `The house said: ${detail}`, { status });
  } catch {
    return new Problem('house-refused', `${url} answered with ${status}, and is no Tavrox.`, { status });
  }
}

/** Why a house could not be reached, as a sentence. */
export const whyNotReached = (error: unknown, { url }: HouseAddress): string =>
  error instanceof Problem
    ? error.detail
    : `${url} could not be reached (${(error as NodeJS.ErrnoException).code ?? (error as Error).message}).`;
