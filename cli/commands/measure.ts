import { randomBytes } from 'node:crypto';
import { resolve } from 'node:path';
import type { Command } from 'commander';
import { askedVolume, type HowAsked } from '#cli/asked-volume.ts';
import { carryOut } from '#cli/carry-out.ts';
import { again, camelCase } from '#cli/flags.ts';
import { houseAt } from '#cli/house/client.ts';
import { keepToSend, sendWaiting, tellSent } from '#cli/house/send.ts';
import { printRun } from '#cli/print-run.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import type { Field } from '#core/1-ground/fields/field.ts';
import { readOptions } from '#core/3-jobs/recipes/read-options.ts';
import { RECIPE_KINDS, type AnyRecipeKind } from '#core/3-jobs/recipes/registry.ts';
import { FAULT_KINDS, type Fault } from '#core/4-runs/stand-ins/faults.ts';
import { parseBytes } from '#core/1-ground/units/quantity.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { checkRun, type RunRequest } from '#engine/run/runner.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import { volumeForPath, type VolumesContext } from '#engine/volumes/registry.ts';
import { defaultDataFolder } from '#server/serve.ts';
import type { RunTarget } from '#engine/volumes/volume.ts';

interface MeasureFlags extends HowAsked {
  recipe: string;
  json?: boolean;
  fault?: string[];
  to?: string[];
  send?: string;
  ca?: string;
  /** The recipes' own flags, by their names in camel case. */
  [flag: string]: unknown;
}

/** Recipes that are chosen by themselves: the others are started by questions. */
const CHOSEN_KINDS = RECIPE_KINDS.filter(({ isAsked }) => !isAsked);

/** Every flag of every recipe once, with the labels of the options it stands for. */
function recipeFlags(): Map<string, { field: Field; recipes: string[] }> {
  const flags = new Map<string, { field: Field; recipes: string[] }>();
  for (const { id, fields } of CHOSEN_KINDS) {
    for (const field of fields) {
      const known = flags.get(field.flag);
      if (known) known.recipes.push(id);
      else flags.set(field.flag, { field, recipes: [id] });
    }
  }
  return flags;
}

export function addMeasureCommand(program: Command): void {
  const command = program
    .command('measure')
    .description('measures a folder on a real volume, or a stand-in by its name')
    .argument('<folder>', 'a folder, or a stand-in such as petrel-2t')
    .option('--recipe <id>', `what the run does: ${CHOSEN_KINDS.map((kind) => kind.id).join(', ')}`, 'short-passes')
    .option('--fast', 'stand-ins as fast as the processor allows')
    .option('--use-all', 'nothing else is kept on the drive: it may be filled to its end')
    .option('--fault <kind>', 'switches a fault on in a stand-in, such as stall or unplugged=20; repeatable', again)
    .option('--to <folder>', 'a folder, or a stand-in, to copy to (copy); repeatable', again)
    .option(
      '--send <url>',
      'also sends the run to a house, with the token in TAVROX_TOKEN; what cannot be sent is kept, and sent with the next',
    )
    .option('--ca <file>', 'certificate that the house is trusted by, where the system does not know it')
    .option('--json', 'print the run as JSON');
  for (const [flag, { field, recipes }] of recipeFlags()) {
    const value = field.kind.as === 'switch' ? '[yes|no]' : '<value>';
    const help = `${field.label.toLowerCase()} (${recipes.join(', ')})`;
    if (field.kind.as === 'lines') command.option(`--${flag} ${value}`, `${help}; repeatable`, again);
    else command.option(`--${flag} ${value}`, help);
  }
  command.action(measure);
}

/** What was typed after a flag; switches may stand alone, streams may come several times. */
function textOf(value: unknown): string {
  if (value === true) return 'yes';
  return Array.isArray(value) ? value.join('\n') : (value as string);
}

/** @throws Problem `bad-input` on a flag that the recipe does not have, and on what its value cannot be. */
function optionsFrom(kind: AnyRecipeKind, flags: MeasureFlags): object {
  const texts: Record<string, string> = {};
  for (const flag of recipeFlags().keys()) {
    const value = flags[camelCase(flag)];
    if (value === undefined) continue;
    const field = kind.fields.find((one) => one.flag === flag);
    if (!field) throw badInput(flag, `${flag}: ${kind.label} has no such option. See “tavrox measure --help”.`);
    texts[field.option] = textOf(value);
  }
  const { options, errors } = readOptions(kind, texts);
  const [where, fault] = Object.entries(errors)[0] ?? [];
  if (options === null) throw badInput(where ?? 'options', fault ?? 'options: cannot be used.');
  return options;
}

/** `stall`, or `unplugged=20` with the seconds or bytes at which it strikes. */
function faultsFrom(texts: readonly string[] | undefined): Fault[] {
  return (texts ?? []).map((text) => {
    const [name = '', at] = text.split('=');
    const kind = FAULT_KINDS.find((one) => one === name);
    if (!kind) throw badInput('fault', `fault: there is no “${name}”. There is: ${FAULT_KINDS.join(', ')}.`);
    return { kind, at: at === undefined ? null : parseBytes(at, 'fault') };
  });
}

async function measure(path: string, flags: MeasureFlags): Promise<void> {
  const recipe = recipeById(flags.recipe);
  if (recipe.kind.isAsked) {
    throw badInput('recipe', `recipe: ${recipe.kind.label} is started by a question. See “tavrox check --help”.`);
  }
  const options = optionsFrom(recipe.kind, flags);
  // Before anything is measured.
  const house = flags.send === undefined ? null : houseAt(flags.send, process.env['TAVROX_TOKEN'], flags.ca, 'send');
  const faults = faultsFrom(flags.fault);
  const standIn = STAND_INS.find((one) => [one.id, `stand-in-${one.id}`].includes(path));
  const faulty: VolumesContext['faults'] = new Map(standIn && faults.length > 0 ? [[standIn.id, faults]] : []);
  const { volume, context, server } = await askedVolume(path, flags, faulty);
  if (faults.length > 0 && volume.info.kind === 'real') {
    throw badInput('fault', 'fault: only stand-ins have faults that can be switched on.');
  }
  const folder = volume.info.kind === 'real' ? resolve(path) : '';
  const runId = randomBytes(6).toString('hex');
  const targets: RunTarget[] = [];
  for (const place of flags.to ?? []) {
    const target = await volumeForPath(place, context);
    targets.push({ volume: target, folder: target.info.kind === 'real' ? resolve(place) : '' });
  }
  const request: RunRequest = { runId, volume, folder, recipe, options, targets };
  await checkRun(request);

  const result = await carryOut(request, { server, journalFolder: context.journalFolder });
  printRun(result, flags.json ?? false);
  if (house) {
    keepToSend(defaultDataFolder(), result, house);
    tellSent(await sendWaiting(defaultDataFolder(), house), house);
  }
  if (result.failure) throw new Problem(result.failure.code, result.failure.detail, { status: 500 });
}
