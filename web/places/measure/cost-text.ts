import type { Knowledge } from '#core/3-jobs/recipes/recipe-kind.ts';
import type { AnyRecipeKind } from '#core/3-jobs/recipes/registry.ts';
import { bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { capitalized } from '#core/1-ground/words.ts';

/** What a run will take, in one sentence: bytes written, time, and the space left meanwhile. */
export function costText(kind: AnyRecipeKind, options: object, knowledge: Knowledge): string {
  const { writtenBytes, readBytes, spaceBytes, seconds, bound } = kind.cost(options, knowledge);
  const parts: string[] = [];
  if (writtenBytes !== null && writtenBytes > 0) parts.push(`writes ${bytesText(writtenBytes)}`);
  if (kind.readOnly) parts.push('changes nothing');
  if (readBytes !== null && readBytes > 0 && kind.readOnly)
    parts.push(`reads ${bound === 'most' ? 'up to ' : ''}${bytesText(readBytes)}`);
  const about = bound === undefined ? 'about' : `at ${bound}`;
  if (seconds !== null) parts.push(`takes ${about} ${formatDuration(seconds)}`);
  if (spaceBytes > 0 && Number.isFinite(knowledge.roomBytes)) {
    const left = knowledge.roomBytes - spaceBytes;
    parts.push(left > 0 ? `leaves ${bytesText(left)} and the reserve free` : 'leaves only the reserve free');
  }
  if (parts.length === 0) return '';
  const sentence = parts.join(', ');
  return `${capitalized(sentence)}.`;
}
