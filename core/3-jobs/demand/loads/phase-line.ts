import { eachLine } from '#core/1-ground/fields/kinds.ts';
import { LARGEST_REQUEST_BYTES, SMALLEST_REQUEST_BYTES, type Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { withColon } from '#core/1-ground/words.ts';
import {
  parseBytes,
  parseCount,
  parseDuration,
  parseNumber,
  parseRate,
  parseShare,
} from '#core/1-ground/units/quantity.ts';
import { blockTyped, bytesTyped, secondsTyped, shareTyped } from '#core/1-ground/units/typable.ts';

/** What streams all the time comes in chunks so far apart, and is looked at for so long where nothing else is said. */
const ALWAYS_EVERY_SECONDS = 0.5;
const ALWAYS_FOR_SECONDS = 600;

const IN_REQUESTS = String.raw`(?:\s+(?:in|random(?:\s+in)?)\s+(.+?)(?:\s+(?:reads|requests|blocks))?)?`;
const AT_A_TIME = String.raw`(?:\s*[x×](\d+)|\s+(?:qd|queue\s+depth|depth)\s*(\d+))?`;
/** Bytes, the size of requests, and how many at a time. */
const DATA = new RegExp(String.raw`^(.+?)(?:\s+(?:in\s+all|in\s+total|altogether))?${IN_REQUESTS}${AT_A_TIME}$`, 'i');

const EXAMPLE = 'Level: 4 s processor, 1.8 GB in 64 KiB x8, 900 files, within 20 s';

/**
 * A phase from a line as people type it: its name, then in any order, with commas: `4 s processor`,
 * `1.8 GB in 64 KiB x8` or `1.8 GB in 64k QD8` (bytes, request size, requests at a time), `900 files` (opened or looked
 * up) or `900 files of 2 MB`, `629 MB written`, `overlap 40%`, `within 20 s` or `under 20 s`, and for what streams in while it is used `every 500 ms for 10 min`,
 * or `80 MB/s all the time` and for how long.
 * @throws Problem `bad-input` that says which part of the line is at fault
 */
export function parsePhase(line: string): Phase {
  const fault = (what: string) => badInput('phases', `phases: “${line}”: ${what} Type a line such as “${EXAMPLE}”.`);
  // “Level 12 GB within 10 s”: its name is what stands before the first number.
  const named = withColon(line, String.raw`\d`);
  const colon = named.indexOf(':');
  const name = named.slice(0, colon).trim();
  if (colon < 0 || name === '') throw fault('it begins with a name and a colon.');
  const phase: Phase = {
    name: name.slice(0, 60),
    processorSeconds: 0,
    bytes: 0,
    requestBytes: 1024 * 1024,
    parallel: 1,
    operations: 0,
    overlapShare: 0,
    limitSeconds: null,
    stream: null,
  };
  const parts = named
    .slice(colon + 1)
    // What it may take needs no comma before it.
    .replaceAll(/(?<=[^\s,])\s+(?=(?:within|under|at most|in less than)\s+\d|<\s*\d)/gi, ', ')
    .split(/,(?=\s|[a-z])/i)
    .map((part) => part.trim())
    .filter(Boolean);
  for (const part of parts) {
    try {
      takePart(phase, part, fault);
    } catch (error) {
      if (error instanceof Problem && error.where !== 'phases') throw fault(error.detail);
      throw error;
    }
  }
  const { processorSeconds, bytes, operations, writtenBytes = 0 } = phase;
  if (processorSeconds + bytes + operations + writtenBytes === 0) throw fault('it does nothing.');
  if (phase.stream && phase.bytes === 0) throw fault('a stream needs the bytes of each chunk.');
  return phase;
}

function takePart(phase: Phase, part: string, fault: (what: string) => Problem): void {
  const processor = /^(.+?)\s+(?:of\s+)?(?:processor|computing|cpu)(?:\s+time)?$/i.exec(part);
  if (processor) {
    phase.processorSeconds = parseDuration(processor[1]!, 'processor');
    return;
  }
  const files = /^(\S+)\s+(?:small\s+|loose\s+)?(?:files?|operations?)(?:\s+of\s+(.+?)(?:\s+each)?)?$/i.exec(part);
  if (files) {
    phase.operations = fileCount(files[1]!);
    if (files[2] === undefined) return;
    const size = parseBytes(files[2], 'size of a file');
    phase.bytes = phase.operations * size;
    // No request reads more than the file has.
    phase.requestBytes = Math.min(phase.requestBytes, Math.max(SMALLEST_REQUEST_BYTES, size));
    return;
  }
  const requests = /^(\S+(?:\s+\S+)?)\s+(?:reads|requests|blocks)$/i.exec(part);
  if (requests) {
    phase.requestBytes = askedBytes(requests[1]!, fault);
    return;
  }
  const parallel =
    /^(?:qd|queue\s+depth|depth)\s*(\d+)$|^(\d+)\s+(?:threads?|readers?|workers?|at\s+a\s+time|at\s+once|in\s+parallel)$/i.exec(
      part,
    );
  if (parallel) {
    phase.parallel = atATime((parallel[1] ?? parallel[2])!, fault);
    return;
  }
  const written = /^(.+?)\s+written$/i.exec(part);
  if (written) {
    phase.writtenBytes = parseBytes(written[1]!, 'written');
    return;
  }
  const always = /^(.+?)\s+(?:all the time|continuously|constantly)(?:\s+for\s+(.+))?$/i.exec(part);
  if (always) {
    phase.bytes = Math.round(parseRate(always[1]!, 'rate') * ALWAYS_EVERY_SECONDS);
    const forSeconds = always[2] === undefined ? ALWAYS_FOR_SECONDS : parseDuration(always[2], 'for');
    phase.stream = {
      everySeconds: ALWAYS_EVERY_SECONDS,
      forSeconds: positive(forSeconds, 'the time it streams', fault),
    };
    return;
  }
  const overlap = /^overlap\s+(.+)$/i.exec(part);
  if (overlap) {
    phase.overlapShare = parseShare(overlap[1]!, 'overlap');
    if (phase.overlapShare > 1) throw fault('the overlap is at most 100%.');
    return;
  }
  const within = /^(?:(?:within|in\s+less\s+than|at\s+most|under)\s+|<\s*)(.+)$/i.exec(part);
  if (within) {
    phase.limitSeconds = positive(parseDuration(within[1]!, 'within'), 'the limit', fault);
    return;
  }
  const stream = /^every\s+(.+?)\s+for\s+(.+)$/i.exec(part);
  if (stream) {
    phase.stream = {
      everySeconds: positive(parseDuration(stream[1]!, 'every'), 'the time between chunks', fault),
      forSeconds: positive(parseDuration(stream[2]!, 'for'), 'the time it streams', fault),
    };
    return;
  }
  const data = DATA.exec(part)!;
  phase.bytes = parseBytes(data[1]!, 'bytes');
  if (data[2] !== undefined) phase.requestBytes = askedBytes(data[2], fault);
  const together = data[3] ?? data[4];
  if (together !== undefined) phase.parallel = atATime(together, fault);
}

/** How many files; 30k are thirty thousand. */
function fileCount(text: string): number {
  const thousands = /^(\d+(?:[.,]\d+)?)k$/i.exec(text);
  return thousands ? Math.round(1000 * parseNumber(thousands[1]!, 'files')) : parseCount(text, 'files', 0);
}

function atATime(text: string, fault: (what: string) => Problem): number {
  const parallel = parseCount(text, 'requests at a time');
  if (parallel > 64) throw fault('at most 64 requests are under way at a time.');
  return parallel;
}

function askedBytes(text: string, fault: (what: string) => Problem): number {
  const bytes = requestBytes(text);
  if (bytes >= SMALLEST_REQUEST_BYTES && bytes <= LARGEST_REQUEST_BYTES) return bytes;
  throw fault('a request is between 4 KiB and 16 MiB.');
}

/** A size of requests: 64k and 1M are KiB and MiB, as blocks are counted. */
function requestBytes(text: string): number {
  const block = /^(\d+)\s*([kKmM])$/.exec(text);
  if (block) return Number(block[1]) * (block[2]!.toLowerCase() === 'k' ? 1024 : 1024 * 1024);
  return parseBytes(text, 'request size');
}

function positive(value: number, what: string, fault: (what: string) => Problem): number {
  if (value > 0) return value;
  throw fault(`${what} must be more than nothing.`);
}

/** The line that gives a phase again. */
export function phaseLine(phase: Phase): string {
  const { requestBytes, parallel, stream } = phase;
  const parts = [
    phase.processorSeconds > 0 ? `${secondsTyped(phase.processorSeconds)} processor` : '',
    phase.bytes > 0
      ? `${bytesTyped(phase.bytes)} in ${blockTyped(requestBytes)}${parallel > 1 ? ` x${parallel}` : ''}`
      : '',
    phase.writtenBytes ? `${bytesTyped(phase.writtenBytes)} written` : '',
    phase.operations > 0 ? `${phase.operations} files` : '',
    phase.overlapShare > 0 ? `overlap ${shareTyped(phase.overlapShare)}` : '',
    stream ? `every ${secondsTyped(stream.everySeconds)} for ${secondsTyped(stream.forSeconds)}` : '',
    phase.limitSeconds === null ? '' : `within ${secondsTyped(phase.limitSeconds)}`,
  ];
  return `${phase.name}: ${parts.filter(Boolean).join(', ')}`;
}

/** Phases of a load, one a line. */
export const PHASES = eachLine(parsePhase, phaseLine);
