import { parsePhase, phaseLine } from '#core/demand/loads/phase-line.ts';
import type { Phase } from '#core/demand/loads/load-item.ts';
import { observationLine, parseObservation, type Observation } from '#core/demand/observed/observation.ts';
import { channelLine, parseChannel, parseVoxels, voxelsText, type Voxels } from '#core/demand/series/channels.ts';
import type { Channel } from '#core/demand/series/series-item.ts';
import { parseStream, streamLine, type FrameStream } from '#core/media/frame-stream.ts';
import type { Field, FieldErrors, FieldTexts, FieldValues } from '#core/fields/field.ts';
import { formatTextOf, parseFormatText, type ParsedFormat } from '#core/media/format-text.ts';
import type { Hop } from '#core/links/connection.ts';
import { hopLine, parseHop } from '#core/links/hop-line.ts';
import { Problem, badInput } from '#core/problem.ts';
import { parseCalendar, parseDate, phaseLineOf, type Phase as ProjectPhase } from '#core/sizing/calendar.ts';
import { driveChoiceLine, parseDriveChoice, type DriveChoice } from '#core/sizing/drive-choice.ts';
import { materialLine, parseMaterial, type Material } from '#core/sizing/material.ts';
import { enclosureLine, parseEnclosure, parseSizingConnection, sizingConnectionLine } from '#core/sizing/part-lines.ts';
import type { SizingConnection, SizingEnclosure } from '#core/sizing/parts.ts';
import { frameRateText, parseFrameRate, type FrameRate } from '#core/units/frame-rate.ts';
import { blockText } from '#core/units/format.ts';
import {
  parseBuffer,
  parseBytes,
  parseCount,
  parseDuration,
  parseNumber,
  parseRate,
  parseShare,
  type Buffer,
} from '#core/units/quantity.ts';
import { bytesTyped, rateTyped, secondsTyped, shareTyped, typable } from '#core/units/typable.ts';

const partsOf = (text: string, separator: RegExp): string[] =>
  text
    .split(separator)
    .map((part) => part.trim())
    .filter(Boolean);
const listOf = (text: string): string[] => partsOf(text, /[,;]/);

function readSwitch(text: string, where: string): boolean {
  if (['yes', 'true', 'on', ''].includes(text)) return true;
  if (['no', 'false', 'off'].includes(text)) return false;
  throw badInput(where, `${where}: “${text}” is neither yes nor no.`);
}

function readNumber(text: string, where: string, example: string, least = 0): number {
  const value = /^[+-]?[\d.,]+(?:e[+-]?\d+)?$/.test(text) ? parseNumber(text, where) : NaN;
  if (Number.isFinite(value) && value > 0 && value >= least) return value;
  const bound = least > 0 ? ` of at least ${least}` : '';
  throw badInput(where, `${where}: “${text}” is not a number${bound}. Type one such as ${example}.`);
}

function positive(value: number, where: string): number {
  if (value > 0) return value;
  throw badInput(where, `${where}: must be more than nothing.`);
}

/** Value of one field from its text; null where it was left empty and may be. @throws Problem `bad-input` */
function readField({ kind, flag, empty }: Field, text: string): unknown {
  const typed = text.trim();
  if (empty !== undefined && (typed === '' || typed === empty)) return null;
  switch (kind.type) {
    case 'text':
    case 'choice':
      return typed;
    case 'count':
      return parseCount(typed, flag, kind.least);
    case 'number':
      return readNumber(typed, flag, kind.example, kind.least);
    case 'bytes':
    case 'block':
      return parseBytes(typed, flag);
    case 'seconds':
      return kind.positive ? positive(parseDuration(typed, flag), flag) : parseDuration(typed, flag);
    case 'rate':
      return positive(parseRate(typed, flag), flag);
    case 'frame-rate':
      return parseFrameRate(typed, flag);
    case 'format':
      return parseFormatText(text);
    case 'buffer':
      if (!/^[\d.]+$/.test(typed)) return parseBuffer(typed, flag);
      throw badInput(flag, `${flag}: “${typed}” of what? Type seconds, such as 1 s, or bytes, such as 512 MB.`);
    case 'switch':
      return readSwitch(typed, flag);
    case 'counts':
      return listOf(typed).map((part) => parseCount(part, flag));
    case 'blocks':
      return listOf(typed).map((part) => parseBytes(part, flag));
    case 'durations':
      return listOf(typed).map((part) => parseDuration(part, flag));
    case 'streams':
      return partsOf(text, /[\n;]/).map(parseStream);
    case 'share':
      return parseShare(typed, flag);
    case 'voxels':
      return parseVoxels(typed, flag);
    case 'channels':
      return partsOf(text, /[\n;]/).map(parseChannel);
    case 'observations':
      return partsOf(text, /[\n;]/).map(parseObservation);
    case 'phases':
      return partsOf(text, /[\n;]/).map(parsePhase);
    case 'hops':
      return partsOf(text, /[\n;]/).map(parseHop);
    case 'date':
      return parseDate(typed, flag);
    case 'calendar':
      return parseCalendar(partsOf(text, /\n/));
    case 'drive-choice':
      return partsOf(text, /\n/).map(parseDriveChoice);
    case 'materials':
      return partsOf(text, /\n/).map(parseMaterial);
    case 'enclosures':
      return partsOf(text, /\n/).map(parseEnclosure);
    case 'connections':
      return partsOf(text, /\n/).map(parseSizingConnection);
  }
}

/** How one value is shown in its field, so that reading it again gives the same. */
function fieldText({ kind }: Field, value: unknown): string {
  if (value === null || value === undefined) return '';
  switch (kind.type) {
    case 'bytes':
      return bytesTyped(value as number);
    case 'block':
      return typable(blockText(value as number));
    case 'seconds':
      return secondsTyped(value as number);
    case 'rate':
      return rateTyped(value as number);
    case 'frame-rate':
      return frameRateText(value as FrameRate);
    case 'format':
      return formatTextOf((value as ParsedFormat).format);
    case 'buffer': {
      const { unit, amount } = value as Buffer;
      return unit === 'seconds' ? secondsTyped(amount) : bytesTyped(amount);
    }
    case 'switch':
      return value === true ? 'yes' : 'no';
    case 'counts':
      return (value as number[]).join(', ');
    case 'blocks':
      return (value as number[]).map((one) => typable(blockText(one))).join(', ');
    case 'durations':
      return (value as number[]).map(secondsTyped).join(', ');
    case 'streams':
      return (value as FrameStream[]).map(streamLine).join('\n');
    case 'share':
      return shareTyped(value as number);
    case 'voxels':
      return voxelsText(value as Voxels);
    case 'channels':
      return (value as Channel[]).map(channelLine).join('\n');
    case 'observations':
      return (value as Observation[]).map(observationLine).join('\n');
    case 'phases':
      return (value as Phase[]).map(phaseLine).join('\n');
    case 'hops':
      return (value as Hop[]).map(hopLine).join('\n');
    case 'calendar':
      return (value as ProjectPhase[]).map(phaseLineOf).join('\n');
    case 'drive-choice':
      return (value as DriveChoice[]).map(driveChoiceLine).join('\n');
    case 'materials':
      return (value as Material[]).map(materialLine).join('\n');
    case 'enclosures':
      return (value as SizingEnclosure[]).map(enclosureLine).join('\n');
    case 'connections':
      return (value as SizingConnection[]).map(sizingConnectionLine).join('\n');
    case 'text':
    case 'count':
    case 'number':
    case 'choice':
    case 'date':
      return `${value as number | string}`;
  }
}

/** The texts of fields for what they are to give. */
export function fieldTexts(fields: readonly Field[], values: FieldValues): FieldTexts {
  return Object.fromEntries(fields.map((field) => [field.option, fieldText(field, values[field.option])]));
}

/** What fields give, of those that have a text; all faults at once. */
export function readFields(
  fields: readonly Field[],
  texts: FieldTexts,
): { values: Record<string, unknown>; errors: FieldErrors } {
  const values: Record<string, unknown> = {};
  const errors: FieldErrors = {};
  for (const field of fields) {
    const text = texts[field.option];
    if (text === undefined) continue;
    try {
      values[field.option] = readField(field, text);
    } catch (error) {
      errors[field.option] = error instanceof Problem ? error.detail : (error as Error).message;
    }
  }
  return { values, errors };
}
