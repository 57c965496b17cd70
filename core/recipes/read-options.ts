import { ValidationError } from 'yup';
import { Problem, badInput } from '#core/problem.ts';
import type { OptionField } from '#core/recipes/fields.ts';
import type { AnyRecipeKind } from '#core/recipes/registry.ts';
import { parseStream, streamLine, type FrameStream } from '#core/recipes/streams.ts';
import { blockText } from '#core/units/format.ts';
import { parseBytes, parseCount, parseDuration } from '#core/units/quantity.ts';
import { bytesTyped, secondsTyped, typable } from '#core/units/typable.ts';

/** Options of a recipe as typed, by the name of the option. A missing one keeps its default. */
export type OptionTexts = Record<string, string>;

const listOf = (text: string): string[] =>
  text
    .split(/[,;]/)
    .map((part) => part.trim())
    .filter(Boolean);

const linesOf = (text: string): string[] =>
  text
    .split(/[\n;]/)
    .map((line) => line.trim())
    .filter(Boolean);

function readSwitch(text: string, where: string): boolean {
  if (['yes', 'true', 'on', ''].includes(text)) return true;
  if (['no', 'false', 'off'].includes(text)) return false;
  throw badInput(where, `${where}: “${text}” is neither yes nor no.`);
}

/** Value of one option from its text. @throws Problem `bad-input` naming the flag. */
function readField({ kind, flag, empty }: OptionField, text: string): unknown {
  const typed = text.trim();
  if (empty !== undefined && (typed === '' || typed === empty)) return null;
  switch (kind.type) {
    case 'count':
      return parseCount(typed, flag);
    case 'bytes':
    case 'block':
      return parseBytes(typed, flag);
    case 'seconds':
      return parseDuration(typed, flag);
    case 'switch':
      return readSwitch(typed, flag);
    case 'choice':
      return typed;
    case 'counts':
      return listOf(typed).map((part) => parseCount(part, flag));
    case 'blocks':
      return listOf(typed).map((part) => parseBytes(part, flag));
    case 'durations':
      return listOf(typed).map((part) => parseDuration(part, flag));
    case 'streams':
      return linesOf(text).map(parseStream);
  }
}

/** How one option is shown in its field, so that reading it again gives the same. */
function fieldText({ kind }: OptionField, value: unknown): string {
  if (value === null || value === undefined) return '';
  switch (kind.type) {
    case 'bytes':
      return bytesTyped(value as number);
    case 'block':
      return typable(blockText(value as number));
    case 'seconds':
      return secondsTyped(value as number);
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
    case 'count':
    case 'choice':
      return `${value as number | string}`;
  }
}

/** The texts of all fields for a recipe's options. */
export function optionTexts(kind: AnyRecipeKind, options: object): OptionTexts {
  const values = options as Record<string, unknown>;
  return Object.fromEntries(kind.fields.map((field) => [field.option, fieldText(field, values[field.option])]));
}

export interface ReadOptions {
  /** Null while anything is at fault. */
  options: object | null;
  /** A sentence for each option at fault. */
  errors: Record<string, string>;
}

/** All faults at once: what cannot be read keeps its default while the rest is checked. */
export function readOptions(kind: AnyRecipeKind, texts: OptionTexts): ReadOptions {
  const errors: Record<string, string> = {};
  const values: Record<string, unknown> = { ...(kind.options.getDefault() as object) };
  for (const field of kind.fields) {
    const text = texts[field.option];
    if (text === undefined) continue;
    try {
      values[field.option] = readField(field, text);
    } catch (error) {
      errors[field.option] = error instanceof Problem ? error.detail : String((error as Error).message);
    }
  }
  try {
    const options = kind.options.validateSync(values, { strict: true, abortEarly: false });
    return { options: Object.keys(errors).length === 0 ? options : null, errors };
  } catch (error) {
    for (const one of (error as ValidationError).inner) errors[(one.path ?? '').split(/[.[]/)[0]!] ??= one.message;
    return { options: null, errors };
  }
}
