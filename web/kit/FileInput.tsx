import type { RefObject } from 'react';

interface FileInputProps {
  label: string;
  /** Clicked by what opens it. */
  input: RefObject<HTMLInputElement | null>;
  onFile: (file: File) => void;
  /** Which files are offered; documents of ours where nothing is said. */
  accept?: string;
}

/** A document from a file of the person's own; the same file can be taken again. */
export function FileInput({ label, input, onFile, accept = '.json,application/json' }: FileInputProps) {
  return (
    <input
      ref={input}
      type="file"
      accept={accept}
      aria-label={label}
      hidden
      onChange={(event) => {
        const chosen = event.target.files?.[0];
        event.target.value = '';
        if (chosen) onFile(chosen);
      }}
    />
  );
}
