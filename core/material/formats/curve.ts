import { extensionOf, type MaterialFormat } from '#core/material/formats/material-format.ts';
import { materialOfCurve } from '#core/material/material.ts';
import { parseTraceCsv } from '#core/trace/trace-csv.ts';

/** Bytes asked for by a moment, as a table. */
export const curveFormat: MaterialFormat = {
  words: 'a CSV of seconds and bytes',
  accepts: (files) => files.length === 1 && extensionOf(files[0]!.path) === 'csv',
  async read([file]) {
    return { kind: 'material', material: materialOfCurve(file!.name, parseTraceCsv(await file!.text(), file!.name)) };
  },
};
