import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { FolderList, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { api } from '../api/client.ts';
import { Heading, ProblemText } from '../kit/words.tsx';
import { ink } from '../theme/tokens.ts';

interface FolderFieldProps {
  volume: VolumeEntry;
  path: string;
  onPath: (path: string) => void;
  /** What it is called to those who cannot see it. */
  label?: string;
}

/** A typed path with completion, over the folders in it. */
export function FolderField({ volume, path, onPath, label = 'Folder' }: FolderFieldProps) {
  const [list, setList] = useState<FolderList>();
  const [problem, setProblem] = useState<string>();
  const parent = list?.path ?? volume.mountPoint;
  const typed = path.endsWith('/') ? '' : path.slice(path.lastIndexOf('/') + 1);

  useEffect(() => {
    let left = false;
    if (path === '') return;
    api.folders(volume.id, path).then(
      (found) => {
        if (left) return;
        setList(found);
        setProblem(undefined);
      },
      (error: unknown) => {
        if (!left) setProblem((error as Problem).detail);
      },
    );
    return () => {
      left = true;
    };
  }, [volume.id, path]);

  const inside = list !== undefined && list.path === path.replace(/(.)\/$/, '$1');
  const names = (list?.names ?? []).filter((name) => inside || name.toLowerCase().startsWith(typed.toLowerCase()));
  const join = (name: string) => `${parent === '/' ? '' : parent}/${name}`;
  return (
    <>
      <Heading>Folder on {volume.mountPoint}</Heading>
      <TextField
        fullWidth
        value={path}
        onChange={(event) => onPath(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Tab' && !inside && names[0] !== undefined) {
            event.preventDefault();
            onPath(join(names[0]));
          }
        }}
        slotProps={{ htmlInput: { 'aria-label': label, spellCheck: false, autoComplete: 'off' } }}
      />
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      <Box
        sx={{
          mt: 1,
          flex: '1 0 120px',
          minHeight: 120,
          maxHeight: 260,
          overflowY: 'auto',
          border: `1px solid ${ink('rule')}`,
          borderRadius: 1,
          py: 0.5,
        }}
      >
        {parent !== volume.mountPoint && (
          <FolderLine name=".." onClick={() => onPath(parent.slice(0, Math.max(1, parent.lastIndexOf('/'))))} />
        )}
        {names.map((name) => (
          <FolderLine key={name} name={name} onClick={() => onPath(join(name))} />
        ))}
        {list && names.length === 0 && (
          <Typography variant="body2" sx={{ px: 1.5, py: 0.5, color: ink('second') }}>
            No folders in here.
          </Typography>
        )}
        {list?.truncated === true && (
          <Typography variant="caption" sx={{ px: 1.5, color: ink('second') }}>
            There are more; type the name.
          </Typography>
        )}
      </Box>
    </>
  );
}

function FolderLine({ name, onClick }: { name: string; onClick: () => void }) {
  return (
    <ButtonBase
      onClick={onClick}
      sx={{
        display: 'block',
        width: '100%',
        textAlign: 'left',
        px: 1.5,
        py: '4px',
        fontSize: 14,
        '&:hover, &:focus-visible': { bgcolor: ink('raised') },
      }}
    >
      {name}
    </ButtonBase>
  );
}
