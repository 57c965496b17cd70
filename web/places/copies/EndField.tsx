import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { FolderField } from '../../frame/FolderField.tsx';
import { Labelled } from '../../kit/form.tsx';
import { ink } from '../../theme/tokens.ts';

/** One end of a copy as it is being chosen. */
export interface ChosenEnd {
  volumeId: string;
  /** Of real volumes; the mount point until another is typed. */
  folder: string;
}

interface EndFieldProps {
  label: string;
  volumes: readonly VolumeEntry[];
  end: ChosenEnd;
  onEnd: (end: ChosenEnd) => void;
  /** For targets of which there are several. */
  onRemove?: () => void;
}

/** The end that a volume would be, with its mount point for a folder. */
export const endOn = (volume: VolumeEntry | undefined): ChosenEnd => ({
  volumeId: volume?.id ?? '',
  folder: volume?.mountPoint ?? '',
});

/** A volume, and on a real one a folder. */
export function EndField({ label, volumes, end, onEnd, onRemove }: EndFieldProps) {
  const volume = volumes.find(({ id }) => id === end.volumeId);
  return (
    <Labelled label={label}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <TextField
          select
          fullWidth
          value={volume ? end.volumeId : ''}
          onChange={(event) => onEnd(endOn(volumes.find(({ id }) => id === event.target.value)))}
          slotProps={{ select: { SelectDisplayProps: { 'aria-label': label } } }}
        >
          {volumes.map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {one.label}
              <span style={{ color: ink('second'), marginLeft: 10, fontSize: 12.5 }}>
                {one.kind === 'real' ? one.mountPoint : 'simulated'}, {bytesText(one.freeBytes)} free
              </span>
            </MenuItem>
          ))}
        </TextField>
        {onRemove && (
          <Button variant="text" onClick={onRemove} aria-label={`Leave out ${label}`}>
            Leave out
          </Button>
        )}
      </Box>
      {volume?.kind === 'real' && (
        <FolderField
          volume={volume}
          path={end.folder}
          label={`Folder of ${label}`}
          onPath={(folder) => onEnd({ ...end, folder })}
        />
      )}
      {volume?.readOnly === true && (
        <Typography variant="caption" component="p" color="textSecondary">
          Mounted read-only.
        </Typography>
      )}
    </Labelled>
  );
}
