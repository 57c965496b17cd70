/** What the system's codes mean for a run; whole beginnings of sentences. */
const WORDS: Record<string, string> = {
  ENOSPC: 'The volume is full',
  EDQUOT: 'This user’s quota is used up',
  EIO: 'The drive reported a read or write error',
  ENODEV: 'The drive is gone',
  ENXIO: 'The drive is gone',
  ENOTCONN: 'The drive is gone',
  ECONNABORTED: 'The drive is gone',
  EREMOTEIO: 'The drive reported a read or write error',
  ETIMEDOUT: 'The drive or share does not answer',
  EHOSTDOWN: 'The share is gone',
  EHOSTUNREACH: 'The share is gone',
  ENETDOWN: 'The share is gone',
  ENETUNREACH: 'The share is gone',
  ECONNREFUSED: 'The share is gone',
  ECONNRESET: 'The share is gone',
  EFBIG: 'A file would become larger than this volume takes',
  ENOENT: 'A file is gone',
  EACCES: 'The system refuses it to this user',
  EPERM: 'The system refuses it to this user',
  EROFS: 'The volume became read-only',
  ESTALE: 'The share is gone',
  EOF: 'A file ended early',
};

/** What a code of the system means; undefined where it has no words here. */
export const systemWords = (code: string): string | undefined => WORDS[code];

/** What happened, of an error that was not foreseen: a sentence without its end. */
export function whatHappened(error: unknown): string {
  const { code = '', message = String(error) } = error as Partial<NodeJS.ErrnoException>;
  return WORDS[code] ?? `It ended on an error (${code || message})`;
}
