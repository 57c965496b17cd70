import type { ComponentType } from 'react';
import type { IconName } from '../frame/icons.tsx';

export type Load = () => Promise<{ Component: ComponentType }>;

/** A place: one of the seven stations of the job, with its own address. */
export interface Place {
  id: string;
  name: string;
  icon: IconName;
  /** The key that goes there. */
  key: string;
  /** Its page at its own address, and at those below it. */
  load: Load;
  below?: readonly string[];
  /** What a place that is not built yet will do. */
  purpose?: string;
}

export const placePath = ({ id }: Place): string => `/${id}`;
