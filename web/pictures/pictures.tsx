import Box from '@mui/material/Box';
import { Suspense, lazy, type ComponentType } from 'react';

/** A picture that is loaded, and the library of charts with it, where the first of them is drawn. */
function pictureOf<Props extends object>(load: () => Promise<{ default: ComponentType<Props> }>) {
  const Loaded = lazy(load) as unknown as ComponentType<Props>;
  return function LoadedPicture(props: Props) {
    return (
      <Suspense fallback={<Box aria-busy sx={{ flex: '1 1 0', minHeight: 0 }} />}>
        <Loaded {...props} />
      </Suspense>
    );
  };
}

export const BacklogPicture = pictureOf(() => import('./BacklogPicture.tsx'));
export const CostPicture = pictureOf(() => import('./CostPicture.tsx'));
export const DemandLanes = pictureOf(() => import('./DemandLanes.tsx'));
export const FillPicture = pictureOf(() => import('./fill/FillPicture.tsx'));
export const FrameSizePicture = pictureOf(() => import('./FrameSizePicture.tsx'));
export const FrameStrip = pictureOf(() => import('./FrameStrip.tsx'));
export const HoldChart = pictureOf(() => import('./HoldChart.tsx'));
export const HopTrace = pictureOf(() => import('./HopTrace.tsx'));
export const LadderPicture = pictureOf(() => import('./LadderPicture.tsx'));
export const LinkRows = pictureOf(() => import('./LinkRows.tsx'));
export const LoadStrips = pictureOf(() => import('./LoadStrips.tsx'));
export const LoudnessPicture = pictureOf(() => import('./LoudnessPicture.tsx'));
export const OverlayPicture = pictureOf(() => import('./OverlayPicture.tsx'));
export const RecordingPicture = pictureOf(() => import('./RecordingPicture.tsx'));
export const RunLevelsPicture = pictureOf(() => import('./RunLevelsPicture.tsx'));
export const ScatterPicture = pictureOf(() => import('./ScatterPicture.tsx'));
export const SeriesPicture = pictureOf(() => import('./SeriesPicture.tsx'));
export const TracePicture = pictureOf(() => import('./trace/TracePicture.tsx'));
