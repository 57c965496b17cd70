/** A label that wants to stand at `wanted` and takes `size` pixels along its axis. */
export interface PlacedLabel {
  wanted: number;
  size: number;
}

/**
 * Middles of labels that keep their order and never overlap, each as near to where it wants to be as
 * the others allow, within `from` … `to`. Labels that run into each other form a cluster around
 * the mean of their wishes.
 */
export function placeLabels(labels: readonly PlacedLabel[], from: number, to: number): number[] {
  const order = labels.map((_, index) => index).sort((a, b) => labels[a]!.wanted - labels[b]!.wanted);
  const clusters: { members: number[]; size: number; middle: number }[] = [];
  for (const index of order) {
    const { wanted, size } = labels[index]!;
    let cluster = { members: [index], size, middle: wanted };
    for (;;) {
      cluster.middle = Math.min(to - cluster.size / 2, Math.max(from + cluster.size / 2, cluster.middle));
      const before = clusters.at(-1);
      if (!before || before.middle + before.size / 2 <= cluster.middle - cluster.size / 2 + 1e-6) break;
      clusters.pop();
      const members = [...before.members, ...cluster.members];
      const mean = members.reduce((sum, member) => sum + labels[member]!.wanted, 0) / members.length;
      cluster = { members, size: before.size + cluster.size, middle: mean };
    }
    clusters.push(cluster);
  }
  const middles = new Array<number>(labels.length).fill(0);
  for (const { members, size, middle } of clusters) {
    let edge = middle - size / 2;
    for (const member of members) {
      middles[member] = edge + labels[member]!.size / 2;
      edge += labels[member]!.size;
    }
  }
  return middles;
}
