import type { ComponentType } from 'react';
import type { LoaderFunction } from 'react-router';
import type { IconName } from '../frame/icons.tsx';

/** A place as it is loaded: its page, and what that needs from the server. */
export type Load = () => Promise<{ Component: ComponentType; loader?: LoaderFunction }>;

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
}

export const placePath = ({ id }: Place): string => `/${id}`;
