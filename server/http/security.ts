import { randomBytes, timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import { Problem } from '#core/problem.ts';

/**
 * Who may talk to the server. It listens on the loopback address, which is open to every user and
 * every web page of the machine, so each request needs the secret of this start: as a same-site
 * cookie (set by the printed address) or as a bearer token (the command line reads it from the data
 * folder). `Host` is checked against rebinding; requests that change something need our own
 * `Origin` and header, which no other page can send.
 */
export interface Gate {
  secret: string;
  /** Refuses requests whose Host is not ours. */
  checkHost: RequestHandler;
  /** Turns `/?key=…` into the cookie. */
  admit: RequestHandler;
  /** Refuses API requests without the secret, and changing ones from elsewhere. */
  checkApi: RequestHandler;
  /** Whether a request carries the secret. */
  isAdmitted(request: Request): boolean;
}

const OWN_HEADER = 'x-tavrox';
const LOOPBACK_NAMES = ['127.0.0.1', 'localhost', '[::1]'];

export function createGate(port: () => number): Gate {
  const secret = randomBytes(24).toString('base64url');
  const cookieName = () => `tavrox-${port()}`;

  const isSecret = (candidate: string | undefined): boolean => {
    const given = Buffer.from(candidate ?? '');
    const own = Buffer.from(secret);
    return given.length === own.length && timingSafeEqual(given, own);
  };
  const isAdmitted = (request: Request): boolean => {
    const bearer = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
    return isSecret(bearer) || isSecret(cookieOf(request, cookieName()));
  };
  const isOwnHost = (host: string | undefined): boolean =>
    LOOPBACK_NAMES.some((name) => host === `${name}:${port()}` || (port() === 80 && host === name));

  return {
    secret,
    isAdmitted,
    checkHost(request: Request, _response: Response, next: NextFunction) {
      if (isOwnHost(request.headers.host)) next();
      else next(new Problem('wrong-host', 'This server answers to its loopback address only.', { status: 421 }));
    },
    admit(request: Request, response: Response, next: NextFunction) {
      const { key } = request.query;
      if (typeof key !== 'string') {
        next();
        return;
      }
      if (isSecret(key)) {
        response.cookie(cookieName(), secret, { httpOnly: true, sameSite: 'strict', path: '/' });
        // A page of our own goes on from here: after a redirect from elsewhere a strict cookie would not be sent.
        response.type('html').send('<!doctype html><title>Tavrox</title><meta http-equiv="refresh" content="0;url=/">');
      } else {
        response.redirect(303, '/');
      }
    },
    checkApi(request: Request, _response: Response, next: NextFunction) {
      if (!isAdmitted(request)) {
        next(
          new Problem(
            'not-admitted',
            'This page does not hold the key of this start. Open the address that Tavrox printed when it started.',
            { status: 401 },
          ),
        );
        return;
      }
      const changes = !['GET', 'HEAD'].includes(request.method);
      const { origin } = request.headers;
      const ownOrigin = origin === `http://${request.headers.host}`;
      if (changes && !(ownOrigin && request.headers[OWN_HEADER] === '1')) {
        next(
          new Problem('wrong-origin', 'Only Tavrox’s own page and command line may change something here.', {
            status: 403,
          }),
        );
      } else if (origin !== undefined && !ownOrigin) {
        next(new Problem('wrong-origin', 'Other pages may not read from here.', { status: 403 }));
      } else {
        next();
      }
    },
  };
}

function cookieOf(request: Request, name: string): string | undefined {
  for (const part of (request.headers.cookie ?? '').split(';')) {
    const [key, ...value] = part.trim().split('=');
    if (key === name) return value.join('=');
  }
  return undefined;
}

/** Headers for everything that is sent: nothing from elsewhere runs in our pages, nobody frames them. */
export function securityHeaders(_request: Request, response: Response, next: NextFunction): void {
  response.set({
    'Content-Security-Policy':
      "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
    'X-Content-Type-Options': 'nosniff',
    'Referrer-Policy': 'no-referrer',
    'Cross-Origin-Resource-Policy': 'same-origin',
  });
  next();
}
