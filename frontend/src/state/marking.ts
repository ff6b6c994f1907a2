/** Marks: drawn at once, sent in order, taken back when the server refuses. */
import { api, ask, inWords, WINDOW, type Change, type Decision } from '../api/client';
import type { Label, Settings } from '../api/client';
import { markInWords, type Mark } from './frames';
import { afterMark } from './places';
import { reload, refind } from './sync';
import { useShoot } from './shoot';

export interface Edit {
  decision?: Decision;
  stars?: number;
  label?: string;
}

/** Requests leave one after the other: the history on the server is in the order of the keys. */
let queue: Promise<void> = Promise.resolve();

function enqueue(work: () => Promise<void>): void {
  queue = queue.then(work, work);
}

export function applied(mark: Mark, edit: Edit): Mark {
  return {
    decision: edit.decision ?? mark.decision,
    stars: edit.stars ?? mark.stars,
    label: edit.label === undefined ? mark.label : edit.label || null,
  };
}

/** The frames that a mark is for: the selection, else the active frame. */
export function targets(): number[] {
  const { selection, active } = useShoot.getState();
  return selection.length ? selection : active === null ? [] : [active];
}

/** Mark the selection or the active frame, then go where the settings say. */
export function mark(edit: Edit, settings: Settings, labels: readonly Label[]): void {
  const state = useShoot.getState();
  const ids = targets();
  if (!ids.length) return;
  let wanted = edit;
  if (edit.label && ids.every((id) => state.marks.get(id)?.label === edit.label)) {
    wanted = { ...edit, label: '' };
  }
  const drawn = ids.map((id) => {
    const before = state.marks.get(id) ?? { decision: 'undecided', stars: 0, label: null };
    return [id, applied(before, wanted)] as const;
  });
  state.draw(drawn);
  useShoot.setState({ moved: true });
  send(ids, wanted);

  const nameOf = (letter: string) => labels.find((one) => one.letter === letter)?.name ?? letter;
  if (ids.length === 1) {
    state.say(markInWords(drawn[0]![1], nameOf));
    const kind = edit.decision ? 'decision' : edit.stars === undefined ? 'label' : 'stars';
    const { visible, marks, byId } = state;
    state.go(
      afterMark(settings.after[kind], ids[0]!, {
        visible,
        markOf: (id) => marks.get(id),
        groupOf: (id) => byId.get(id)?.group,
      }),
    );
  } else {
    state.say(`${ids.length} frames marked`);
  }
}

function send(ids: number[], edit: Edit): void {
  const { pending, shootId } = useShoot.getState();
  for (const id of ids) pending.set(id, (pending.get(id) ?? 0) + 1);
  enqueue(async () => {
    let change: Change | undefined;
    try {
      change = await ask(
        api.POST('/api/shoots/{shoot}/marks', {
          params: { path: { shoot: shootId } },
          body: { frames: ids, window: WINDOW, ...edit },
        }),
      );
    } catch (error) {
      useShoot.getState().say(`Not stored: ${inWords(error)}`, true);
    }
    for (const id of ids) {
      const left = (pending.get(id) ?? 1) - 1;
      if (left) pending.set(id, left);
      else pending.delete(id);
    }
    if (useShoot.getState().shootId !== shootId) return;
    if (change) useShoot.setState({ undo: change.undo, redo: change.redo });
    else await reload();
    await refind();
  });
}

/** Undo or redo one step, and go to the first frame it changed. */
export function walk(way: 'undo' | 'redo'): void {
  const { shootId } = useShoot.getState();
  enqueue(async () => {
    try {
      const change = await ask(
        api.POST(`/api/shoots/{shoot}/${way}`, {
          params: { path: { shoot: shootId } },
          body: { window: WINDOW },
        }),
      );
      const state = useShoot.getState();
      if (state.shootId !== shootId) return;
      state.receive(change);
      if (!change.sentence) {
        state.say(way === 'undo' ? 'Nothing to undo' : 'Nothing to redo');
        return;
      }
      await refind();
      const first = change.marks[0]?.frame;
      const { visible } = useShoot.getState();
      if (first !== undefined && visible.includes(first)) state.go(first);
      state.say(`${way === 'undo' ? 'Undone' : 'Redone'}: ${change.sentence}`);
    } catch (error) {
      useShoot.getState().say(inWords(error), true);
    }
  });
}
