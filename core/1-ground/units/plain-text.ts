/**
 * Characters that steer a terminal or a line instead of standing in it: controls but tab and newline, those of the
 * upper half, and marks that turn the direction of writing.
 */
// eslint-disable-next-line no-control-regex -- these are what is looked for
const STEERING = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/g;

/** A text as it may be shown in a terminal: what steers is written out, as \x1b. */
export function plainText(text: string): string {
  return text.replace(STEERING, (one) => {
    const code = one.charCodeAt(0);
    return code < 256 ? `\\x${code.toString(16).padStart(2, '0')}` : `\\u${code.toString(16)}`;
  });
}

/** The same for JSON, in which it stays what it was. */
export function plainJson(text: string): string {
  return text.replace(STEERING, (one) => `\\u${one.charCodeAt(0).toString(16).padStart(4, '0')}`);
}
