/** Keeps the page in step with the server: loads, filters, and listens. */
import {
  api,
  ask,
  inWords,
  WINDOW,
  type EventName,
  type Events,
  type Filter,
  type Found,
  type FoundOut,
} from '../api/client';
import { NO_FILTER, useShoot } from './shoot';

/**
 * Answers may overtake each other. For each question asked: whether its answer is still news, to be
 * asked when it comes; it is not where the answer to a later question came before.
 */
export function turns(): () => () => boolean {
  let asked = 0;
  let answered = 0;
  return () => {
    const turn = ++asked;
    return () => {
      if (turn < answered) return false;
      answered = turn;
      return true;
    };
  };
}

const reloads = turns();
const finds = turns();

/** Fetch the frames anew, then what is visible. */
export async function reload(): Promise<void> {
  const { shootId } = useShoot.getState();
  const isNews = reloads();
  const columns = await ask(
    api.GET('/api/shoots/{shoot}/frames', { params: { path: { shoot: shootId } } }),
  );
  if (useShoot.getState().shootId !== shootId || !isNews()) return;
  useShoot.getState().load(columns);
  // They may be in another order now.
  await refind({ whole: true });
}

/** All frames of an answer that says what is different to the last one. */
export function allOf(
  answer: FoundOut,
  before: readonly number[],
  inOrder: readonly { id: number }[],
): Found {
  const { ids, came, gone } = answer;
  if (ids) return { ...answer, ids };
  if (!came.length && !gone.length) return { ...answer, ids: [...before] };
  const left = new Set(gone);
  if (!came.length) return { ...answer, ids: before.filter((id) => !left.has(id)) };
  const there = new Set([...before.filter((id) => !left.has(id)), ...came]);
  return { ...answer, ids: inOrder.flatMap(({ id }) => (there.has(id) ? [id] : [])) };
}

/**
 * Ask again which frames pass the filter; `whole`: for all of them, not for what is different.
 * Resolves to whether it was answered.
 */
export async function refind({ whole = false } = {}): Promise<boolean> {
  const { shootId, filter, filterOn, found } = useShoot.getState();
  const isNews = finds();
  try {
    const answer = await ask(
      api.POST('/api/shoots/{shoot}/find', {
        params: { path: { shoot: shootId } },
        body: { ...(filterOn ? filter : NO_FILTER), since: whole ? '' : (found?.answer ?? '') },
      }),
    );
    const now = useShoot.getState();
    const same = now.shootId === shootId && now.filter === filter && now.filterOn === filterOn;
    if (!same) return true;
    // Frames came in that the page doesn't have yet: what is different says too little.
    if (!answer.ids && answer.came.some((id) => !now.byId.has(id)))
      return await refind({ whole: true });
    if (isNews()) now.show(allOf(answer, found?.ids ?? [], now.frames));
    return true;
  } catch (error) {
    useShoot.getState().say(inWords(error), true);
    return false;
  }
}

let coming: Promise<boolean> | null = null;

/** The list that a person asked for by a filter, as long as it is on its way; else null. */
export function listComing(): Promise<boolean> | null {
  return coming;
}

/** Show what passes this filter; what is pressed meanwhile waits for it. */
export function refilter(filter: Filter, on: boolean): void {
  useShoot.getState().setFilter(filter, on);
  const list = refind().finally(() => {
    if (coming === list) coming = null;
  });
  coming = list;
}

/** Runs a job at most once in `ms`, and once more at the end if it was asked for meanwhile. */
export function throttled(job: () => void, ms: number): () => void {
  let waiting = false;
  let again = false;
  const run = () => {
    if (waiting) {
      again = true;
      return;
    }
    waiting = true;
    job();
    setTimeout(() => {
      waiting = false;
      if (again) {
        again = false;
        run();
      }
    }, ms);
  };
  return run;
}

/** Listen to a shoot until the returned function is called. */
export function listen(
  shootId: number,
  told: {
    progress: () => void;
    hints: () => void;
    delivery: () => void;
    files: () => void;
    aside: () => void;
    renaming: () => void;
    proof: () => void;
    programs: () => void;
    bringing: () => void;
    guests: () => void;
    people: () => void;
    lost: (lost: boolean) => void;
  },
): () => void {
  const source = new EventSource(`/api/shoots/${shootId}/events`);
  const reloadSoon = throttled(() => void reload().catch(() => undefined), 700);
  const progressSoon = throttled(told.progress, 400);
  let greeted = false;
  source.addEventListener('hello', () => {
    told.lost(false);
    // After a break in the line anything may have happened.
    if (greeted) {
      reloadSoon();
      told.hints();
    }
    greeted = true;
    progressSoon();
  });
  source.addEventListener('error', () => told.lost(true));
  const on = (name: EventName, job: () => void) => source.addEventListener(name, job);
  on('order', reloadSoon);
  on('progress', progressSoon);
  on('hints', told.hints);
  on('delivery', told.delivery);
  on('files', throttled(told.files, 300));
  on('aside', throttled(told.aside, 300));
  on('renaming', throttled(told.renaming, 300));
  on('proof', throttled(told.proof, 300));
  on('programs', told.programs);
  on('guests', told.guests);
  on('people', throttled(told.people, 700));
  on('bringing', throttled(told.bringing, 400));
  withData(source, 'frames', ({ frames }) => {
    useShoot.getState().patch(frames);
    progressSoon();
  });
  withData(source, 'marks', (change) => {
    if (change.by) told.guests();
    if (change.window === WINDOW) return;
    useShoot.getState().receive(change);
    void refind();
  });
  return () => source.close();
}

/** Listen to an event that comes with data. */
function withData<Name extends Exclude<EventName & keyof Events, 'others'>>(
  source: EventSource,
  name: Name,
  job: (data: Events[Name]) => void,
): void {
  source.addEventListener(name, (event) => {
    job(JSON.parse((event as MessageEvent<string>).data) as Events[Name]);
  });
}
