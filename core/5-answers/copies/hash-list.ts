/**
 * The trade's open media hash list, ASC MHL version 2.0 (American Society of Cinematographers, 2022):
 * a list of the files of a copy with their sizes, dates and checksums, and a chain file that names the
 * list with a checksum of its own. Written into the folder `ascmhl` beside the files. Hashes of folders,
 * which the standard leaves to the writer, are not given.
 */
export const HASH_LIST_FOLDER = 'ascmhl';
export const CHAIN_FILE = 'ascmhl_chain.xml';

/** One file of a copy. */
export interface HashedFile {
  /** Within the copied folder, with slashes. */
  path: string;
  bytes: number;
  /** ISO 8601. */
  modifiedAt: string;
  /** XXH64 of its bytes, 16 hexadecimal digits. */
  xxh64: string;
}

export interface HashListHead {
  createdAt: string;
  host: string;
  toolVersion: string;
}

/** Text between tags and in attributes; what XML 1.0 cannot hold at all becomes the replacement sign. */
export function xmlText(text: string): string {
  return [...text].map((sign) => XML_SIGNS[sign] ?? (isXmlSign(sign) ? sign : '\ufffd')).join('');
}
const isXmlSign = (sign: string): boolean => sign >= ' ' && sign !== '\ufffe' && sign !== '\uffff';
const XML_SIGNS: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\t': '&#9;',
  '\n': '&#10;',
  '\r': '&#13;',
};

/** “0001_A001_2026-03-02_181500Z.mhl”: number, folder and moment, as the standard names them. */
export function hashListName(folder: string, createdAt: string): string {
  const [date, clock] = createdAt.split('T') as [string, string];
  return `0001_${folder}_${date}_${clock.slice(0, 8).replaceAll(':', '')}Z.mhl`;
}

/** The list as a document. Files in the order of their paths. */
export function hashListXml({ createdAt, host, toolVersion }: HashListHead, files: readonly HashedFile[]): string {
  const hashes = [...files]
    .sort((a, b) => (a.path < b.path ? -1 : 1))
    .map(
      // The first list of a folder: what later lists find alike is theirs to call verified.
      ({ path, bytes, modifiedAt, xxh64 }) =>
        `    <hash>\n      <path size="${bytes}" lastmodificationdate="${modifiedAt}">${xmlText(path)}</path>\n` +
        `      <xxh64 action="original" hashdate="${createdAt}">${xxh64}</xxh64>\n    </hash>\n`,
    );
  return `<?xml version="1.0" encoding="UTF-8"?>
<hashlist version="2.0" xmlns="urn:ASC:MHL:v2.0">
  <creatorinfo>
    <creationdate>${createdAt}</creationdate>
    <hostname>${xmlText(host)}</hostname>
    <tool version="${xmlText(toolVersion)}">Tavrox</tool>
  </creatorinfo>
  <processinfo>
    <process>transfer</process>
    <ignore>
      <pattern>ascmhl</pattern>
    </ignore>
  </processinfo>
  <hashes>
${hashes.join('')}  </hashes>
</hashlist>
`;
}

/** The chain file of a first list. @param c4 identification of the list's own bytes, see {@link c4Id} */
export function chainXml(listName: string, c4: string): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<ascmhldirectory xmlns="urn:ASC:MHL:DIRECTORY:v2.0">
  <hashlist sequencenr="1">
    <path>${xmlText(listName)}</path>
    <c4>${c4}</c4>
  </hashlist>
</ascmhldirectory>
`;
}

const BASE_58 = '123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz';
const C4_DIGITS = 88;

/** The C4 identification (SMPTE ST 2114) of a SHA-512 digest of 64 bytes: “c4” and 88 digits to the base 58. */
export function c4Id(sha512: Uint8Array): string {
  let value = sha512.reduce((sum, byte) => sum * 256n + BigInt(byte), 0n);
  let digits = '';
  for (let place = 0; place < C4_DIGITS; place += 1) {
    digits = BASE_58[Number(value % 58n)]! + digits;
    value /= 58n;
  }
  return `c4${digits}`;
}
