import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import List from '@mui/material/List';
import ListItem from '@mui/material/ListItem';
import ListItemIcon from '@mui/material/ListItemIcon';
import ListItemText from '@mui/material/ListItemText';
import Typography from '@mui/material/Typography';
import { Children, type ReactNode } from 'react';
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
    <Typography variant="caption" component="h2" color="textSecondary" sx={{ mt: 2, mb: 0.5 }}>
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

/** Doubts, each behind a hatched square, under a heading where they have one; nothing where there are none. */
export function Doubts({ title, children }: { title?: string; children: readonly ReactNode[] }) {
  if (children.length === 0) return null;
  return (
    <>
      {title !== undefined && <Heading>{title}</Heading>}
      <List disablePadding data-doubts="">
        {Children.map(children, (doubt) => (
          <ListItem disableGutters>
            <ListItemIcon aria-hidden="true" />
            <ListItemText primary={doubt} />
          </ListItem>
        ))}
      </List>
    </>
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
      <Typography color="textSecondary">{children}</Typography>
      {action}
    </Box>
  );
}
