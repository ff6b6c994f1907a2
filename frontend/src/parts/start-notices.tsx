import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';

import { api, ask } from '../api/client';

/** What must be known of this start of Winnow, until it is read. */
export function StartNotices() {
  const client = useQueryClient();
  const { data } = useQuery({
    queryKey: ['notices'],
    queryFn: () => ask(api.GET('/api/notices')),
    staleTime: Infinity,
  });
  const hide = useMutation({
    mutationFn: () => ask(api.DELETE('/api/notices')),
    onSuccess: (after) => client.setQueryData(['notices'], after),
  });
  if (!data?.length) return null;
  return (
    <div
      role="alert"
      className="flex items-center gap-4 border-b border-line bg-amber-100 px-4 py-1.5 text-black"
    >
      <span className="min-w-0 flex-1">{data.join(' ')}</span>
      <button type="button" className="underline" onClick={() => hide.mutate()}>
        <Trans>I have read it</Trans>
      </button>
    </div>
  );
}
