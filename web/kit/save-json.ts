import { withSchema } from '#core/1-ground/schema/document-kind.ts';

/** Hands a document to the person as a file, as the browser saves it. */
export function saveJson(
  name: string,
  kind: 'workload' | 'profile' | 'recording' | 'sizing' | 'run',
  document_: { tavrox: string },
): void {
  saveText(name, `${kind}.json`, JSON.stringify(withSchema(document_), null, 2), 'application/json');
}

/** The same with any text. @param ending of the file's name */
export const saveText = (name: string, ending: string, text: string, type: string): void =>
  saveBlob(name, ending, new Blob([text], { type }));

/** The same with whatever it is. @param ending of the file's name */
export function saveBlob(name: string, ending: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = url;
  link.download = `${name.replaceAll(/[^\p{L}\p{N} -]/gu, '').trim() || 'tavrox'}.${ending}`;
  link.click();
  URL.revokeObjectURL(url);
}
