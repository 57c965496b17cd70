import { spawn, type ChildProcessWithoutNullStreams } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface, type Interface } from 'node:readline';
import { Command } from 'commander';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addAnalyseCommand } from '#cli/commands/analyse.ts';
import { addFitCommand } from '#cli/commands/fit.ts';
import { addMaterialCommand } from '#cli/commands/material.ts';
import { addRateCommand } from '#cli/commands/rate.ts';
import { addArchiveCommands } from '#cli/commands/archive.ts';
import { addReportCommand } from '#cli/commands/report.ts';
import { addSizeCommand } from '#cli/commands/size.ts';
import { addVerifyCommand } from '#cli/commands/verify.ts';
import { HASH_LIST_FOLDER, hashListName } from '#core/5-answers/copies/hash-list.ts';
import { removeFolder, root, temporaryFolder } from '../../support/app.ts';
import { storeVariables } from '../../support/store.ts';
import { extent, holdsForSeconds } from '../extent.ts';
import { goodFiles } from './good-files.ts';
import { holdsCodes, hostileText, sentenceFault, spoiledBytes } from './made-up.ts';

/** Commands that read, with arguments and files as they should be and nearly so, for so long. */
const SECONDS = extent(90, 30);
/** One that takes longer stands still: the largest sizing takes some seconds. */
const PATIENCE_SECONDS = 60;
/** What the program may end with: done, failed, bad input, breaks, not proven. */
const EXIT_CODES = [0, 1, 2, 3, 4];

interface Ended {
  code: number | string;
  stdout: string;
  stderr: string;
}

/** What people type, right, in the style of other countries, and wrong. */
const TYPED = [
  ...[
    '530MB/s',
    '4.4Gb/s',
    '1,5 GB/s',
    '2 GiB',
    '1.234.567 B',
    '800GB',
    '40min',
    '2h',
    '18:32',
    '1:02:03',
    '25%',
    '1,2',
  ],
  ...[
    '3840x2160',
    '4096 × 2160',
    '25',
    '23.976',
    '24000/1001',
    '23,98',
    '8',
    '8:1',
    '2',
    'half',
    'float',
    'write',
    'read',
  ],
  ...[
    'stay',
    'take-off',
    'rdd36-high',
    '3840x2160 rdd36-high 25p',
    '0',
    '-1',
    '1e30',
    '1e-30',
    '∞',
    '0x10',
    '1 000 000',
  ],
];

/** Where the hash list of the material lies. */
const LIST = join('material', HASH_LIST_FOLDER, hashListName('material', '2026-01-02T03:04:05.000Z'));

let folder: string;
let files: string[];
let host: ChildProcessWithoutNullStreams;
let answers: AsyncIterator<string>;
let lines: Interface;

let store: NodeJS.ProcessEnv = {};

function startHost(): void {
  host = spawn(process.execPath, [join(root, 'e2e/proof/fuzz/command-line-host.mjs')], {
    cwd: folder,
    env: { ...process.env, ...store, TAVROX_DATA: join(folder, 'data') },
  });
  lines = createInterface({ input: host.stdout });
  answers = lines[Symbol.asyncIterator]();
}

/** @throws Error when it takes too long or ends the process */
async function ends(args: readonly string[]): Promise<Ended> {
  host.stdin.write(`${JSON.stringify(args)}\n`);
  const tooLong = setTimeout(() => host.kill('SIGKILL'), PATIENCE_SECONDS * 1000);
  const answer = await answers.next();
  clearTimeout(tooLong);
  if (answer.done) throw new Error(`tavrox ${args.join(' ')} ended the process or took over ${PATIENCE_SECONDS} s.`);
  return JSON.parse(answer.value) as Ended;
}

beforeAll(async () => {
  folder = temporaryFolder('fuzz-line');
  store = await storeVariables(join(folder, 'data'));
  const good = await goodFiles();
  const material = join(folder, 'material');
  mkdirSync(join(material, HASH_LIST_FOLDER), { recursive: true });
  writeFileSync(join(folder, LIST), good['list.mhl']!);
  for (const [name, bytes] of Object.entries(good)) writeFileSync(join(folder, name), bytes);
  for (let frame = 1; frame < 6; frame += 1) writeFileSync(join(material, `a-000${frame}.exr`), Buffer.alloc(1000));
  files = [...Object.keys(good), 'material', '.', 'none.json', '/dev/null', '/dev/zero', '/proc/self/mem', ''];
  startHost();
});
afterAll(() => {
  host.kill('SIGKILL');
  removeFolder(folder);
});

/** The commands that read, as they describe themselves. */
function describedCommands(): readonly Command[] {
  const program = new Command();
  for (const add of [
    addRateCommand,
    addAnalyseCommand,
    addFitCommand,
    addMaterialCommand,
    addVerifyCommand,
    addSizeCommand,
    addReportCommand,
    addArchiveCommands,
  ])
    add(program);
  return program.commands;
}

/** Command lines that are right; of what is behind a file's name there is a good one. */
const RIGHT: readonly (readonly string[])[] = [
  ['rate', '--raster', '3840x2160', '--fps', '25', '--layout', 'rdd36-high'],
  ['rate', '--raster', '4096x2160', '--fps', '24', '--layout', 'exr', '--channels', '4', '--depth', 'half'],
  ['analyse', 'trace.csv'],
  ['analyse', 'run.json', '--json'],
  ['fit', '--trace', 'trace.csv', '--direction', 'write', '--demand', '300MB/s', '--duration', '40min'],
  ['fit', '--trace', 'run.json', '--direction', 'write', '--demand', '1,2 GB/s', '--duration', '20s', '--takes', '3'],
  ['fit', '--profile', 'profile.json', '--workload', 'workload.json', '--free', '800GB'],
  ['material', 'clip.mp4'],
  ['material', 'material', '--fps', '23,976'],
  ['material', 'edit.otio', '--format', '3840x2160 rdd36-high 25p'],
  ['verify', 'material'],
  ['verify', 'material', '--json'],
  ['size', 'plan.sizing.json', '--json'],
  [
    ...['size', '--days', '6 weeks', '--material', 'Cameras: 2 × 30 MB/s × 4 h a day, days 1–30, keep 3 weeks'],
    ...['--drive', '20 TB spinning, 265 MB/s, 530 EUR', '--may-fail', '1', '--budget', '€5,000', '--what-if'],
  ],
  ['report', 'report.pdf'],
  ['report', 'report.html', '--json'],
  ['report', 'report.json', '--out', 'out.csv'],
  ['import', 'archive.zip', '--dry-run', '--take', 'both', '--json'],
  ['import', 'log.csv', '--dry-run', '--columns', 'time in s; write mb/s in MB/s', '--drive', 'Camera B'],
  ['analyse', 'log.csv', '--columns', 'time in s; write mb/s in MB/s'],
];

const typed = fc.oneof(
  { weight: 6, arbitrary: fc.constantFrom(...TYPED) },
  { weight: 2, arbitrary: hostileText },
  { weight: 1, arbitrary: fc.double().map(String) },
);

/** One thing about a command line: a word typed otherwise, one left out, an option more, a file spoiled. */
function changesOf(good: Record<string, Uint8Array>) {
  const option = fc
    .constantFrom(...describedCommands().flatMap(({ options }) => options))
    .chain((one): fc.Arbitrary<string[]> => {
      const [flag, takesValue] = [one.long!, one.required || one.optional];
      return takesValue ? fc.oneof(typed, fc.constantFrom(...files)).map((text) => [flag, text]) : fc.constant([flag]);
    });
  const spoiledFile = fc
    .constantFrom(...Object.keys(good))
    .chain((name) => spoiledBytes(good[name]!).map((bytes) => ({ name, bytes })));
  return fc.record({
    at: fc.nat(),
    how: fc.constantFrom('type', 'drop', 'add', 'spoil', 'spoil'),
    by: fc.oneof({ weight: 3, arbitrary: typed }, { weight: 1, arbitrary: fc.constantFrom(...files) }),
    option,
    spoiledFile,
  });
}

/** Arguments that are right but for some changes, and the files to write for them before. */
function argumentsOf(good: Record<string, Uint8Array>) {
  return fc
    .record({ right: fc.constantFrom(...RIGHT), changes: fc.array(changesOf(good), { maxLength: 3 }) })
    .map(({ right, changes }) => {
      const [command, ...args] = right as [string, ...string[]];
      const writes: { name: string; bytes: Uint8Array }[] = [];
      for (const { at, how, by, option, spoiledFile } of changes) {
        const place = at % Math.max(1, args.length);
        if (how === 'type') args[place] = by;
        else if (how === 'drop') args.splice(place, 1);
        else if (how === 'add') args.push(...option);
        else {
          // A file that is asked for is spoiled; where none is, any of them takes its place.
          const asked = args.findIndex((word) => Object.hasOwn(good, word));
          const name = asked < 0 ? spoiledFile.name : args[asked]!;
          if (asked >= 0) args[asked] = `spoiled-${name}`;
          writes.push({
            name,
            bytes: spoiledFile.name === name ? spoiledFile.bytes : good[name]!.subarray(0, at % good[name]!.length),
          });
        }
      }
      return { args: [command, ...args], writes };
    });
}

describe('command lines, right and wrong', () => {
  it(
    `end with a code and a sentence for ${SECONDS} s`,
    async () => {
      const good = await goodFiles();
      const codes: Record<string, number> = {};
      await holdsForSeconds(
        fc.asyncProperty(argumentsOf(good), async ({ args, writes }) => {
          // What an earlier one spoiled is whole again.
          writeFileSync(join(folder, LIST), good['list.mhl']!);
          for (const { name, bytes } of writes)
            writeFileSync(join(folder, name === 'list.mhl' ? LIST : `spoiled-${name}`), bytes);
          const told = `tavrox ${JSON.stringify(args)}`;
          const { code, stdout, stderr } = await ends(args);
          codes[`${args[0]} ${code}`] = (codes[`${args[0]} ${code}`] ?? 0) + 1;
          expect(EXIT_CODES, `${told}: ${code} ${stderr}`).toContain(code);
          expect(stderr, told).not.toMatch(/^Tavrox failed/m);
          expect(holdsCodes(stdout + stderr), told).toBe(false);
          if (code === 2)
            expect(stdout === '' && sentenceFault(stderr, args), `${told}: ${stdout}${stderr}`).toBeNull();
          else if (stdout !== '') {
            if (args.includes('--json') && !args.includes('--csv') && code !== 2 && stdout.startsWith('{'))
              expect(() => JSON.parse(stdout) as unknown, told).not.toThrow();
            else expect(sentenceFault(stdout, args), `${told}: ${stdout.slice(0, 1000)}`).toBeNull();
          }
        }),
        SECONDS,
      );
      const sum = Object.values(codes).reduce((all, one) => all + one, 0);
      console.log(`${sum} command lines: ${JSON.stringify(codes)}`);
      // Each of them refused some, and did what it is for with others.
      for (const command of describedCommands()) {
        // It opens a store each time, which takes its seconds: what it takes and refuses has tests of its own.
        if (command.name() === 'export') continue;
        const ended = Object.keys(codes).filter((one) => one.startsWith(`${command.name()} `));
        expect(ended.length, command.name()).toBeGreaterThan(1);
      }
    },
    SECONDS * 1000 + 200_000,
  );
});
