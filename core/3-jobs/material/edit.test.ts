import { describe, expect, it } from 'vitest';
import { materialOfEdit, usualFormatOf, type Edit } from '#core/3-jobs/material/edit.ts';
import type { MaterialFile } from '#core/3-jobs/material/formats/material-format.ts';
import { readMaterialFiles } from '#core/3-jobs/material/formats/registry.ts';
import { materialRates } from '#core/3-jobs/material/sample-rates.ts';

const time = (value: number, rate = 24) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const clip = (name: string, frames: number, media: object) => ({
  OTIO_SCHEMA: 'Clip.1',
  name,
  source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(0), duration: time(frames) },
  media_reference: media,
});
const external = (path: string) => ({ OTIO_SCHEMA: 'ExternalReference.1', target_url: `file:///reel/${path}` });
const track = (kind: string, ...children: object[]) => ({ OTIO_SCHEMA: 'Track.1', kind, children });
const document = JSON.stringify({
  OTIO_SCHEMA: 'Timeline.1',
  name: 'Reel two',
  tracks: {
    OTIO_SCHEMA: 'Stack.1',
    children: [
      track('Video', clip('a', 240, external('kelp.mov')), clip('b', 240, external('shoal.mov'))),
      track(
        'Video',
        clip('smoke', 240, {
          OTIO_SCHEMA: 'ImageSequenceReference.1',
          target_url_base: 'file:///vfx/',
          name_prefix: 'smoke.',
          name_suffix: '.exr',
          frame_zero_padding: 4,
          rate: 24,
        }),
      ),
      track('Audio', clip('tone', 480, external('tone.wav')), clip('kelp sound', 240, external('kelp.mov'))),
    ],
  },
});

/** A file that is so many bytes a second for four seconds. */
function fileOf(path: string, bytesPerSecond: number, isSound = false): MaterialFile {
  const samples = Array.from({ length: 96 }, (_, frame) => ({ atSeconds: frame / 24, bytes: bytesPerSecond / 24 }));
  return {
    path,
    name: path.split('/').at(-1)!,
    bytes: bytesPerSecond * 4,
    text: () => Promise.resolve(document),
    clip: () =>
      Promise.resolve({ description: '', frames: samples, rates: materialRates(samples, 4, isSound ? null : samples) }),
  };
}
const frames = Array.from({ length: 10 }, (_, index) =>
  fileOf(`smoke/smoke.${String(index + 1).padStart(4, '0')}.exr`, 1e6),
);

async function editOf(...files: MaterialFile[]): Promise<Edit> {
  const answer = await readMaterialFiles([fileOf('reel-two.otio', 1), ...files], { numerator: 25, denominator: 1 });
  if (answer.kind !== 'timeline') throw new Error('It is no timeline.');
  return answer.edit;
}

describe('an edit with media', () => {
  it('takes clips, sequences and sound that were given with it for what they are', async () => {
    const edit = await editOf(
      fileOf('kelp.mov', 88e6),
      fileOf('Shoal.MOV', 40e6),
      fileOf('tone.wav', 576e3, true),
      ...frames,
    );
    const { essence, notes } = materialOfEdit(edit, { common: null, own: {} });
    // A frame of the sequence is 4 MB, at the 24 a second that the timeline tells and not the 25 of the field.
    const bytes = 10 * (88e6 + 96e6 + 576e3 + 288e3) + 10 * (40e6 + 576e3);
    expect(essence).toMatchObject({ kind: 'curve' });
    expect((essence as { bytes: number[] }).bytes.at(-1)! / bytes).toBeCloseTo(1, 6);
    expect(notes).toEqual([
      'As they were given: kelp.mov, shoal.mov, smoke.####.exr, tone.wav.',
      expect.stringMatching(/^Sound that was not given by itself is taken to be .* 24 bit, 0.29.MB\/s: kelp.mov\.$/),
    ]);
  });

  it('says of every medium what it is taken to be, and what was left out', async () => {
    const edit = await editOf(fileOf('kelp.mov', 88e6), fileOf('other.mov', 1e6));
    expect(usualFormatOf(edit.timeline)).toMatch(/ 24p$/);
    const { notes } = materialOfEdit(edit, { common: '50 MB/s', own: { 'shoal.mov': '10 MB/s' } });
    expect(notes).toEqual([
      'As they were given: kelp.mov.',
      'As typed: shoal.mov.',
      'Not given, and taken to be 50 MB/s: smoke.####.exr.',
      expect.stringMatching(/^Sound that was not given .*: tone.wav, kelp.mov\.$/),
      'Left out, since no clip is cut from it: other.mov.',
    ]);
    expect(() => materialOfEdit(edit, { common: null, own: {} })).toThrow(/does not tell what shoal.mov is/);
    expect(() => materialOfEdit(edit, { common: '50 MB/s', own: { 'shoal.mov': 'nonsense' } })).toThrow();
  });
});
