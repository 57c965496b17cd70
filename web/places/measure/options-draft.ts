import type { ValidationError } from 'yup';
import { Problem } from '#core/problem.ts';
import { shortPassesOptionsSchema, type ShortPassesOptions } from '#core/run/short-passes-options.ts';
import { blockText, bytesText } from '#core/units/format.ts';
import { parseBytes, parseCount, parseDuration } from '#core/units/quantity.ts';

/** The form's fields as typed. */
export interface Draft {
  repeat: 'count' | 'until-stopped';
  passes: string;
  sizeBy: 'time' | 'amount';
  seconds: string;
  size: string;
  block: string;
  depth: string;
}

export function draftOf(options: ShortPassesOptions): Draft {
  const plain = (text: string) => text.replaceAll('\u202f', ' ').replaceAll(',', '');
  return {
    repeat: options.passes === null ? 'until-stopped' : 'count',
    passes: String(options.passes ?? 6),
    sizeBy: options.sizeBytes === null ? 'time' : 'amount',
    seconds: String(options.seconds),
    size: options.sizeBytes === null ? '' : plain(bytesText(options.sizeBytes)),
    block: plain(blockText(options.blockBytes)),
    depth: String(options.depth),
  };
}

/** Each field on its own, so that the fault is shown where it is. */
function readField<T>(errors: Partial<Record<keyof Draft, string>>, field: keyof Draft, read: () => T): T | undefined {
  try {
    return read();
  } catch (error) {
    errors[field] = error instanceof Problem ? error.detail : String(error);
    return undefined;
  }
}

const FIELD_OF_OPTION: Record<keyof ShortPassesOptions, keyof Draft> = {
  passes: 'passes',
  seconds: 'seconds',
  sizeBytes: 'size',
  blockBytes: 'block',
  depth: 'depth',
};

/** All faults at once: what cannot be read keeps its default while the rest is checked. */
export function readDraft(draft: Draft): {
  options: ShortPassesOptions | undefined;
  errors: Partial<Record<keyof Draft, string>>;
} {
  const errors: Partial<Record<keyof Draft, string>> = {};
  const defaults = shortPassesOptionsSchema.getDefault();
  const byTime = draft.sizeBy === 'time';
  const input: ShortPassesOptions = {
    passes:
      draft.repeat === 'until-stopped'
        ? null
        : (readField(errors, 'passes', () => parseCount(draft.passes, 'passes')) ?? defaults.passes),
    seconds:
      (byTime ? readField(errors, 'seconds', () => parseDuration(draft.seconds, 'seconds')) : undefined) ??
      defaults.seconds,
    sizeBytes: (byTime ? undefined : readField(errors, 'size', () => parseBytes(draft.size, 'size'))) ?? null,
    blockBytes: readField(errors, 'block', () => parseBytes(draft.block, 'block')) ?? defaults.blockBytes,
    depth: readField(errors, 'depth', () => parseCount(draft.depth, 'depth')) ?? defaults.depth,
  };
  try {
    const options = shortPassesOptionsSchema.validateSync(input, { strict: true, abortEarly: false });
    return { options: Object.keys(errors).length === 0 ? options : undefined, errors };
  } catch (error) {
    for (const one of (error as ValidationError).inner)
      errors[FIELD_OF_OPTION[one.path as keyof ShortPassesOptions]] ??= one.message;
    return { options: undefined, errors };
  }
}
