import type { Access } from '#core/6-exchange/api/wire.ts';

/**
 * The session of this browser. It is kept where only pages of this origin, its port included, can read it, and sent in
 * a header that no browser adds by itself.
 */
const PLACE = 'tavrox-session';

/** What every request to the server carries. */
export function credentials(): Record<string, string> {
  const session = localStorage.getItem(PLACE);
  return { 'X-Tavrox': '1', ...(session === null ? {} : { Authorization: `Bearer ${session}` }) };
}

const post = (path: string, body: object): Promise<Response> =>
  fetch(path, {
    method: 'POST',
    headers: { 'X-Tavrox': '1', 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });

/** What a token of a house begins with: it counts as often as it is shown, until it is revoked. */
const TOKEN = /^tvx_/;

/** Trades a key for a session; a token of a house is one itself. @returns what the server says against it; undefined when it lets this browser in */
export async function letIn(key: string): Promise<string | undefined> {
  try {
    if (TOKEN.test(key)) {
      localStorage.setItem(PLACE, key);
      if (await isLetIn()) return undefined;
      localStorage.removeItem(PLACE);
      return 'This token does not count, or does not any more. Ask whoever looks after the house for another.';
    }
    const answer = await post('/api/sessions', { code: key });
    const { session, detail } = (await answer.json()) as { session?: string; detail?: string };
    if (session === undefined) return detail ?? 'The server gave no reason.';
    localStorage.setItem(PLACE, session);
    return undefined;
  } catch {
    return 'The Tavrox server does not answer. Start it again in its terminal.';
  }
}

/** Uses the key in the address, which is taken out of it. @returns whether this browser is let in */
export async function enter(): Promise<boolean> {
  const key = /^#key=(.+)$/.exec(location.hash)?.[1];
  if (key !== undefined) {
    history.replaceState(history.state, '', location.pathname + location.search);
    await letIn(key);
  }
  return isLetIn();
}

let may: Access['may'] = 'everything';
/** Whether anything may be changed or measured from here: not by who came with a token that lets them look. */
export const mayChange = (): boolean => may !== 'read';
/** Whether this is a browser of the machine’s own user, and not of who came with a token. */
export const isOwnUser = (): boolean => may === 'everything';

/** Whether what this browser carries counts, and for what. */
async function isLetIn(): Promise<boolean> {
  try {
    const answer = await fetch('/api/access', { headers: credentials() });
    if (answer.ok) ({ may } = (await answer.json()) as Access);
    return answer.status !== 401 && answer.status !== 429;
  } catch {
    // A server that does not answer says so in the page itself.
    return true;
  }
}
