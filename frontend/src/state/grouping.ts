/** The slider of groups: seen at once, stored when it is let go. */
import { create } from 'zustand';

import { api, ask, inWords } from '../api/client';
import { counted } from '../texts/numbers';
import { useShoot } from './shoot';

interface Grouping {
  /** the shoot that this is known of */
  shootId: number;
  /** 0 tighter, 1 looser */
  looseness: number;
  /** groups as they are seen now */
  number: number;
}

export const useGrouping = create<Grouping>()(() => ({ shootId: 0, looseness: 0.5, number: 0 }));

/** Ask where the slider of this shoot stands. */
export async function readLooseness(): Promise<void> {
  const { shootId } = useShoot.getState();
  const path = { params: { path: { shoot: shootId } } };
  const now = await ask(api.GET('/api/shoots/{shoot}/groups', path));
  useGrouping.setState({ shootId, looseness: now.looseness, number: now.number });
}

let wanted: number | null = null;
let asking = false;

/**
 * Show the groups as they would be; of those asked for meanwhile, only the last is asked of the
 * server.
 */
export function previewLooseness(value: number): void {
  const clamped = Math.min(1, Math.max(0, value));
  useGrouping.setState({ looseness: clamped });
  wanted = clamped;
  if (!asking) void previewNext();
}

async function previewNext(): Promise<void> {
  asking = true;
  const { shootId } = useShoot.getState();
  try {
    while (wanted !== null) {
      const value = wanted;
      wanted = null;
      const seen = await ask(
        api.POST('/api/shoots/{shoot}/groups/preview', {
          params: { path: { shoot: shootId } },
          body: { looseness: value },
        }),
      );
      if (useShoot.getState().shootId !== shootId) return;
      useShoot.getState().regroup(seen.id, seen.group);
      useGrouping.setState({ number: seen.number });
    }
  } catch (error) {
    useShoot.getState().say(inWords(error), true);
  } finally {
    asking = false;
  }
}

const STORED_AFTER_MS = 400;
let storing: ReturnType<typeof setTimeout> | undefined;

/** Move the slider by a key: seen at once, stored when the key rests. */
export async function loosen(by: number): Promise<void> {
  const { shootId, say } = useShoot.getState();
  try {
    if (useGrouping.getState().shootId !== shootId) await readLooseness();
  } catch (error) {
    say(inWords(error), true);
    return;
  }
  clearTimeout(storing);
  previewLooseness(useGrouping.getState().looseness + by);
  storing = setTimeout(() => {
    if (useShoot.getState().shootId === shootId)
      void setLooseness(useGrouping.getState().looseness);
  }, STORED_AFTER_MS);
}

/** Store where the slider is. */
export async function setLooseness(value: number): Promise<void> {
  const { shootId, say } = useShoot.getState();
  const clamped = Math.min(1, Math.max(0, value));
  wanted = null;
  useGrouping.setState({ looseness: clamped });
  try {
    const made = await ask(
      api.PUT('/api/shoots/{shoot}/groups', {
        params: { path: { shoot: shootId } },
        body: { looseness: clamped },
      }),
    );
    useShoot.getState().regroup(made.id, made.group);
    useGrouping.setState({ number: made.number });
    say(counted(made.number, 'group'));
  } catch (error) {
    say(inWords(error), true);
  }
}
