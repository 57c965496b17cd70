import type { RefObject } from 'react';

interface FileInputProps {
  label: string;
  /** Clicked by what opens it. */
  input: RefObject<HTMLInputElement | null>;
  onFile: (file: File) => void;
}

/** A document from a file of the person's own; the same file can be taken again. */
export function FileInput({ label, input, onFile }: FileInputProps) {
  return (
    <input
      ref={input}
      type="file"
      accept=".json,application/json"
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
