/**
 * What a part of a document is called on the screens, for those that a person types there; every other name is read as
 * words. The names of a document stay where they are needed, in `Problem.where`.
 */
export const SCREEN_WORDS: Readonly<Record<string, string>> = {
  amplification: 'written to the medium',
  bufferBytes: 'buffer of the program',
  bytesPerDay: 'amount',
  choice: 'drives',
  computeSeconds: 'computing a frame',
  efficiency: 'layout efficiency',
  enduranceBytes: 'may be written',
  fillLimit: 'filled at most',
  filesystemShare: 'for the filesystem',
  frameBytes: 'size of a frame',
  frameCount: 'frames',
  gapSeconds: 'gap between takes',
  growthShare: 'growth reserve',
  headerBytes: 'beside the channels',
  headroomShare: 'headroom',
  holdsDegraded: 'holds with one gone',
  leastYears: 'years it must last',
  loudnessDecibels: 'loudness under load',
  mostBytes: 'writes at most',
  mostDecibels: 'loudness at most',
  mostDriveShare: 'most that the drive may cost',
  mostDrives: 'drives at most',
  mostSpares: 'hot spares at most',
  occupancyShare: 'occupied',
  powerOnHours: 'hours it has run',
  queueFrames: 'frames written in the background',
  ratio: 'compression',
  rebuildShare: 'rate left for a rebuild',
  showSeconds: 'processor time to show a frame',
  survives: 'failed drives it survives',
  takeOffSeconds: 'taking off one take takes',
  takeSeconds: 'length of a take',
  versions: 'versions kept',
  voxels: 'grid',
};

/** Lists whose entries are called otherwise than the list without its s. */
const ENTRIES: Readonly<Record<string, string>> = {
  copies: 'copy',
  entries: 'entry',
  series: 'series',
};

const asWords = (name: string): string => name.replaceAll(/(?<=[a-zA-Z\d])(?=[A-Z])/g, ' ').toLowerCase();

const entryOf = (list: string): string => ENTRIES[list] ?? asWords(list).replace(/s$/, '');

/**
 * “phases[0].bytes” as “phase 1: bytes”, “plan.policy.headroomShare” as “headroom”: entries of lists are counted from
 * one, and what only holds others is left out.
 */
export function placeWords(path: string): string {
  const names = path.split('.').map((part) => /^(.*?)(?:\[(?:"?)(\d+)"?\])?$/.exec(part)!);
  const words = names.flatMap(([, name = '', index], at) => {
    if (index !== undefined) return [`${entryOf(name)} ${Number(index) + 1}`];
    return at === names.length - 1 ? [SCREEN_WORDS[name] ?? asWords(name)] : [];
  });
  return words.join(', ').replace(/, (?=[^,\d]*$)/, ': ');
}
