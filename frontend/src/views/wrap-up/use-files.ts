import { useQuery } from '@tanstack/react-query';

import { api, ask } from '../../api/client';
import { useSettled } from '../../parts/use-settled';
import { settled } from '../../state/marking';
import { useShoot } from '../../state/shoot';

const RESTED_MS = 400;

/**
 * How writing to files stands; told anew by the server's events, and after marks when the hand
 * rests: of marks in quick succession each would ask.
 */
export function useFilesStatus(shootId: number) {
  const marksVersion = useSettled(
    useShoot((state) => state.marksVersion),
    RESTED_MS,
  );
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
