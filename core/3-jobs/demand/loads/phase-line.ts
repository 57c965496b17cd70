import { eachLine } from '#core/1-ground/fields/kinds.ts';
import { LARGEST_REQUEST_BYTES, SMALLEST_REQUEST_BYTES, type Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { parseBytes, parseCount, parseDuration, parseRate, parseShare } from '#core/1-ground/units/quantity.ts';
import { blockTyped, bytesTyped, secondsTyped, shareTyped } from '#core/1-ground/units/typable.ts';

/** What streams all the time comes in chunks so far apart, and is looked at for so long where nothing else is said. */
const ALWAYS_EVERY_SECONDS = 0.5;
const ALWAYS_FOR_SECONDS = 600;

const EXAMPLE = 'Level: 4 s processor, 1.8 GB in 64 KiB x8, 900 files, within 20 s';

/**
 * A phase from a line as people type it: its name, then in any order, with commas: `4 s processor`,
 * `1.8 GB in 64 KiB x8` (bytes, request size, requests at a time), `900 files` (opened or looked
 * up), `629 MB written`, `overlap 40%`, `within 20 s`, and for what streams in while it is used `every 500 ms for 10 min`,
 * or `80 MB/s all the time` and for how long.
 * @throws Problem `bad-input` that says which part of the line is at fault
 */
export function parsePhase(line: string): Phase {
  const fault = (what: string) => badInput('phases', `phases: “${line}”: ${what} Type a line such as “${EXAMPLE}”.`);
  const colon = line.indexOf(':');
  const name = line.slice(0, colon).trim();
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
  const parts = line
    .slice(colon + 1)
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
  const files = /^(.+?)\s+(?:files?|operations?)$/i.exec(part);
  if (files) {
    phase.operations = parseCount(files[1]!, 'files', 0);
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
  const within = /^(?:within|in less than|at most)\s+(.+)$/i.exec(part);
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
  const data = /^(.+?)(?:\s+in\s+(.+?))?(?:\s*[x×](\d+))?$/.exec(part)!;
  phase.bytes = parseBytes(data[1]!, 'bytes');
  if (data[2] !== undefined) {
    phase.requestBytes = requestBytes(data[2]);
    if (phase.requestBytes < SMALLEST_REQUEST_BYTES || phase.requestBytes > LARGEST_REQUEST_BYTES) {
      throw fault('a request is between 4 KiB and 16 MiB.');
    }
  }
  if (data[3] !== undefined) phase.parallel = parseCount(data[3], 'requests at a time');
  if (phase.parallel > 64) throw fault('at most 64 requests are under way at a time.');
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
