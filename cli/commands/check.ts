import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { stat } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import type { Command } from 'commander';
import { askedVolume, type HowAsked } from '#cli/asked-volume.ts';
import { carryOut } from '#cli/carry-out.ts';
import { textOf } from '#cli/files.ts';
import { again } from '#cli/flags.ts';
import { drivesOfWorkspace, isDriveLine, typedDrive, type KnownDrive } from '#cli/known-drives.ts';
import { inStore } from '#cli/in-store.ts';
import { endWith, exitCodeOf, note, print, printJson } from '#cli/output.ts';
import { call } from '#cli/through-server.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { parseBytes, parseDuration, parseShare } from '#core/1-ground/units/quantity.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import type { Connection } from '#core/2-trade/links/connection.ts';
import type { Essence } from '#core/3-jobs/demand/essences/registry.ts';
import { parseWorkload, type Workload } from '#core/3-jobs/demand/workload.ts';
import { readMaterialFiles } from '#core/3-jobs/material/formats/registry.ts';
import { FilePathSource, readClip } from '#core/3-jobs/material/read-clip.ts';
import { jobOf } from '#core/3-jobs/recipes/until-decided.ts';
import { checkOptions } from '#core/3-jobs/recipes/registry.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { parseProfile, profileOn, profileRunOf, supplyOn, type Profile } from '#core/4-runs/supply/profile.ts';
import { roomBytes, type Space } from '#core/4-runs/supply/room.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { sortedFrame, sortedWhat } from '#core/5-answers/ask/sorted-question.ts';
import { FIRST_QUESTION, type QuestionTexts } from '#core/5-answers/ask/question-texts.ts';
import {
  TAKEN_EMPTY,
  askedWorkload,
  assumedText,
  costOfDecidingOn,
  fitsText,
  openDemands,
  questionText,
  whyNotAsked,
} from '#core/5-answers/ask/question.ts';
import { sameName } from '#core/5-answers/sizing/calendar.ts';
import { helpText, whatHelps, type DriveToHelp, type Help } from '#core/5-answers/verdict/series/what-helps.ts';
import { parseProcessor } from '#core/3-jobs/demand/series/processor.ts';
import { provingWords } from '#core/5-answers/verdict/proving-words.ts';
import { answerOf } from '#core/5-answers/verdict/answer.ts';
import { judgedItems, type JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { checkRun, type RunRequest } from '#engine/run/runner.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import type { Volume, VolumeInfo } from '#engine/volumes/volume.ts';
import type { ServerNote } from '#server/serve.ts';
import { cardForVolume, driveReference, findCard } from '#server/store/drives.ts';
import { createProfiles } from '#server/store/profiles.ts';
import { insertWholeRun } from '#server/store/runs.ts';
import { storeFolderOf } from '#server/store/folder.ts';

interface CheckFlags extends HowAsked {
  for?: string;
  takes?: string;
  gap: string;
  takenOff?: boolean;
  play?: boolean;
  simulate?: boolean;
  load?: boolean;
  computing?: string;
  against?: string[];
  processor?: string;
  buffer: string;
  file?: string;
  workload?: string;
  headroom: string;
  atMost?: string;
  within: string;
  json?: boolean;
}

export function addCheckCommand(program: Command): void {
  program
    .command('check')
    .description('one question, one answer: can this drive record it, or play it, for so long?')
    .argument(
      '<folder>',
      'a folder, or a stand-in such as petrel-2t; a drive that is not here as on its box, “20 TB spinning, 265 MB/s, SATA”, or by the name of its card',
    )
    .argument(
      '[what]',
      'a format as people type it, such as “3 × 3840x2160 4:2:2 10 bit 25p for 40 min”; the size of a frame, or what is loaded',
    )
    .option('--for <time>', 'length of a take, such as 40min or 18:32; frames of a simulation; what a load may take')
    .option('--takes <n>', `number of takes; ${FIRST_QUESTION.takes} when not given`)
    .option('--gap <time>', 'between takes, such as 10min', '0')
    .option('--taken-off', 'each take is taken off the drive before the next; without it all stay there')
    .option('--play', 'plays it; without it, it is recorded')
    .option(
      '--simulate',
      'a simulation writes it frame by frame, which are told by size or grid: “1.03 GB” --for “240 frames”',
    )
    .option('--computing <time>', `of a frame of a simulation; ${FIRST_QUESTION.compute} when not given`)
    .option(
      '--against <drive>',
      'of a simulation: another drive, as on its box or by the name of its card, and what it saves; as often as there are some',
      again,
    )
    .option('--processor <text>', 'of a simulation: what a faster processor saves, “1.5 times, 600 EUR”')
    .option('--load', 'it is loaded: “3 GB in 256 KiB x8, 4 s processor” --for 20s')
    .option('--buffer <size>', 'of the program, such as 2s or 512MB', FIRST_QUESTION.buffer)
    .option('--file <clip>', 'asks about material like this file, in place of a format')
    .option('--workload <file>', 'asks about a whole workload, as exported')
    .option('--headroom <share>', 'that must be left over for Holds', '25%')
    .option('--at-most <size>', 'writes no more than this; half of the free space when not given')
    .option('--within <time>', 'measures no longer than this', '10min')
    .option('--use-all', 'nothing else is kept on the drive: it may be filled to its end')
    .option('--fast', 'stand-ins as fast as the processor allows')
    .option('--json', 'print JSON')
    .action(check);
}

/** What is answered, and what it was answered from. */
interface Answered {
  label: string;
  judged: JudgedItem[];
  space: Space;
  run: (RunDocument & RunSummary) | null;
  /** What was taken for granted, each as a sentence. */
  taken: string[];
  /** What would shorten a simulation, what saves most for its money first. */
  helps: Help[];
}

async function check(path: string, what: string | undefined, flags: CheckFlags): Promise<void> {
  const { workload, assumed } = await workloadFrom(what, flags);
  const known = await knownDrive(path);
  if (!known && isName(path) && !existsSync(path)) {
    throw badInput(
      'folder',
      `folder: “${path}” is no folder here, and no drive with a card is called so. Type a folder, the name of a card, or a drive as on its box: “20 TB spinning, 265 MB/s”.`,
    );
  }
  if (!known && (flags.against ?? flags.processor) !== undefined) {
    throw badInput(
      'against',
      'against: is for a drive that is known by its box or its card. Name it in place of the folder.',
    );
  }
  const answered = await (known ? fromCard(known, workload, flags) : onVolume(path, workload, flags));
  tell(workload, { ...answered, taken: [...assumed, ...answered.taken] }, flags);
}

/** A drive that is typed as on its box, or one with a card that is named; null for what is a folder. */
async function knownDrive(path: string): Promise<KnownDrive | null> {
  if (existsSync(path)) return null;
  if (isDriveLine(path)) return typedDrive(path);
  if (!isName(path)) return null;
  const [found] = await drivesOfWorkspace(({ label }) => sameName(label, path));
  return found ?? null;
}

/** Neither a path nor a stand-in. */
const isName = (path: string): boolean => !/[/\\]/.test(path) && STAND_INS.every(({ id }) => id !== path);

/** Where a card tells nothing at all. */
const UNKNOWN: { medium: Medium; connection: Connection } = { medium: 'unknown', connection: { hops: [] } };

/** Of a drive that is not here only what is known of it answers. */
async function fromCard(known: KnownDrive, workload: Workload, flags: CheckFlags): Promise<Answered> {
  const { label, capacityBytes, profiles } = known;
  const policy = { headroomShare: parseShare(flags.headroom, 'headroom') };
  const space = { freeBytes: capacityBytes, usesAll: flags.useAll };
  const judged = judgedItems(workload, supplyOn(profiles[0] ?? null, UNKNOWN), policy, roomBytes(space));
  return { label, judged, space, run: null, taken: [TAKEN_EMPTY], helps: await helpsOn(known, workload, flags) };
}

/** What other drives and a faster processor would save a simulation that is written to this drive now. */
async function helpsOn(now: KnownDrive, workload: Workload, { against = [], processor }: CheckFlags): Promise<Help[]> {
  if (against.length === 0 && processor === undefined) return [];
  const item = workload.items.find((one) => one.kind === 'series');
  if (!item)
    throw badInput(
      'against',
      'against: drives and processors are held against each other for a simulation: add --simulate.',
    );
  const drive = ({ label, details, profiles, capacityBytes }: KnownDrive): DriveToHelp => ({
    label,
    supply: supplyOn(profiles[0] ?? null, UNKNOWN),
    roomBytes: capacityBytes > 0 ? roomBytes({ freeBytes: capacityBytes, usesAll: details.usesAll }) : null,
    ...{ price: details.price, currency: details.currency },
  });
  const others = await Promise.all(
    against.map(async (text) => {
      const found = await knownDrive(text);
      if (found) return drive(found);
      throw badInput('against', `against: “${text}” is no drive as on its box, and no card has that name.`);
    }),
  );
  const held = processor === undefined ? item : { ...item, processor: parseProcessor(processor, 'processor') };
  return whatHelps(held, drive(now), others);
}

async function onVolume(path: string, workload: Workload, flags: CheckFlags): Promise<Answered> {
  const { volume, context, server, dataFolder } = await askedVolume(path, flags);
  const { info } = volume;
  const whyNot = whyNotAsked(info, workload);
  if (whyNot !== null) throw badInput('folder', whyNot);
  const known = await knownOf(info, server, dataFolder, flags.fast ?? false);
  const policy = { headroomShare: parseShare(flags.headroom, 'headroom') };
  const room = roomBytes(info);
  const label = known?.drive.label ?? (info.driveLabel || info.label);
  const judgeWith = (newer: Profile['runs']) => judgedItems(workload, supplyOn(known, info, newer), policy, room);

  let judged = judgeWith([]);
  const open = openDemands(judged);
  let run: (RunDocument & RunSummary) | null = null;
  if (open.length > 0) {
    const limits = {
      mostSeconds: parseDuration(flags.within, 'within'),
      mostBytes: flags.atMost === undefined ? null : parseBytes(flags.atMost, 'at-most'),
    };
    const request = await requestFor(volume, path, { jobs: open.map(jobOf), ...policy, ...limits });
    note(`What is known does not decide it: this ${costOfDecidingOn(info, open, limits)}.`);
    run = await carryOut(request, { server, journalFolder: context.journalFolder });
    if (!flags.fast && !server) await keep(run, info, dataFolder);
    judged = judgeWith([profileRunOf(run, run)]);
  }
  return { label, judged, space: info, run, taken: [], helps: [] };
}

function tell(workload: Workload, { label, judged, space, run, taken, helps }: Answered, flags: CheckFlags): void {
  const answer = answerOf(judged);
  const { verdict, deciding } = answer;
  const sentence = [answer.lead, answer.text, fitsText(workload, judged, space), assumedText(taken)]
    .filter(Boolean)
    .join(' ');
  if (flags.json) {
    printJson({
      question: questionText(label, workload),
      verdict,
      sentence,
      reason: deciding?.verdict.reason ?? null,
      breaksAtSeconds: deciding?.verdict.breaksAtSeconds ?? null,
      bytesMoved: run === null ? 0 : movedBytes(run),
      seconds: run === null ? 0 : measuredSeconds(run),
      run: run && { id: run.id, state: run.state, startedAt: run.startedAt },
      items: judged.map(({ demand, verdict: own, sentence: said }) => ({
        name: demand.name,
        verdict: own.verdict,
        reason: own.reason,
        sentence: said,
      })),
      helps,
    });
  } else {
    print(questionText(label, workload));
    print(sentence);
    helps.map(helpText).forEach(print);
    const proof = deciding?.verdict.wouldProve;
    if (verdict === 'not-proven' && proof) print(`What would prove it: ${provingWords(proof)}`);
  }
  if (run?.failure) throw new Problem(run.failure.code, run.failure.detail, { status: 500 });
  endWith(exitCodeOf([verdict]));
}

/** How long it went on, without what it waited for others. */
const measuredSeconds = ({ samples, markers }: RunDocument): number =>
  markers.reduce((sum, { kind, seconds }) => (kind === 'rest' ? sum - seconds : sum), samples.atSeconds.at(-1) ?? 0);

const movedBytes = ({ figures }: RunSummary): number => (figures.write?.bytes ?? 0) + (figures.read?.bytes ?? 0);

/** The question as a workload: a format, a file like which the material is, or a workload as exported. */
async function workloadFrom(
  what: string | undefined,
  flags: CheckFlags,
): Promise<{ workload: Workload; assumed: string[] }> {
  const asked = [what, flags.file, flags.workload].filter((one) => one !== undefined);
  if (asked.length !== 1) {
    throw badInput('what', 'what: ask about one thing: a format such as “UHD vc3-hq 25p”, --file or --workload.');
  }
  if (flags.workload !== undefined) {
    const workload = parseWorkload(readJson(await textOf(flags.workload, 'workload'), 'workload'));
    if (workload.items.length === 0) throw badInput('workload', 'workload: has no items, so it asks for nothing.');
    return { workload, assumed: [] };
  }
  const essence = flags.file === undefined ? null : await essenceOf(flags.file);
  const action = actionOf(flags);
  // It may be said in one go: “UHD ProRes 422 25p, 2 takes of 3 h”, “240 frames of 1.03 GB, 11 s each”.
  const said = action === 'simulate' || action === 'load' ? null : sortedWhat(what ?? '');
  const frame = action === 'simulate' ? sortedFrame(what ?? '') : null;
  const length = once('for', flags.for, said?.length ?? frame?.frames) ?? (essence ? lengthOf(essence) : null);
  if (said?.action === 'record' && action === 'play')
    throw badInput('play', 'play: the question says that it is recorded. Say one of both.');
  // What is loaded has no limit where none is said.
  if (length === null && action !== 'load') {
    throw badInput(
      'for',
      frame
        ? 'for: is missing. Say how many frames there are, such as --for “240 frames”.'
        : 'for: is missing. Say how long a take is, such as --for 40min.',
    );
  }
  const texts: QuestionTexts = {
    action: said?.action === 'play' ? 'play' : action,
    what: said?.what ?? '',
    length: length ?? '',
    frame: frame?.frame ?? '',
    frames: length ?? '',
    compute: once('computing', flags.computing, frame?.compute) ?? FIRST_QUESTION.compute,
    load: what ?? '',
    limit: length ?? '',
    takes: once('takes', flags.takes, said?.takes) ?? FIRST_QUESTION.takes,
    between: flags.takenOff ? 'take-off' : 'stay',
    gap: flags.gap,
    buffer: flags.buffer,
  };
  return askedWorkload(texts, essence);
}

/** What is said as a flag or with the rest; null where it is not. @throws Problem `bad-input` where both say something else */
function once(flag: string, given: string | undefined, said: string | null | undefined): string | null {
  if (given !== undefined && said && given.trim() !== said.trim())
    throw badInput(flag, `${flag}: is said twice, as ${given.trim()} and as ${said.trim()}. Say it once.`);
  return given ?? said ?? null;
}

function actionOf({ play, simulate, load }: CheckFlags): QuestionTexts['action'] {
  if ([play, simulate, load].filter(Boolean).length > 1)
    throw badInput('play', 'play: ask about one of --play, --simulate and --load.');
  return play ? 'play' : simulate ? 'simulate' : load ? 'load' : 'record';
}

async function essenceOf(path: string): Promise<Essence> {
  const found = await stat(path).catch(() => null);
  if (!found?.isFile()) throw badInput('file', `file: there is no file ${path}.`);
  const name = basename(path);
  const clip = () => readClip(new FilePathSource(path), name);
  const file = { path: name, name, bytes: found.size, text: () => textOf(path, 'file'), clip };
  const answer = await readMaterialFiles([file], { numerator: 25, denominator: 1 });
  if (answer.kind === 'material') return answer.material.essence;
  throw badInput('file', `file: ${name} is an edit and no material. Ask about it in Workloads.`);
}

const lengthOf = (essence: Essence): string | null =>
  essence.kind === 'curve' ? `${essence.seconds.at(-1)!} s` : null;

/** What earlier runs of this drive on this connection say; null where none is kept. */
async function knownOf(
  info: VolumeInfo,
  server: ServerNote | undefined,
  dataFolder: string,
  isFast: boolean,
): Promise<Profile | null> {
  const onThis = (profiles: readonly Profile[]) => profileOn(profiles, info.connection);
  if (isFast) return null;
  if (server) {
    const volumes = (await call(server, 'GET', '/api/volumes')) as VolumeEntry[];
    const driveId = volumes.find(({ id }) => id === info.id)?.driveId;
    if (!driveId) return null;
    return onThis(((await call(server, 'GET', `/api/drives/${driveId}/profiles`)) as unknown[]).map(parseProfile));
  }
  if (!existsSync(storeFolderOf(dataFolder))) return null;
  return inStore(dataFolder, async ({ db }) => {
    const card = await findCard(db, info);
    return card ? onThis(await createProfiles(db).of(card.id)) : null;
  });
}

/** Keeps a run with the drive that it was made on, where there is a workspace that it belongs to. */
async function keep(run: RunDocument & RunSummary, info: VolumeInfo, dataFolder: string): Promise<void> {
  if (!existsSync(storeFolderOf(dataFolder))) return;
  const { figures, doubts, startCelsius, written, ...document } = run;
  void [figures, doubts, startCelsius, written];
  await inStore(dataFolder, async ({ db }) => {
    const card = await cardForVolume(db, info, false);
    await insertWholeRun(db, { ...document, drive: driveReference(card) });
  });
}

async function requestFor(volume: Volume, path: string, options: object): Promise<RunRequest> {
  const recipe = recipeById('until-decided');
  const request: RunRequest = {
    runId: randomBytes(6).toString('hex'),
    volume,
    folder: volume.info.kind === 'real' ? resolve(path) : '',
    recipe,
    options: checkOptions(recipe.kind, options),
    targets: [],
  };
  await checkRun(request);
  return request;
}
