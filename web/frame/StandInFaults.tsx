import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useState } from 'react';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { FAULT_KINDS, FAULT_TEXTS, type FaultKind } from '#core/4-runs/stand-ins/faults.ts';
import { api } from '../api/client.ts';
import { ProblemText } from '../kit/words.tsx';
import { refresh } from '../state/library.ts';
import { ink } from '../theme/tokens.ts';

/** A stand-in with what can be switched on in it, folded in until it is asked for. */
export function StandInFaults({ standIn }: { standIn: VolumeEntry }) {
  const [open, setOpen] = useState(false);
  const [problem, setProblem] = useState<string>();
  const on = new Set(standIn.faults.map((fault) => fault.kind));
  const toggle = async (kind: FaultKind) => {
    const next = FAULT_KINDS.filter((one) => on.has(one) !== (one === kind));
    try {
      await api.setFaults(
        standIn.identity.value,
        next.map((one) => ({ kind: one, at: null })),
      );
      await refresh('volumes');
      setProblem(undefined);
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };
  return (
    <Box sx={{ borderTop: `1px solid ${ink('rule')}`, py: 0.9 }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', gap: 1 }}>
        <b>{standIn.label}</b>
        <Button
          variant="text"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          sx={{ fontSize: 13, fontWeight: 400, whiteSpace: 'nowrap' }}
        >
          {on.size === 0 ? 'Faults' : `${on.size} ${on.size === 1 ? 'fault' : 'faults'} on`}
        </Button>
      </Box>
      <Box sx={{ fontSize: 13, color: ink('second') }}>{standIn.description}</Box>
      {open &&
        FAULT_KINDS.map((kind) => (
          <FormControlLabel
            key={kind}
            sx={{ display: 'flex' }}
            control={<Checkbox checked={on.has(kind)} onChange={() => void toggle(kind)} />}
            label={
              <>
                {FAULT_TEXTS[kind].label}
                <span style={{ color: ink('second') }}> · {FAULT_TEXTS[kind].help}</span>
              </>
            }
          />
        ))}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </Box>
  );
}
