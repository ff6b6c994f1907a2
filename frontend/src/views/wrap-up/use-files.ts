import { useQuery } from '@tanstack/react-query';

import { api, ask } from '../../api/client';
import { settled } from '../../state/marking';
import { useShoot } from '../../state/shoot';

/** How writing to files stands; told anew by the server's events. */
export function useFilesStatus(shootId: number) {
  const marksVersion = useShoot((state) => state.marksVersion);
  const textsVersion = useShoot((state) => state.textsVersion);
  return useQuery({
    queryKey: ['files', shootId, 'status', marksVersion, textsVersion],
    queryFn: () =>
      settled().then(() =>
        ask(api.GET('/api/shoots/{shoot}/files', { params: { path: { shoot: shootId } } })),
      ),
    placeholderData: (before) => before,
  });
}

/** What writing would do; not asked while it is being done. */
export function useFilesPlan(shootId: number, settings: readonly unknown[], enabled: boolean) {
  const marksVersion = useShoot((state) => state.marksVersion);
  const textsVersion = useShoot((state) => state.textsVersion);
  return useQuery({
    queryKey: ['files', shootId, 'plan', marksVersion, textsVersion, ...settings],
    queryFn: () =>
      settled().then(() =>
        ask(api.GET('/api/shoots/{shoot}/files/plan', { params: { path: { shoot: shootId } } })),
      ),
    placeholderData: (before) => before,
    enabled,
  });
}
