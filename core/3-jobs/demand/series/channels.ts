import type { FieldKind } from '#core/1-ground/fields/field.ts';
import { eachLine } from '#core/1-ground/fields/kinds.ts';
import type { Channel, GridFrames } from '#core/3-jobs/demand/series/series-item.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { parseCount } from '#core/1-ground/units/quantity.ts';

/** Channels that simulations usually keep, to pick from. */
export const USUAL_CHANNELS: readonly Channel[] = [
  { name: 'density', components: 1, bits: 32 },
  { name: 'velocity', components: 3, bits: 32 },
  { name: 'temperature', components: 1, bits: 32 },
  { name: 'fuel', components: 1, bits: 32 },
  { name: 'flames', components: 1, bits: 16 },
  { name: 'pressure', components: 1, bits: 32 },
  { name: 'colour', components: 3, bits: 16 },
  { name: 'surface distance', components: 1, bits: 32 },
  { name: 'vorticity', components: 3, bits: 16 },
];

const EXAMPLE = 'velocity 3 x 32';

/** A channel from a line as people type it: name, components, bits of each: `velocity 3 x 32`. @throws Problem `bad-input` */
export function parseChannel(line: string, where = 'channels'): Channel {
  const match = /^(.*\S)\s+(\d+)\s*[x×*]\s*(\d+)(?:\s*bit)?$/i.exec(line.trim());
  if (!match) {
    throw badInput(where, `${where}: “${line}” does not say what it keeps. Type a line such as “${EXAMPLE}”.`);
  }
  const bits = Number(match[3]);
  if (bits !== 8 && bits !== 16 && bits !== 32 && bits !== 64) {
    throw badInput(where, `${where}: “${line}”: a component has 8, 16, 32 or 64 bits.`);
  }
  const components = parseCount(match[2]!, where);
  if (components > 64) throw badInput(where, `${where}: “${line}”: a channel has at most 64 components.`);
  return { name: match[1]!.slice(0, 60), components, bits };
}

export const channelLine = ({ name, components, bits }: Channel): string => `${name} ${components} x ${bits}`;

export type Voxels = GridFrames['voxels'];

/** Voxels along each side: `512x512x1024`, `480*360*280`, or one number for a cube. @throws Problem `bad-input` */
export function parseVoxels(text: string, where = 'grid'): Voxels {
  const match = /^\s*(\d+)(?:\s*[x×*]\s*(\d+)\s*[x×*]\s*(\d+))?\s*$/i.exec(text);
  const [x, y, z] = (match ? [match[1], match[2] ?? match[1], match[3] ?? match[1]] : []).map(Number);
  if (x === undefined || y === undefined || z === undefined || x < 1 || y < 1 || z < 1) {
    throw badInput(where, `${where}: “${text}” is no grid. Type voxels along each side, such as 512x512x1024.`);
  }
  if (Math.max(x, y, z) > 1e9) {
    throw badInput(
      where,
      `${where}: “${text}” has more than a thousand million voxels a side. Type fewer, such as 512x512x1024.`,
    );
  }
  return { x, y, z };
}

export const voxelsText = ({ x, y, z }: Voxels): string => `${x}x${y}x${z}`;

/** Channels of a cache, one a line. */
export const CHANNELS = eachLine(parseChannel, channelLine);

/** Voxels along each side of a grid. */
export const VOXELS: FieldKind = { read: parseVoxels, show: voxelsText };
