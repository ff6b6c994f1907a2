/** What hints say of the shoot: which frames each kind names. */
import { t } from '@lingui/core/macro';
import { create } from 'zustand';

import { api, ask, type HintKind } from '../api/client';
import { throttled } from './sync';
import { useShoot } from './shoot';
import { fixed, withinSentence } from '../texts/numbers';

export interface HintsState {
  shootId: number;
  kinds: readonly HintKind[];
  /** some of it is still being made */
  waits: boolean;
  /** the kinds that name a frame, those that speak against it first */
  byFrame: ReadonlyMap<number, readonly HintKind[]>;
  /** one more than frames of its group are better, of those that can be used; the others last */
  placeOf: ReadonlyMap<number, number>;
  /** frames that can't be used */
  unusable: ReadonlySet<number>;
  /** sets of frames in which together nobody blinks, where no frame of their group has that */
  together: readonly (readonly number[])[];
  /** another number each time that anything is different */
  version: number;
}

export const useHints = create<HintsState>()(() => ({
  shootId: 0,
  kinds: [],
  waits: true,
  byFrame: new Map(),
  placeOf: new Map(),
  unusable: new Set(),
  together: [],
  version: 0,
}));

export async function loadHints(): Promise<void> {
  const { shootId } = useShoot.getState();
  const { kinds, waits, verdicts } = await ask(
    api.GET('/api/shoots/{shoot}/hints', { params: { path: { shoot: shootId } } }),
  );
  if (useShoot.getState().shootId !== shootId) return;
  useHints.setState(({ version }) => ({
    shootId,
    kinds,
    waits,
    byFrame: namedBy(kinds),
    placeOf: new Map(verdicts.frame.map((id, n) => [id, verdicts.place[n]!])),
    unusable: new Set(verdicts.frame.filter((_, n) => !verdicts.usable[n])),
    together: verdicts.together,
    version: version + 1,
  }));
}

/** Hints come in by and by, and are not waited for. */
export const loadHintsSoon = throttled(() => void loadHints().catch(() => undefined), 700);

/** From where on a kind of hint names a frame in this shoot; undefined until that is known. */
export const thresholdOf = (name: HintKind['name']) => (state: Pick<HintsState, 'kinds'>) =>
  state.kinds.find((kind) => kind.name === name)?.threshold;

export function namedBy(kinds: readonly HintKind[]): Map<number, HintKind[]> {
  const kindsOf = new Map<number, HintKind[]>();
  for (const kind of [...kinds].sort((a, b) => Number(b.fault) - Number(a.fault)))
    for (const frame of kind.named) {
      const kinds = kindsOf.get(frame);
      if (kinds) kinds.push(kind);
      else kindsOf.set(frame, [kind]);
    }
  return kindsOf;
}

/** How many frames of its group are better than a frame, as far as that is known. */
export function worseThan(placeOf: HintsState['placeOf']): (frame: number) => number {
  return (frame) => (placeOf.get(frame) ?? 1) - 1;
}

/** "soft in 3, eyes closed in 1": what speaks against the frames of a group, the most frequent first. */
export function groupWords(
  frames: readonly number[],
  byFrame: HintsState['byFrame'],
  unusable: HintsState['unusable'] = new Set(),
  most = 3,
): string {
  const none = frames.length > 1 && frames.every((frame) => unusable.has(frame));
  const counts = new Map<string, number>();
  for (const frame of frames)
    for (const kind of byFrame.get(frame) ?? [])
      if (kind.fault) counts.set(kind.title, (counts.get(kind.title) ?? 0) + 1);
  const words = [...counts]
    .sort((a, b) => b[1] - a[1])
    .slice(0, most)
    .map(([title, number]) => {
      const fault = withinSentence(title);
      return t`${fault} in ${number}`;
    });
  return [...(none ? [t`no usable frame`] : []), ...words].join(', ');
}

/** A figure of a hint with its unit: "45 %", "2.5 px". */
export function figureWords(
  { unit, decimals }: Pick<HintKind, 'unit' | 'decimals'>,
  figure: number,
): string {
  return `${fixed(figure, decimals)}${unit}`;
}

/** What it takes for a hint to name a frame: "needs 25 %", "needs at most 16.5 %". */
export function thresholdWords(
  kind: Pick<HintKind, 'unit' | 'decimals' | 'below'>,
  threshold: number,
): string {
  const figure = figureWords(kind, threshold);
  return kind.below ? t`needs at most ${figure}` : t`needs ${figure}`;
}

/** Whether a figure is named by a threshold. */
export function names(
  { below }: Pick<HintKind, 'below'>,
  figure: number,
  threshold: number,
): boolean {
  return below ? figure <= threshold : figure >= threshold;
}
