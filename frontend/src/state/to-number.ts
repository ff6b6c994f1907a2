/**
 * The way to the number that is to be kept: which pick goes, or what is added, one question at a
 * time.
 */
import { t } from '@lingui/core/macro';
import { create } from 'zustand';

import { api, ask, inWords, type Question } from '../api/client';
import { putOnStage } from './compare';
import { useDraft } from './draft';
import { settled as answered, takeGroups, walk } from './marking';
import { useShoot } from './shoot';

interface Past {
  question: Question;
  /** frames that were settled by the answer, without a mark */
  settled: readonly number[];
  marked: boolean;
}

interface NumberState {
  shootId: number;
  target: number | null;
  questions: readonly Question[];
  /** the frame that is asked for, where it is not the one that was proposed */
  other: number | null;
  /** frames that are not to be asked for again */
  settled: ReadonlySet<number>;
  path: readonly Past[];
  loaded: boolean;
}

const FRESH = {
  target: null,
  questions: [],
  other: null,
  settled: new Set<number>(),
  path: [],
  loaded: false,
};

export const useNumber = create<NumberState>()(() => ({ shootId: 0, ...FRESH }));

export type Way = 'trim' | 'fill' | 'there';

/** Whether there are too many picks, or too few. */
export function wayTo(target: number | null, picks: number): Way {
  return target === null || picks === target ? 'there' : picks > target ? 'trim' : 'fill';
}

function wayNow(): Way {
  return wayTo(useNumber.getState().target, useShoot.getState().decided.pick);
}

/** The question on the stage, and the frame that it asks for. */
export function asked({ questions, other }: Pick<NumberState, 'questions' | 'other'>): {
  question: Question | undefined;
  frame: number | undefined;
} {
  const question = questions[0];
  return { question, frame: question && (other ?? question.frame) };
}

/** The frames on the stage: the one that is asked for, and the pick that it is held against. */
export function pairOf(question: Question, frame: number, way: Way): number[] {
  // Trimming, the two stay where they are, whichever of them goes.
  if (way === 'trim') return [question.frame, question.beside].filter((id) => id !== null);
  const all = [question.frame, ...question.others];
  // Where nothing of its group is picked, it is held against the next of it.
  const against = question.beside ?? all.find((id) => id !== frame);
  return against === undefined ? [frame] : [frame, against];
}

/** Answers that were given; what was asked before the last one is answered too late. */
let answers = 0;

/** Ask what is next; a question that is on the stage stays there. */
export async function loadNumber(): Promise<void> {
  const { shootId } = useShoot.getState();
  if (useNumber.getState().shootId !== shootId) useNumber.setState({ shootId, ...FRESH });
  const before = answers;
  try {
    await answered();
    const { target, questions } = await ask(
      api.POST('/api/shoots/{shoot}/draft/number', {
        params: { path: { shoot: shootId } },
        body: { settled: [...useNumber.getState().settled] },
      }),
    );
    if (useShoot.getState().shootId !== shootId || before !== answers) return;
    const here = useNumber.getState().questions[0];
    const next = under(here, questions, wayTo(target, useShoot.getState().decided.pick));
    const stays = here?.frame === next[0]?.frame;
    useNumber.setState({
      target,
      questions: next,
      loaded: true,
      ...(stays ? {} : { other: null }),
    });
    stand(!stays);
  } catch (error) {
    useShoot.getState().say(inWords(error), true);
  }
}

/** The questions, with the one under the person's hand first as long as it can be asked still. */
function under(
  here: Question | undefined,
  questions: readonly Question[],
  way: Way,
): readonly Question[] {
  if (!here) return questions;
  const { marks } = useShoot.getState();
  const isPick = (id: number | null) => id === null || marks.get(id)?.decision === 'pick';
  const holds =
    way === 'trim'
      ? isPick(here.frame) && isPick(here.beside)
      : way === 'fill' && !isPick(here.frame);
  if (!holds) return questions;
  const same = questions.find((question) => question.frame === here.frame);
  return [same ?? here, ...questions.filter((question) => question !== same)];
}

function stand(anew: boolean): void {
  const { question, frame } = asked(useNumber.getState());
  if (!question || frame === undefined) return;
  putOnStage(pairOf(question, frame, wayNow()), anew);
  useShoot.getState().go(frame);
}

/** The next question at once, while what follows is asked for. */
function goOn(answer: Omit<Past, 'question'>): void {
  const [question] = useNumber.getState().questions;
  if (!question) return;
  const past = { ...answer, question };
  answers += 1;
  useNumber.setState(({ questions, settled, path }) => ({
    questions: questions.slice(1),
    other: null,
    settled: new Set([...settled, ...past.settled]),
    path: [...path, past],
  }));
  stand(true);
  void loadNumber();
}

/** The frame that is asked for goes; or, where one is to be added, this group is left as it is. */
export function letGo(): void {
  const { question, frame } = asked(useNumber.getState());
  if (!question || frame === undefined) return;
  if (wayNow() === 'fill') {
    goOn({ settled: [question.frame, ...question.others], marked: false });
    return;
  }
  const name = useShoot.getState().byId.get(frame)?.name ?? '';
  const rejects = useDraft.getState().rest === 'reject';
  const words = rejects ? t`${name} is rejected` : t`${name} is undecided again`;
  takeGroups([rejects ? { keep: [], out: [frame] } : { keep: [], out: [], open: [frame] }], words);
  goOn({ settled: [], marked: true });
}

/** Both stay; or, where one is to be added, the frame that is asked for is picked. */
export function keepIt(): void {
  const { question, frame } = asked(useNumber.getState());
  if (!question || frame === undefined) return;
  if (wayNow() === 'trim') {
    goOn({ settled: [question.frame, ...question.others], marked: false });
    return;
  }
  const name = useShoot.getState().byId.get(frame)?.name ?? '';
  takeGroups([{ keep: [frame], out: [] }], t`${name} is picked`);
  goOn({ settled: [], marked: true });
}

/** Ask for another frame instead: trimming, for the one beside it. */
export function askOther(way: 1 | -1): void {
  const { question, frame } = asked(useNumber.getState());
  if (!question || frame === undefined) return;
  const all = [question.frame, ...question.others];
  if (all.length < 2) {
    useShoot.getState().say(t`No other frame can be chosen here`);
    return;
  }
  const next = all[(all.indexOf(frame) + way + all.length) % all.length]!;
  useNumber.setState({ other: next === question.frame ? null : next });
  stand(false);
}

/** One question back: what was marked by its answer is taken back. */
export function questionBack(): void {
  const { path, settled } = useNumber.getState();
  const last = path.at(-1);
  if (!last) {
    useShoot.getState().say(t`This is where it began`);
    return;
  }
  answers += 1;
  useNumber.setState({
    path: path.slice(0, -1),
    questions: [last.question, ...useNumber.getState().questions],
    other: null,
    settled: new Set([...settled].filter((id) => !last.settled.includes(id))),
  });
  if (last.marked) walk('undo');
  stand(true);
  void loadNumber();
}

/** Undo or redo one step, and ask anew. */
export function walkToNumber(way: 'undo' | 'redo'): void {
  if (way === 'undo' && useNumber.getState().path.at(-1)?.marked) {
    questionBack();
    return;
  }
  answers += 1;
  walk(way);
  void loadNumber();
}
