/**
 * MXF files (SMPTE ST 377-1) of known truth: edit units of a picture and a sound element with exactly so many bytes.
 * For tests.
 */
export interface MadeMxf {
  /** Bytes of the picture in each edit unit. */
  picture: readonly number[];
  /** Bytes of the sound in each edit unit. */
  sound: number;
  editRate: readonly [numerator: number, denominator: number];
  index: 'entries' | 'constant' | 'none';
  /** Index entries in one partition of their own a so many units, or all in the footer. */
  unitsPerPartition: number | null;
  hasRandomIndex: boolean;
  runIn: number;
  /** One element that holds all units. */
  clipWrapped: boolean;
  bodySids: number;
}

const PLAIN: MadeMxf = {
  picture: [1000, 2000, 1500],
  sound: 400,
  editRate: [25, 1],
  index: 'entries',
  unitsPerPartition: null,
  hasRandomIndex: true,
  runIn: 0,
  clipWrapped: false,
  bodySids: 1,
};

const hex = (text: string): number[] => text.split(' ').map((byte) => Number.parseInt(byte, 16));
const big = (value: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, index) => Math.floor(value / 256 ** (bytes - 1 - index)) % 256);
const klv = (key: number[], value: number[]): number[] => [...key, 0x83, ...big(value.length, 3), ...value];
const item = (tag: number, value: number[]): number[] => [...big(tag, 2), ...big(value.length, 2), ...value];

const OP1A = hex('06 0e 2b 34 04 01 01 01 0d 01 02 01 01 01 09 00');
const PICTURE = hex('06 0e 2b 34 01 02 01 01 0d 01 03 01 15 01 05 01');
const SOUND = hex('06 0e 2b 34 01 02 01 01 0d 01 03 01 16 01 01 01');
const AVC_INTRA = hex('06 0e 2b 34 04 01 01 0a 04 01 02 02 01 32 31 08');
const set = (kind: number, items: number[]): number[] =>
  klv([...hex('06 0e 2b 34 02 53 01 01 0d 01 01 01 01 01'), kind, 0], items);

function header(made: MadeMxf): number[] {
  const rate = [...big(made.editRate[0], 4), ...big(made.editRate[1], 4)];
  return [
    ...klv(hex('06 0e 2b 34 02 05 01 01 0d 01 02 01 01 05 01 00'), [...big(0, 4), ...big(18, 4)]),
    ...set(0x3b, item(0x4b01, rate)),
    ...set(0x28, [
      ...item(0x3001, rate),
      ...item(0x3002, big(made.picture.length, 8)),
      ...item(0x3201, AVC_INTRA),
      ...item(0x3203, big(1920, 4)),
      ...item(0x3202, big(540, 4)),
      ...item(0x320c, [1]),
    ]),
  ];
}

function segment(
  made: MadeMxf,
  start: number,
  offsets: readonly number[],
  unitBytes: number,
  bodySid: number,
): number[] {
  const rate = [...big(made.editRate[0], 4), ...big(made.editRate[1], 4)];
  const entries = offsets.flatMap((offset) => [0, 0, 0x80, ...big(offset, 8)]);
  return klv(hex('06 0e 2b 34 02 53 01 01 0d 01 02 01 01 10 01 00'), [
    ...item(0x3f0b, rate),
    ...item(0x3f0c, big(start, 8)),
    ...item(0x3f0d, big(unitBytes > 0 ? made.picture.length : offsets.length, 8)),
    ...item(0x3f05, big(unitBytes, 4)),
    ...item(0x3f06, big(129, 4)),
    ...item(0x3f07, big(bodySid, 4)),
    ...(offsets.length > 0 ? item(0x3f0a, [...big(offsets.length, 4), ...big(11, 4), ...entries]) : []),
  ]);
}

/** An MXF file; the bytes of its edit units are those of their elements with keys and lengths. */
export function madeMxf(given: Partial<MadeMxf> = {}): { bytes: Uint8Array<ArrayBuffer>; unitBytes: number[] } {
  const made = { ...PLAIN, ...given };
  const units = made.picture.map((bytes) => [
    ...klv(PICTURE, new Array<number>(bytes).fill(7)),
    ...(made.sound > 0 ? klv(SOUND, new Array<number>(made.sound).fill(1)) : []),
  ]);
  const wrapped = made.clipWrapped ? [klv(PICTURE, units.flat())] : units;
  const file: number[] = [];
  const places: { bodySid: number; at: number }[] = [];
  let previous = 0;
  const partition = (kind: number, bodySid: number, bodyOffset: number, metadata: number[], index: number[]): void => {
    const at = file.length;
    places.push({ bodySid, at });
    file.push(
      ...klv(
        [...hex('06 0e 2b 34 02 05 01 01 0d 01 02 01 01'), kind, 4, 0],
        [
          ...big(1, 2),
          ...big(2, 2),
          ...big(1, 4),
          ...big(at, 8),
          ...big(previous, 8),
          ...big(0, 8),
          ...big(metadata.length, 8),
          ...big(index.length, 8),
          ...big(index.length > 0 ? 129 : 0, 4),
          ...big(bodyOffset, 8),
          ...big(bodySid, 4),
          ...OP1A,
          ...big(0, 4),
          ...big(16, 4),
        ],
      ),
      ...metadata,
      ...index,
    );
    previous = at;
  };
  partition(2, 0, 0, header(made), []);
  for (let bodySid = 1; bodySid <= made.bodySids; bodySid += 1) {
    const perPartition = made.unitsPerPartition ?? wrapped.length;
    let offset = 0;
    for (let from = 0; from < wrapped.length; from += perPartition) {
      const own = wrapped.slice(from, from + perPartition);
      partition(3, bodySid, offset, [], []);
      for (const unit of own) for (const byte of unit) file.push(byte);
      offset += own.reduce((sum, unit) => sum + unit.length, 0);
    }
  }
  let sum = 0;
  const offsets = units.map((unit) => (sum += unit.length) - unit.length);
  const constant = made.index === 'constant' ? units[0]!.length : 0;
  // Every other segment, in no order: what counts is where each says that it begins.
  const half = Math.ceil(offsets.length / 2);
  const segments =
    made.index === 'none'
      ? []
      : constant > 0
        ? segment(made, 0, [], constant, 1)
        : [...segment(made, half, offsets.slice(half), 0, 1), ...segment(made, 0, offsets.slice(0, half), 0, 1)];
  const footerAt = file.length;
  partition(4, 0, 0, [], segments);
  if (made.hasRandomIndex) {
    const value = places.flatMap(({ bodySid, at }) => [...big(bodySid, 4), ...big(at, 8)]);
    file.push(...klv(hex('06 0e 2b 34 02 05 01 01 0d 01 02 01 01 11 01 00'), [...value, ...big(value.length + 24, 4)]));
  }
  // The header knows where the footer is once that is written.
  for (const [index, byte] of big(footerAt, 8).entries()) file[20 + 24 + index] = byte;
  const bytes = Uint8Array.from([...new Array<number>(made.runIn).fill(0x20), ...file]);
  return { bytes, unitBytes: units.map((unit) => unit.length) };
}
