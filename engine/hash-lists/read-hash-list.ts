import { XMLParser } from 'fast-xml-parser';
import { badInput } from '#core/1-ground/problem.ts';

/** Hashes that a list may give of a file, best first; of several the first is looked at. */
export const HASH_KINDS = ['xxh128', 'xxh3', 'xxh64', 'c4', 'sha1', 'md5'] as const;
export type HashKind = (typeof HASH_KINDS)[number];

/** A file as a hash list has it. */
export interface ListedFile {
  /** Within the folder of the list, with slashes. */
  path: string;
  /** Null where the list does not tell. */
  bytes: number | null;
  kind: HashKind;
  /** Lower case, but for C4 identifications. */
  hash: string;
}

/** Elements by which lists name their hashes; earlier versions of the format had names of their own. */
const ELEMENTS: Record<string, HashKind> = {
  xxh128: 'xxh128',
  xxh3: 'xxh3',
  xxh64: 'xxh64',
  xxhash64be: 'xxh64',
  c4: 'c4',
  sha1: 'sha1',
  md5: 'md5',
};

/** Text documents beyond this are no lists. */
export const LARGEST_LIST_BYTES = 200e6;
const MOST_FILES = 1_000_000;

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const listOf = (value: unknown): unknown[] =>
  Array.isArray(value) ? (value as unknown[]) : value === undefined ? [] : [value];
/** Text of an element, with or without attributes. */
const textOf = (value: unknown): string => {
  const text = isObject(value) ? value['#text'] : value;
  return typeof text === 'string' || typeof text === 'number' ? String(text).trim() : '';
};

/**
 * Files of a media hash list, ASC MHL version 2.0 or MHL version 1. Hashes of folders are left out: they are made of
 * those of the files.
 * @throws Problem `bad-input` that says what is wrong
 */
export function parseHashList(text: string, where: string): ListedFile[] {
  // Neither format has a document type; entities made in one could be made to grow without end.
  if (/<!DOCTYPE/i.test(text)) throw badInput(where, `${where}: has a document type, which no hash list has.`);
  let document: Json;
  try {
    const parser = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '@',
      parseTagValue: false,
      trimValues: false,
    });
    document = parser.parse(text, true) as Json;
  } catch (error) {
    // The parser adds where it was, as far as it knows.
    const [said, line] = (error as Error).message.split(/:(\d+|undefined):?(?:\d+|undefined)?$/);
    const at = Number(line) > 1 ? ` in line ${line}` : '';
    throw badInput(where, `${where}: is no XML: ${said!.replace(/\.$/, '')}${at}.`);
  }
  const root = document['hashlist'];
  if (!isObject(root)) throw badInput(where, `${where}: is no media hash list.`);
  const inside = isObject(root['hashes']) ? root['hashes'] : root;
  const entries = listOf(inside['hash']).filter(isObject);
  if (entries.length === 0) throw badInput(where, `${where}: names no files.`);
  if (entries.length > MOST_FILES) throw badInput(where, `${where}: names more than ${MOST_FILES} files.`);
  return entries.map((entry, index) => listed(entry, `${where}: file ${index + 1}`, where));
}

function listed(entry: Json, place: string, where: string): ListedFile {
  const path = textOf(entry['path'] ?? entry['file']).replaceAll('\\', '/');
  if (path === '') throw badInput(where, `${place}: has no path.`);
  if (path.startsWith('/') || /^[a-z]:/i.test(path) || path.split('/').includes('..') || path.includes('\0'))
    throw badInput(where, `${place}: “${path}” leads out of the folder.`);
  const size = isObject(entry['path']) ? entry['path']['@size'] : entry['size'];
  const bytes = size === undefined ? null : Number(textOf(size));
  if (bytes !== null && !(Number.isInteger(bytes) && bytes >= 0))
    throw badInput(where, `${place}: ${path}: its size is none.`);
  const given = Object.entries(ELEMENTS).flatMap(([element, kind]) => {
    const hash = textOf(entry[element]);
    return hash === '' ? [] : [{ kind, hash: kind === 'c4' ? hash : hash.toLowerCase() }];
  });
  const best = HASH_KINDS.flatMap((kind) => given.filter((one) => one.kind === kind))[0];
  if (!best) throw badInput(where, `${place}: ${path} has no hash of a kind known here (${HASH_KINDS.join(', ')}).`);
  return { path, bytes, ...best };
}
