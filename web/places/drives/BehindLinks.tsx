import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { sideOf } from '#core/5-answers/compare/compare-drives.ts';
import { bindingHop, type Hop } from '#core/2-trade/links/connection.ts';
import { linkChoices } from '#core/2-trade/links/link-choices.ts';
import { isHeldByLink, supplyBehind } from '#core/4-runs/supply/behind.ts';
import { formatRate, rateText } from '#core/1-ground/units/format.ts';
import type { LinkRow } from '../../pictures/LinkRows.tsx';
import { LinkRows } from '../../pictures/pictures.tsx';
import { useContextStore } from '../../state/context.ts';
import type { DriveSupply } from '../../state/drive-supplies.ts';
import { useWorkload } from '../../state/judged.ts';
import { judgedItems } from '../../state/judging.ts';
import { ink } from '../../theme/tokens.ts';

const keyOf = ({ label }: Hop): string => label;

/** What if: the same drive behind another slot, cable, adapter or network. */
export default function BehindLinks({ drive }: { drive: DriveSupply }) {
  const workload = useWorkload();
  const headroomShare = useContextStore((state) => state.headroomShare);
  const { profile, supply, roomBytes } = drive;
  const now = profile ? bindingHop(profile.connection) : null;
  const links = useMemo(() => {
    const known = linkChoices();
    const isKnown = now === null || known.some(({ label }) => label === now.label);
    return [...known, ...(isKnown ? [] : [now])].sort((a, b) => a.ceilingBytesPerSecond - b.ceilingBytesPerSecond);
  }, [now]);
  // The item that asks for most decides; the others would only repeat it.
  const largest = useMemo(() => {
    if (!workload || !supply) return null;
    const [most] = judgedItems(workload, supply, headroomShare, roomBytes)
      .filter(({ demand, short }) => !demand.isSum && short === null)
      .sort((a, b) => b.demand.bytesPerSecond - a.demand.bytesPerSecond);
    return most
      ? { name: most.demand.name, items: workload.items.filter(({ id }) => id === most.demand.itemId) }
      : null;
  }, [workload, supply, headroomShare, roomBytes]);
  const rows = useMemo((): LinkRow[] => {
    if (!profile || !supply) return [];
    return links.map((hop) => {
      const behind = { hops: [hop] };
      const capped = supplyBehind(supply, behind);
      const isWider = now !== null && hop.ceilingBytesPerSecond > now.ceilingBytesPerSecond * 1.01;
      const side = (way: 'write' | 'read') => {
        const own = sideOf(profile, way);
        if (own === null) return null;
        const least = (rate: number) => Math.min(rate, hop.ceilingBytesPerSecond);
        return {
          floor: least(own.floorBytesPerSecond),
          opening: least(own.openingBytesPerSecond),
          held: isWider && isHeldByLink(own.openingBytesPerSecond, profile.connection),
        };
      };
      const [judged] =
        workload && largest
          ? judgedItems({ ...workload, items: largest.items }, capped, headroomShare, roomBytes)
          : [undefined];
      const isNow = now !== null && hop.label === now.label;
      return {
        key: keyOf(hop),
        label: hop.label,
        ceilingBytesPerSecond: hop.ceilingBytesPerSecond,
        isNow,
        write: side('write'),
        read: side('read'),
        // Behind a link that it is not on nothing was measured.
        verdict: judged ? { verdict: judged.verdict.verdict, isPromise: judged.verdict.isPromise || !isNow } : null,
      };
    });
  }, [profile, supply, links, now, workload, largest, headroomShare, roomBytes]);
  const [chosen, setChosen] = useState<string>();
  const row = rows.find(({ key }) => key === chosen) ?? rows.find(({ isNow }) => isNow) ?? rows[0];
  if (!profile || !supply || !row) {
    return <Typography sx={{ mt: 2 }}>Nothing was measured of this drive yet.</Typography>;
  }
  const parts = [
    ...(row.write ? [`writes at ${linkRowText(row.write)}`] : []),
    ...(row.read ? [`reads at ${linkRowText(row.read)}`] : []),
  ];
  const held = row.write?.held === true || row.read?.held === true;
  return (
    <>
      <Typography data-behind="" sx={{ flex: 'none', mt: 1, mb: 1 }}>
        <b>
          {row.isNow ? 'As it is, over ' : 'Behind '}
          {row.label}
        </b>
        , which carries {rateText(row.ceilingBytesPerSecond)}, it {parts.join(' and ') || 'was not measured'}.
        {held ? ' Its link held it back when it was measured: a run there would tell how much more it does.' : ''}
        {largest && row.verdict ? <span style={{ color: ink('second') }}> Judged for {largest.name}.</span> : null}
      </Typography>
      <LinkRows rows={rows} selected={row.key} onSelect={setChosen} />
    </>
  );
}

/** Rates of a direction behind a link, in words. */
const linkRowText = (one: NonNullable<LinkRow['write']>): string => {
  const [floor, opening] = [formatRate(one.floor).number, formatRate(one.opening).number];
  const later = one.floor < one.opening ? 'then' : 'rising to';
  return `${floor === opening ? opening : `${opening}, ${later} ${floor}`} MB/s${one.held ? ' at least' : ''}`;
};
