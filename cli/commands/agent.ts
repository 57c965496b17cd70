import { randomBytes } from 'node:crypto';
import { realpath } from 'node:fs/promises';
import { resolve, sep } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { Command } from 'commander';
import { askedVolume } from '#cli/asked-volume.ts';
import { carryOut } from '#cli/carry-out.ts';
import { textOf } from '#cli/files.ts';
import { again } from '#cli/flags.ts';
import { hearHouse, houseAt, tellHouse, whyNotReached, type HouseAddress } from '#cli/house/client.ts';
import { keepToSend, sendWaiting, tellSent } from '#cli/house/send.ts';
import { note, print } from '#cli/output.ts';
import { onEnding } from '#cli/signals.ts';
import type { AgentAsk, AskState } from '#core/6-exchange/api/wire.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { checkOptions } from '#core/3-jobs/recipes/registry.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { checkRun, type RunRequest } from '#engine/run/runner.ts';
import { defaultDataFolder } from '#server/serve.ts';
import { hostOf } from '#server/store/host.ts';

interface AgentFlags {
  allow?: string[];
  allowFrom?: string;
  ca?: string;
}

const AGAIN_MILLISECONDS = 5000;

export function addAgentCommand(program: Command): void {
  program
    .command('agent')
    .description(
      'measures what a house asks for, in the folders that are allowed here, and sends the runs; with the token in TAVROX_TOKEN',
    )
    .argument('<url>', 'address of the house, such as https://tavrox.example:4781')
    .option('--allow <folder>', 'a folder that may be measured, and all in it; as often as there are some', again)
    .option('--allow-from <file>', 'a file that names such folders, one a line; # begins a remark')
    .option('--ca <file>', 'certificate that the house is trusted by, where the system does not know it')
    .action(agent);
}

async function agent(url: string, { allow = [], allowFrom, ca }: AgentFlags): Promise<void> {
  const house = houseAt(url, process.env['TAVROX_TOKEN'], ca, 'url');
  const named = allowFrom === undefined ? [] : foldersIn(await textOf(allowFrom, 'allow-from'));
  const folders = await Promise.all([...allow, ...named].map(realFolder));
  if (folders.length === 0) {
    throw badInput('allow', 'allow: names no folder that may be measured. Give one, or a file of them to allow-from.');
  }
  const dataFolder = defaultDataFolder();
  const { id, name } = hostOf(dataFolder);
  const ending = new AbortController();
  onEnding(() => ending.abort());
  /** One after the other: they could be on one drive. */
  let working: Promise<void> = Promise.resolve();
  while (!ending.signal.aborted) {
    try {
      await hearHouse<AgentAsk>(
        house,
        `/api/agents/${id}`,
        { name, folders },
        {
          signal: ending.signal,
          onOpen: () => {
            print(`${name} measures for ${house.url}: ${folders.join(', ')}.`);
            // What was kept while it was away.
            working = working.then(() => flush(dataFolder, house));
          },
          hear: (ask) => {
            working = working.then(() => carryOutAsk(ask, folders, { id, dataFolder, house }));
          },
        },
      );
    } catch (error) {
      const isRefused = error instanceof Problem && [401, 403].includes(error.status);
      if (isRefused) throw error;
      note(`${whyNotReached(error, house)} It is tried again.`);
    }
    await wait(AGAIN_MILLISECONDS, undefined, { signal: ending.signal }).catch(() => undefined);
  }
  await working;
}

/** Folders that a file names, one a line. */
const foldersIn = (text: string): string[] =>
  text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter((line) => line !== '' && !line.startsWith('#'));

/** @throws Problem `bad-input` where there is no such folder */
async function realFolder(folder: string): Promise<string> {
  try {
    return await realpath(resolve(folder));
  } catch (error) {
    throw badInput('allow', `allow: ${folder} cannot be found (${(error as NodeJS.ErrnoException).code}).`);
  }
}

const flush = async (dataFolder: string, house: HouseAddress): Promise<void> =>
  tellSent(await sendWaiting(dataFolder, house), house);

interface Where {
  id: string;
  dataFolder: string;
  house: HouseAddress;
}

/** Carries out what was asked; whatever becomes of it is told to the house, and nothing here ends by it. */
async function carryOutAsk(ask: AgentAsk, allowed: readonly string[], { id, dataFolder, house }: Where): Promise<void> {
  const report = (state: AskState, text = '', runId: string | null = null): Promise<void> =>
    tellHouse(house, `/api/agents/${id}/reports`, JSON.stringify({ askId: ask.id, state, text, runId })).catch(
      (error: unknown) => note(whyNotReached(error, house)),
    );
  note(`Asked: ${ask.recipeId} in ${ask.folder}.`);
  try {
    const request = await requestOf(ask, allowed);
    await report('measuring');
    const { volume, context, server } = request;
    const run = await carryOut({ ...request.run, volume }, { server, journalFolder: context.journalFolder });
    keepToSend(dataFolder, run, house);
    await flush(dataFolder, house);
    await report(run.failure ? 'failed' : 'sent', run.failure?.detail ?? '', run.id);
  } catch (error) {
    const isRefused = error instanceof Problem;
    await report(isRefused ? 'refused' : 'failed', isRefused ? error.detail : (error as Error).message);
  }
}

/** @throws Problem where the folder is none that is allowed, links followed, or the run cannot be made there */
async function requestOf(ask: AgentAsk, allowed: readonly string[]) {
  const folder = await realpath(ask.folder).catch(() => null);
  if (
    folder === null ||
    !allowed.some((one) => folder === one || folder.startsWith(one.endsWith(sep) ? one : one + sep))
  ) {
    throw new Problem('not-allowed', `${ask.folder} is no folder that is allowed on this machine.`, { status: 403 });
  }
  const recipe = recipeById(ask.recipeId);
  const options = checkOptions(recipe.kind, ask.options);
  const { volume, context, server } = await askedVolume(folder, {});
  const runId = randomBytes(6).toString('hex');
  const run: RunRequest = { runId, volume, folder, recipe, options, targets: [] };
  await checkRun(run);
  return { run, volume, context, server };
}
