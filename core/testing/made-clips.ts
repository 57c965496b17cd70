import {
  BufferTarget,
  EncodedPacket,
  EncodedVideoPacketSource,
  MkvOutputFormat,
  MovOutputFormat,
  Mp4OutputFormat,
  Output,
  WebMOutputFormat,
} from 'mediabunny';

const FORMATS = { mp4: Mp4OutputFormat, mov: MovOutputFormat, mkv: MkvOutputFormat, webm: WebMOutputFormat };
export type ContainerName = keyof typeof FORMATS;
export const CONTAINERS = Object.keys(FORMATS) as ContainerName[];

/** A clip whose frames have exactly these bytes. For tests. */
export async function madeClip(
  container: ContainerName,
  frameBytes: readonly number[],
  framesPerSecond: number,
): Promise<Uint8Array<ArrayBuffer>> {
  const target = new BufferTarget();
  const output = new Output({ format: new FORMATS[container](), target });
  const source = new EncodedVideoPacketSource('vp9');
  output.addVideoTrack(source, { frameRate: framesPerSecond });
  await output.start();
  const period = 1 / framesPerSecond;
  for (const [index, bytes] of frameBytes.entries()) {
    const packet = new EncodedPacket(
      new Uint8Array(bytes).fill(index),
      index % 12 === 0 ? 'key' : 'delta',
      index * period,
      period,
    );
    await source.add(packet, {
      decoderConfig: { codec: 'vp09.00.10.08', codedWidth: 640, codedHeight: 360 },
    });
  }
  await output.finalize();
  return new Uint8Array(target.buffer!);
}
