/**
 * What a person did in the review, carried over where groups get other numbers, and kept for
 * another time: pure rules.
 */
import type { Proposal } from '../api/client';

/** What the person did in the review, group by group. */
export interface Work {
  /** the group on the stage; null: none is open any more */
  group: number | null;
  /** what the person wants kept of groups, where that is not what is proposed */
  changed: ReadonlyMap<number, readonly number[]>;
  later: ReadonlySet<number>;
  /** the groups that were on the stage before, the last one last */
  path: readonly number[];
}

type Known = Work & { proposals: readonly Proposal[] };

/**
 * The same by frames, as it is stored: groups get other numbers when frames come in or the slider
 * moves.
 */
interface Stored {
  at: number | null;
  later: number[];
  changed: [number, readonly number[]][];
}

function groupsByFrame(proposals: readonly Proposal[]): Map<number, Proposal> {
  return new Map(
    proposals.flatMap((proposal) => proposal.frames.map((id) => [id, proposal] as const)),
  );
}

/** What was done, where groups have other numbers now: a group is that of its best frame before. */
export function carried(
  { proposals: before, group, changed, later, path }: Known,
  proposals: readonly Proposal[],
): Work {
  const now = groupsByFrame(proposals);
  const renamed = new Map(
    before.flatMap((proposal) => {
      const same = now.get(proposal.frames[0] ?? -1);
      return same ? [[proposal.group, same] as const] : [];
    }),
  );
  const to = (number: number) => renamed.get(number)?.group;
  const known = (numbers: Iterable<number>) =>
    [...numbers].map(to).filter((number) => number !== undefined);
  return {
    group: group === null ? null : (to(group) ?? null),
    later: new Set(known(later)),
    path: known(path),
    changed: new Map(
      [...changed].flatMap(([number, keep]) => {
        const same = renamed.get(number);
        return same ? [[same.group, keep.filter((id) => same.frames.includes(id))] as const] : [];
      }),
    ),
  };
}

/** What was stored of the review of a shoot; nothing where it can't be read. */
export function recalled(proposals: readonly Proposal[], stored: string | null): Work {
  const nothing: Work = { group: null, changed: new Map(), later: new Set(), path: [] };
  try {
    const { at, later, changed } = JSON.parse(stored ?? '') as Stored;
    const now = groupsByFrame(proposals);
    const groupOf = (id: number | null) => now.get(id ?? -1)?.group;
    return {
      group: groupOf(at) ?? null,
      path: [],
      later: new Set(later.map(groupOf).filter((number) => number !== undefined)),
      changed: new Map(
        changed.flatMap(([id, keep]) => {
          const work = now.get(id);
          return work
            ? [[work.group, keep.filter((frame) => work.frames.includes(frame))] as const]
            : [];
        }),
      ),
    };
  } catch {
    return nothing;
  }
}

/** What is stored of the review. */
export function remembered({ proposals, group, changed, later }: Omit<Known, 'path'>): string {
  const first = new Map(proposals.map((proposal) => [proposal.group, proposal.frames[0] ?? -1]));
  const stored: Stored = {
    at: group === null ? null : (first.get(group) ?? null),
    later: [...later].map((number) => first.get(number) ?? -1),
    changed: [...changed].map(([number, keep]) => [first.get(number) ?? -1, keep]),
  };
  return JSON.stringify(stored);
}
