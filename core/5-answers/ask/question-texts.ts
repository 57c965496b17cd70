import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';

/**
 * What people come with is one sentence: *can this drive record three cameras of … for forty minutes?* Its parts as they
 * are typed, read into a workload of one item.
 */
export interface QuestionTexts {
  action: FootageItem['action'] | 'simulate' | 'load';
  /** A format as people type it, streams included. */
  what: string;
  /** Of a take. */
  length: string;
  takes: string;
  between: string;
  /** Between takes; empty for none. */
  gap: string;
  buffer: string;
  /** Of a simulation: bytes of a frame or its grid, how many there are, and how long computing one takes. */
  frame: string;
  frames: string;
  compute: string;
  /** Of a load: what is read, as a phase is typed, and what it may take. */
  load: string;
  limit: string;
}

export const FIRST_QUESTION: QuestionTexts = {
  action: 'record',
  what: '3840×2160 4:2:2 10-bit uncompressed 25p',
  length: '40 min',
  takes: '1',
  between: 'stay',
  gap: '',
  buffer: '1 s',
  frame: '1 GB',
  frames: '240',
  compute: '10 s',
  load: '3 GB in 256 KiB x8',
  limit: '20 s',
};
