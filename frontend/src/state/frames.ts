/** Frames and marks as the page holds them. */
import { t } from '@lingui/core/macro';

import type { Decision, FrameColumns, StandingWords } from '../api/client';
import { cameraDay, counted } from '../texts/numbers';

export interface Frame {
  id: number;
  name: string;
  kind: string;
  state: number;
  picture: number;
  key: string | null;
  missing: boolean;
  notice: string;
  /** seconds of the shoot's common clock */
  shotAt: number | null;
  /** whether its file doesn't say when it was taken: the time of its last change stands in */
  undated?: boolean;
  /** px, upright */
  width: number | null;
  height: number | null;
  group: number;
  /** quarter turns to the right that the person gave it on screen */
  turned: number;
  /**
   * px at 100 % at the part that matters, null where there is no edge; in the sharpest part until
   * it is judged
   */
  blur: number | null;
  /** how sharp it is against its group; undefined until it is judged */
  standing?: StandingWords | undefined;
  /** the frames that are parts of one picture with it, itself among them */
  parts?: readonly number[] | undefined;
  /** whether its files wait in the holding folder */
  held: boolean;
  /** whether a delivery moved its files out */
  movedOut: boolean;
}

export interface Mark {
  decision: Decision;
  stars: number;
  label: string | null;
}

export const FAILED = 3;

/** Width and height in px as the frame lies on screen; null until they are known. */
export function sizeOf(frame: Frame): { width: number; height: number } | null {
  const { width, height, turned } = frame;
  if (!width || !height) return null;
  return turned % 2 ? { width: height, height: width } : { width, height };
}

/** Width to height on screen; a common one until the picture's size is known. */
export function ratioOf(frame: Frame): number {
  const size = sizeOf(frame);
  return size ? size.width / size.height : 1.5;
}

export function fromColumns(columns: FrameColumns): { frames: Frame[]; marks: Map<number, Mark> } {
  const marks = new Map<number, Mark>();
  const held = new Set(columns.held);
  const movedOut = new Set(columns.moved_out);
  const undated = new Set(columns.undated);
  const partsOf = new Map(columns.pairs.flatMap((parts) => parts.map((id) => [id, parts])));
  const frames = columns.id.map((id, n): Frame => {
    marks.set(id, {
      decision: columns.decision[n]!,
      stars: columns.stars[n]!,
      label: columns.label[n] ?? null,
    });
    return {
      id,
      name: columns.name[n]!,
      kind: columns.kind[n]!,
      state: columns.state[n]!,
      picture: columns.picture[n]!,
      key: columns.key[n] ?? null,
      missing: columns.missing[n]!,
      notice: columns.notice[String(id)] ?? '',
      shotAt: columns.shot_at[n] ?? null,
      undated: undated.has(id),
      width: columns.width[n] ?? null,
      height: columns.height[n] ?? null,
      group: columns.group[n]!,
      turned: columns.turned[n]!,
      blur: columns.blur[n] ?? null,
      standing: columns.standings[columns.standing[n]!],
      parts: partsOf.get(id),
      held: held.has(id),
      movedOut: movedOut.has(id),
    };
  });
  return { frames, marks };
}

const DECIDED = { pick: t`picked`, reject: t`rejected`, undecided: t`undecided` };

/** A frame's mark in words, for people who hear the page and for the notice. */
export function markInWords(mark: Mark, labelName: (letter: string) => string): string {
  const parts: string[] = [DECIDED[mark.decision]];
  if (mark.stars) parts.push(counted(mark.stars, 'star'));
  if (mark.label) parts.push(labelName(mark.label));
  return parts.join(' · ');
}

/** When a frame was taken; where its file doesn't say so, that this is the file's own time. */
export function takenInWords(frame: Pick<Frame, 'shotAt' | 'undated'>): string {
  const time = clock(frame.shotAt);
  return frame.undated && time ? t`file changed ${time}` : time;
}

const DAY_S = 86_400;

/** The number of the day on which a frame was taken; undefined where its file doesn't say. */
export function dayOf(frame: Pick<Frame, 'shotAt' | 'undated'>): number | undefined {
  return frame.shotAt === null || frame.undated ? undefined : Math.floor(frame.shotAt / DAY_S);
}

/** "Sat 3 Oct 2026", or in short "3 Oct", of a day by its number. */
export function dayWords(day: number, brief = false): string {
  return cameraDay(day * DAY_S, brief ? 'short' : 'long');
}

/** Whether frames were taken on more than one day. */
export function areOfSeveralDays(frames: readonly Pick<Frame, 'shotAt' | 'undated'>[]): boolean {
  const days = new Set(frames.map(dayOf));
  days.delete(undefined);
  return days.size > 1;
}

/** "18:42:07" of the camera's clock. */
export function clock(seconds: number | null): string {
  return seconds === null ? '' : new Date(seconds * 1000).toISOString().slice(11, 19);
}
