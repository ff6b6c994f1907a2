/** Marks: drawn at once, sent in order, taken back when the server refuses. */
import { plural, t } from '@lingui/core/macro';

import {
  api,
  ask,
  inWords,
  WINDOW,
  type Change,
  type Decision,
  type Label,
  type Settings,
} from '../api/client';
import { counted } from '../texts/numbers';
import { markInWords, type Mark } from './frames';
import { afterMark } from './next-frame';
import { reload, refind } from './sync';
import { useShoot } from './shoot';
import { labelName } from './mark-words';

/** What is changed of a mark; what is left out stays. An empty label takes it off. */
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

/** Asks which frames pass after a mark: beside the queue, which the next mark must not wait for. */
let finding: Promise<void> = Promise.resolve();

/** When every request that is under way is answered. */
export function settled(): Promise<void> {
  return queue.then(() => finding);
}

export function applied(mark: Mark, edit: Edit): Mark {
  return {
    decision: edit.decision ?? mark.decision,
    stars: edit.stars ?? mark.stars,
    label: edit.label === undefined ? mark.label : edit.label || null,
  };
}

/** The frames that a mark is for: the selection, else the active frame. */
export function targets(): readonly number[] {
  const { selection, active } = useShoot.getState();
  return selection.length ? selection : active === null ? [] : [active];
}

const UNMARKED: Mark = { decision: 'undecided', stars: 0, label: null };

/** The mark that a key made last, so that a sweep with the same key can stand in its place. */
let single: { active: number | null; changed: boolean } | null = null;

interface How {
  /** the frames that may be gone to, where those are not all that pass the filter */
  among?: readonly number[] | undefined;
  /** this once the other way: stay where one goes on, go on where one stays */
  turned?: boolean | undefined;
  /** of how many frames of a folded group the marked one is that which is seen */
  folded?: number;
}

/** Mark the selection or the active frame, then go where the settings say. */
export function mark(
  edit: Edit,
  settings: Settings,
  labels: readonly Label[],
  { among, turned = false, folded = 0 }: How = {},
): void {
  const state = useShoot.getState();
  const ids = targets();
  single = null;
  if (!ids.length) return;
  let wanted = edit;
  if (edit.label && ids.every((id) => state.marks.get(id)?.label === edit.label)) {
    wanted = { ...edit, label: '' };
  }
  const drawn = ids.map((id) => {
    return [id, applied(state.marks.get(id) ?? UNMARKED, wanted)] as const;
  });
  single = {
    active: state.active,
    changed: drawn.some(([id, after]) => !equal(state.marks.get(id) ?? UNMARKED, after)),
  };
  state.draw(drawn);
  useShoot.setState({ moved: true });

  const nameOf = (letter: string) => labelName(labels, letter);
  if (ids.length === 1) {
    const said = markInWords(drawn[0]![1], nameOf);
    send(ids, wanted, folded > 1 ? t`${said}: only the one seen of ${folded} folded` : said);
    const kind = edit.decision ? 'decision' : edit.stars === undefined ? 'label' : 'stars';
    const { visible, marks, byId } = state;
    const rule = settings.after[kind];
    state.go(
      afterMark(turned ? (rule === 'stay' ? 'next' : 'stay') : rule, ids[0]!, {
        visible: among ?? visible,
        markOf: (id) => marks.get(id),
        groupOf: (id) => byId.get(id)?.group,
      }),
    );
  } else {
    send(ids, wanted, t`${counted(ids.length, 'frame')} marked`);
  }
}

/** Mark these frames, wherever the person is. */
export function markThese(ids: readonly number[], edit: Edit): void {
  const state = useShoot.getState();
  state.draw(ids.map((id) => [id, applied(state.marks.get(id) ?? UNMARKED, edit)] as const));
  useShoot.setState({ moved: true });
  send(ids, edit, t`${counted(ids.length, 'frame')} marked`);
}

function equal(one: Mark, other: Mark): boolean {
  return one.decision === other.decision && one.stars === other.stars && one.label === other.label;
}

/** A sweep: frames marked one after the other under the pointer, stored as one step at its end. */
export interface Sweep {
  over: (ids: readonly number[]) => void;
  end: () => void;
}

/**
 * Begin a sweep with the key that is held. Pressing it has marked the active frame already: that is
 * taken back, as the pointer now says which frames are meant.
 */
export function sweep(edit: Edit): Sweep {
  const swept = new Map<number, Mark>();
  if (single) {
    if (single.changed) walk('undo', true);
    useShoot.getState().go(single.active);
    single = null;
  }
  return {
    over: (ids) => {
      const state = useShoot.getState();
      const fresh = ids.filter((id) => !swept.has(id));
      if (!fresh.length) return;
      for (const id of fresh) swept.set(id, applied(state.marks.get(id) ?? UNMARKED, edit));
      state.draw(fresh.map((id) => [id, swept.get(id)!] as const));
      state.say(t`${counted(swept.size, 'frame')} swept`);
    },
    end: () => {
      if (!swept.size) return;
      // What was taken back may have been drawn meanwhile.
      enqueue(() => {
        useShoot.getState().draw(swept);
        return Promise.resolve();
      });
      useShoot.setState({ moved: true });
      send([...swept.keys()], edit, t`${counted(swept.size, 'frame')} marked in one sweep`);
    },
  };
}

/** Marks under way, and those behind them in the queue. */
let sending = 0;

/** Send a mark and say it. */
function send(ids: readonly number[], edit: Edit, words: string): void {
  const { shootId } = useShoot.getState();
  sendChange(ids, words, () =>
    ask(
      api.POST('/api/shoots/{shoot}/marks', {
        params: { path: { shoot: shootId } },
        body: { frames: [...ids], window: WINDOW, ...edit },
      }),
    ),
  );
}

/** What is decided of a group: frames to pick, to reject, and to leave undecided. */
export interface Taking {
  keep: number[];
  out: number[];
  open?: number[];
}

/** Decide frames of groups, each as it is said, as one step; `proposed`: as the draft has it. */
export function takeGroups(groups: readonly Taking[], words: string, proposed = false): void {
  const { shootId, marks, draw } = useShoot.getState();
  const decided = groups.flatMap(({ keep, out, open = [] }) => [
    ...open.map((id) => [id, 'undecided'] as const),
    ...out.map((id) => [id, 'reject'] as const),
    ...keep.map((id) => [id, 'pick'] as const),
  ]);
  draw(
    decided.map(
      ([id, decision]) => [id, applied(marks.get(id) ?? UNMARKED, { decision })] as const,
    ),
  );
  useShoot.setState({ moved: true });
  sendChange(
    decided.map(([id]) => id),
    words,
    () =>
      ask(
        api.POST('/api/shoots/{shoot}/marks/groups', {
          params: { path: { shoot: shootId } },
          body: {
            groups: groups.map((group) => ({ open: [], ...group })),
            proposed,
            window: WINDOW,
          },
        }),
      ),
  );
}

/**
 * Send what was drawn and say it; when the filter has been asked again, say also what left this
 * view.
 */
function sendChange(ids: readonly number[], words: string, asking: () => Promise<Change>): void {
  const { pending, shootId, visible, say } = useShoot.getState();
  say(words);
  for (const id of ids) pending.set(id, (pending.get(id) ?? 0) + 1);
  sending += 1;
  enqueue(async () => {
    let change: Change | undefined;
    try {
      change = await asking();
    } catch (error) {
      useShoot.getState().say(t`Not stored: ${inWords(error)}`, true);
    }
    for (const id of ids) {
      const left = (pending.get(id) ?? 1) - 1;
      if (left) pending.set(id, left);
      else pending.delete(id);
    }
    sending -= 1;
    if (useShoot.getState().shootId !== shootId) return;
    if (!change) {
      // What is stored is drawn again, once the server answers.
      await reload().catch(() => undefined);
      return;
    }
    const now = useShoot.getState();
    // Most is drawn already; frames that are linked to these come along.
    const marks = change.marks.filter(
      ({ frame, ...mark }) => !equal(now.marks.get(frame) ?? UNMARKED, mark),
    );
    now.receive({ ...change, marks });
    // Of marks in quick succession, the last one asks which frames pass now.
    if (!sending) finding = findAfter(ids, visible, words);
  });
}

/** Ask which frames pass after these were marked, and say which of them left the view. */
async function findAfter(
  ids: readonly number[],
  before: readonly number[],
  words: string,
): Promise<void> {
  await refind();
  const { visible, notice, say } = useShoot.getState();
  const gone = leftView(ids, before, visible);
  if (gone && notice?.text === words)
    say(
      ids.length > 1
        ? `${words} · ${plural(gone, { one: '# leaves this view', other: '# leave this view' })}`
        : t`${words} · leaves this view`,
    );
}

/** How many of these frames were visible and no longer are. */
function leftView(
  ids: readonly number[],
  before: readonly number[],
  after: readonly number[],
): number {
  if (before === after) return 0;
  const [then, now] = [new Set(before), new Set(after)];
  return ids.filter((id) => then.has(id) && !now.has(id)).length;
}

/**
 * Undo or redo one step, and go to the first frame it changed; `quiet`: stay, and say nothing.
 * `then` hears what changed; `shows`: where a filter hides that frame, the filter is turned off.
 */
export function walk(
  way: 'undo' | 'redo',
  quiet = false,
  then: (change: Change) => void = () => undefined,
  shows = false,
): void {
  const { shootId } = useShoot.getState();
  const path = { params: { path: { shoot: shootId } }, body: { window: WINDOW } };
  const said = ({ sentence }: Change) => {
    if (!sentence) return way === 'undo' ? t`Nothing to undo` : t`Nothing to redo`;
    return `${way === 'undo' ? t`Undone` : t`Redone`}: ${sentence}`;
  };
  change(
    () => ask(api.POST(`/api/shoots/{shoot}/${way}`, path)),
    quiet
      ? undefined
      : (made) => {
          then(made);
          return said(made);
        },
    undefined,
    true,
    shows,
  );
}

/** Go back, or on, to where a change of the history was the last one; null: before the first. */
export function goTo(changeId: number | null): void {
  const { shootId } = useShoot.getState();
  const path = { params: { path: { shoot: shootId } } };
  change(
    () =>
      ask(
        api.POST('/api/shoots/{shoot}/history', {
          ...path,
          body: { change: changeId, window: WINDOW },
        }),
      ),
    ({ sentence }) => sentence ?? t`Already there`,
  );
}

/** Whether a filter keeps a frame out of sight. */
function isHidden(id: number): boolean {
  const { visible, byId, filterOn } = useShoot.getState();
  return filterOn && byId.has(id) && !visible.includes(id);
}

/** Make a change on the server, in order with the marks; `done` hears how it went. */
export function change(
  asking: () => Promise<Change>,
  said?: (change: Change) => string,
  done?: (problem: string) => void,
  goes = true,
  shows = false,
): void {
  const { shootId } = useShoot.getState();
  enqueue(async () => {
    try {
      const change = await asking();
      const state = useShoot.getState();
      if (state.shootId !== shootId) return;
      state.receive(change);
      done?.('');
      if (!said) return;
      await refind();
      const first = change.marks[0]?.frame ?? change.texts[0];
      let words = said(change);
      if (shows && first !== undefined && isHidden(first)) {
        // Nobody should lose a mark that they don't see go.
        useShoot.setState({ filterOn: false });
        await refind();
        words = t`${words} (the filter is off to show it)`;
      }
      const { visible } = useShoot.getState();
      if (goes && first !== undefined && visible.includes(first)) state.go(first);
      state.say(words);
    } catch (error) {
      if (done) done(inWords(error));
      else useShoot.getState().say(inWords(error), true);
    }
  });
}
