/** What is said of a frame, part by part, in words. */
import type { PartName, Said } from '../api/client';

export const PART_WORDS: Record<PartName, string> = {
  decision: 'decision',
  stars: 'stars',
  label: 'label',
  title: 'title',
  caption: 'caption',
  keywords: 'keywords',
  creators: 'creator',
  rights: 'copyright',
  location: 'place',
  city: 'city',
  state: 'state',
  country: 'country',
};

export const PARTS = Object.keys(PART_WORDS) as PartName[];

const DECISIONS = { pick: 'picked', reject: 'rejected', undecided: 'undecided' };

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
      return mark.stars ? `${mark.stars}★` : 'no stars';
    case 'label':
      return mark.label ? nameOf(mark.label) : 'no label';
    case 'keywords':
      return texts.keywords.join(', ') || 'nothing';
    case 'creators':
      return texts.creators.join('; ') || 'nothing';
    default:
      return texts[part] || 'nothing';
  }
}

/** The parts in which two sayings differ. */
export function differing(one: Said, other: Said): PartName[] {
  const same = (letter: string) => letter;
  return PARTS.filter((part) => partInWords(one, part, same) !== partInWords(other, part, same));
}
