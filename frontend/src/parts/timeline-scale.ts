/** The timeline's scale: time to height, with long pauses folded. */
import { dayOf } from '../state/frames';

export interface Tick {
  id: number;
  y: number;
}

export interface Block {
  group: number;
  top: number;
  bottom: number;
}

/** A time written beside the frames. */
export interface Label {
  /** px, the top of its room */
  y: number;
  /** seconds of the shoot's common clock; null where the file could not be read */
  time: number | null;
  /** whether that is only the time of a file */
  undated: boolean;
  /** seconds of the folded pause before it; 0 where no pause is folded */
  pause: number;
  /** the number of the day that begins here, of several */
  day: number | null;
}

export interface Scale {
  ticks: Tick[];
  blocks: Block[];
  labels: Label[];
  /** px between neighbouring frames of a group */
  unit: number;
}

interface Timed {
  id: number;
  group: number;
  shotAt: number | null;
  undated?: boolean;
}

/** A pause longer than this is folded to a fixed height and labelled, in seconds. */
const FOLD_S = 300;
/** A stretch without a label is never longer than about this, in px. */
const STRETCH_PX = 130;
const LABEL_PX = 18;
const LEAST_LABEL_PX = 13;

/**
 * Place frames in order on a line of `height` px. Every frame takes the same share, every pause a
 * share that grows with its logarithm, groups a little room around them, folds and labels a fixed
 * one. Where there are more pauses than labels have room for, the longest are labelled.
 */
export function timelineScale(frames: readonly Timed[], height: number): Scale {
  const scale: Scale = { ticks: [], blocks: [], labels: [], unit: 0 };
  if (!frames.length || height <= 0) return scale;
  const pauses = frames.map((frame, n) => pauseBefore(frames[n - 1], frame));
  const steps = frames.map((frame, n) => stepTo(frames[n - 1], frame, pauses[n]!));
  const begins = dayStarts(frames);
  const labelled = labelledFrames(frames, steps, pauses, height, begins);
  const room = LABEL_PX * labelled.size;
  const sum = steps.reduce((all, step) => all + step, 0) || 1;
  const unit = Math.min(9, (height - 10 - room) / sum);
  scale.unit = unit;
  let y = 0;
  for (const [n, frame] of frames.entries()) {
    y += steps[n]! * unit;
    if (labelled.has(n)) {
      const pause = pauses[n]!;
      scale.labels.push({
        y,
        time: frame.shotAt,
        undated: frame.undated ?? false,
        pause: pause > FOLD_S ? pause : 0,
        day: begins.has(n) ? dayOf(frame)! : null,
      });
      y += LABEL_PX;
    }
    scale.ticks.push({ id: frame.id, y });
    const block = scale.blocks.at(-1);
    if (block?.group === frame.group) block.bottom = y;
    else scale.blocks.push({ group: frame.group, top: y, bottom: y });
  }
  return scale;
}

/** The places of the frames with which a day begins; none where all are of one day. */
function dayStarts(frames: readonly Timed[]): ReadonlySet<number> {
  const starts = new Set<number>();
  let today: number | undefined;
  for (const [n, frame] of frames.entries()) {
    const day = dayOf(frame);
    if (day === undefined || day === today) continue;
    today = day;
    starts.add(n);
  }
  return starts.size > 1 ? starts : new Set();
}

function pauseBefore(before: Timed | undefined, frame: Timed): number {
  // Beside a file that could not be read there is no pause to tell.
  if (!before || before.shotAt === null || frame.shotAt === null) return 0;
  return Math.max(0, frame.shotAt - before.shotAt);
}

function stepTo(before: Timed | undefined, frame: Timed, pause: number): number {
  if (!before) return 0;
  if (frame.group === before.group) return 1;
  return 1 + (pause > FOLD_S ? 1 : 1.2 + Math.log10(1 + pause));
}

/**
 * The frames with a label above them: the first, those behind the longest pauses, some in long
 * stretches.
 */
function labelledFrames(
  frames: readonly Timed[],
  steps: readonly number[],
  pauses: readonly number[],
  height: number,
  begins: ReadonlySet<number>,
): ReadonlySet<number> {
  const folded = [...pauses.keys()].filter((n) => pauses[n]! > FOLD_S || begins.has(n));
  // Days first, then the longest pauses.
  folded.sort((a, b) => Number(begins.has(b)) - Number(begins.has(a)) || pauses[b]! - pauses[a]!);
  const most = Math.max(1, Math.floor((0.4 * height) / LABEL_PX) - 1);
  const sum = steps.reduce((all, step) => all + step, 0) || 1;
  const chosen = new Set([0, ...spread(folded, steps, (height - 10) / sum, height, most)]);
  const left = most - (chosen.size - 1);
  if (left <= 0) return chosen;
  const unit = Math.min(9, (height - 10 - LABEL_PX * chosen.size) / sum);
  let since = 0;
  let added = 0;
  const ahead = roomAhead(steps, chosen, unit);
  for (let n = 1; n < frames.length && added < left; n += 1) {
    if (chosen.has(n)) {
      since = 0;
      continue;
    }
    since += steps[n]! * unit;
    const starts = frames[n]!.group !== frames[n - 1]!.group;
    if (starts && since > STRETCH_PX && ahead[n]! > STRETCH_PX / 3) {
      chosen.add(n);
      added += 1;
      since = 0;
    }
  }
  return chosen;
}

/**
 * The first `most` of some frames; where there are more than that, none close behind another one.
 */
function spread(
  wanted: readonly number[],
  steps: readonly number[],
  unit: number,
  height: number,
  most: number,
): number[] {
  if (wanted.length <= most) return [...wanted];
  const apart = height / (1.2 * most);
  let y = 0;
  const at = steps.map((step) => (y += step * unit));
  const chosen: number[] = [];
  for (const n of wanted) {
    if (chosen.length === most) break;
    if (chosen.every((other) => Math.abs(at[other]! - at[n]!) >= apart)) chosen.push(n);
  }
  return chosen;
}

/** For each frame the px until the next label or the end. */
function roomAhead(steps: readonly number[], labelled: ReadonlySet<number>, unit: number) {
  const ahead = new Float64Array(steps.length);
  let room = 0;
  for (let n = steps.length - 1; n >= 0; n -= 1) {
    ahead[n] = room;
    room = labelled.has(n) ? 0 : room + steps[n]! * unit;
  }
  return ahead;
}

/** Whether a label's text has its room, whatever stands above it. */
export function hasRoom(labels: readonly Label[], n: number): boolean {
  const above = labels[n - 1];
  return !above || labels[n]!.y - above.y >= LEAST_LABEL_PX;
}

/** The frame nearest to a height. */
export function frameAt(scale: Scale, y: number): number | undefined {
  const low = tickBelow(scale.ticks, y);
  const here = scale.ticks[low];
  const before = scale.ticks[low - 1];
  if (here && before && Math.abs(before.y - y) < Math.abs(here.y - y)) return before.id;
  return here?.id;
}

/** The first tick that is not above a height, or the last one. */
function tickBelow(ticks: readonly Tick[], y: number): number {
  let low = 0;
  let high = ticks.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ticks[middle]!.y < y) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** "+14m", "+2h", "+3d": how long a folded pause was. */
export function pauseInWords(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  if (minutes < 100) return `+${minutes}m`;
  const hours = Math.round(minutes / 60);
  return hours < 100 ? `+${hours}h` : `+${Math.round(hours / 24)}d`;
}
