/** The person's settings and label set, kept on the server. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';

import { api, ask, type Label, type Settings } from '../api/client';

const START: Settings = {
  after: { decision: 'next', stars: 'stay', label: 'stay' },
  row_height: 180,
  surround: 'middle',
  theme: 'light',
  facts_shown: true,
  cache_gb: 20,
  follow_newest: false,
  keys: { name: 'My keys', keys: {} },
  sort: 'time',
  magnifier: 1,
  write_by_itself: false,
  embed: false,
  sidecar_names: 'stem',
  profile: '',
  // Until it is known: nothing is offered twice.
  toured: true,
};

export function useSettings(): [Settings, (settings: Settings) => void] {
  const client = useQueryClient();
  const { data } = useQuery({
    queryKey: ['settings'],
    queryFn: async () => ({ ...START, ...(await ask(api.GET('/api/settings'))) }),
    staleTime: Infinity,
  });
  const { mutate } = useMutation({
    mutationFn: (wanted: Settings) => ask(api.PUT('/api/settings', { body: wanted })),
    onMutate: (wanted) => client.setQueryData(['settings'], wanted),
  });
  const settings = data ?? START;
  useEffect(() => {
    document.documentElement.dataset['theme'] = settings.theme;
    document.documentElement.dataset['surround'] = settings.surround;
  }, [settings.theme, settings.surround]);
  return [settings, mutate];
}

const NO_LABELS: Label[] = [];

export function useLabels(): Label[] {
  const { data } = useQuery({
    queryKey: ['labels'],
    queryFn: () => ask(api.GET('/api/labels')),
    staleTime: Infinity,
  });
  return data ?? NO_LABELS;
}
