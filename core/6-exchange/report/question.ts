import type { Workload } from '#core/3-jobs/demand/workload.ts';

/** How a workload is asked about where nobody wrote a question. */
export const questionText = ({ name }: Pick<Workload, 'name'>, driveLabel: string): string =>
  `Does ${driveLabel} carry ${name}?`;
