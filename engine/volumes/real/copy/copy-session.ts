import { closeSync, constants, openSync } from 'node:fs';
import { chmod, mkdir } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { HASH_LIST_FOLDER } from '#core/5-answers/copies/hash-list.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { DIFFERS_DETAIL, openCopyLeg, type CopyLeg, type CopyNote } from '#core/4-runs/run/copy-record.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';
import { notedFolders } from '#engine/scratch/journal.ts';
import type { Removal } from '#engine/scratch/removal.ts';
import { makeScratch } from '#engine/scratch/scratch.ts';
import { system } from '#engine/system/this-system.ts';
import { executor } from '#engine/volumes/step-hands.ts';
import { runPipeline, type PipelineReading } from '#engine/volumes/real/copy/copy-pipeline.ts';
import {
  asTarget,
  emitBypass,
  flushTarget,
  makeLinks,
  type OpenEnd,
  type RealCopyEnd,
} from '#engine/volumes/real/copy/copy-ends.ts';
import { MOST_FILE_NOTES, tellFaults } from '#engine/volumes/real/copy/file-faults.ts';
import { hashedFiles, writeHashList, type ReadBackPaths } from '#engine/volumes/real/copy/keep-copy.ts';
import { madeFilesFolder, makeFiles } from '#engine/volumes/real/copy/make-files.ts';
import { listPayload, type PayloadFile, type PayloadFiles } from '#engine/volumes/real/copy/payload-files.ts';
import { connectionNow } from '#engine/volumes/real/real-volume-info.ts';
import { checkWhereabouts, tellLeft } from '#engine/volumes/real/own-scratch.ts';
import { freeBytesAt } from '#engine/volumes/real/free-bytes.ts';
import { createSessionFiles } from '#engine/volumes/real/files.ts';
import { monotonicSeconds, seedOf } from '#engine/volumes/real/io-protocol.ts';
import { isFatLike } from '#engine/system/filesystems.ts';
import { watchRoom, within } from '#engine/volumes/real/room-watch.ts';
import { copyRowsEvent, momentEvent } from '#engine/volumes/step-events.ts';
import {
  NOTHING_MOVED,
  type CopyStep,
  type MakePayloadStep,
  type RestStep,
  type Session,
  type StepControl,
  type StepOutcome,
} from '#engine/volumes/volume.ts';
import { startWatching } from '#engine/watch/watcher.ts';

export interface RealCopyRequest {
  runId: string;
  journalFolder: string;
  source: RealCopyEnd;
  targets: readonly RealCopyEnd[];
  /** Folder on the source’s volume for made files and copies back; null where nothing is written there. */
  sourceScratchFolder: string | null;
}

/** What was read back from each target. */
type ReadBack = Map<number, ReadBackPaths>;

/** Filesystems in which a copy can be a reference to the same blocks. */
const CLONING = new Set(['btrfs', 'xfs', 'bcachefs', 'ocfs2', 'apfs']);

/** @throws Problem when a scratch folder cannot be made; nothing is left then */
export async function openRealCopy(request: RealCopyRequest): Promise<Session> {
  const { runId, journalFolder, source, targets, sourceScratchFolder } = request;
  const ends: OpenEnd[] = [];
  const open = async (end: RealCopyEnd, parent: string | null, part: string): Promise<void> => {
    const scratch =
      parent === null ? null : await makeScratch(parent, { runId, part, journalFolder, volume: end.info });
    const files = scratch && createSessionFiles(end.info, scratch);
    ends.push({ ...end, scratch, files, tree: null, copied: null, movedBytes: 0, movingBytes: 0 });
    // The first file tells whether the filesystem takes direct requests.
    files?.addFile();
  };
  try {
    await open(source, sourceScratchFolder, 'from');
    for (const [index, target] of targets.entries()) await open(target, target.folder, `to${index + 1}`);
  } catch (error) {
    await closeAll(ends);
    throw error;
  }
  return copySession(request, ends);
}

async function closeAll(
  ends: readonly OpenEnd[],
  tell: (folder: string, removal: Removal) => void = () => undefined,
): Promise<void> {
  for (const { files, scratch, tree } of ends) {
    files?.close();
    await tree?.remove().catch(() => undefined);
    if (scratch) tell(scratch.folder, await scratch.remove());
  }
}

function copySession({ runId, journalFolder }: RealCopyRequest, ends: OpenEnd[]): Session {
  const source = ends[0]!;
  const start = monotonicSeconds();
  const nowSeconds = () => monotonicSeconds() - start;
  const stopWatching: (() => void)[] = [];
  const room = watchRoom(ends.filter(({ scratch }) => scratch !== null).map(({ info }) => info));
  let payload: PayloadFiles | undefined;
  let madeFolder: string | undefined;
  let isBuffered = ends.some(({ files }) => files?.ioMode === 'buffered');

  /** The disk of every end is watched once: the source’s as that of any run, the others beside it. */
  function watch(emit: Emit): void {
    if (stopWatching.length > 0) return;
    ends.forEach(({ info }, end) => {
      const onDisk = (other: OpenEnd) => other.info.deviceKey === info.deviceKey;
      const targets = {
        device: info.device,
        ownBytes: () =>
          ends.filter(onDisk).reduce((sum, { movedBytes, movingBytes }) => sum + movedBytes + movingBytes, 0),
        nowSeconds,
      };
      if (end > 0 && onDisk(source)) return;
      stopWatching.push(startWatching(targets, end === 0 ? emit : (event) => asTarget(end, event, emit)));
    });
  }

  async function make(step: MakePayloadStep, control: StepControl): Promise<StepOutcome> {
    const outcome = await makeFiles(step, source, { runSeed: seedOf(runId), startSeconds: start }, control);
    source.movedBytes += outcome.bytes;
    madeFolder = madeFilesFolder(source);
    return outcome;
  }

  /** Folder and files of what a leg copies. */
  async function payloadOf(step: CopyStep, { signal }: StepControl): Promise<{ root: string; listed: PayloadFiles }> {
    if (step.from === 0) {
      const root = madeFolder ?? source.folder;
      payload ??= await listPayload(root, { signal, own: await notedFolders(journalFolder) });
      return { root, listed: payload };
    }
    const copied = ends[step.from]!.copied;
    if (!copied) throw new RangeError('A copy goes back from where none was made.');
    const { files, folders, links } = await listPayload(copied.folder, { signal });
    const whole = new Set(copied.files.map(({ path }) => path));
    const listed = { files: files.filter(({ path }) => whole.has(path)), folders, links, notes: [] };
    return { root: copied.folder, listed };
  }

  /** Whether files of a folder are read past the cache; found out by the first of them. */
  function readFlags(root: string, files: readonly PayloadFile[]): number {
    const [first] = files;
    if (!first || source.info.medium === 'memory') return system.directFlag;
    try {
      closeSync(openSync(join(root, first.path), constants.O_RDONLY | constants.O_NOFOLLOW | system.directFlag));
    } catch (error) {
      if (!['EINVAL', 'EOPNOTSUPP'].includes((error as NodeJS.ErrnoException).code ?? '')) return system.directFlag;
      isBuffered = true;
      return 0;
    }
    return system.directFlag;
  }

  async function copy(step: CopyStep, emit: Emit, control: StepControl): Promise<StepOutcome> {
    const note = (one: Omit<CopyNote, 'leg'>) => emit({ type: 'copy-note', note: { leg: step.leg, ...one } });
    const { root, listed } = await payloadOf(step, control);
    if (listed.files.length === 0) {
      throw new Problem('nothing-to-read', `${root} holds no files that could be copied. Choose another folder.`, {
        where: 'folder',
      });
    }
    for (const one of listed.notes) note(one);
    const from = ends[step.from]!;
    const targets = step.to.map((end) => ends[end]!);
    if (CLONING.has(from.info.filesystem) && targets.some(({ info }) => info.mountPoint === from.info.mountPoint)) {
      note({
        kind: 'clone',
        end: null,
        path: '',
        detail: `Source and target lie on one ${from.info.filesystem} filesystem, which can clone files in no time. Here every byte was copied.`,
      });
    }
    const began = nowSeconds();
    for (const target of targets) {
      await target.tree?.remove();
      target.tree = target.scratch!.createTree(step.leg, pathsOf(listed));
      target.copied = { folder: target.tree.folder, files: [] };
      for (const { path } of listed.folders) await mkdir(join(target.tree.folder, path), { mode: 0o700 });
    }
    const flags = readFlags(root, listed.files);
    const devices = [from, targets[0]!].map(({ info }) => system.diskBytes(info.device.deviceNumber));
    const told = tellRows(step, 'copying', [step.from, ...step.to], emit);
    const result = await runPipeline(
      {
        files: listed.files,
        source: { folder: root, flags },
        targets: targets.map(({ files, info, tree }) => ({
          folder: tree!.folder,
          flags: files!.openFlags,
          presizes: !isFatLike(info.filesystem),
        })),
        hashes: step.verify !== 'none',
        flushEach: step.flushEach,
        checksListing: true,
        mountPoint: targets.map(({ info }) => info.mountPoint).join(', '),
        ...pipelineOf(step, control),
      },
      told,
    );
    settleMoved();
    const isWhole = (file: number) => result.outcomes[file] === 'whole';
    const whole = listed.files.filter((_, file) => isWhole(file));
    tellFaults(listed.files, result.outcomes, note);
    const leg: CopyLeg = {
      ...openCopyLeg(step, listed.files.length, sumOf(listed.files), began),
      wholeBytes: sumOf(whole),
      wholeFiles: whole.length,
      copySeconds: result.endSeconds - result.startSeconds,
    };
    try {
      if (result.failure) throw result.failure;
      for (const target of targets) {
        target.copied!.files = whole;
        await makeLinks(target.tree!.folder, listed, note);
      }
      const flushFrom = nowSeconds();
      await Promise.all(targets.map((target) => flushTarget(target)));
      leg.flushSeconds = nowSeconds() - flushFrom;
      emitBypass(step, from, targets[0]!, leg.wholeBytes, devices, emit);
      const hashes = new Map(listed.files.map(({ path }, file) => [path, result.hashes[file] ?? '']));
      const readings: ReadBack =
        step.verify === 'read-back' && !control.signal.aborted
          ? await readBack(step, whole, hashes, leg, emit, control)
          : (new Map() as ReadBack);
      if (step.keeps) await keep(step, leg, whole, hashes, readings, note);
    } finally {
      emit({ type: 'copy-leg', leg });
    }
    return {
      ...NOTHING_MOVED,
      bytes: leg.wholeBytes,
      transferSeconds: leg.copySeconds,
      flushSeconds: leg.flushSeconds,
    };
  }

  /** What copying and reading back do alike. */
  const pipelineOf = (step: CopyStep, { signal }: StepControl) => ({
    blockBytes: step.blockBytes,
    depth: step.depth,
    parallelFiles: step.parallelFiles,
    runSeed: seedOf(runId),
    sampleSeconds: step.sampleSeconds,
    signal,
  });

  /** Tells how far the ends of a stage are, and keeps count for what is watched. */
  function tellRows(
    step: CopyStep,
    stage: 'copying' | 'verifying',
    numbers: readonly number[],
    emit: Emit,
  ): (reading: PipelineReading) => void {
    return ({ atSeconds, ends: readings }) => {
      const rows = numbers.map((end, index) => ({ end, ...readings[index]! }));
      for (const { end, bytes } of rows) ends[end]!.movingBytes = bytes;
      emit(copyRowsEvent(step.leg, stage, atSeconds - start, rows));
    };
  }

  function settleMoved(): void {
    for (const end of ends) {
      end.movedBytes += end.movingBytes;
      end.movingBytes = 0;
    }
  }

  /** Reads every copy back, all at the same time. */
  async function readBack(
    step: CopyStep,
    whole: readonly PayloadFile[],
    hashes: ReadonlyMap<string, string>,
    leg: CopyLeg,
    emit: Emit,
    control: StepControl,
  ): Promise<ReadBack> {
    const readings: ReadBack = new Map();
    const from = nowSeconds();
    await Promise.all(
      step.to.map(async (number) => {
        const { info, files, tree } = ends[number]!;
        const result = await runPipeline(
          {
            files: whole,
            source: { folder: tree!.folder, flags: files!.openFlags },
            targets: [],
            hashes: true,
            flushEach: false,
            checksListing: false,
            mountPoint: info.mountPoint,
            ...pipelineOf(step, control),
          },
          tellRows(step, 'verifying', [number], emit),
        );
        if (result.failure) throw result.failure;
        const reading: ReadBackPaths = { alike: new Set(), differing: new Set() };
        readings.set(number, reading);
        whole.forEach(({ path }, file) => {
          if (result.outcomes[file] === null) return;
          if (result.outcomes[file] === 'whole' && result.hashes[file] === hashes.get(path)) {
            leg.checkedFiles += 1;
            reading.alike.add(path);
            return;
          }
          leg.differingFiles += 1;
          reading.differing.add(path);
          if (leg.differingFiles <= MOST_FILE_NOTES) {
            emit({
              type: 'copy-note',
              note: { leg: step.leg, kind: 'differs', end: number, path, detail: DIFFERS_DETAIL },
            });
          }
        });
      }),
    );
    settleMoved();
    leg.verifySeconds = nowSeconds() - from;
    return readings;
  }

  /** What is whole gets a folder of its own at every target, with its hash list. */
  async function keep(
    step: CopyStep,
    leg: CopyLeg,
    whole: readonly PayloadFile[],
    hashes: ReadonlyMap<string, string>,
    readings: ReadBack,
    note: (one: Omit<CopyNote, 'leg'>) => void,
  ): Promise<void> {
    const name = madeFolder === undefined ? basename(source.folder) || source.info.label : 'Made files';
    for (const number of step.to) {
      const target = ends[number]!;
      const folder = await target.tree!.moveTo(target.folder, name);
      target.tree = null;
      target.copied!.folder = folder;
      await chmod(folder, 0o755).catch(() => undefined);
      leg.keptFolders.push(folder);
      if (step.verify === 'none') continue;
      const listed = hashedFiles(whole, hashes, readings.get(number));
      const isWritten = await writeHashList(folder, listed);
      const detail = isWritten
        ? `${listed.length.toLocaleString('en-US')} files in the hash list ${join(folder, HASH_LIST_FOLDER)}.`
        : `The source brought a folder ${HASH_LIST_FOLDER} along; it was copied as it is, and no new list was written.`;
      note({ kind: 'hash-list', end: number, path: '', detail });
    }
  }

  async function rest({ seconds, note }: RestStep, emit: Emit, { signal }: StepControl): Promise<void> {
    const at = nowSeconds();
    await wait(seconds * 1000, undefined, { signal }).catch(() => undefined);
    emit(momentEvent('rest', at, nowSeconds() - at, note));
  }

  const carryOut = executor({ 'make-payload': (step, _emit, control) => make(step, control), copy, rest });
  return {
    get ioMode() {
      if (isBuffered) return 'buffered';
      return ends.every(({ info }) => info.medium === 'memory') ? 'memory' : 'direct';
    },
    async execute(step, emit, control) {
      watch(emit);
      const outcome = await carryOut(step, emit, within(room, control));
      for (const { scratch, info } of ends) if (scratch) checkWhereabouts(scratch, info.mountPoint);
      room.check();
      return outcome;
    },
    freeBytes: () => freeBytesAt(source.info.mountPoint),
    changedConnection: () => Promise.resolve(connectionNow(source.info)),
    async close(_keepScratch, emit) {
      for (const stop of stopWatching) stop();
      room.end();
      await closeAll(ends, (folder, removal) => tellLeft(folder, removal, nowSeconds(), emit));
    },
  };
}

const sumOf = (files: readonly PayloadFile[]): number => files.reduce((sum, { bytes }) => sum + bytes, 0);

const pathsOf = ({ files, folders, links }: PayloadFiles): string[] =>
  [folders, files, links].flatMap((all) => all.map(({ path }) => path));
