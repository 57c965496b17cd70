import { join } from 'node:path';
import { SAMPLE_SECONDS } from '#engine/recipes/recipe.ts';
import type { OpenEnd } from '#engine/volumes/real/copy/copy-ends.ts';
import { monotonicSeconds } from '#engine/volumes/real/io-protocol.ts';
import { startIoTeam } from '#engine/volumes/real/io-team.ts';
import { scatterRealFiles } from '#engine/volumes/real/scatter.ts';
import type { MakePayloadStep, StepControl, StepOutcome } from '#engine/volumes/volume.ts';
import { system } from '#engine/system/this-system.ts';

/** Made files lie in folders of this many, as a tree that was recorded or exported does. */
const FILES_PER_FOLDER = 200;
const PARALLEL = 4;

/** Where made files lie at an end that has a scratch folder. */
export const madeFilesFolder = ({ scratch }: OpenEnd): string => join(scratch!.folder, 'files');

/** Makes the files that are copied where no folder of the person’s is. */
export async function makeFiles(
  { sizes }: MakePayloadStep,
  { info, scratch, files }: OpenEnd,
  { runSeed, startSeconds }: { runSeed: number; startSeconds: number },
  control: StepControl,
): Promise<StepOutcome> {
  const team = await startIoTeam(PARALLEL, runSeed);
  try {
    const tools = {
      info,
      scratch,
      files: files!,
      moved: { write: 0, read: 0 },
      startSeconds,
      nowSeconds: () => monotonicSeconds() - startSeconds,
      teamOf: () => Promise.resolve(team),
      deviceBytes: () => system.diskBytes(info.device.deviceNumber),
      emitBypass: () => undefined,
      whileMoving: () => undefined,
    };
    const step = {
      kind: 'scatter',
      action: 'create',
      pass: 0,
      sizes,
      filesPerFolder: FILES_PER_FOLDER,
      parallel: PARALLEL,
      flushEach: false,
      sampleSeconds: SAMPLE_SECONDS,
    } as const;
    // Making them is no part of what is measured: only the copies are reported.
    return await scatterRealFiles(step, tools, () => undefined, control);
  } finally {
    await team.close();
  }
}
