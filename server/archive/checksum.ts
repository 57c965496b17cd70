import { createHash } from 'node:crypto';
import { contentOf, type ArchiveDocument } from '#core/6-exchange/archive/archive.ts';

/** SHA-256 in hexadecimal digits. */
export const sha256Of = (data: Uint8Array | string): string => createHash('sha256').update(data).digest('hex');

/** By which two documents of the same content are known to be the same. */
export const checksumOf = (one: ArchiveDocument): string => sha256Of(contentOf(one));
