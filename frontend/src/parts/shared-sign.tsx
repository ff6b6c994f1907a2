import { t } from '@lingui/core/macro';
import { useQuery } from '@tanstack/react-query';

import { api, ask } from '../api/client';

/** Says that others on the network can look and mark, as long as that is so. */
export function SharedSign() {
  const { data } = useQuery({
    queryKey: ['sharing'],
    queryFn: () => ask(api.GET('/api/sharing')),
    staleTime: Infinity,
  });
  if (!data?.on) return null;
  return (
    <span
      role="status"
      className="shrink-0 rounded border border-ink px-2 py-0.5 font-semibold"
      title={
        data.guest
          ? t`You look and mark on another computer’s Winnow`
          : t`Others on the network can look and mark, with the password: ${data.addresses.join(', ')}`
      }
    >
      {data.guest ? t`guest` : t`shared`}
    </span>
  );
}
