import { count } from '#core/1-ground/units/format.ts';
import { doingOf, type Arrival, type ArrivalCounts, type Planned, type Take } from '#core/6-exchange/archive/plan.ts';

const ARRIVALS: Record<Arrival, string> = {
  new: 'new',
  same: 'here already',
  newer: 'newer than here',
  older: 'older than here',
  conflict: 'another than here',
};

const DOINGS = { keep: '', replace: ': takes its place', beside: ': kept beside it', leave: ': left' } as const;

/** “run Petrel 2T, 2026-03-02 09:30: newer than here: takes its place” */
export function arrivalText(one: Pick<Planned, 'kind' | 'name' | 'arrival'>, take: Take): string {
  const { kind, name, arrival } = one;
  const does = arrival === 'same' ? '' : DOINGS[doingOf(one, take)];
  return `${kind} ${name}: ${ARRIVALS[arrival]}${does}`;
}

/** “4 documents are new, 2 take the place of what is here, 10 are here already.” */
export function countsText({ kept, replaced, beside, same, left }: ArrivalCounts): string {
  const parts = [
    kept === 0 ? 'Nothing is new' : count(kept, 'document is new', 'documents are new'),
    ...(replaced > 0 ? [`${replaced} ${replaced === 1 ? 'takes' : 'take'} the place of what is here`] : []),
    ...(beside > 0 ? [`${beside} kept beside what is here`] : []),
    ...(same > 0 ? [`${same} here already`] : []),
    ...(left > 0 ? [`${left} left as ${left === 1 ? 'it is' : 'they are'} here`] : []),
  ];
  return `${parts.join(', ')}.`;
}
