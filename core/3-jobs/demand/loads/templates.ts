import { parsePhase } from '#core/3-jobs/demand/loads/phase-line.ts';
import type { Phase } from '#core/3-jobs/demand/loads/load-item.ts';

/** A kind of load to start from. All figures are made up, of the order that such things have. */
export interface LoadTemplate {
  label: string;
  phases: readonly Phase[];
  installBytes: number | null;
}

const template = (label: string, installBytes: number | null, ...lines: string[]): LoadTemplate => ({
  label,
  installBytes,
  phases: lines.map(parsePhase),
});

export const LOAD_TEMPLATES: readonly LoadTemplate[] = [
  template('Game launch', 80e9, 'Launch: 7 s processor, 1.4 GB in 128 KiB x4, 1800 files, overlap 30%, within 25 s'),
  template('Level load', 80e9, 'Level: 5 s processor, 3.2 GB in 256 KiB x8, 600 files, overlap 40%, within 20 s'),
  template('Streaming while moving', 80e9, 'Streaming: 24 MB in 64 KiB x4, every 500 ms for 10 min, within 400 ms'),
  template('Tool start', 6e9, 'Start: 4 s processor, 900 MB in 64 KiB x2, 5200 files, within 15 s'),
  template(
    'Archive unpacking',
    null,
    'Unpack: 90 s processor, 24 GB in 1 MiB x2, 12000 files, overlap 80%, within 5 min',
  ),
  template('Install check', 80e9, 'Check: 60 s processor, 80 GB in 1 MiB x4, 9000 files, overlap 90%, within 10 min'),
  template(
    'Large project open',
    250e9,
    'Open: 18 s processor, 2.6 GB in 32 KiB x2, 14000 files, overlap 20%, within 1 min',
  ),
  template(
    'Large model file into memory',
    40e9,
    'Load: 3 s processor, 40 GB in 4 MiB x8, 1 files, overlap 60%, within 30 s',
  ),
  template('System start', 60e9, 'Start: 9 s processor, 2.1 GB in 32 KiB x4, 9000 files, overlap 50%, within 30 s'),
];
