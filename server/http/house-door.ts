import { X509Certificate } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createServer as createPlainServer, type Server } from 'node:http';
import { createServer } from 'node:https';
import { isIP } from 'node:net';
import express, { type Express } from 'express';
import type { Options } from 'express-rate-limit';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { sendProblem } from '#server/http/problems.ts';

/** The door of a house server: where others come in, over TLS and no other way. */

export interface HouseOptions {
  /** Address and port to listen on, such as `0.0.0.0:4781`. */
  listen: string;
  /** Files of a certificate and its key, as PEM; null behind a proxy that has them. */
  certificate: { cert: string; key: string } | null;
  /** Origin under which a proxy of this machine or its network is reached, such as `https://tavrox.example`. */
  behind: string | null;
}

/** What a house is opened with, read and checked before anything listens. */
export interface House {
  host: string;
  port: number;
  tls: { cert: Buffer; key: Buffer } | null;
  origins: string[];
}

const ANY_DOOR =
  'house: it listens to other machines only over TLS. Name --cert and --key, or --behind with the address of a proxy that has them.';

/** @throws Problem `bad-input` */
export function readHouse({ listen, certificate, behind }: HouseOptions): House {
  const match = /^(\[[\da-f:]+\]|[^:]+):(\d{1,5})$/i.exec(listen.trim());
  const port = Number(match?.[2]);
  if (!match || port > 65_535)
    throw badInput('listen', `listen: “${listen}” is no address with a port. Type one such as 0.0.0.0:4781.`);
  const host = match[1]!.replace(/^\[|\]$/g, '');
  if (certificate) {
    const tls = { cert: fileOf(certificate.cert, 'cert'), key: fileOf(certificate.key, 'key') };
    return { host, port, tls, origins: namesOf(tls.cert).map((name) => `https://${name}:${port}`) };
  }
  if (behind === null) throw badInput('house', ANY_DOOR);
  const url = URL.canParse(behind) ? new URL(behind) : null;
  if (url?.protocol !== 'https:')
    throw badInput(
      'behind',
      `behind: “${behind}” is no https address, and without TLS a token could be read on the way.`,
    );
  return { host, port, tls: null, origins: [url.origin] };
}

function fileOf(path: string, where: string): Buffer {
  try {
    return readFileSync(path);
  } catch (error) {
    throw badInput(where, `${where}: ${path} cannot be read (${(error as NodeJS.ErrnoException).code}).`);
  }
}

/** Names and addresses that a certificate stands for. @throws Problem `bad-input` */
function namesOf(cert: Buffer): string[] {
  let certificate: X509Certificate;
  try {
    certificate = new X509Certificate(cert);
  } catch {
    throw badInput('cert', 'cert: this file is no certificate as PEM.');
  }
  const names = (certificate.subjectAltName ?? '')
    .split(', ')
    .flatMap((part) => /^(?:DNS|IP Address):(.+)$/.exec(part)?.[1] ?? [])
    .map((name) => (isIP(name) === 6 ? `[${name.toLowerCase()}]` : name.toLowerCase()));
  if (names.length === 0)
    throw badInput(
      'cert',
      'cert: this certificate names no host (subject alternative name), so no machine could trust it.',
    );
  return names;
}

/** Wrong keys from one address within a minute; then it waits. */
const MOST_WRONG = 20;
const MINUTE_MILLISECONDS = 60_000;

/** Lets others in. @throws Problem where it cannot listen */
export async function openHouse(app: Express, { host, port, tls }: House): Promise<Server> {
  const { MemoryStore, ipKeyGenerator } = await import('express-rate-limit');
  // Only what turned out to be wrong counts: whoever is let in may hold as many feeds open as they like.
  const wrong = new MemoryStore();
  wrong.init({ windowMs: MINUTE_MILLISECONDS } as Options);
  const door = express();
  door.disable('x-powered-by');
  // Behind a proxy of this machine the address of whoever asks is the one it names.
  if (tls === null) door.set('trust proxy', 'loopback');
  door.use(
    async (request, response, next) => {
      const key = ipKeyGenerator(request.ip ?? '');
      const found = await wrong.get(key);
      const waitMilliseconds = (found?.resetTime?.getTime() ?? 0) - Date.now();
      if (found && found.totalHits >= MOST_WRONG && waitMilliseconds > 0) {
        const detail = 'There were too many wrong keys from this address. Wait a minute.';
        response.set('Retry-After', String(Math.ceil(waitMilliseconds / 1000)));
        sendProblem(response, new Problem('too-many', detail, { status: 429 }));
        return;
      }
      response.on('finish', () => {
        if (response.statusCode === 401) void wrong.increment(key);
      });
      next();
    },
    (_request, response, next) => {
      response.set('Strict-Transport-Security', 'max-age=31536000');
      next();
    },
    app,
  );
  const server = tls ? createServer({ ...tls, minVersion: 'TLSv1.2' }, door) : createPlainServer(door);
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        new Problem(
          'house-closed',
          `The house cannot listen on ${host}:${port} (${error.code}). Choose another --listen.`,
          {
            status: 409,
          },
        ),
      ),
    );
    server.listen(port, host, () => resolve(server));
  });
}
