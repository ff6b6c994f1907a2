/**
 * Whether a shoot is shared with others on the network, and who looks at it here: the owner, or a
 * guest.
 */
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';

import { api, ask, type Sharing } from '../api/client';

export const SHARING = {
  queryKey: ['sharing'],
  queryFn: () => ask(api.GET('/api/sharing')),
  staleTime: Infinity,
};

/** A guest on somebody else's Winnow, and what they may do there beyond looking. */
export interface Guest {
  name: string;
  mark: boolean;
  caption: boolean;
}

export function useSharing(): Sharing | undefined {
  return useQuery(SHARING).data;
}

/** The guest who looks here; null for the owner. */
export function useGuest(): Guest | null {
  const sharing = useSharing();
  return useMemo(() => {
    if (!sharing?.guest) return null;
    const { guest, may } = sharing;
    return { name: guest, mark: may.includes('mark'), caption: may.includes('caption') };
  }, [sharing]);
}
