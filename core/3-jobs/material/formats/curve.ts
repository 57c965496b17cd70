import { extensionOf, type MaterialFormat } from '#core/3-jobs/material/formats/material-format.ts';
import { materialOfCurve } from '#core/3-jobs/material/material.ts';
import {
  parseRecording,
  parseRecordingCsv,
  recordingProgress,
  recordingTotals,
  type RecordingRows,
} from '#core/3-jobs/recording/recording.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { parseTraceCsv } from '#core/1-ground/curves/trace-csv.ts';

/** Bytes asked for by a moment, as a table: of a trace, or of a recorded program. */
export const curveFormat: MaterialFormat = {
  words: 'a CSV of seconds and bytes, or the recording of a program',
  accepts: (files) => files.length === 1 && ['csv', 'json'].includes(extensionOf(files[0]!.path)),
  async read([file]) {
    const { name } = file!;
    const text = await file!.text();
    return {
      kind: 'material',
      material: materialOfCurve(name, progressOf(text, name)),
    };
  },
};

function progressOf(text: string, name: string): Progress {
  if (extensionOf(name) === 'json') return busierWay(parseRecording(readJson(text, 'file', 'it')).rows);
  return isRecording(text) ? busierWay(parseRecordingCsv(text, name)) : parseTraceCsv(text, name);
}

const isRecording = (text: string): boolean => /^[^\n]*\b(readBytes|writtenBytes)\b/.test(text);

/** A program mostly reads or mostly writes: the way that moved more is what it asks of a drive. */
function busierWay(rows: RecordingRows): Progress {
  const written = recordingProgress(rows, 'write');
  return recordingTotals(rows).readBytes >= written.bytes.at(-1)! ? recordingProgress(rows, 'read') : written;
}
