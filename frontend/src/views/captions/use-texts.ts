import { t } from '@lingui/core/macro';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';

import { api, ask, WINDOW, type Change } from '../../api/client';
import { change } from '../../state/marking';
import { useShoot } from '../../state/shoot';

/** The frames that captions are for: the selection, else the active frame. */
export function useTargets(): readonly number[] {
  const selection = useShoot((state) => state.selection);
  const active = useShoot((state) => state.active);
  return useMemo(
    () => (selection.length ? selection : active === null ? [] : [active]),
    [selection, active],
  );
}

/** What is written about some frames. */
export function useTexts(frames: readonly number[]) {
  const shootId = useShoot((state) => state.shootId);
  const version = useShoot((state) => state.textsVersion);
  return useQuery({
    queryKey: ['texts', shootId, frames, version],
    queryFn: () =>
      ask(
        api.POST('/api/shoots/{shoot}/texts', {
          params: { path: { shoot: shootId } },
          body: { frames: [...frames] },
        }),
      ),
    enabled: frames.length > 0,
    placeholderData: (before) => before,
  });
}

export interface TextEdit {
  put?: Record<string, string | string[]>;
  add?: string[];
  remove?: string[];
  filled?: boolean;
}

/**
 * Change what is written about frames, in order with the marks; tells what went wrong, "" if
 * nothing.
 */
export function write(
  frames: readonly number[],
  edit: TextEdit,
  done: (problem: string) => void = () => undefined,
): void {
  const { shootId } = useShoot.getState();
  change(
    (): Promise<Change> =>
      ask(
        api.POST('/api/shoots/{shoot}/texts/edit', {
          params: { path: { shoot: shootId } },
          body: {
            frames: [...frames],
            put: edit.put ?? {},
            add: edit.add ?? [],
            remove: edit.remove ?? [],
            filled: edit.filled ?? false,
            window: WINDOW,
          },
        }),
      ),
    ({ sentence }) => (sentence ? t`Kept: ${sentence}` : t`It says so already`),
    done,
    false,
  );
}
