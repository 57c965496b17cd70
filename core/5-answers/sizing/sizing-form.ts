import type { FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { currenciesIn } from '#core/1-ground/units/money.ts';
import { MOST_DAYS, withEnds, type CalendarPart } from '#core/5-answers/sizing/calendar.ts';
import { chosenDrives, type DriveChoice } from '#core/5-answers/sizing/drive-choice.ts';
import { withCalendar, type Material } from '#core/5-answers/sizing/material.ts';
import { MOST_DRIVES, MOST_SPARES, USUAL_POLICY, type SizingPlan } from '#core/5-answers/sizing/project.ts';
import { SIZING_FIELDS } from '#core/5-answers/sizing/sizing-fields.ts';
import { withDates, type Stage } from '#core/5-answers/sizing/stages.ts';

const PLAN_FIELDS = [
  'name',
  'days',
  'startsOn',
  'currency',
  'units',
  'phases',
  'choice',
  'materials',
  'enclosures',
  'connections',
  'stages',
] as const;

const POLICY_FIELDS = [
  'growthShare',
  'mostDrives',
  'mostSpares',
  'leastSpares',
  'survives',
  'holdsDegraded',
  'needsProof',
  'headroomShare',
  'fillLimit',
  'filesystemShare',
  'efficiency',
  'budget',
  'mostDecibels',
  'leastYears',
  'amplification',
  'copySurvives',
  'copySeconds',
  'copyVerified',
  'rebuildShare',
  'errorsPerBit',
] as const;

export const planTexts = ({ policy, ...plan }: SizingPlan): FieldTexts =>
  fieldTexts(SIZING_FIELDS, { ...plan, ...policy });

/** What two plans say differently, field by field, as both are typed; the first one’s first. */
export function planDifferences(
  theirs: FieldTexts,
  mine: FieldTexts,
): { label: string; theirs: string; mine: string }[] {
  return SIZING_FIELDS.map(({ option, label }) => ({
    label,
    theirs: (theirs[option] ?? '').trim(),
    mine: (mine[option] ?? '').trim(),
  })).filter((one) => one.theirs !== one.mine);
}

/** Prices in another currency than that of the project cannot be added up. */
function addCurrencyFaults(texts: FieldTexts, currency: unknown, errors: FieldErrors): void {
  if (typeof currency !== 'string' || currency.trim() === '') return;
  for (const option of ['enclosures', 'connections', 'budget']) {
    const other = currenciesIn(texts[option] ?? '').find((one) => one !== currency.trim().toUpperCase());
    if (other !== undefined) {
      errors[option] ??=
        `${called(option)}: a price is in ${other}, and the project reckons in ${currency}. Type all in one.`;
    }
  }
}

const FIRST_DAY_FIELD = SIZING_FIELDS.filter(({ option }) => option === 'startsOn');
const LENGTH_FIELD = SIZING_FIELDS.filter(({ option }) => option === 'days');

/** What a field is called in sentences on its faults. */
const called = (option: string): string => SIZING_FIELDS.find((field) => field.option === option)!.flag;

/**
 * A plan from texts; all faults at once.
 * @param drives that have a card, which lines of drives name; null where they are not known here
 */
export function readPlan(
  typed: FieldTexts,
  drives: readonly { label: string; price: number | null }[] | null = null,
): { plan: SizingPlan | null; errors: FieldErrors } {
  const length = readFields(LENGTH_FIELD, typed).values['days'];
  const ended = (option: string) =>
    typeof length === 'number' && typed[option] !== undefined ? { [option]: withEnds(typed[option], length) } : {};
  const startsOn = readFields(FIRST_DAY_FIELD, typed).values['startsOn'];
  const dated: FieldTexts =
    typeof startsOn === 'string' && typed['stages'] ? { stages: withDates(typed['stages'], startsOn) } : {};
  const texts = { ...typed, ...ended('materials'), ...ended('phases'), ...dated };
  const { values, errors } = readFields(SIZING_FIELDS, texts);
  const within = (option: string, least: number, most: number) => {
    const value = values[option];
    if (typeof value === 'number' && (value < least || value > most)) {
      errors[option] = `${called(option)}: must be from ${least} to ${most}.`;
    }
  };
  within('days', 1, MOST_DAYS);
  within('mostDrives', 1, MOST_DRIVES);
  within('mostSpares', 0, MOST_SPARES);
  within('leastSpares', 0, MOST_SPARES);
  within('survives', 0, 2);
  within('fillLimit', 0.05, 1);
  within('efficiency', 0.05, 1);
  within('filesystemShare', 0, 0.9);
  within('copySurvives', 0, 2);
  within('copySeconds', 60, 7 * 86_400);
  within('rebuildShare', 0.05, 1);
  within('errorsPerBit', 1e-30, 1e-6);
  addCurrencyFaults(texts, values['currency'], errors);
  const { leastSpares, mostSpares } = values;
  if (typeof leastSpares === 'number' && typeof mostSpares === 'number' && leastSpares > mostSpares) {
    errors['leastSpares'] ??= `${called('leastSpares')}: more are wanted than there may be: at most ${mostSpares}.`;
  }
  for (const list of ['materials', 'enclosures', 'connections']) {
    if (Array.isArray(values[list]) && values[list].length === 0)
      errors[list] = `${called(list)}: at least one line is needed.`;
  }
  const { choice } = values as { choice?: DriveChoice[] };
  if (drives !== null && choice) {
    try {
      chosenDrives(drives, choice);
    } catch (error) {
      errors['choice'] = (error as Problem).detail;
    }
  }
  const lateStage = (values as { stages?: Stage[] }).stages?.find(
    ({ onDay }) => typeof length === 'number' && onDay > length,
  );
  if (lateStage) {
    errors['stages'] ??=
      `${called('stages')}: day ${lateStage.onDay} comes after the last of the project, day ${String(length)}.`;
  }
  const { materials, phases } = values as { materials?: Material[]; phases?: CalendarPart[] };
  if (materials && phases) {
    try {
      const dated = withCalendar(materials, phases);
      const late = dated.find(({ fromDay }) => typeof values.days === 'number' && fromDay > values.days);
      if (late) {
        errors.materials = `material: “${late.name}” comes from day ${late.fromDay} on, and the project ends on day ${String(values.days)}.`;
      }
      values.materials = dated;
    } catch (error) {
      errors.materials = (error as Problem).detail;
    }
  }
  if (Object.keys(errors).length > 0) return { plan: null, errors };
  const policy = {
    ...USUAL_POLICY,
    ...Object.fromEntries(POLICY_FIELDS.map((option) => [option, values[option]])),
  };
  const plan = Object.fromEntries(PLAN_FIELDS.map((option) => [option, values[option]]));
  return { plan: { ...plan, policy } as SizingPlan, errors };
}
