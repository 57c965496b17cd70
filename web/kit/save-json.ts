/** Hands a document to the person as a file, as the browser saves it. */
export function saveJson(name: string, kind: 'workload' | 'profile' | 'recording', document_: object): void {
  const url = URL.createObjectURL(new Blob([JSON.stringify(document_, null, 2)], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = url;
  link.download = `${name.replaceAll(/[^\p{L}\p{N} -]/gu, '').trim() || kind}.${kind}.json`;
  link.click();
  URL.revokeObjectURL(url);
}
