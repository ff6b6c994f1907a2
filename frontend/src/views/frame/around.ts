/** Rungs that are drawn at once: of a time-lapse of thousands, those around the one that is seen. */
const BLOCK = 24;

/**
 * The part of a long list that lies around one of it, with how many are left out before and after.
 * It moves by blocks, so that a step within one leaves it as it is.
 */
export function around<T>(
  list: readonly T[],
  at: number,
): { part: readonly T[]; before: number; after: number } {
  const block = Math.floor(Math.max(0, at) / BLOCK);
  const first = Math.max(0, (block - 1) * BLOCK);
  const part = list.slice(first, (block + 2) * BLOCK);
  return { part, before: first, after: list.length - first - part.length };
}
