import type { RunDocument } from '#core/4-runs/run/run-document.ts';

/** Bytes that a run wrote, whatever for, by the drive that had to take them: of a copy those of its targets. */
export function writtenByDrive({
  drive,
  samples,
  copy,
}: Pick<RunDocument, 'drive' | 'samples' | 'copy'>): Record<string, number> {
  const written: Record<string, number> = {};
  const add = (id: string, bytes: number) => {
    if (bytes > 0) written[id] = (written[id] ?? 0) + bytes;
  };
  let own = 0;
  samples.cumulativeBytes.forEach((bytes, row) => {
    if (samples.direction[row] === 'write') own = Math.max(own, bytes);
  });
  add(drive.id, own);
  if (!copy) return written;
  const { rows, legs, ends } = copy;
  const reached = new Map<string, { end: number; bytes: number }>();
  rows.bytes.forEach((bytes, row) => {
    const [leg, end] = [rows.leg[row]!, rows.end[row]!];
    // A leg that is not over yet goes from the source to the others.
    const targets = legs.find((one) => one.leg === leg)?.to;
    const isTarget = targets ? targets.includes(end) : end > 0;
    if (rows.stage[row] !== 'copying' || !isTarget) return;
    reached.set(`${leg} ${end}`, { end, bytes: Math.max(bytes, reached.get(`${leg} ${end}`)?.bytes ?? 0) });
  });
  for (const { end, bytes } of reached.values()) add(ends[end]!.drive.id, bytes);
  return written;
}
