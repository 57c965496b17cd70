import { badInput } from '#core/1-ground/problem.ts';
import { enclosuresFor } from '#core/5-answers/sizing/parts.ts';
import {
  LAYOUTS,
  LAYOUT_IDS,
  attached,
  layoutById,
  takes,
  type Layout,
  type LayoutId,
} from '#core/5-answers/sizing/layouts.ts';
import { MOST_DRIVES, MOST_SPARES, isShare, type Sizing, type SizingDrive } from '#core/5-answers/sizing/project.ts';

/** A storage set-up. Numbers are places in the lists of the project. */
export interface Build {
  drive: number;
  /** Drives of that kind that hold data. */
  count: number;
  /** Another kind beside it, and how many of that; null and 0 where all are alike. */
  other: number | null;
  otherCount: number;
  layout: LayoutId;
  /** Hot spares, of the kind that can stand in for any. */
  spares: number;
  enclosure: number;
  connection: number;
}

/** Drives of a build that hold data, without what is around them. */
export type Stack = Pick<Build, 'drive' | 'count' | 'other' | 'otherCount'>;

export const stackSize = ({ count, otherCount }: Stack): number => count + otherCount;

/** Kinds of drives in a stack, spares counted with the kind they are of. */
export function kindsOf(
  drives: readonly SizingDrive[],
  { drive, count, other, otherCount }: Stack,
  spares = 0,
): { drive: SizingDrive; count: number; spares: number }[] {
  const first = drives[drive]!;
  if (other === null) return [{ drive: first, count, spares }];
  const second = drives[other]!;
  // A spare has to hold what any of them holds.
  const sparesFirst = first.capacityBytes >= second.capacityBytes;
  return [
    { drive: first, count, spares: sparesFirst ? spares : 0 },
    { drive: second, count: otherCount, spares: sparesFirst ? 0 : spares },
  ];
}

/** Price of the drives of a stack that are not there yet. */
export function drivesPrice(drives: readonly SizingDrive[], stack: Stack, spares: number): number {
  return kindsOf(drives, stack, spares).reduce(
    (sum, { drive, count, spares: own }) => sum + Math.max(0, count + own - drive.there) * drive.price,
    0,
  );
}

/** Whether so many of each kind are to be had. */
const areToBeHad = (drives: readonly SizingDrive[], stack: Stack, spares: number): boolean =>
  kindsOf(drives, stack, spares).every(({ drive, count, spares: own }) => count + own <= (drive.most ?? Infinity));

/**
 * Stacks that builds of a project are made of: each kind of drive alone, and drives that are there with others beside
 * them. A layout takes from each drive what the smallest and slowest of them gives, so of other mixes as many drives
 * of the cheaper kind alone cost no more and hold no less; and of a mix only how many cost nothing matters, so as many
 * as are there are taken of one kind or of the other. A share is storage by itself.
 */
export function* stacksOf({ drives, policy: { mostDrives } }: Sizing): Generator<Stack> {
  for (let drive = 0; drive < drives.length; drive += 1) {
    const most = isShare(drives[drive]!) ? 1 : mostDrives;
    for (let count = 1; count <= most; count += 1) yield { drive, count, other: null, otherCount: 0 };
    if (isShare(drives[drive]!)) continue;
    for (let other = drive + 1; other < drives.length; other += 1) {
      if (isShare(drives[other]!)) continue;
      for (let together = 2; together <= mostDrives; together += 1) {
        for (const count of cheapestSplits(drives[drive]!.there, drives[other]!.there, together)) {
          yield { drive, count, other, otherCount: together - count };
        }
      }
    }
  }
}

/** Whether a stack is storage of its own, which needs no enclosure here. */
export const standsAlone = ({ drives }: Pick<Sizing, 'drives'>, { drive }: Pick<Stack, 'drive'>): boolean =>
  isShare(drives[drive]!);

/** How many of the first kind are taken of so many drives, where of either as many as may be cost nothing. */
function cheapestSplits(firstThere: number, secondThere: number, together: number): number[] {
  const ofFirst = Math.min(firstThere, together - 1);
  const ofSecond = Math.min(secondThere, together - 1);
  return [...new Set([...(ofFirst > 0 ? [ofFirst] : []), ...(ofSecond > 0 ? [together - ofSecond] : [])])];
}

/** Layouts of a project, in the order in which they are searched. */
export const layoutsOf = ({ policy }: Sizing): Layout[] => LAYOUTS.filter(({ id }) => policy.layouts.includes(id));

/** Enclosures of its kind that a build takes: none for a share, and one where no number of them would do. */
export function enclosureCount(sizing: Sizing, build: Build): number {
  if (standsAlone(sizing, build)) return 0;
  const slots = attached(layoutById(build.layout), stackSize(build)) + build.spares;
  return enclosuresFor(sizing.enclosures[build.enclosure]!, slots) ?? 1;
}

/** How many hot spares a stack may have; the drives there are set an end to it. */
export function* sparesOf(sizing: Sizing, stack: Stack): Generator<number> {
  const { drives, policy } = sizing;
  const alone = standsAlone(sizing, stack);
  const [leastSpares, mostSpares] = alone ? [0, 0] : [policy.leastSpares, policy.mostSpares];
  for (let spares = leastSpares; spares <= mostSpares; spares += 1) if (areToBeHad(drives, stack, spares)) yield spares;
}

/** Every build of a project, in the order in which a search looks at them. */
export function* buildsOf(sizing: Sizing): Generator<Build> {
  for (const stack of stacksOf(sizing)) {
    for (const layout of layoutsOf(sizing)) {
      if (!takes(layout, stackSize(stack))) continue;
      for (const spares of sparesOf(sizing, stack)) {
        const enclosures = standsAlone(sizing, stack) ? 1 : sizing.enclosures.length;
        for (let enclosure = 0; enclosure < enclosures; enclosure += 1) {
          for (let connection = 0; connection < sizing.connections.length; connection += 1) {
            yield { ...stack, layout: layout.id, spares, enclosure, connection };
          }
        }
      }
    }
  }
}

/** A build in a few letters, for addresses: “0.7.single-parity.1.2.0”. */
export function buildCode({ drive, count, other, otherCount, layout, spares, enclosure, connection }: Build): string {
  const second = other === null ? [] : [other, otherCount];
  return [drive, count, layout, spares, enclosure, connection, ...second].join('.');
}

/** @throws Problem `bad-input` where it is none, or none of this project */
export function parseBuildCode(code: string, { drives, enclosures, connections }: Sizing): Build {
  const [drive, count, layout, spares, enclosure, connection, other, otherCount] = code.split('.');
  const fault = () => badInput('build', `build: “${code}” is none of this project. Choose one from the picture.`);
  const whole = (text: string | undefined, most: number): number => {
    const value = Number(text);
    if (text === undefined || text === '' || !Number.isInteger(value) || value < 0 || value > most) throw fault();
    return value;
  };
  const id = LAYOUT_IDS.find((one) => one === layout);
  if (!id) throw fault();
  const build: Build = {
    drive: whole(drive, drives.length - 1),
    count: whole(count, MOST_DRIVES),
    other: other === undefined ? null : whole(other, drives.length - 1),
    otherCount: other === undefined ? 0 : whole(otherCount, MOST_DRIVES),
    layout: id,
    spares: whole(spares, MOST_SPARES),
    enclosure: whole(enclosure, enclosures.length - 1),
    connection: whole(connection, connections.length - 1),
  };
  if (!takes(layoutById(id), stackSize(build))) throw fault();
  return build;
}
