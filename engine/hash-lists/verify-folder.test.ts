import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { CHAIN_FILE, c4Id, chainXml, hashListXml } from '#core/5-answers/copies/hash-list.ts';
import { isAllAlike, verifiedWords } from '#core/5-answers/copies/verified-folder.ts';
import { verifyFolder } from '#engine/hash-lists/verify-folder.ts';
import { system } from '#engine/system/this-system.ts';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'tavrox-verify-'));
  mkdirSync(join(folder, 'day 1'));
  writeFileSync(join(folder, 'day 1', 'reel & one.mov'), '');
  writeFileSync(join(folder, 'notes.txt'), 'abc');
});
afterEach(() => rmSync(folder, { recursive: true }));

const verify = (signal = new AbortController().signal) => verifyFolder(folder, () => undefined, signal, new Set());
const listed = (path: string, bytes: number, xxh64: string) => ({
  path,
  bytes,
  modifiedAt: '2026-03-02T13:00:00+00:00',
  xxh64,
});
/** XXH64 of nothing, and of “abc”, as its description gives them. */
const NOTHING = 'ef46db3751d8e999';
const ABC = '44bc2cf5ad770999';

function writeList(files = [listed('day 1/reel & one.mov', 0, NOTHING), listed('notes.txt', 3, ABC)]): string {
  const text = hashListXml({ createdAt: '2026-03-02T18:15:09+00:00', host: 'lowlight', toolVersion: '0.1.0' }, files);
  mkdirSync(join(folder, 'ascmhl'), { recursive: true });
  writeFileSync(join(folder, 'ascmhl', '0001_day.mhl'), text);
  return text;
}

describe('a folder held against its hash list', () => {
  it('is alike when every file that it names is there', async () => {
    const text = writeList();
    const c4 = c4Id(createHash('sha512').update(text).digest());
    writeFileSync(join(folder, 'ascmhl', CHAIN_FILE), chainXml('0001_day.mhl', c4));
    const found = await verify();
    expect(found).toMatchObject({ files: 2, alike: 2, bytes: 3, unlisted: [], changedLists: [], stopped: false });
    expect(isAllAlike(found)).toBe(true);
    expect(verifiedWords(found).lead).toBe('All 2 files of the list are there and alike.');
  });

  // Making links takes a right on Windows that few have.
  it.skipIf(system.name === 'Windows')(
    'names what differs, is missing, cannot be what was listed, or is in no list',
    async () => {
      writeList([
        listed('day 1/reel & one.mov', 0, NOTHING),
        listed('notes.txt', 3, NOTHING),
        listed('gone.mov', 5, NOTHING),
        listed('longer.mov', 9, ABC),
        listed('link.mov', 3, ABC),
      ]);
      writeFileSync(join(folder, 'longer.mov'), 'abc');
      writeFileSync(join(folder, 'stray.mov'), 'abc');
      symlinkSync(join(folder, 'notes.txt'), join(folder, 'link.mov'));
      const found = await verify();
      expect(found).toMatchObject({
        alike: 1,
        differing: ['link.mov', 'longer.mov', 'notes.txt'],
        missing: ['gone.mov'],
        unlisted: ['stray.mov'],
      });
      expect(isAllAlike(found)).toBe(false);
      expect(verifiedWords(found).lead).toBe('3 files differ from the list, 1 file is missing.');
      expect(verifiedWords(found).text).toMatch(
        /1 of 5 are alike: .*1 file here is in no list, and nothing is known of it/,
      );
    },
  );

  it('tells when a list is not as its chain file says', async () => {
    writeList();
    writeFileSync(join(folder, 'ascmhl', CHAIN_FILE), chainXml('0001_day.mhl', c4Id(createHash('sha512').digest())));
    const found = await verify();
    expect(found).toMatchObject({ alike: 2, changedLists: ['0001_day.mhl'] });
    expect(isAllAlike(found)).toBe(false);
  });

  it('reads lists of before, and hashes of other kinds', async () => {
    const sha1 = createHash('sha1').update('abc').digest('hex').toUpperCase();
    const md5 = createHash('md5').update('').digest('hex');
    writeFileSync(
      join(folder, 'card.mhl'),
      `<?xml version="1.0"?><hashlist version="1.1"><creatorinfo><name>Somebody</name></creatorinfo>
        <hash><file>notes.txt</file><size>3</size><sha1>${sha1}</sha1></hash>
        <hash><file>day 1\\reel &amp; one.mov</file><size>0</size><md5>${md5}</md5></hash></hashlist>`,
    );
    expect(await verify()).toMatchObject({ lists: ['card.mhl'], alike: 2, unlisted: [] });
  });

  it.each([
    ['nothing of the kind', '<html/>', /is no media hash list/],
    [
      'a way out',
      '<hashlist><hash><file>../../etc/passwd</file><md5>00</md5></hash></hashlist>',
      /leads out of the folder/,
    ],
    ['no hash', '<hashlist><hash><file>a</file></hash></hashlist>', /has no hash of a kind known here/],
    ['a document type', '<!DOCTYPE x [<!ENTITY a "b">]><hashlist/>', /has a document type/],
    ['half of it', '<hashlist><hash><file>a', /is no XML|names no files|has no hash/],
  ])('refuses a list that holds %s', async (_name, text, message) => {
    writeFileSync(join(folder, 'card.mhl'), text);
    await expect(verify()).rejects.toThrow(message);
  });

  it('says where there is none, and stops when asked', async () => {
    await expect(verify()).rejects.toThrow(/There is no media hash list in/);
    await expect(
      verifyFolder(join(folder, 'none'), () => undefined, new AbortController().signal, new Set()),
    ).rejects.toThrow(/There is no folder/);
    writeList();
    const stopped = await verify(AbortSignal.abort());
    expect(stopped).toMatchObject({ stopped: true, alike: 0 });
    expect(verifiedWords(stopped).lead).toBe('Stopped: 0 of 2 files were alike until then.');
  });
});
