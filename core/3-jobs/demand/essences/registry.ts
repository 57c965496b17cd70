import type { InferType } from 'yup';
import { curveKind } from '#core/3-jobs/demand/essences/curve.ts';
import type { EssenceForm, EssenceKind, EssenceRate } from '#core/3-jobs/demand/essences/essence-kind.ts';
import { measuredKind } from '#core/3-jobs/demand/essences/measured.ts';
import { ownKind } from '#core/3-jobs/demand/essences/own.ts';
import { pictureKind } from '#core/3-jobs/demand/essences/picture.ts';
import { soundKind } from '#core/3-jobs/demand/essences/sound.ts';
import { oneOfKinds } from '#core/1-ground/schema/one-of-kinds.ts';

/** Every kind of essence, in the order in which they are offered; a new one is a file and a line here. */
const KINDS = [pictureKind, soundKind, ownKind, measuredKind, curveKind] as const;

export type Essence = InferType<(typeof KINDS)[number]['schema']>;
type AnyKind = EssenceKind<Essence>;

/** The kinds, each of which is only ever given essences of its own. */
export const ESSENCE_KINDS = KINDS as unknown as readonly AnyKind[];

const kindById = (id: string | undefined): AnyKind | undefined => ESSENCE_KINDS.find((one) => one.kind === id);

export const essenceKindOf = ({ kind }: Essence): AnyKind => kindById(kind)!;

/** @throws Problem `bad-input` when the format is impossible */
export const rateOf = (essence: Essence, streams: number): EssenceRate => essenceKindOf(essence).rate(essence, streams);

/** The forms in which an essence can be given, by its kind. */
export const ESSENCE_FORMS: readonly { kind: Essence['kind']; form: EssenceForm<Essence> }[] = ESSENCE_KINDS.flatMap(
  ({ kind, form }) => (form ? [{ kind, form }] : []),
);

export const essenceSchema = oneOfKinds<Essence>(ESSENCE_KINDS.map(({ kind, schema }) => [kind, schema]));
