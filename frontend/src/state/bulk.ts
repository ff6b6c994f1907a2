/** What is looked at in the hints view, and ticked there: it stays while a frame is seen large. */
import { create } from 'zustand';

import type { HintKind } from '../api/client';

export type KindName = HintKind['name'];

interface BulkState {
  shootId: number;
  /** the kind that is looked at */
  shown: KindName;
  /** the kinds that are ticked: their frames are marked together */
  chosen: ReadonlySet<KindName>;
  /** frames that were unticked: they are left as they are */
  off: ReadonlySet<number>;
  /** decided frames are left as they are */
  leaves: boolean;
  /** what was thrown out is looked at again */
  second: boolean;
  /** how far the list was scrolled, px */
  top: number;
}

const FRESH = {
  shown: 'soft' as KindName,
  chosen: new Set<KindName>(),
  off: new Set<number>(),
  leaves: true,
  second: false,
  top: 0,
};

export const useBulk = create<BulkState>()(() => ({ shootId: 0, ...FRESH }));

/** Begin anew in another shoot; `kind`: the one to look at. */
export function beginBulk(shootId: number, kind: KindName | null): void {
  if (useBulk.getState().shootId !== shootId) useBulk.setState({ shootId, ...FRESH });
  if (kind) useBulk.setState({ shown: kind, second: false });
}

/** Another kind is looked at: from the top. */
export function showKind(shown: KindName): void {
  useBulk.setState({ shown, second: false, top: 0 });
}

function flipped<T>(all: ReadonlySet<T>, one: T): ReadonlySet<T> {
  const next = new Set(all);
  if (!next.delete(one)) next.add(one);
  return next;
}

export function flipKind(name: KindName): void {
  useBulk.setState(({ chosen }) => ({ chosen: flipped(chosen, name) }));
}

export function flipFrame(id: number): void {
  useBulk.setState(({ off }) => ({ off: flipped(off, id) }));
}

/**
 * How many frames of each group are left, and how many there were, if some of the shoot's frames
 * were rejected.
 */
export function leftIf(
  frames: readonly { id: number; group: number }[],
  isRejected: (id: number) => boolean,
  rejects: ReadonlySet<number>,
): Map<number, { left: number; of: number }> {
  const groups = new Map<number, { left: number; of: number }>();
  for (const { id, group } of frames) {
    const entry = groups.get(group) ?? { left: 0, of: 0 };
    entry.of += 1;
    if (!rejects.has(id) && !isRejected(id)) entry.left += 1;
    groups.set(group, entry);
  }
  return groups;
}
