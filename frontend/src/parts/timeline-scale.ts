/** The timeline's scale: time to height, with long pauses folded. */

export interface Tick {
  id: number;
  y: number;
}

export interface Block {
  group: number;
  top: number;
  bottom: number;
}

export interface Pause {
  y: number;
  /** seconds of the camera's clock after the pause */
  until: number;
  /** seconds */
  length: number;
}

export interface Scale {
  ticks: Tick[];
  blocks: Block[];
  pauses: Pause[];
}

/** A pause longer than this is folded to a fixed height and labelled, in seconds. */
const FOLD_S = 300;

/**
 * Place frames in order on a line of `height` px. Every frame takes the same share, every pause a
 * share that grows with its logarithm, groups a little room around them, folds a fixed one.
 */
export function timelineScale(
  frames: readonly { id: number; group: number; takenAt: number | null }[],
  height: number,
): Scale {
  const scale: Scale = { ticks: [], blocks: [], pauses: [] };
  if (!frames.length || height <= 0) return scale;
  const steps: number[] = [];
  const folds: (Pause | null)[] = [];
  for (const [n, frame] of frames.entries()) {
    const before = frames[n - 1];
    if (!before) {
      steps.push(0);
      folds.push(null);
      continue;
    }
    const pause = Math.max(0, (frame.takenAt ?? 0) - (before.takenAt ?? 0));
    folds.push(pause > FOLD_S ? { y: 0, until: frame.takenAt ?? 0, length: pause } : null);
    const room = pause > FOLD_S ? 1 : 1.2 + Math.log10(1 + pause);
    steps.push(1 + (frame.group === before.group ? 0 : room));
  }
  // Labels need their room in px; the frames share the rest.
  const folded = folds.filter(Boolean).length;
  const FOLD_PX = Math.min(20, (height * 0.4) / Math.max(1, folded));
  const top = FOLD_PX;
  const sum = steps.reduce((all, one) => all + one, 0) || 1;
  const unit = Math.min(9, (height - top - 10 - folded * FOLD_PX) / sum);
  let y = top;
  scale.pauses.push({ y: 0, until: frames[0]!.takenAt ?? 0, length: 0 });
  for (const [n, frame] of frames.entries()) {
    const fold = folds[n];
    y += steps[n]! * unit;
    if (fold) {
      scale.pauses.push({ ...fold, y: y - unit });
      y += FOLD_PX;
    }
    scale.ticks.push({ id: frame.id, y });
    const block = scale.blocks.at(-1);
    if (block?.group === frame.group) block.bottom = y;
    else scale.blocks.push({ group: frame.group, top: y, bottom: y });
  }
  return scale;
}

/** The frame nearest to a height. */
export function frameAt(scale: Scale, y: number): number | undefined {
  let low = 0;
  let high = scale.ticks.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (scale.ticks[middle]!.y < y) low = middle + 1;
    else high = middle;
  }
  const here = scale.ticks[low];
  const before = scale.ticks[low - 1];
  if (here && before && Math.abs(before.y - y) < Math.abs(here.y - y)) return before.id;
  return here?.id;
}
