import type { Load, Place } from './place.ts';

const measure: Load = () => import('./measure/MeasurePlace.tsx');
const drives: Load = () => import('./drives/DrivesPlace.tsx');
const copies: Load = () => import('./copies/CopiesPlace.tsx');
const workloads: Load = () => import('./workloads/WorkloadsPlace.tsx');
const fit: Load = () => import('./fit/FitPlace.tsx');
const sizing: Load = () => import('./sizing/SizingPlace.tsx');
const report: Load = () => import('./report/ReportPlace.tsx');

/** All places, in the order of the job; a new one is a folder and a line here. */
export const PLACES: readonly Place[] = [
  { id: 'measure', name: 'Measure', icon: 'measure', key: 'm', load: measure, below: ['runs/:runId'] },
  { id: 'drives', name: 'Drives', icon: 'drives', key: 'd', load: drives, below: [':driveId'] },
  { id: 'workloads', name: 'Workloads', icon: 'workloads', key: 'w', load: workloads, below: [':workloadId'] },
  { id: 'fit', name: 'Fit', icon: 'fit', key: 'f', load: fit },
  { id: 'copies', name: 'Copies', icon: 'copies', key: 'c', load: copies },
  { id: 'sizing', name: 'Sizing', icon: 'sizing', key: 's', load: sizing, below: [':projectId'] },
  { id: 'report', name: 'Report', icon: 'report', key: 'r', load: report, below: [':reportId'] },
];
