/** Which of the words used before complete what is typed. */

export interface Used {
  value: string;
  frames: number;
}

const MOST = 8;

/** Without case and accents, as the server finds texts. */
export function fold(text: string): string {
  return text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
}

/**
 * Words that begin so first, then those with another word in them that does; without those there
 * already.
 */
export function offers(typed: string, used: readonly Used[], there: readonly string[]): Used[] {
  const wanted = fold(typed.trim());
  const known = new Set(there.map(fold));
  const free = used.filter((entry) => !known.has(fold(entry.value)));
  if (!wanted) return free.slice(0, MOST);
  const begins = free.filter((entry) => fold(entry.value).startsWith(wanted));
  const within = free.filter(
    (entry) => !begins.includes(entry) && fold(entry.value).includes(` ${wanted}`),
  );
  return [...begins, ...within].slice(0, MOST);
}
