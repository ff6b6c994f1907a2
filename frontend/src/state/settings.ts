/** The person's settings and label set, kept on the server. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useLayoutEffect } from 'react';

import { api, ask, type Label, type Settings } from '../api/client';
import { SHARING, useGuest } from './sharing';

export const START: Settings = {
  after: { decision: 'next', stars: 'stay', label: 'stay' },
  row_height: 180,
  surround: 'middle',
  theme: 'light',
  facts_shown: true,
  cache_gb: 20,
  backup_place: '',
  follow_newest: false,
  keys: { name: 'My keys', keys: {} },
  sort: 'time',
  magnifier: 1,
  write_by_itself: false,
  embed: false,
  faces_share: 0.42,
  parts_keyword: 'composite',
  tiles: 12,
  names_shown: false,
  last_target: '',
  last_how: 'copy',
  last_program: '',
  sidecar_names: 'stem',
  profile: '',
  // Until it is known: nothing is offered twice.
  toured: true,
};

const SETTINGS = {
  queryKey: ['settings'],
  queryFn: async () => ({ ...START, ...(await ask(api.GET('/api/settings'))) }),
  staleTime: Infinity,
};

const LABELS = {
  queryKey: ['labels'],
  queryFn: () => ask(api.GET('/api/labels')),
  staleTime: Infinity,
};

/**
 * Whether the settings and labels have come, and who looks here, and why they have not; `again`
 * asks once more.
 */
export function usePersonKnown(): { known: boolean; error: Error | null; again: () => void } {
  const settings = useQuery(SETTINGS);
  const labels = useQuery(LABELS);
  const sharing = useQuery(SHARING);
  return {
    known: !!settings.data && !!labels.data && !!sharing.data,
    error: settings.error ?? labels.error ?? sharing.error,
    again: () => {
      void settings.refetch();
      void labels.refetch();
      void sharing.refetch();
    },
  };
}

export function useSettings(): [Settings, (settings: Settings) => void] {
  const client = useQueryClient();
  const { data } = useQuery(SETTINGS);
  const guest = useGuest();
  const { mutate } = useMutation({
    // A guest's are kept for as long as the window is open: the stored ones are the owner's.
    mutationFn: (wanted: Settings) =>
      guest ? Promise.resolve(wanted) : ask(api.PUT('/api/settings', { body: wanted })),
    onMutate: (wanted) => client.setQueryData(['settings'], wanted),
  });
  const settings = data ?? START;
  useLayoutEffect(() => {
    document.documentElement.dataset['theme'] = settings.theme;
    document.documentElement.dataset['surround'] = settings.surround;
  }, [settings.theme, settings.surround]);
  return [settings, mutate];
}

const NO_LABELS: Label[] = [];

export function useLabels(): Label[] {
  return useQuery(LABELS).data ?? NO_LABELS;
}
