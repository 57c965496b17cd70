import { number, object, string, type InferType } from 'yup';
import { MEDIA } from '#core/2-trade/drives/medium.ts';

/** The drive and the volume that a run was made on, as its document holds them. */

export const IDENTITY_KINDS = ['serial', 'wwn', 'filesystem', 'share', 'stand-in', 'mount', 'typed'] as const;

/** How a drive is recognised when it comes back, best first. */
export const identitySchema = object({
  kind: string().oneOf(IDENTITY_KINDS).required(),
  value: string().required().max(400),
});
export type Identity = InferType<typeof identitySchema>;

/** The drive a run belongs to. A run refers to the card; label and medium are kept for reading it elsewhere. */
export const driveReferenceSchema = object({
  id: string().required().max(80),
  label: string().required().max(120),
  medium: string().oneOf(MEDIA).required(),
  identity: identitySchema.required(),
});

/** The volume as it was when the run began. */
export const volumeSnapshotSchema = object({
  id: string().required().max(200),
  kind: string()
    .oneOf(['real', 'stand-in'] as const)
    .required(),
  label: string().required().max(120),
  /** Empty for stand-ins. */
  mountPoint: string().defined().max(4096),
  filesystem: string().required().max(40),
  totalBytes: number().min(0).required(),
  freeBytes: number().min(0).required(),
});
