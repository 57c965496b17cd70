import type { IconName } from './icons.tsx';

/** The seven places, in the order of the job. */
export interface Place {
  id: string;
  name: string;
  path: string;
  icon: IconName;
  /** The key that goes there. */
  key: string;
}

export const PLACES: readonly Place[] = [
  { id: 'measure', name: 'Measure', path: '/measure', icon: 'measure', key: 'm' },
  { id: 'drives', name: 'Drives', path: '/drives', icon: 'drives', key: 'd' },
  { id: 'workloads', name: 'Workloads', path: '/workloads', icon: 'workloads', key: 'w' },
  { id: 'fit', name: 'Fit', path: '/fit', icon: 'fit', key: 'f' },
  { id: 'copies', name: 'Copies', path: '/copies', icon: 'copies', key: 'c' },
  { id: 'sizing', name: 'Sizing', path: '/sizing', icon: 'sizing', key: 's' },
  { id: 'report', name: 'Report', path: '/report', icon: 'report', key: 'r' },
];
