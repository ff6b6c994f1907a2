/**
 * Does what keys ask for in the order in which they were pressed, when a list is on its way as well.
 *
 * Keys come faster than a list that was asked for: a step or a mark that is pressed right after
 * "show all" is meant for all frames, not for those that are on screen for a moment still.
 */
export interface InTurn {
  /** Do it now; where a list is on its way, when it is there. */
  do: (act: () => void) => void;
  /** Whether something waits for a list. */
  isWaiting: () => boolean;
}

/**
 * @param coming - the list that is on its way, null where none is; resolves to whether it came
 */
export function inTurn(coming: () => Promise<boolean> | null): InTurn {
  let waiting: (() => void)[] = [];
  const next = (came: boolean) => {
    // What was meant for a list that never came is meant for no other.
    if (!came) waiting = [];
    while (waiting.length) {
      const list = coming();
      if (list) {
        void list.then(next);
        return;
      }
      waiting.shift()!();
    }
  };
  return {
    do: (act) => {
      const list = coming();
      if (!list && !waiting.length) {
        act();
        return;
      }
      waiting.push(act);
      if (waiting.length === 1) void list!.then(next);
    },
    isWaiting: () => waiting.length > 0,
  };
}
