import { partsOf } from '#core/1-ground/fields/kinds.ts';
import { listed } from '#core/1-ground/words.ts';
import { bytesText, formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { USUAL_CHANNELS, channelLine, parseChannel } from '#core/3-jobs/demand/series/channels.ts';
import { gridFrameBytes } from '#core/3-jobs/demand/series/frame-bytes.ts';
import type { Channel, GridFrames } from '#core/3-jobs/demand/series/series-item.ts';

/** A frame that is typed by its grid in one line: `480*360*280, density and velocity, 16 bit, 20 %, 2:1`. */

export interface TypedGrid {
  /** Fields of the form of a series. */
  texts: Record<'grid' | 'occupancy' | 'channels' | 'ratio', string>;
  /** Whether what is kept of each voxel, or how many of them are, was left open. */
  isAssumed: boolean;
}

const GRID = /^\s*\d+\s*[x×*]\s*\d+\s*[x×*]\s*\d+/i;
const BITS = /^(8|16|32|64)[\s-]*bits?$/i;
/** Names of numbers by their bits. */
const NUMBERS: Readonly<Record<string, string>> = { half: '16 bit', 'half float': '16 bit', float: '32 bit' };

/** What stands without a comma before it: bits, a share, a compression, and channels that are known by their names. */
const UNPARTED = new RegExp(
  String.raw`(?<=[^\s,;x×*])(?<!\b(?:and|with|plus))\s+(?=\d+[\s-]*bits?\b|[\d.,]+\s*%|\d+(?:\.\d+)?\s*(?::|to\b)\s*\d|half\b|(?<!half\s)float\b|(?:${USUAL_CHANNELS.map(({ name }) => name).join('|')})\b)`,
  'gi',
);

/** What a cache of smoke holds, where nothing is said. */
const LEAST_CHANNELS = ['density', 'velocity'];

/**
 * A frame by its grid: voxels along each side, and behind them in any order what is kept of each (a channel as
 * `velocity 3 x 16`, or by its name alone), the bits of all channels, the share of the voxels and the compression. Where
 * channels are left open it is density and velocity, where the share is, all voxels.
 * @returns null for what does not begin with a grid
 * @throws Problem `bad-input` for what cannot be read behind it
 */
export function readTypedGrid(text: string, where = 'frame'): TypedGrid | null {
  const grid = GRID.exec(text)?.[0];
  if (grid === undefined) return null;
  const behind = text.slice(grid.length).replace(/^\s*voxels?\b/i, '');
  let [occupancy, ratio, bits]: (string | null)[] = [null, null, null];
  const channels: Channel[] = [];
  // A comma between digits is a decimal one.
  for (const typed of partsOf(behind.replaceAll(UNPARTED, ', '), /(?<!\d),|,(?!\d)|;|\s+(?:with|and|plus)\s+/i)) {
    const part = NUMBERS[typed.toLowerCase()] ?? typed;
    if (BITS.test(part)) bits = BITS.exec(part)![1]!;
    else if (/\d\s*(?::|to)\s*\d/.test(part)) ratio = part.replace(/^compressed\s*/i, '');
    else if (part.includes('%')) occupancy = part.replace(/%.*$/, '%');
    else channels.push(channelOf(part, where));
  }
  const kept = channels.length > 0 ? channels : LEAST_CHANNELS.map((name) => channelOf(name, where));
  const own = kept.map((channel) => (bits === null ? channel : { ...channel, bits: Number(bits) }));
  return {
    texts: {
      grid,
      occupancy: occupancy ?? '100%',
      channels: own.map(channelLine).join('\n'),
      ratio: ratio ?? '1',
    },
    isAssumed: channels.length === 0 || occupancy === null,
  };
}

/** One of the usual ones by its name, or one as a line of channels says it. */
const channelOf = (text: string, where: string): Channel =>
  USUAL_CHANNELS.find(({ name }) => name === text.trim().toLowerCase()) ?? parseChannel(text, where);

/** “all of 480 × 360 × 280 voxels are kept, with density (1 × 32 bit) and velocity (3 × 32 bit): 774 MB a frame”. */
export function gridText(frames: GridFrames): string {
  const { voxels, occupancyShare, channels, ratio } = frames;
  const sides = [voxels.x, voxels.y, voxels.z].map((side) => formatNumber(side, 'full')).join(' × ');
  const share = occupancyShare === 1 ? 'all' : formatShare(occupancyShare);
  const each = channels.map(({ name, components, bits }) => `${name} (${components} × ${bits} bit)`);
  const compressed = ratio === 1 ? '' : `, compressed ${formatNumber(ratio)}:1`;
  return `${share} of ${sides} voxels are kept, with ${listed(each)}${compressed}: ${bytesText(gridFrameBytes(frames))} a frame`;
}
