/** Hands a document to the person as a file, as the browser saves it. */
export function saveJson(name: string, kind: 'workload' | 'profile' | 'recording' | 'sizing', document_: object): void {
  saveText(name, `${kind}.json`, JSON.stringify(document_, null, 2), 'application/json');
}

/** The same with any text. @param ending of the file's name */
export function saveText(name: string, ending: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = `${name.replaceAll(/[^\p{L}\p{N} -]/gu, '').trim() || 'tavrox'}.${ending}`;
  link.click();
  URL.revokeObjectURL(url);
}
