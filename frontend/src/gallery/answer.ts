/** What a client says of a proof: which frames are chosen, and what is wished of each. */

/** What the gallery's file holds. Sizes are px of the large pictures. */
import { t } from '@lingui/core/macro';
export interface Proof {
  token: string;
  title: string;
  greeting: string;
  /** how many frames are to be chosen, if that is settled */
  wanted: number | null;
  frames: readonly { number: number; name: string; width: number; height: number }[];
}

export interface Answer {
  client: string;
  note: string;
  picks: number[];
  comments: Record<string, string>;
}

export const NO_ANSWER: Answer = { client: '', note: '', picks: [], comments: {} };

/** The answer with one frame chosen, or no longer. */
export function flipped(answer: Answer, number: number): Answer {
  const picks = answer.picks.includes(number)
    ? answer.picks.filter((pick) => pick !== number)
    : [...answer.picks, number].sort((a, b) => a - b);
  return { ...answer, picks };
}

/** The answer with a frame's comment; an empty one is none. */
export function commented(answer: Answer, number: number, comment: string): Answer {
  const comments = Object.fromEntries(
    Object.entries(answer.comments).filter(([name]) => name !== String(number)),
  );
  if (comment.trim()) comments[number] = comment;
  return { ...answer, comments };
}

/** The small file that goes back to the photographer. */
export function asFile(proof: Proof, answer: Answer): string {
  const comments = Object.fromEntries(
    Object.entries(answer.comments).map(([number, comment]) => [number, comment.trim()]),
  );
  const whole = {
    kind: 'proof answer',
    version: 1,
    proof: proof.token,
    title: proof.title,
    client: answer.client.trim(),
    note: answer.note.trim(),
    picks: answer.picks,
    comments,
  };
  return `${JSON.stringify(whole, null, 2)}\n`;
}

/** A name for that file that every system takes. */
export function fileName(proof: Proof, answer: Answer): string {
  const parts = ['answer', proof.title, answer.client.trim()].filter(Boolean);
  const name = parts.join(' - ').replace(/[^\p{L}\p{N} ._-]+/gu, '-');
  return `${name.slice(0, 100).trim()}.json`;
}

/** What was kept in this browser before, if it can be understood. */
export function restored(text: string | null, proof: Proof): Answer {
  try {
    const kept = JSON.parse(text ?? '') as Partial<Answer>;
    const known = new Set(proof.frames.map((frame) => frame.number));
    return {
      client: kept.client ?? '',
      note: kept.note ?? '',
      picks: (kept.picks ?? []).filter((number) => known.has(number)),
      comments: Object.fromEntries(
        Object.entries(kept.comments ?? {}).filter(([number]) => known.has(Number(number))),
      ),
    };
  } catch {
    return NO_ANSWER;
  }
}

/** How far the choice is, in words. */
export function countInWords(answer: Answer, wanted: number | null): string {
  const chosen = answer.picks.length;
  if (wanted === null) return t`${chosen} chosen`;
  const over = chosen > wanted ? t`, ${chosen - wanted} too many` : '';
  return t`${chosen} of ${wanted} chosen${over}`;
}
