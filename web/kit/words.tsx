import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import type { Figure } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';

/** A figure with its unit set smaller. */
export function FigureText({ figure, size = 22 }: { figure: Figure; size?: number }) {
  return (
    <span style={{ whiteSpace: 'nowrap' }}>
      <b style={{ fontSize: size }}>{figure.number}</b>
      <span style={{ fontSize: size * 0.62, color: ink('second'), marginLeft: 4 }}>{figure.unit}</span>
    </span>
  );
}

/** Words for those who hear the page and not for those who see it. */
export const VISUALLY_HIDDEN = {
  position: 'absolute',
  width: 1,
  height: 1,
  overflow: 'hidden',
  clipPath: 'inset(50%)',
  whiteSpace: 'nowrap',
} as const;

/** A small heading in a column of words. */
export function Heading({ children }: { children: ReactNode }) {
  return (
    <Typography variant="caption" component="h2" sx={{ color: ink('second'), mt: 2, mb: 0.5 }}>
      {children}
    </Typography>
  );
}

/** A line of a list of facts: name left, value right. */
export function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 2, py: '3px', fontSize: 13.5 }}>
      <span style={{ color: ink('second'), flex: 'none', maxWidth: '60%' }}>{name}</span>
      <span style={{ textAlign: 'right' }}>{children}</span>
    </Box>
  );
}

/** A sentence about something that went wrong. */
export function ProblemText({ children }: { children: ReactNode }) {
  return <Alert>{children}</Alert>;
}

/** Hatched square before a doubt. */
export function DoubtText({ children }: { children: ReactNode }) {
  return (
    <Box
      component="li"
      sx={{
        display: 'flex',
        gap: 1.25,
        fontSize: 13.5,
        lineHeight: 1.45,
        color: ink('second'),
        mb: 0.75,
        listStyle: 'none',
      }}
    >
      <Box
        aria-hidden="true"
        sx={{
          flex: 'none',
          width: 11,
          height: 11,
          mt: '4px',
          background: `repeating-linear-gradient(45deg, ${ink('text')} 0 1.5px, transparent 1.5px 4px)`,
        }}
      />
      <span>{children}</span>
    </Box>
  );
}

interface EmptyPlaceProps {
  title: string;
  children: ReactNode;
  action?: ReactNode;
  /** Whether something with a heading of its own stands above it. */
  isPart?: boolean;
}

/** An empty place: what will be here, and the one next step. */
export function EmptyPlace({ title, children, action, isPart = false }: EmptyPlaceProps) {
  return (
    <Box
      sx={{
        flex: 1,
        display: 'flex',
        flexDirection: 'column',
        justifyContent: 'center',
        alignItems: 'flex-start',
        maxWidth: 520,
        mx: 'auto',
        gap: 1.5,
      }}
    >
      <Typography variant="h1" component={isPart ? 'h2' : 'h1'}>
        {title}
      </Typography>
      <Typography sx={{ color: ink('second') }}>{children}</Typography>
      {action}
    </Box>
  );
}
