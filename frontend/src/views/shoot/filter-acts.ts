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
    clearFilter: () => setFilter(NO_FILTER),
  };
}
