import type { Connection } from '#core/2-trade/links/connection.ts';
import { hopOf } from '#core/2-trade/links/connection.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import { faultAt } from '#core/4-runs/stand-ins/faults.ts';
import type { StandIn } from '#engine/volumes/stand-in/catalogue.ts';
import type { StandInPace } from '#engine/volumes/stand-in/tools.ts';
import { openStandInCopy, type StandInEnd } from '#engine/volumes/stand-in/copy-session.ts';
import { openStandInSession } from '#engine/volumes/stand-in/session.ts';
import type { Volume } from '#engine/volumes/volume.ts';

/** A simulated volume, with what it takes to be an end of a copy. */
export interface StandInVolume extends Volume {
  readonly end: StandInEnd;
}

const isStandIn = (volume: Volume): volume is StandInVolume => 'end' in volume;

/** A simulated volume behind the same interface as a real one. */
export function standInVolume(standIn: StandIn, pace: StandInPace, faults: readonly Fault[] = []): StandInVolume {
  const { model } = standIn;
  const connection = connectionWith(standIn.connection, faults);
  const linkBytesPerSecond = Math.min(
    model.linkBytesPerSecond,
    ...connection.hops.map((hop) => hop.ceilingBytesPerSecond),
  );
  const end: StandInEnd = { standIn: { ...standIn, model: { ...model, linkBytesPerSecond } }, pace, faults };
  return {
    end,
    info: {
      id: `stand-in-${standIn.id}`,
      kind: 'stand-in',
      label: standIn.label,
      mountPoint: '',
      filesystem: 'simulated',
      totalBytes: model.totalBytes,
      freeBytes: model.freeBytes,
      usesAll: false,
      readOnly: false,
      medium: standIn.medium,
      connection,
      identity: { kind: 'stand-in', value: standIn.id },
      driveLabel: standIn.label,
      deviceKey: `stand-in-${standIn.id}`,
      spaceKey: `stand-in-${standIn.id}`,
      description: standIn.description,
      knownCacheBytes: null,
      discardSupported: true,
      faults: faults.map((fault) => ({ ...fault })),
    },
    check: () => Promise.resolve(),
    checkTargets: () => Promise.resolve(),
    fileSizes: () => Promise.resolve([]),
    health: () => Promise.resolve(null),
    openSession: () => Promise.resolve(openStandInSession(end.standIn, pace, faults)),
    openCopy(_request, targets) {
      const others = targets.map(({ volume }) => volume).filter(isStandIn);
      if (others.length < targets.length) {
        throw new Problem(
          'unlike-volumes',
          `${standIn.label} is simulated: nothing can be copied from it to a real volume. Choose volumes that are all real or all simulated.`,
          { where: 'targets' },
        );
      }
      return Promise.resolve(openStandInCopy([end, ...others.map((one) => one.end)]));
    },
  };
}

/** The fault *One-lane slot* puts a device of several lanes into a slot with one. */
function connectionWith(connection: Connection, faults: readonly Fault[]): Connection {
  if (faultAt(faults, 'one-lane') === null) return connection;
  return {
    hops: connection.hops.map((hop) => {
      const narrow = hop.linkId.startsWith('pcie-') && hop.lanes > 1;
      return narrow ? (hopOf(hop.linkId, 1, hop.lanes) ?? hop) : hop;
    }),
  };
}
