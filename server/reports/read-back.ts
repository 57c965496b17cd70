import { gunzipSync, inflateSync } from 'node:zlib';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { EMBEDDED_ID } from '#core/6-exchange/report/html.ts';
import { parseReport, type Report } from '#core/6-exchange/report/report.ts';

/** Name of the report in its PDF. */
export const EMBEDDED_FILE = 'tavrox-report.json';

/** Reports beyond this are none of ours: inflated, a small file can become anything. */
const LARGEST_BYTES = 200e6;

/**
 * A report from a file: from its document, its web page or its PDF.
 * @param where it came from, for sentences
 * @throws Problem `bad-input` when there is none in it
 */
export function readReport(file: Uint8Array, where: string): Report {
  const bytes = Buffer.from(file.buffer, file.byteOffset, file.byteLength);
  const text = bytes.subarray(0, 5).toString('latin1') === '%PDF-' ? fromPdf(bytes, where) : fromText(bytes, where);
  return parseReport(readJson(text, where), where);
}

function fromText(bytes: Buffer, where: string): string {
  const text = bytes.toString('utf8').trimStart();
  if (text.startsWith('{')) return text;
  const fault = () =>
    badInput(where, `${where}: there is no report in it. Choose a report of Tavrox as PDF, HTML or JSON.`);
  const opening = `id="${EMBEDDED_ID}">`;
  // The last of them: what people wrote stands before it.
  const from = text.lastIndexOf(opening);
  const to = text.indexOf('</script>', from);
  if (from < 0 || to < 0) throw fault();
  try {
    const packed = Buffer.from(text.slice(from + opening.length, to), 'base64');
    return gunzipSync(packed, { maxOutputLength: LARGEST_BYTES }).toString('utf8');
  } catch {
    throw fault();
  }
}

/**
 * The report that is attached to a PDF as Tavrox writes it: each attachment an object with its length, deflated. Other
 * programs that rewrite a PDF may pack its objects; the attachment can be saved from it with any reader then.
 */
function fromPdf(bytes: Buffer, where: string): string {
  const fault = () =>
    badInput(
      where,
      `${where}: no report is attached to this PDF that can be read. If a program saved it anew, save the attachment ${EMBEDDED_FILE} from it and open that.`,
    );
  let from = bytes.indexOf('/Type /EmbeddedFile');
  while (from >= 0) {
    const stream = bytes.indexOf('stream\n', from);
    const dictionary = bytes.subarray(from, Math.max(from, stream)).toString('latin1');
    const length = Number(/\/Length (\d+)\b(?! \d+ R)/.exec(dictionary)?.[1]);
    if (stream > 0 && dictionary.includes('json') && Number.isInteger(length)) {
      const begin = stream + 'stream\n'.length;
      const data = bytes.subarray(begin, begin + length);
      try {
        return dictionary.includes('/FlateDecode')
          ? inflateSync(data, { maxOutputLength: LARGEST_BYTES }).toString('utf8')
          : data.toString('utf8');
      } catch {
        throw fault();
      }
    }
    from = bytes.indexOf('/Type /EmbeddedFile', from + 1);
  }
  throw fault();
}
