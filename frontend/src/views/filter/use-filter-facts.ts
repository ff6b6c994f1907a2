import { useQuery } from '@tanstack/react-query';

import { api, ask, type FilterFacts } from '../../api/client';

const NONE: FilterFacts = { offered: [], facts: [], flags: [] };

/** What filters can ask for; nothing until it is known. */
export function useFilterFacts(): FilterFacts {
  const { data } = useQuery({
    queryKey: ['filter facts'],
    queryFn: () => ask(api.GET('/api/filters/facts')),
    staleTime: Infinity,
  });
  return data ?? NONE;
}
