import { demandsOf } from '#core/3-jobs/demand/items.ts';
import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { judgeLoad } from '#core/5-answers/verdict/loads/judge-load.ts';
import type { Policy } from '#core/5-answers/verdict/verdict.ts';

/** Which loads of a library may live on a drive. */
export interface LibraryOnDrive {
  may: LoadItem[];
  /** Of which no run tells. */
  open: LoadItem[];
  stay: LoadItem[];
  /** What those that may take there, bytes. */
  bytes: number;
}

/** Those that hold or are tight may, as long as there is room for them in the order they are listed; what is not proven stays open. */
export function libraryOnDrive(
  loads: readonly LoadItem[],
  supply: Supply,
  policy: Policy,
  roomBytes: number | null,
): LibraryOnDrive {
  const sorted: LibraryOnDrive = { may: [], open: [], stay: [], bytes: 0 };
  for (const load of loads) {
    const { verdict } = judgeLoad(load, demandsOf(load)[0]!, supply, policy, roomBytes);
    const bytes = load.installBytes ?? 0;
    const isCarried = verdict.verdict === 'holds' || verdict.verdict === 'tight';
    if (isCarried && (roomBytes === null || sorted.bytes + bytes <= roomBytes)) {
      sorted.may.push(load);
      sorted.bytes += bytes;
    } else if (verdict.verdict === 'not-proven') sorted.open.push(load);
    else sorted.stay.push(load);
  }
  return sorted;
}
