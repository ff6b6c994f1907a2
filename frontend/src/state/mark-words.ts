/** What is said of a frame, part by part, in words. */
import { t } from '@lingui/core/macro';

import type { Label, PartName, Said } from '../api/client';

export const PART_WORDS: Record<PartName, string> = {
  decision: t`decision`,
  stars: t`stars`,
  label: t`label`,
  title: t`title`,
  caption: t`caption`,
  keywords: t`keywords`,
  creators: t`creator`,
  rights: t`copyright`,
  location: t`place`,
  city: t`city`,
  state: t`state`,
  country: t`country`,
  instructions: t`instructions`,
};

export const PARTS = Object.keys(PART_WORDS) as PartName[];

const DECISIONS = { pick: t`picked`, reject: t`rejected`, undecided: t`undecided` };

/** One part of what is said, in words; "nothing" where it says nothing. */
export function partInWords(
  { mark, texts }: Said,
  part: PartName,
  nameOf: (letter: string) => string,
): string {
  switch (part) {
    case 'decision':
      return DECISIONS[mark.decision];
    case 'stars':
      return mark.stars ? `${mark.stars}★` : t`no stars`;
    case 'label':
      return mark.label ? nameOf(mark.label) : t`no label`;
    case 'keywords':
      return texts.keywords.join(', ') || t`nothing`;
    case 'creators':
      return texts.creators.join('; ') || t`nothing`;
    default:
      return texts[part] || t`nothing`;
  }
}

/** The parts in which two sayings differ. */
export function differing(one: Said, other: Said): PartName[] {
  const same = (letter: string) => letter;
  return PARTS.filter((part) => partInWords(one, part, same) !== partInWords(other, part, same));
}

/** The name of a label, by its letter; the letter where there is no such label any more. */
export function labelName(labels: readonly Label[], letter: string): string {
  return labels.find((label) => label.letter === letter)?.name ?? letter;
}
