import type { Command } from 'commander';
import { again, camelCase } from '#cli/flags.ts';
import { drivesOfWorkspace, isDriveLine, typedDrive, type KnownDrive } from '#cli/known-drives.ts';
import { note } from '#cli/output.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { textOf } from '#cli/files.ts';
import { badInput } from '#core/1-ground/problem.ts';
import type { Field, FieldTexts } from '#core/1-ground/fields/field.ts';
import type { Item } from '#core/3-jobs/demand/items.ts';
import { WORKLOAD_VERSION, parseWorkload, type Workload } from '#core/3-jobs/demand/workload.ts';
import { FIRST_QUESTION } from '#core/5-answers/ask/question-texts.ts';
import { askedWorkload } from '#core/5-answers/ask/question.ts';
import { chosenDrives } from '#core/5-answers/sizing/drive-choice.ts';
import type { CardedDrive } from '#core/5-answers/sizing/drive-of-card.ts';
import { planAnswers } from '#core/5-answers/sizing/plan-answers.ts';
import { FIRST_PLAN, sizingOfPlan, type Sizing } from '#core/5-answers/sizing/project.ts';
import { SIZING_FIELDS } from '#core/5-answers/sizing/sizing-fields.ts';
import { planTexts, readPlan } from '#core/5-answers/sizing/sizing-form.ts';

/** A plan as it is typed on the command line: the fields of its form, one flag each. */

export type PlanFlags = Record<string, string | string[] | undefined>;

const flagOf = ({ flag }: Field): string => flag.replaceAll(' ', '-');
const nameOf = (field: Field): string => camelCase(flagOf(field));

/** Words that stand for what is typed, in the help. */
const VALUE: Readonly<Record<string, string>> = { lines: 'line', switch: 'yes|no', size: 'size', rate: 'rate' };

export function addPlanOptions(command: Command): Command {
  for (const field of SIZING_FIELDS) {
    const isLines = field.kind.as === 'lines';
    const usual =
      field.option === 'choice'
        ? 'Of what it may be built: as on a box, 20 TB spinning, 265 MB/s, 530 EUR, or a drive with a card by its name; with 4 there, at most 8.'
        : field.help;
    const text = `${field.label}. ${usual}${isLines ? ' As often as there are some.' : ''}`;
    const flags = `--${flagOf(field)} <${VALUE[field.kind.as ?? ''] ?? 'text'}>`;
    if (isLines) command.option(flags, text, again);
    else command.option(flags, text);
  }
  return command
    .option(
      '--record <format>',
      'what is recorded there, such as “3 × UHD ProRes 422 HQ 25p”; as often as there is some',
      again,
    )
    .option('--play <format>', 'what is played from there; as often as there is some', again)
    .option('--for <time>', 'length of a take of what is recorded or played', FIRST_QUESTION.length)
    .option('--workload <file>', 'what has to be recorded and played, as exported, in place of --record and --play');
}

/** Whether anything of a plan was typed. */
export const hasPlan = (flags: PlanFlags): boolean =>
  SIZING_FIELDS.some((field) => flags[nameOf(field)] !== undefined) ||
  ['record', 'play', 'workload'].some((name) => flags[name] !== undefined);

const NOT_TYPED: readonly string[] = ['materials', 'days'];

/** The sizing that flags say, and what they were taken for. @throws Problem `bad-input` */
export async function sizingFromFlags(flags: PlanFlags): Promise<Sizing> {
  const start = Object.entries(planTexts(FIRST_PLAN)).filter(([option]) => !NOT_TYPED.includes(option));
  const typed = SIZING_FIELDS.flatMap((field): [string, string][] => {
    const value = flags[nameOf(field)];
    return value === undefined ? [] : [[field.option, Array.isArray(value) ? value.join('\n') : value]];
  });
  const choice = await choiceFrom(flags['drive']);
  const own: FieldTexts = { ...Object.fromEntries([...start, ...typed]), choice: choice.lines.join('\n') };
  if (own['materials'] === undefined) {
    throw badInput('material', 'material: is missing. Say what comes: --material "Cameras: 3.2 TB a day, days 1–30".');
  }
  if (own['days'] === undefined)
    throw badInput('days', 'days: is missing. Say how long it takes: --days 30, or 6 weeks.');
  const texts = { ...own, currency: flags['currency'] === undefined ? choice.currency : own['currency']! };
  const { plan, errors } = readPlan(texts, choice.drives);
  const [fault] = Object.values(errors);
  if (!plan) throw badInput('plan', fault ?? 'plan: cannot be read.');
  for (const { text } of Object.values(planAnswers(texts, choice.drives)).flat()) note(text);
  const drives = chosenDrives(choice.drives, plan.choice);
  if (drives.length === 0) {
    throw badInput('drive', 'drive: none has a price. Type one: --drive "20 TB spinning, 265 MB/s, 530 EUR".');
  }
  return sizingOfPlan(plan, drives, await workloadFrom(flags));
}

/** “4 there”, “2 there for second copy” and “at most 8” in a line of a drive. */
const BESIDE_THE_BOX = /,\s*(\d+\s+there(?:\s+for\s+[a-z ]+?)?|at most\s+\d+)(?=\s*(?:,|$))/gi;

interface Choice {
  lines: string[];
  drives: CardedDrive[];
  currency: string;
}

async function choiceFrom(typed: string | string[] | undefined): Promise<Choice> {
  const lines = [typed ?? []].flat();
  const areAllTyped = lines.length > 0 && lines.every(isDriveLine);
  const cards = areAllTyped ? [] : await drivesOfWorkspace();
  const boxes: KnownDrive[] = [];
  const named = lines.map((line) => {
    if (!isDriveLine(line.replaceAll(BESIDE_THE_BOX, ''))) return line;
    const beside = [...line.matchAll(BESIDE_THE_BOX)].map((match) => match[1]!);
    const box = typedDrive(line.replaceAll(BESIDE_THE_BOX, ''));
    boxes.push(box);
    return beside.length === 0 ? box.label : `${box.label}: ${beside.join(', ')}`;
  });
  const all = [...boxes, ...cards];
  const currencies = [...new Set(boxes.map(({ details }) => details.currency).filter((one) => one !== ''))];
  if (currencies.length > 1) {
    throw badInput('drive', `drive: prices are in ${currencies.join(' and ')}. Type all in one currency.`);
  }
  return {
    lines: named,
    drives: all.flatMap(({ drive }) => drive ?? []),
    currency: currencies[0] ?? FIRST_PLAN.currency,
  };
}

async function workloadFrom(flags: PlanFlags): Promise<Workload | null> {
  if (typeof flags['workload'] === 'string') {
    return parseWorkload(readJson(await textOf(flags['workload'], 'workload'), 'workload'));
  }
  const ways = [
    ['record', flags['record']],
    ['play', flags['play']],
  ] as const;
  const items = ways.flatMap(([action, formats]) =>
    [formats ?? []].flat().map((what, at): Item => {
      const texts = { ...FIRST_QUESTION, action, what, length: String(flags['for']) };
      const { workload, assumed } = askedWorkload(texts);
      assumed.forEach(note);
      return { ...workload.items[0]!, id: `${action}-${at}` };
    }),
  );
  if (items.length === 0) return null;
  return { tavrox: WORKLOAD_VERSION, id: 'typed', name: 'What is typed', note: '', example: false, items };
}
