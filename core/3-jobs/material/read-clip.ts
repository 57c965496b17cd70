import { ALL_FORMATS, EncodedPacketSink, Input, type Source } from 'mediabunny';
import { mxfBegin, readMxf, type ReadBytes } from '#core/3-jobs/material/mxf.ts';
import type { Clip, Stop } from '#core/3-jobs/material/clip.ts';
import { materialRates, type MaterialSample } from '#core/3-jobs/material/sample-rates.ts';
import { badInput, Problem } from '#core/1-ground/problem.ts';

/** The sources that a clip can be read from: a file that was dropped, or one on the machine. */
export { BlobSource, FilePathSource } from 'mediabunny';

/** More samples than this are not held: a day of sound and picture. */
const MOST_SAMPLES = 4_000_000;

/** The same place is looked at this often in a row only by a reading that goes round in circles. */
const MOST_LOOKS = 1000;

/** What the container library asks a source for; part of it, though not of its published shape. */
interface Readable {
  _read(start: number, end: number, ...rest: unknown[]): unknown;
}

/** What it answers: more than was asked for, perhaps; null beyond the end. */
type ReadResult = { bytes: Uint8Array; offset: number } | null;

/** Bytes of a source, for what the container library does not read. */
function bytesOf(source: Source, sizeBytes: number): ReadBytes {
  const readable = source as unknown as Readable;
  return async (from, to) => {
    const [start, end] = [Math.max(0, from), Math.min(to, sizeBytes)];
    if (!(end > start)) return new Uint8Array(0);
    const found = (await readable._read(start, end, start, end)) as ReadResult;
    return found === null ? new Uint8Array(0) : found.bytes.subarray(start - found.offset, end - found.offset);
  };
}

const MXF_HEAD_BYTES = 66_000;

/** An MXF file is none of the library's containers. @returns null for anything else */
async function readIfMxf(source: Source, name: string, signal?: Stop): Promise<Clip | null> {
  const sizeBytes = await source.getSizeOrNull();
  if (sizeBytes === null) return null;
  const read = bytesOf(source, sizeBytes);
  // Only one that is named so may begin with something else.
  const head = await read(0, /\.mxf$/i.test(name) ? MXF_HEAD_BYTES : 16);
  const begin = mxfBegin(head);
  return begin === null ? null : readMxf({ read, sizeBytes, name, signal }, begin);
}

/**
 * Ends a reading that does not come forward: what looks for the next part of a broken Matroska file stands still at its
 * end, and gives nobody else the processor meanwhile.
 */
function watched(source: Source): Source {
  const readable = source as unknown as Readable;
  const read = readable._read.bind(source);
  let [lastStart, lastEnd, looks] = [-1, -1, 0];
  readable._read = (start, end, ...rest) => {
    looks = start === lastStart && end === lastEnd ? looks + 1 : 0;
    [lastStart, lastEnd] = [start, end];
    if (looks > MOST_LOOKS) throw new Error(`nothing that can be read follows byte ${start}`);
    return read(start, end, ...rest);
  };
  return source;
}

/**
 * Sizes and times of everything in a clip (MXF; MP4, MOV, Matroska, WebM and what else the container
 * library knows). Only the index is read where the container has one; nothing is decoded.
 * @throws Problem `bad-input` with the place of the fault
 */
export async function readClip(source: Source, name: string, signal?: Stop): Promise<Clip> {
  const input = new Input({ source: watched(source), formats: ALL_FORMATS });
  let stage = 'its beginning';
  try {
    const mxf = await readIfMxf(source, name, signal);
    if (mxf) return mxf;
    if (!(await input.canRead())) {
      throw badInput('clip', `${name}: is no clip that can be read. MP4, MOV, MXF, MKV and WebM are.`);
    }
    stage = 'its list of tracks';
    const tracks = await input.getTracks();
    const samples: MaterialSample[] = [];
    let frames: MaterialSample[] = [];
    let description = '';
    let end = 0;
    let declared = 0;
    const sizeBytes = await source.getSizeOrNull();
    for (const [index, track] of tracks.entries()) {
      const own: MaterialSample[] = [];
      const packets = new EncodedPacketSink(track).packets(undefined, undefined, { metadataOnly: true });
      for await (const packet of packets) {
        signal?.throwIfAborted();
        declared += packet.byteLength;
        // An index that promises more than the file holds would be followed for hours.
        if (sizeBytes !== null && declared > sizeBytes) throw new Error('its index names more than it holds');
        stage = `track ${index + 1}, ${packet.timestamp.toFixed(2)} s`;
        own.push({ atSeconds: packet.timestamp, bytes: packet.byteLength });
        end = Math.max(end, packet.timestamp + packet.duration);
        if (samples.length + own.length > MOST_SAMPLES)
          throw badInput('clip', `${name}: has more than ${MOST_SAMPLES} samples.`);
      }
      for (const sample of own) samples.push(sample);
      if (track.isVideoTrack() && frames.length === 0) {
        frames = own.sort((a, b) => a.atSeconds - b.atSeconds);
        description = `${track.codec ?? 'unknown codec'} ${track.displayWidth}×${track.displayHeight}`;
      }
    }
    if (samples.length === 0) throw badInput('clip', `${name}: holds no frames and no sound, or its end is missing.`);
    const first = samples.reduce((least, sample) => Math.min(least, sample.atSeconds), Infinity);
    const picture = frames.length > 0 ? frames : null;
    const rates = materialRates(samples, Math.max(end - Math.min(0, first), 1e-3), picture);
    return { description: description || 'sound only', rates, frames };
  } catch (error) {
    if (error instanceof Problem || signal?.aborted) throw error;
    throw badInput('clip', `${name}: is broken or ends early at ${stage} (${(error as Error).message}).`);
  } finally {
    input.dispose();
  }
}
