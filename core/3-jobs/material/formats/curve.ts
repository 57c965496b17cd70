import { extensionOf, type MaterialFormat } from '#core/3-jobs/material/formats/material-format.ts';
import { materialOfCurve } from '#core/3-jobs/material/material.ts';
import { parseRecordingCsv, recordingProgress, recordingTotals } from '#core/3-jobs/recording/recording.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { parseTraceCsv } from '#core/1-ground/curves/trace-csv.ts';

/** Bytes asked for by a moment, as a table: of a trace, or of a recorded program. */
export const curveFormat: MaterialFormat = {
  words: 'a CSV of seconds and bytes',
  accepts: (files) => files.length === 1 && extensionOf(files[0]!.path) === 'csv',
  async read([file]) {
    const { name } = file!;
    const text = await file!.text();
    return {
      kind: 'material',
      material: materialOfCurve(name, isRecording(text) ? busierWay(text, name) : parseTraceCsv(text, name)),
    };
  },
};

const isRecording = (text: string): boolean => /^[^\n]*\b(readBytes|writtenBytes)\b/.test(text);

/** A program mostly reads or mostly writes: the way that moved more is what it asks of a drive. */
function busierWay(text: string, name: string): Progress {
  const rows = parseRecordingCsv(text, name);
  const { readBytes, writtenBytes } = recordingTotals(rows);
  return recordingProgress(rows, readBytes >= writtenBytes ? 'read' : 'write');
}
