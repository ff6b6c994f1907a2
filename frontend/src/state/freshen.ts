import type { QueryClient, QueryKey } from '@tanstack/react-query';

/**
 * Ask anew what has this key. A question that was never answered yet is asked once more when its
 * answer comes: that may be of the time before what is told now.
 */
export function freshen(client: QueryClient, queryKey: QueryKey): void {
  const first = client
    .getQueryCache()
    .findAll({ queryKey })
    .filter(({ state }) => state.fetchStatus === 'fetching' && state.data === undefined);
  const again = () => void client.invalidateQueries({ queryKey });
  again();
  for (const query of first) query.promise?.then(again, () => undefined);
}
