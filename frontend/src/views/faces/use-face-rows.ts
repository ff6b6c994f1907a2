import { useQuery } from '@tanstack/react-query';

import { api, ask, type FaceRows } from '../../api/client';
import { useHints } from '../../state/hints';
import { useShoot } from '../../state/shoot';

/** So many frames are columns at once. */
export const MOST_COLUMNS = 12;

/** The faces of some frames in rows, the first row that of the largest face. */
export function useFaceRows(ids: readonly number[], wanted: boolean): FaceRows | undefined {
  const shootId = useShoot((state) => state.shootId);
  const version = useHints((state) => state.version);
  const frames = ids.slice(0, MOST_COLUMNS);
  const { data } = useQuery({
    queryKey: ['rows of faces', shootId, frames, version],
    queryFn: () => faceRows(shootId, frames),
    enabled: wanted && frames.length > 0,
    placeholderData: (last) => last,
    staleTime: Infinity,
  });
  return data;
}

export function faceRows(shootId: number, frames: readonly number[]): Promise<FaceRows> {
  return ask(
    api.POST('/api/shoots/{shoot}/faces', {
      params: { path: { shoot: shootId } },
      body: { frames: [...frames] },
    }),
  );
}
