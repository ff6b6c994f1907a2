/** The faces of compared frames: whether they are shown, and which one is looked at. */
import { t } from '@lingui/core/macro';
import { create } from 'zustand';

import type { FaceRows } from '../api/client';

interface FacesState {
  open: boolean;
  /** enlarged to the eyes, or whole faces */
  zoom: 'eyes' | 'faces';
  /** the row that is looked at; −1: none yet */
  row: number;
}

export const useFaces = create<FacesState>()(() => ({ open: false, zoom: 'faces', row: -1 }));

export type Face = NonNullable<FaceRows['rows'][number]['faces'][number]>;

/** How much a face counts, as somebody said it: more than the others, not at all, or like them. */
export type Weight = Face['weight'];

/** The row after (or before) the one that is looked at, among those that a frame shows. */
export function nextRow(
  { frames, rows }: Pick<FaceRows, 'frames' | 'rows'>,
  frame: number,
  from: number,
  way: 1 | -1,
): number | null {
  const column = frames.indexOf(frame);
  const shown = rows.flatMap((row, n) => (row.faces[column] ? [n] : []));
  if (!shown.length) return null;
  if (!shown.includes(from)) return way === 1 ? shown[0]! : shown.at(-1)!;
  const at = shown.indexOf(from) + way;
  return shown[(at + shown.length) % shown.length]!;
}

const within = (value: number) => Math.min(1, Math.max(0, value));

/** The point between a face's eyes, or its sharper eye: what is looked at close. */
export function pointOf(face: Face): { x: number; y: number } {
  const [first, second] = face.eyes as [Face['eyes'][number], Face['eyes'][number]];
  const eye = (second.blur ?? Infinity) < (first.blur ?? Infinity) ? second : first;
  return { x: within(eye.x), y: within(eye.y) };
}

/** The middle of a face's box, 0…1. */
export function middleOf(face: Pick<Face, 'box'>): { x: number; y: number } {
  const [left, top, right, bottom] = face.box as [number, number, number, number];
  return { x: within((left + right) / 2), y: within((top + bottom) / 2) };
}

/** What is said of a face's eyes. */
export function eyesWords(face: Face): string {
  if (face.eyes_closed === null)
    return Math.abs(face.turned) > 35 ? t`turned away` : t`eyes not seen`;
  if (face.eyes_closed) return t`closed`;
  if (face.eyes_half) return t`half closed`;
  return face.eyes_soft ? t`soft` : t`open`;
}

/** The shape that says the same. */
export function eyesLook(face: Face): 'open' | 'half' | 'closed' | 'soft' | 'unseen' {
  if (face.eyes_closed === null) return 'unseen';
  if (face.eyes_closed) return 'closed';
  if (face.eyes_half) return 'half';
  return face.eyes_soft ? 'soft' : 'open';
}

/** What a face shows beside its eyes: that it smiles, looks away, is in mid-speech, or turned. */
export type FaceSign = 'smile' | 'gaze' | 'speech' | 'left' | 'right';

export const SIGN_WORDS: Record<FaceSign, string> = {
  smile: t`smiles`,
  gaze: t`looks away`,
  speech: t`mid-speech`,
  left: t`turned left`,
  right: t`turned right`,
};

export function signsOf(
  face: Pick<Face, 'looks_away' | 'mid_speech' | 'smiles'> &
    Partial<Pick<Face, 'head_turned' | 'turned'>>,
): FaceSign[] {
  return [
    ...(face.smiles ? (['smile'] as const) : []),
    ...(face.looks_away ? (['gaze'] as const) : []),
    ...(face.mid_speech ? (['speech'] as const) : []),
    ...(face.head_turned ? [(face.turned ?? 0) < 0 ? ('left' as const) : ('right' as const)] : []),
  ];
}
