/** What the page itself needs to know of filters; the server has the last word. */
import type { Filter } from '../api/client';
import type { Mark } from './frames';

export function passes(filter: Filter, mark: Mark): boolean {
  const { decisions, stars, stars_rule: rule, labels } = filter;
  if (decisions.length && !decisions.includes(mark.decision)) return false;
  if (labels.length && !labels.includes(mark.label ?? '')) return false;
  if (stars === null) return true;
  return rule === 'at_least'
    ? mark.stars >= stars
    : rule === 'exactly'
      ? mark.stars === stars
      : mark.stars <= stars;
}
