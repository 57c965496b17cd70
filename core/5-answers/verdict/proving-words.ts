import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { blockText, bytesText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { listed } from '#core/1-ground/words.ts';
import type { ProvingRun } from '#core/5-answers/verdict/verdict.ts';

/** The run that would settle what is not proven, in a sentence or two: what it does, how long it takes, what it wears. */
export const provingWords = (proving: ProvingRun): string =>
  `${recipeKindById(proving.recipe).label}: ${whatItDoes(proving)}`;

function whatItDoes({ recipe, readsBack, bytes, seconds, restSeconds, ladder }: ProvingRun): string {
  const time = seconds === null ? '' : `, about ${formatDuration(seconds)}`;
  switch (recipe) {
    case 'existing-material':
      return `reads ${bytesText(bytes)} that was not just written${time}. It writes nothing.`;
    case 'paced-frames':
      return `the job itself, frame by frame${time}. It writes up to ${bytesText(bytes)} to the drive.`;
    case 'block-ladder':
      return `requests of ${ladder ? `${listed(ladder.blocks.map(blockText))}, ${listed(ladder.depths.map(String))} at a time,` : 'every size'} in a stretch of ${bytesText(bytes)}${time}. It writes that much once.${ladder && ladder.loads > 1 ? ` That measures what ${formatNumber(ladder.loads)} loads of the workload ask for.` : ''}`;
    case 'long-fill': {
      const rest = restSeconds === null ? '' : `, then rests ${formatDuration(restSeconds)} and writes on`;
      return `${bytesText(bytes)}${readsBack ? ', read back' : ''}${rest}${time}. It wears the drive by as much.`;
    }
  }
}
