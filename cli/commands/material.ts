import { readdir, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Command } from 'commander';
import { textOf } from '#cli/files.ts';
import { print, printJson, tableLines } from '#cli/output.ts';
import { materialOfEdit } from '#core/3-jobs/material/edit.ts';
import type { Material } from '#core/3-jobs/material/material.ts';
import type { MaterialFile } from '#core/3-jobs/material/formats/material-format.ts';
import { materialWords, readMaterialFiles } from '#core/3-jobs/material/formats/registry.ts';
import { FilePathSource, readClip } from '#core/3-jobs/material/read-clip.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { bytesText, formatDuration, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { frameRateText, parseFrameRate } from '#core/1-ground/units/frame-rate.ts';
import { burstOver } from '#core/3-jobs/demand/demand.ts';

interface MaterialFlags {
  fps: string;
  format?: string;
  json?: boolean;
}

export function addMaterialCommand(program: Command): void {
  program
    .command('material')
    .description('what real material asks of a drive: a clip, a folder of numbered files, a timeline, or a CSV')
    .argument('<path>', materialWords())
    .option('--fps <rate>', 'frames per second of numbered files', '25')
    .option('--format <format>', 'what the clips of a timeline are, such as “3840x2160 rdd36-high 25p” or 88MB/s')
    .option('--json', 'print JSON')
    .action(async (path: string, flags: MaterialFlags) => {
      const material = await materialAt(path, flags);
      if (flags.json) printJson(material);
      else show(material);
    });
}

async function materialAt(path: string, flags: MaterialFlags): Promise<Material> {
  const found = await stat(path).catch(() => null);
  if (!found) throw badInput('path', `path: there is no ${path}.`);
  const files = found.isDirectory() ? await filesIn(path) : [materialFile(path, basename(path), found.size)];
  const answer = await readMaterialFiles(files, parseFrameRate(flags.fps));
  return answer.kind === 'material'
    ? answer.material
    : materialOfEdit(answer.edit, { common: flags.format ?? null, own: {} });
}

const materialFile = (path: string, name: string, bytes: number): MaterialFile => ({
  path: name,
  name,
  bytes,
  text: () => textOf(path, 'material'),
  clip: () => readClip(new FilePathSource(path), name),
});

async function filesIn(folder: string): Promise<MaterialFile[]> {
  const entries = (await readdir(folder, { withFileTypes: true })).filter((entry) => entry.isFile());
  return Promise.all(
    entries.map(async ({ name }) => {
      const path = join(folder, name);
      return materialFile(path, name, (await stat(path)).size);
    }),
  );
}

function show({ essence, rates, notes, peaks }: Material): void {
  const rows: [string, string][] = [];
  if (rates) {
    if (!rates.isSoundOnly) {
      rows.push(
        ['frames', `${formatNumber(rates.frames, 'full')} at ${frameRateText(rates.frameRate)}`],
        ['a frame', `${bytesText(rates.smallestFrameBytes)} – ${bytesText(rates.largestFrameBytes)}`],
      );
    }
    rows.push(
      ['length', formatDuration(rates.durationSeconds)],
      ['on average', rateText(rates.bytesPerSecond)],
      ['worst second', `${rateText(rates.peakBytesPerSecond)} from ${formatDuration(rates.peakAtSeconds)}`],
      ['above average', bytesText(rates.burstBytes)],
    );
  } else if (essence.kind === 'curve') {
    const seconds = essence.seconds.at(-1)!;
    const average = essence.bytes.at(-1)! / seconds;
    rows.push(
      ['length', formatDuration(seconds)],
      ['on average', rateText(average)],
      ['above average', bytesText(burstOver(essence, average))],
    );
  }
  tableLines(rows).forEach(print);
  for (const { fromSeconds, toSeconds, bytesPerSecond, layers } of peaks) {
    print(
      `${formatDuration(fromSeconds)} – ${formatDuration(toSeconds)}: ${rateText(bytesPerSecond)}, ${layers.map((layer) => layer.name).join(', ')}`,
    );
  }
  notes.forEach(print);
}
