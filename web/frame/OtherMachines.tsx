import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { AgentEntry, AskEntry, AskState } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { api } from '../api/client.ts';
import { mayChange } from '../api/session.ts';
import { Heading, ProblemText } from '../kit/words.tsx';
import { ink } from '../theme/tokens.ts';

const AGAIN_MILLISECONDS = 2000;
const MOST_ASKS = 6;
/** What is asked from here: ten seconds a folder; anything else is asked through the API. */
const RECIPE = 'short-passes';

const STATE_WORDS: Record<AskState, string> = {
  asked: 'asked',
  measuring: 'is measured',
  refused: 'refused',
  failed: 'failed',
  sent: 'measured',
};

/**
 * Machines that measure for this house, the folders they allow, and what they were asked. Nothing where there are none.
 * @param onLeave when a run of one is gone to
 */
export function OtherMachines({ onLeave }: { onLeave: () => void }) {
  const [agents, setAgents] = useState<AgentEntry[]>([]);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    let timer: number | undefined;
    let isGone = false;
    const look = () => {
      const next = () => {
        if (!isGone) timer = window.setTimeout(look, AGAIN_MILLISECONDS);
      };
      // A house that does not answer says so elsewhere in the page.
      api
        .agents()
        .then(setAgents, () => undefined)
        .finally(next);
    };
    look();
    return () => {
      isGone = true;
      window.clearTimeout(timer);
    };
  }, []);
  const ask = async (agentId: string, folder: string) => {
    try {
      await api.askAgent(agentId, { folder, recipeId: RECIPE, options: {} });
      setProblem(undefined);
      setAgents(await api.agents());
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };
  if (agents.length === 0) return null;
  return (
    <>
      <Heading>Machines of this house</Heading>
      {agents.map(({ id, name, folders, asks }) => (
        <Box key={id} data-agent={name} sx={{ py: 0.5, fontSize: 13.5 }}>
          <b>{name}</b>
          {folders.map((folder) => (
            <Box key={folder} sx={{ display: 'flex', justifyContent: 'space-between', gap: 1, alignItems: 'center' }}>
              <Box component="span" sx={{ overflowWrap: 'anywhere', color: ink('second') }}>
                {folder}
              </Box>
              <Button
                variant="text"
                disabled={!mayChange()}
                aria-label={`${recipeKindById(RECIPE).label} in ${folder}, at ${name}`}
                onClick={() => void ask(id, folder)}
                sx={{ fontSize: 13.5, whiteSpace: 'nowrap' }}
              >
                {recipeKindById(RECIPE).label}
              </Button>
            </Box>
          ))}
          {asks.slice(0, MOST_ASKS).map((one) => (
            <Asked key={one.id} ask={one} onLeave={onLeave} />
          ))}
        </Box>
      ))}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}

interface AskedProps {
  ask: AskEntry;
  onLeave: () => void;
}

function Asked({ ask: { folder, recipeId, state, text, runId }, onLeave }: AskedProps) {
  const words = `${recipeKindById(recipeId).label} in ${folder}: ${STATE_WORDS[state]}`;
  return (
    <Box data-ask={state} sx={{ overflowWrap: 'anywhere' }}>
      {state === 'sent' && runId !== null ? (
        <Link to={`/measure/runs/${runId}`} onClick={onLeave} style={{ color: 'inherit' }}>
          {words}
        </Link>
      ) : (
        words
      )}
      {text === '' ? '' : `. ${text}`}
    </Box>
  );
}
