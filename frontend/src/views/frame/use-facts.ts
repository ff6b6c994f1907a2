import { useQuery } from '@tanstack/react-query';

import { api, ask, type Facts } from '../../api/client';
import { useSettled } from '../../parts/use-settled';
import type { Frame } from '../../state/frames';

/**
 * The facts of a frame, once one stays with it; undefined until they are known, and where they
 * aren’t `wanted`.
 */
export function useFacts(frame: Frame, wanted = true): Facts | undefined {
  const settled = useSettled(frame, 90);
  const { data } = useQuery({
    queryKey: ['facts', settled.id, settled.key],
    queryFn: () => ask(api.GET('/api/frames/{frame}', { params: { path: { frame: settled.id } } })),
    placeholderData: (before) => before,
    staleTime: Infinity,
    enabled: wanted,
  });
  return data?.id === frame.id ? data : undefined;
}
