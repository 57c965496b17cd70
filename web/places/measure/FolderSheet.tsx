import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Typography from '@mui/material/Typography';
import { Fragment, useEffect, useState } from 'react';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { downgradedHops } from '#core/2-trade/links/connection.ts';
import { reserveBytes } from '#core/4-runs/supply/room.ts';
import { bytesText, count } from '#core/1-ground/units/format.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { api } from '../../api/client.ts';
import { ChoiceItem, ChoiceList } from '../../kit/choices.tsx';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { Heading, ProblemText } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { refresh, useLibrary } from '../../state/library.ts';
import { ink } from '../../theme/tokens.ts';
import { Examples } from '../../frame/Examples.tsx';
import { FolderField } from '../../frame/FolderField.tsx';
import { volumeFacts, volumeGroups } from './volume-facts.ts';

/** Choosing where to measure: a volume, and on a real one a folder. */
export default function FolderSheet({ onClose }: { onClose: () => void }) {
  const { volumes, runs } = useLibrary();
  const { targetVolumeId, folders, recipeId, question, asksWorkload, set, setFolder, makeCurrent } = useContextStore();
  const [volumeId, setVolumeId] = useState(targetVolumeId);
  const [isUnfolded, setUnfolded] = useState(false);
  const [typed, setTyped] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const volume = volumes.find((one) => one.id === volumeId);
  const path = typed ?? (volume ? (folders[volume.id] ?? volume.mountPoint) : '');

  // Who has measured a real drive looks for that.
  // What is only played needs a folder that can be read.
  const isPlayed = question.action === 'play' && !asksWorkload;
  const hasMeasured = runs.some(({ run: one }) => one.volume.kind === 'real');
  const isFolded = hasMeasured && !isUnfolded && volume?.kind !== 'stand-in';
  const groups = volumeGroups(isFolded ? volumes.filter(({ kind }) => kind === 'real') : volumes).filter(
    ({ members }) => !isFolded || members.length > 0,
  );
  const hidden = isFolded ? volumes.filter(({ kind }) => kind === 'stand-in').length : 0;

  useEffect(() => {
    void refresh('volumes');
  }, []);

  const choose = (id: string) => {
    setVolumeId(id);
    setTyped(undefined);
    setProblem(undefined);
  };
  const use = async () => {
    if (!volume) return;
    try {
      if (volume.kind === 'real')
        setFolder(volume.id, (await api.checkFolder(volume.id, path, isPlayed ? 'existing-material' : recipeId)).path);
      set({ targetVolumeId: volume.id });
      if (volume.driveId !== null) makeCurrent(volume.driveId);
      onClose();
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };

  return (
    <SideSheet
      title="Where to measure"
      onClose={onClose}
      actions={
        <>
          <Button variant="contained" disabled={!volume} onClick={() => void use()}>
            Measure here
          </Button>
          <Typography variant="caption" color="textSecondary">
            {recipeKindById(recipeId).readOnly
              ? 'Files are only read. Nothing is made or changed.'
              : 'Tavrox writes only in a folder it makes there itself, and removes it afterwards.'}
          </Typography>
        </>
      }
    >
      {groups.map(({ name, members }) => (
        <ChoiceList key={name} label={name}>
          <Heading>{name}</Heading>
          {members.length === 0 && <Typography variant="body2">No volume was found that can be measured.</Typography>}
          {members.map((one) => (
            <Fragment key={one.id}>
              <VolumeChoice volume={one} chosen={one.id === volumeId} onChoose={() => choose(one.id)} />
              {one.id === volumeId && one.kind === 'real' && (
                <>
                  <FolderField volume={one} path={path} onPath={setTyped} />
                  <UsesAll volume={one} onProblem={setProblem} />
                </>
              )}
            </Fragment>
          ))}
        </ChoiceList>
      ))}
      {hidden > 0 && (
        <Button variant="text" sx={{ mt: 1.5, alignSelf: 'flex-start' }} onClick={() => setUnfolded(true)}>
          {count(hidden, 'simulated drive', 'simulated drives')}
        </Button>
      )}
      {hasMeasured && <Examples quiet />}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </SideSheet>
  );
}

/** Whether a volume may be filled to its end, as one that holds nothing else may. */
function UsesAll({ volume, onProblem }: { volume: VolumeEntry; onProblem: (problem: string | undefined) => void }) {
  const change = async (usesAll: boolean) => {
    try {
      await api.changeVolume(volume.id, usesAll);
      onProblem(undefined);
      await refresh('volumes', 'drives');
    } catch (error) {
      onProblem((error as Problem).detail);
    }
  };
  const kept = reserveBytes(volume);
  return (
    <Box sx={{ mt: 1 }}>
      <FormControlLabel
        control={
          <Checkbox checked={volume.usesAll} onChange={(_event, checked) => void change(checked)} sx={{ py: 0.25 }} />
        }
        label="Nothing else is kept on it: it may be filled to its end"
        slotProps={{ typography: { sx: { fontSize: 14 } } }}
      />
      <Typography variant="caption" component="div" color="textSecondary">
        {volume.usesAll
          ? `Runs fill all but ${bytesText(kept)}, which the filesystem needs for itself. What is there stays as it is, and nothing can be added to it until a run ends.`
          : `${bytesText(kept)} of the ${bytesText(volume.freeBytes)} free are always left alone.`}
      </Typography>
    </Box>
  );
}

function VolumeChoice({ volume, chosen, onChoose }: { volume: VolumeEntry; chosen: boolean; onChoose: () => void }) {
  const slow = downgradedHops(volume.connection).map((one) => `${one.label} runs below what both ends can do`);
  const used = volume.totalBytes > 0 ? 1 - volume.freeBytes / volume.totalBytes : 0;
  return (
    <ChoiceItem look="frame" chosen={chosen} onChoose={onChoose}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 2, alignItems: 'baseline' }}>
        <Box component="span" sx={{ fontWeight: 650, fontSize: 15, overflowWrap: 'anywhere' }}>
          {volume.label}
          {volume.mountPoint !== '' && (
            <span style={{ fontWeight: 400, color: ink('second'), marginLeft: 8, fontSize: 13 }}>
              {volume.mountPoint}
            </span>
          )}
        </Box>
        <Box component="span" sx={{ fontSize: 13, whiteSpace: 'nowrap' }}>
          {bytesText(volume.freeBytes)}{' '}
          <span style={{ color: ink('second') }}>of {bytesText(volume.totalBytes)} free</span>
        </Box>
      </Box>
      <Box aria-hidden="true" sx={{ height: 3, bgcolor: ink('rule'), my: 0.75 }}>
        <Box sx={{ height: '100%', width: `${used * 100}%`, bgcolor: ink('second') }} />
      </Box>
      <Typography variant="caption" component="span" color="textSecondary" sx={{ display: 'block' }}>
        {volumeFacts(volume)}
        {volume.readOnly && <b style={{ color: ink('breaks') }}> · read-only</b>}
      </Typography>
      {(volume.description || slow.length > 0) && (
        <Typography
          variant="caption"
          component="span"
          sx={{ color: slow.length > 0 ? ink('tight') : ink('second'), display: 'block' }}
        >
          {[volume.description, ...slow].filter(Boolean).join(' ')}
        </Typography>
      )}
    </ChoiceItem>
  );
}
