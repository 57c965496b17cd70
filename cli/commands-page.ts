import type { Command } from 'commander';
import { capitalized } from '#core/1-ground/words.ts';

/** What a command ends with, in one table for all of them. */
const EXIT_CODES: readonly (readonly [code: number, meaning: string])[] = [
  [0, 'done; where there is a verdict, *holds* or *tight*; where a folder was verified, all alike'],
  [1, 'a run failed, or something broke off in the middle'],
  [2, 'what was asked for cannot be done: a flag, a file or a folder, named in the sentence'],
  [3, '`check`, `fit`: *breaks*; `size`: nothing does what is asked; `verify`: something is not alike'],
  [4, '`check`, `fit`: *not proven*'],
];

/** Examples, one or two a command, that can be typed as they are. */
const EXAMPLES: Record<string, readonly string[]> = {
  serve: ['tavrox serve --port 4781', 'tavrox serve --data ./other --restore backup.tar.gz'],
  demo: ['tavrox demo'],
  address: ['tavrox address'],
  check: [
    'tavrox check /media/shuttle "3 × 3840x2160 4:2:2 10 bit 25p" --for 40min --takes 4 --taken-off',
    'tavrox check /media/shuttle "ProRes 422 HQ UHD 25p, 2 cameras, 3 takes of 1 h 20"',
    'tavrox check /media/shuttle --file clip.mov --for 18:32 --play',
    'tavrox check /media/shuttle "1.03 GB" --simulate --for "240 frames" --computing 11s',
    'tavrox check /media/shuttle "480*360*280, density and velocity, 16 bit" --simulate --for "240 frames" --computing 11s',
    'tavrox check /media/shuttle "3.2 GB in 256 KiB x8, 5 s processor" --load --for 20s',
    'tavrox check /media/card "48 kHz 24 bit x2" --for 2h --use-all',
    'tavrox check "20 TB spinning, 265 MB/s, 12 ms, SATA" "3 × UHD vc3-444 25p" --for 1h45',
    'tavrox check "1 TB flash, 250 MB/s" "1.03 GB" --simulate --for "240 frames" --computing 11s --against "2 TB flash, 2000 MB/s, 200 EUR" --processor "1.5 times, 600 EUR"',
  ],
  measure: [
    'tavrox measure /media/shuttle --recipe long-fill --size 200GB',
    'tavrox measure /media/shuttle --send https://tavrox.example:4781',
  ],
  volumes: ['tavrox volumes --json'],
  drive: [
    'tavrox drive add "Falcon: 20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR"',
    'tavrox drive add "2 TB portable SSD 1050 MB/s read 1000 MB/s write USB 3.2 Gen 2 189 €"',
    'tavrox drive add --profile shuttle.profile.json --capacity "2 TB" --price "189 EUR"',
    'tavrox drive list --json',
    'tavrox drive remove Falcon',
    'tavrox drive join Falcon "ST20 0001"',
  ],
  rate: ['tavrox rate --layout vc3-444 --raster 3840x2160 --fps 25 --streams 3'],
  analyse: ['tavrox analyse trace.csv', 'tavrox analyse log.csv --columns "Elapsed in ms; Write in MB/s"'],
  fit: [
    'tavrox fit --trace trace.csv --direction write --demand 530MB/s --duration 2h --free 800GB',
    'tavrox fit --profile petrel.profile.json --workload night.workload.json',
  ],
  material: ['tavrox material clip.mov'],
  verify: ['tavrox verify /media/shuttle/A001'],
  record: ['tavrox record --out sim.recording.json -- ./simulate --frames 20'],
  size: [
    'tavrox size film.sizing.json --what-if',
    'tavrox size --days "14 weeks" --calendar "Shooting: 8 weeks, 5 days a week" --material "Cameras: 3 × UHD vc3-444 25p × 4 h a shooting day" --material "Proxies: 5 % of Cameras" --drive "20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR" --enclosure "Shelf: 12 slots, 900 EUR, at most 3" --connection "10 Gb/s: card 120 + cable 40 over Ethernet 10 Gb/s" --drives-at-most 36 --record "3 × UHD vc3-444 25p" --for 1h45',
    'tavrox size --days 60 --material "Cameras: 2 TB a day, days 1–30" --drive "20 TB spinning, 265 MB/s, 530 EUR" --buy-on "day 16, 10 % less" --to-buy',
  ],
  report: ['tavrox report evening.pdf --out evening.html', 'tavrox report evening.json --out evening.csv'],
  export: ['tavrox export --out all.zip', 'tavrox export --only workload,run:r-8a1f --out some.zip'],
  import: [
    'tavrox import all.zip --dry-run',
    'tavrox import log.csv --drive "Camera B" --columns "t in s; Write in MB/s"',
  ],
  backup: ['tavrox backup /media/safe/tavrox.tar.gz'],
  token: ['tavrox token add "Anna’s laptop" --scope measure', 'tavrox token revoke "Anna’s laptop"'],
  agent: ['tavrox agent https://tavrox.example:4781 --allow /media'],
  doctor: ['tavrox doctor --json'],
  move: ['tavrox move --to postgres://tavrox@server/tavrox'],
  restore: ['tavrox restore /media/safe/tavrox.tar.gz'],
  completion: ['tavrox completion bash > /etc/bash_completion.d/tavrox'],
};

/** A text in a table; within marks of code nothing but the bar means anything. */
const code = (text: string): string => `\`${text.replaceAll('|', '\\|')}\``;
const cell = (text: string): string => text.replaceAll('|', '\\|').replaceAll('<', '&lt;');

/** A page on all commands: what each does, takes and ends with. Made by `npm run formats`. */
export function commandsPage(program: Command): string {
  return `# Commands

Made by \`npm run formats\` from the commands themselves. From the project folder a command is typed \`node bin/tavrox.js …\`; where it
is installed, \`tavrox …\`. Every command that prints figures takes \`--json\` and then prints one document and nothing else; progress
and sentences about faults go to standard error.

## Exit codes

| code | meaning |
|---|---|
${EXIT_CODES.map(([code, meaning]) => `| ${code} | ${meaning} |`).join('\n')}
${program.commands.map(sectionOf).join('')}`;
}

function sectionOf(command: Command): string {
  const rows = command.options.map(({ flags, description, defaultValue }) => {
    const usual =
      defaultValue === undefined || defaultValue === false ? '' : `; ${String(defaultValue)} where nothing is said`;
    return `| ${code(flags)} | ${cell(description)}${cell(usual)} |`;
  });
  const taken = command.registeredArguments.map((one) => {
    const name = one.required ? `<${one.name()}>` : `[${one.name()}]`;
    return `| ${code(name)} | ${cell(one.description)} |`;
  });
  const table = [...taken, ...rows];
  const examples = EXAMPLES[command.name()] ?? [];
  return `
## tavrox ${command.name()}

${capitalized(command.description())}.
${table.length === 0 ? '' : `\n| | |\n|---|---|\n${table.join('\n')}\n`}${examples.length === 0 ? '' : `\n\`\`\`\n${examples.join('\n')}\n\`\`\`\n`}`;
}
