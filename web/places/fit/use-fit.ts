import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import { soundOf, type Evidence, type RateSpan } from '#core/4-runs/supply/evidence.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { IN_TURN_ID } from '#core/5-answers/verdict/in-turn.ts';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import type { RulerLane, RulerPin } from '../../pictures/ruler/ruler-layout.ts';
import { useContextStore } from '../../state/context.ts';
import { useDriveSupplies, type DriveSupply } from '../../state/drive-supplies.ts';
import { useWorkload } from '../../state/judged.ts';
import { judgedItems } from '../../state/judging.ts';
import { useJudgedInTurn } from './use-judged-in-turn.ts';

/** One chosen drive with what is known of it and what it means for the workload. */
export interface FitDrive extends DriveSupply {
  items: JudgedItem[];
}

export interface Fit {
  drives: FitDrive[];
  workload: Workload | undefined;
  problem: Problem | undefined;
}

/** The verdicts on the chosen workload for the chosen drives. */
export function useFit(): Fit {
  const { driveIds, headroomShare } = useContextStore();
  const workload = useWorkload();
  // Kept apart from the headroom: what a run carried is remembered by its supply.
  const { drives, problem } = useDriveSupplies(driveIds);
  const supplies = useMemo(() => drives.map(({ supply }) => supply), [drives]);
  const ready = useJudgedInTurn(workload, supplies);
  const judged = useMemo(
    () =>
      drives.map((drive): FitDrive => {
        const { supply, roomBytes } = drive;
        const isReady = supply && workload && ready.has(supply);
        return { ...drive, items: isReady ? judgedItems(workload, supply, headroomShare, roomBytes) : [] };
      }),
    [drives, ready, workload, headroomShare],
  );
  return { drives: judged, workload, problem };
}

/** What is chosen, from the address and into it, so that a link shows the same to somebody else. */
export function useLinkedContext(): void {
  const [search] = useSearchParams();
  const { driveIds, workloadId, headroomShare, set } = useContextStore();
  // The address counts once, when the place opens; from then on the choice leads and the address follows.
  const [linked] = useState(search);
  useEffect(() => {
    const drives = linked.get('drives')?.split(',').filter(Boolean);
    const workload = linked.get('workload');
    const headroom = Number(linked.get('headroom'));
    set({
      ...(drives ? { driveIds: drives } : {}),
      ...(workload !== null ? { workloadId: workload } : {}),
      ...(linked.has('headroom') && headroom >= 0 && headroom <= 200 ? { headroomShare: headroom / 100 } : {}),
    });
  }, [linked, set]);
  useEffect(() => {
    if (driveIds.length === 0 || workloadId === null) return;
    const next = new URLSearchParams({
      drives: driveIds.join(','),
      workload: workloadId,
      headroom: String(Math.round(headroomShare * 100)),
    });
    // Past the router, which would take this for a step of its own and call off one that is under way.
    if (window.location.pathname === '/fit')
      window.history.replaceState(window.history.state, '', `/fit?${next.toString()}`);
  }, [driveIds, workloadId, headroomShare]);
}

export function lanesOf(drives: readonly FitDrive[]): RulerLane[] {
  return drives.map(({ card, supply }) => ({
    driveId: card.id,
    label: card.label,
    isPromise: supply?.isPromise ?? false,
    spans: supply ? spansOf(supply.traces) : null,
    otherRuns: supply ? otherRuns(supply) : null,
  }));
}

/** What counts of a drive of which no trace shows a rate; null where nothing does. */
function otherRuns({ requests, paced }: Supply): string | null {
  if (paced.length > 0) return 'no levels yet: Paced frames count for what they did';
  return requests.rungs.length > 0 ? 'no levels yet: a Block ladder counts for loads' : null;
}

/** Widest span of a drive's runs in each direction. */
function spansOf(traces: readonly Evidence[]): Record<Direction, RateSpan | null> {
  const span = (direction: Direction): RateSpan | null => {
    const spans = soundOf(traces.filter((one) => one.direction === direction)).map((one) => one.span);
    if (spans.length === 0) return null;
    return {
      worstSecondBytesPerSecond: Math.min(...spans.map((one) => one.worstSecondBytesPerSecond)),
      // A floor that one run saw is not undone by short runs that ended before it.
      floorBytesPerSecond: Math.min(...spans.map((one) => one.floorBytesPerSecond)),
      openingBytesPerSecond: Math.max(...spans.map((one) => one.openingBytesPerSecond)),
    };
  };
  return Object.fromEntries(DIRECTIONS.map((direction) => [direction, span(direction)])) as Record<
    Direction,
    RateSpan | null
  >;
}

export function pinsOf(drives: readonly FitDrive[]): RulerPin[] {
  const known = drives.filter(({ items }) => items.length > 0);
  // What finds no room one after the other has no rate of its own.
  const rates = (known[0]?.items ?? []).filter(({ demand }) => demand.itemId !== IN_TURN_ID);
  return rates.map(({ demand }, index) => ({
    itemId: demand.itemId,
    name: demand.name,
    direction: demand.direction,
    bytesPerSecond: demand.bytesPerSecond,
    verdicts: Object.fromEntries(known.map(({ card, items }) => [card.id, items[index]!.verdict.verdict])),
  }));
}
