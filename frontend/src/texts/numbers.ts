/** Numbers, sizes, dates and counts in words, as the language of the texts writes them. */
import { i18n } from '@lingui/core';
import { plural, t } from '@lingui/core/macro';

import { localeFor } from './locale';

/** Where numbers and dates are written as there. */
export const LOCALE = localeFor(
  i18n.locale || 'en',
  typeof navigator === 'undefined' ? [] : navigator.languages,
);

const made = new Map<string, Intl.NumberFormat>();

function format(least: number, most: number): Intl.NumberFormat {
  const key = `${least} ${most}`;
  let format = made.get(key);
  if (!format) {
    format = new Intl.NumberFormat(LOCALE, {
      minimumFractionDigits: least,
      maximumFractionDigits: most,
    });
    made.set(key, format);
  }
  return format;
}

/** "12,345" of a whole number. */
export const whole = (number: number): string => format(0, 0).format(number);

/** "2.50": always so many digits. */
export const fixed = (number: number, digits: number): string =>
  format(digits, digits).format(number);

/** "2.5": at most so many digits. */
export const rounded = (number: number, digits: number): string => format(0, digits).format(number);

const NOUNS = {
  answer: (n: number, shown: string) =>
    plural(n, { one: `${shown} answer`, other: `${shown} answers` }),
  choice: (n: number, shown: string) =>
    plural(n, { one: `${shown} choice`, other: `${shown} choices` }),
  comment: (n: number, shown: string) =>
    plural(n, { one: `${shown} comment`, other: `${shown} comments` }),
  comparison: (n: number, shown: string) =>
    plural(n, { one: `${shown} comparison`, other: `${shown} comparisons` }),
  decision: (n: number, shown: string) =>
    plural(n, { one: `${shown} decision`, other: `${shown} decisions` }),
  face: (n: number, shown: string) => plural(n, { one: `${shown} face`, other: `${shown} faces` }),
  file: (n: number, shown: string) => plural(n, { one: `${shown} file`, other: `${shown} files` }),
  frame: (n: number, shown: string) =>
    plural(n, { one: `${shown} frame`, other: `${shown} frames` }),
  guest: (n: number, shown: string) =>
    plural(n, { one: `${shown} guest`, other: `${shown} guests` }),
  group: (n: number, shown: string) =>
    plural(n, { one: `${shown} group`, other: `${shown} groups` }),
  JPEG: (n: number, shown: string) => plural(n, { one: `${shown} JPEG`, other: `${shown} JPEGs` }),
  'like pair': (n: number, shown: string) =>
    plural(n, { one: `${shown} like pair`, other: `${shown} like pairs` }),
  name: (n: number, shown: string) => plural(n, { one: `${shown} name`, other: `${shown} names` }),
  'companion file': (n: number, shown: string) =>
    plural(n, { one: `${shown} companion file`, other: `${shown} companion files` }),
  'other file': (n: number, shown: string) =>
    plural(n, { one: `${shown} other file`, other: `${shown} other files` }),
  page: (n: number, shown: string) => plural(n, { one: `${shown} page`, other: `${shown} pages` }),
  path: (n: number, shown: string) => plural(n, { one: `${shown} path`, other: `${shown} paths` }),
  person: (n: number, shown: string) =>
    plural(n, { one: `${shown} person`, other: `${shown} people` }),
  pick: (n: number, shown: string) => plural(n, { one: `${shown} pick`, other: `${shown} picks` }),
  picture: (n: number, shown: string) =>
    plural(n, { one: `${shown} picture`, other: `${shown} pictures` }),
  reject: (n: number, shown: string) =>
    plural(n, { one: `${shown} reject`, other: `${shown} rejects` }),
  row: (n: number, shown: string) => plural(n, { one: `${shown} row`, other: `${shown} rows` }),
  shoot: (n: number, shown: string) =>
    plural(n, { one: `${shown} shoot`, other: `${shown} shoots` }),
  star: (n: number, shown: string) => plural(n, { one: `${shown} star`, other: `${shown} stars` }),
  'undecided frame': (n: number, shown: string) =>
    plural(n, { one: `${shown} undecided frame`, other: `${shown} undecided frames` }),
};

/** "1 frame", "2,345 frames". */
export function counted(number: number, noun: keyof typeof NOUNS): string {
  return NOUNS[noun](number, whole(number));
}

/** Bytes in decimal units, as disks are sold. */
export function size(bytes: number): string {
  if (bytes < 1e6) return t`${whole(Math.max(1, bytes / 1e3))} kB`;
  if (bytes < 1e9) return t`${fixed(bytes / 1e6, bytes < 1e7 ? 1 : 0)} MB`;
  return t`${fixed(bytes / 1e9, 1)} GB`;
}

/** "40 s", "3 min", "1 h 20 min". */
export function duration(seconds: number): string {
  if (seconds < 90) return t`${Math.max(1, Math.round(seconds))} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 90) return t`${minutes} min`;
  return t`${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** "+0.7", "−1.3", "0". */
export function signed(number: number, digits: number): string {
  const text = rounded(Math.abs(number), digits);
  if (!Number(Math.abs(number).toFixed(digits))) return text;
  return (number < 0 ? '−' : '+') + text;
}

/** "12 %", "0.3 %". */
export function share(value: number): string {
  const percent = value * 100;
  return t`${rounded(percent, percent >= 10 ? 0 : 1)} %`;
}

const DAY: Intl.DateTimeFormatOptions = { day: 'numeric', month: 'short', year: 'numeric' };

/** "3 Oct 2026" of a time in seconds, or how the person's country writes it. */
export function day(seconds: number): string {
  return new Date(seconds * 1000).toLocaleDateString(LOCALE, DAY);
}

/** The same of a camera's clock, which has no zone of its own. */
export function cameraDay(seconds: number, how: 'usual' | 'short' | 'long' = 'usual'): string {
  const { year, ...short } = DAY;
  const parts = { usual: DAY, short, long: { ...short, year, weekday: 'short' as const } }[how];
  return new Date(seconds * 1000).toLocaleDateString(LOCALE, { ...parts, timeZone: 'UTC' });
}

/** "3 Oct 2026", or "3 – 5 Oct 2026" where it took several days: of a camera's clock. */
export function days(first: number, last: number): string {
  const format = new Intl.DateTimeFormat(LOCALE, { ...DAY, timeZone: 'UTC' });
  return format.formatRange(first * 1000, last * 1000);
}

/** By 24 hours, as on the timeline and in the filter. */
const TIME: Intl.DateTimeFormatOptions = { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' };

/** "16:31" of seconds since 1970, where the person is. */
export function timeOfDay(seconds: number): string {
  return new Date(seconds * 1000).toLocaleTimeString(LOCALE, {
    ...TIME,
  });
}

/** "16:31" of a camera's clock, which has no zone of its own. */
export function cameraTime(seconds: number): string {
  return new Date(seconds * 1000).toLocaleTimeString(LOCALE, {
    ...TIME,
    timeZone: 'UTC',
  });
}

/** Seconds to be added to a clock: "−47", "+1:00:00", "0". */
export function offset(seconds: number): string {
  const all = Math.abs(seconds);
  if (all < 100 || !Number.isInteger(all)) return signed(seconds, 3);
  const parts = [Math.floor(all / 3600), Math.floor(all / 60) % 60, all % 60];
  const text = parts.map((part, n) => (n ? String(part).padStart(2, '0') : part)).join(':');
  return (seconds < 0 ? '−' : '+') + text;
}

/** "UTC+2", "UTC−3:30" of minutes from UTC. */
export function zone(minutes: number): string {
  const [hours, rest] = [Math.floor(Math.abs(minutes) / 60), Math.abs(minutes) % 60];
  const text = rest ? `${hours}:${String(rest).padStart(2, '0')}` : String(hours);
  return `UTC${minutes < 0 ? '−' : '+'}${text}`;
}

/** The seconds that a person typed as "-47", "+1:30", or "−1:00:00"; null for anything else. */
export function readOffset(typed: string): number | null {
  const match = /^\s*([+\-−–]?)\s*(?:(?:(\d+):)?(\d+):)?(\d+(?:[.,]\d+)?)\s*s?\s*$/.exec(typed);
  if (!match) return null;
  const [, sign, hours = '0', minutes = '0', seconds = '0'] = match;
  const total = Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds.replace(',', '.'));
  return sign && sign !== '+' ? -total || 0 : total;
}

/** A title as it stands within a sentence: small, but where nouns are written large. */
export const withinSentence = (title: string): string =>
  i18n.locale === 'de' ? title : title.toLowerCase();
