/** What the commands of the filter do. */
import { t } from '@lingui/core/macro';
import type { Dispatch, SetStateAction } from 'react';

import type { Filter } from '../../api/client';
import type { FilterActs } from '../../commands/stage';
import { isEmpty, NO_FILTER, useShoot } from '../../state/shoot';

export function filterActs(
  setFilter: (filter: Filter, on?: boolean) => void,
  setOpen: Dispatch<SetStateAction<boolean>>,
  setTyping: (on: boolean) => void,
): FilterActs {
  return {
    openFilter: () => {
      setTyping(false);
      setOpen((open) => !open);
    },
    typeFilter: () => {
      setTyping(true);
      setOpen(true);
      // Open already: only the field is wanted.
      document.querySelector<HTMLInputElement>('#written-filter')?.focus();
    },
    toggleFilter: () => {
      const { filter, filterOn, say } = useShoot.getState();
      if (isEmpty(filter)) say(t`There is no filter to turn off`);
      else setFilter(filter, !filterOn);
    },
    filterTo: (decision) => setFilter({ ...NO_FILTER, decisions: [decision] }),
    narrow: (by) => setFilter(narrowed(useShoot.getState().filter, by)),
    clearFilter: () => setFilter(NO_FILTER),
  };
}

/**
 * A filter with one condition more, or without it where it is there: at least so many stars, a
 * label, or one that is written.
 */
export function narrowed(
  filter: Filter,
  { stars, label, written }: { stars?: number; label?: string; written?: string },
): Filter {
  const next = { ...filter };
  if (stars !== undefined) {
    const there = filter.stars === stars && filter.stars_rule === 'at_least';
    next.stars = there ? null : stars;
    next.stars_rule = 'at_least';
  }
  if (label !== undefined)
    next.labels = filter.labels.includes(label)
      ? filter.labels.filter((other) => other !== label)
      : [...filter.labels, label];
  if (written !== undefined) {
    const parts = filter.written.split(written).map((part) => part.trim());
    next.written = (parts.length > 1 ? parts : [filter.written.trim(), written])
      .filter(Boolean)
      .join(' ');
  }
  return next;
}
