import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import helmet from 'helmet';
import type { TokenScope } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { StillCounts } from '#server/http/live.ts';

/**
 * Who may talk to the server. It listens on the loopback address, which is open to every user and every web page of
 * the machine, so each request carries a credential, in a header that no other page can send and no browser adds by
 * itself. The command line reads the key of this start from the data folder; it never reaches a browser. A browser
 * trades the code in the printed address, which counts once, for a session of its own, which its page keeps where only
 * pages of our own origin can read it: cookies would go to every other service of this machine too. `Host` is checked
 * against rebinding; requests that change something need our own `Origin` and header. A house server is reached from
 * elsewhere too, under the names it was given and over TLS only; there people's tokens count, each within its scope.
 */
export interface Gate {
  /** The key of this start, for the command line. */
  secret: string;
  /** A code that lets one browser in, once. */
  newCode(): string;
  /** Trades a code for a session. @throws Problem 401 when it does not count any more */
  letIn(code: string): string;
  /** Number of browsers that are let in. */
  sessionCount(): number;
  /** Ends all sessions but that of a request. */
  endOthers(request: Request): void;
  /** Proves to whoever asks that this server holds the key, without saying it. */
  answer(challenge: string): string;
  /** Refuses requests whose Host is not ours. */
  checkHost: RequestHandler;
  /** Refuses requests of pages elsewhere, and of pages that change something without being ours. */
  checkOrigin: RequestHandler;
  /** Refuses requests without the key, a session or a token, and those that a token does not allow. */
  checkCredential: RequestHandler;
  /** Refuses whoever was let in by a token: what follows is for the machine's own user. */
  checkOwner: RequestHandler;
}

/** How a house server is reached from elsewhere. */
export interface HouseDoor {
  /** Origins that it is reached at, such as `https://tavrox.example:4781`. */
  origins: readonly string[];
  /** Whose token it is and what it allows; null for one that does not count. */
  find: (token: string) => Promise<{ id: string; scope: TokenScope } | null>;
}

const OWN_HEADER = 'x-tavrox';
const LOOPBACK_NAMES = ['127.0.0.1', 'localhost', '[::1]'];
/** What a page of our own origin, and an address that was typed, are reported as. */
const OWN_SITES = ['same-origin', 'none'];

const newSecret = (): string => randomBytes(24).toString('base64url');

function isSame(a: string, b: string): boolean {
  const [one, other] = [Buffer.from(a), Buffer.from(b)];
  return one.length === other.length && timingSafeEqual(one, other);
}

/** What a server that holds a key answers to a challenge. */
export const challengeAnswer = (secret: string, challenge: string): string =>
  createHmac('sha256', secret).update(challenge).digest('base64url');

/** @param house null where nobody comes from elsewhere */
export function createGate(port: () => number, house: HouseDoor | null = null): Gate {
  const secret = newSecret();
  const codes = new Set<string>();
  const sessions = new Set<string>();
  const isOwnHost = (host: string | undefined): boolean =>
    LOOPBACK_NAMES.some((name) => host === `${name}:${port()}` || (port() === 80 && host === name)) ||
    isOfHouse(`https://${host}`);
  const isOfHouse = (origin: string): boolean => house?.origins.includes(origin) ?? false;
  const credentialOf = ({ headers }: Request): string => /^Bearer (.+)$/.exec(headers.authorization ?? '')?.[1] ?? '';
  /** The one of a set that is the same; all are looked at, so that the time taken tells nothing. */
  const findIn = (all: ReadonlySet<string>, given: string): string | undefined =>
    [...all].filter((one) => isSame(one, given))[0];
  const wrongOrigin = (detail: string) => new Problem('wrong-origin', detail, { status: 403 });

  return {
    secret,
    newCode() {
      const code = newSecret();
      codes.add(code);
      return code;
    },
    letIn(code) {
      const known = findIn(codes, code);
      if (known === undefined) {
        throw new Problem(
          'not-admitted',
          'This key does not count any more: each lets one browser in, once, and a new start has a new one. “tavrox address” prints another.',
          { status: 401 },
        );
      }
      codes.delete(known);
      const session = newSecret();
      sessions.add(session);
      return session;
    },
    sessionCount: () => sessions.size,
    endOthers(request) {
      const own = findIn(sessions, credentialOf(request));
      sessions.clear();
      if (own !== undefined) sessions.add(own);
    },
    answer: (challenge) => challengeAnswer(secret, challenge),
    checkHost(request: Request, _response: Response, next: NextFunction) {
      if (isOwnHost(request.headers.host)) next();
      else next(new Problem('wrong-host', 'This server answers to its own addresses only.', { status: 421 }));
    },
    checkOrigin(request: Request, _response: Response, next: NextFunction) {
      const { origin, host, 'sec-fetch-site': site } = request.headers;
      const isOwn = origin === `http://${host}` || (origin === `https://${host}` && isOfHouse(origin));
      const changes = !['GET', 'HEAD'].includes(request.method);
      if ((origin !== undefined && !isOwn) || (site !== undefined && !OWN_SITES.includes(String(site)))) {
        next(wrongOrigin('Other pages may neither read from here nor change anything.'));
      } else if (changes && !(isOwn && request.headers[OWN_HEADER] === '1')) {
        next(wrongOrigin('Only Tavrox’s own page and command line may change something here.'));
      } else next();
    },
    async checkCredential(request: Request, response: Response, next: NextFunction) {
      const given = credentialOf(request);
      if (isSame(given, secret)) return next();
      const isIn = (): boolean => findIn(sessions, given) !== undefined;
      const keep = (stillCounts: StillCounts): void => void (response.locals['stillCounts'] = stillCounts);
      if (isIn()) {
        keep(() => Promise.resolve(isIn()));
        return next();
      }
      const token = house && given !== '' ? await house.find(given) : null;
      if (token === null) {
        return next(
          new Problem(
            'not-admitted',
            'This browser was not let in. Open the address that Tavrox printed when it started, or one that “tavrox address” prints; from another machine type your token.',
            { status: 401 },
          ),
        );
      }
      const changes = !['GET', 'HEAD'].includes(request.method);
      if (token.scope === 'read' && changes) {
        return next(
          new Problem('only-reading', 'Your token lets you look, and change nothing. Ask for one that may measure.', {
            status: 403,
          }),
        );
      }
      response.locals['tokenId'] = token.id;
      response.locals['scope'] = token.scope;
      keep(async () => (await house!.find(given)) !== null);
      next();
    },
    checkOwner(_request: Request, response: Response, next: NextFunction) {
      if (response.locals['tokenId'] === undefined) return next();
      next(
        new Problem('own-user-only', 'This is for whoever looks after the server: it is done on that machine.', {
          status: 403,
        }),
      );
    },
  };
}

/** The hash of nothing: style elements may be made empty, and are then filled rule by rule by our own scripts. */
const EMPTY_STYLE = `'sha256-${createHash('sha256').digest('base64')}'`;

/** Headers for everything that is sent: nothing from elsewhere and nothing inline runs in our pages, nobody frames them. */
export const securityHeaders: RequestHandler = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      styleSrc: ["'self'", EMPTY_STYLE],
      imgSrc: ["'self'", 'data:'],
      objectSrc: ["'none'"],
      frameAncestors: ["'none'"],
      baseUri: ["'none'"],
      formAction: ["'self'"],
    },
  },
  crossOriginOpenerPolicy: { policy: 'same-origin' },
  crossOriginResourcePolicy: { policy: 'same-origin' },
  referrerPolicy: { policy: 'no-referrer' },
  // Served over plain HTTP on the loopback address only.
  strictTransportSecurity: false,
});
