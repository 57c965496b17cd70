import MuiTooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import type { ReactElement } from 'react';

/** More about what it is put around, for those who point at it or come to it by keyboard. */
export function Tip({ text, children }: { text: string; children: ReactElement }) {
  return <MuiTooltip title={text}>{children}</MuiTooltip>;
}

/** What is chosen in a place, cut off where there is no room for all of it. */
export function PlaceTitle({ name, children = name }: { name: string; children?: string }) {
  return (
    <Tip text={name}>
      <Typography variant="h1" noWrap sx={{ minWidth: 0, flex: '0 1 auto' }}>
        {children}
      </Typography>
    </Tip>
  );
}
