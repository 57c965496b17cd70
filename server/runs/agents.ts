import { randomUUID } from 'node:crypto';
import type { AgentAsk, AgentEntry, AskEntry, AskState } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';

/** Machines that measure what this house asks for: known while they are connected, and what they were asked after it. */

const MOST_ASKS = 50;
const MOST_AGENTS = 200;

export interface Agents {
  list(): AgentEntry[];
  /**
   * A machine that connected; one that comes back takes up what it was asked meanwhile.
   * @param owner whose token it came with: nobody else’s may take its place
   * @param hear takes each ask to it
   * @returns what is called when it goes. @throws Problem 409 where there are too many, or it is another’s
   */
  connect(agent: Pick<AgentEntry, 'id' | 'name' | 'folders'>, owner: string, hear: (ask: AgentAsk) => void): () => void;
  /** @throws Problem 404, 409 where it is not connected, 422 where the folder is none that it allows */
  ask(agentId: string, ask: Omit<AgentAsk, 'id'>): AskEntry;
  /** What a machine says of something it was asked. @throws Problem 404 */
  report(agentId: string, askId: string, state: AskState, text: string, runId: string | null): void;
}

interface Known extends AgentEntry {
  owner: string;
  hear: ((ask: AgentAsk) => void) | null;
}

/**
 * Whether a folder is one of those allowed, or lies in one, by how it is written: the machine itself, which may be of another
 * system, looks again.
 */
const isAllowed = (folder: string, allowed: readonly string[]): boolean =>
  !folder.split(/[\\/]/).includes('..') &&
  allowed.some(
    (one) =>
      folder === one || (folder.startsWith(one) && (/[\\/]$/.test(one) || /^[\\/]/.test(folder.slice(one.length)))),
  );

export function createAgents(): Agents {
  const agents = new Map<string, Known>();
  const known = (id: string): Known => {
    const found = agents.get(id);
    if (found) return found;
    throw new Problem('unknown-agent', `No machine “${id}” has come to this house.`, { status: 404 });
  };
  return {
    list: () =>
      [...agents.values()]
        .filter(({ hear }) => hear !== null)
        .map(({ hear, owner, ...entry }) => {
          void [hear, owner];
          return entry;
        }),
    connect({ id, name, folders }, owner, hear) {
      const before = agents.get(id);
      if (before && before.owner !== owner) {
        throw new Problem(
          'another-agent',
          'A machine of this id came with another token before. End it, or use its token.',
          {
            status: 409,
          },
        );
      }
      if (!before && agents.size >= MOST_AGENTS) {
        throw new Problem('too-many-agents', `This house has ${MOST_AGENTS} machines already.`, { status: 409 });
      }
      const agent: Known = {
        id,
        name,
        folders,
        since: new Date().toISOString(),
        asks: before?.asks ?? [],
        owner,
        hear,
      };
      agents.set(id, agent);
      for (const ask of agent.asks.filter(({ state }) => state === 'asked').reverse()) hear(ask);
      return () => {
        // It may have come back before it was seen to go.
        if (agent.hear === hear && agents.get(id) === agent) agent.hear = null;
      };
    },
    ask(agentId, { folder, recipeId, options }) {
      const agent = known(agentId);
      if (agent.hear === null) {
        throw new Problem('agent-away', `${agent.name} is not connected now. Start “tavrox agent” there.`, {
          status: 409,
        });
      }
      if (!isAllowed(folder, agent.folders)) {
        throw new Problem(
          'bad-input',
          `folder: ${agent.name} allows ${agent.folders.join(', ') || 'none'}, and “${folder}” is none of them.`,
          { status: 422, where: 'folder' },
        );
      }
      const ask: AskEntry = { id: randomUUID(), folder, recipeId, options, state: 'asked', text: '', runId: null };
      agent.asks = [ask, ...agent.asks].slice(0, MOST_ASKS);
      agent.hear({ id: ask.id, folder, recipeId, options });
      return ask;
    },
    report(agentId, askId, state, text, runId) {
      const ask = known(agentId).asks.find(({ id }) => id === askId);
      if (!ask) throw new Problem('unknown-ask', 'Nothing of that id was asked of this machine.', { status: 404 });
      Object.assign(ask, { state, text, runId });
    },
  };
}
