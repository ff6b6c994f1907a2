/** Numbers in words. */

export function counted(number: number, noun: string): string {
  return `${number.toLocaleString('en')} ${noun}${number === 1 ? '' : 's'}`;
}

/** Bytes in decimal units, as disks are sold. */
export function size(bytes: number): string {
  if (bytes < 1e6) return `${Math.max(1, Math.round(bytes / 1e3))} kB`;
  if (bytes < 1e9) return `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;
  return `${(bytes / 1e9).toFixed(1)} GB`;
}

/** "1/125 s", "0.5 s", "2 s". */
export function shutter(seconds: number): string {
  if (seconds >= 0.3) return `${Number(seconds.toFixed(1))} s`;
  return `1/${Math.round(1 / seconds)} s`;
}

/** "+0.7", "−1.3", "0". */
export function signed(number: number, digits: number): string {
  const text = String(Number(Math.abs(number).toFixed(digits)));
  if (text === '0') return '0';
  return (number < 0 ? '−' : '+') + text;
}

/** "12 %", "0.3 %". */
export function share(value: number): string {
  const percent = value * 100;
  return `${percent >= 10 ? Math.round(percent) : Number(percent.toFixed(1))} %`;
}

/** "3 Oct 2026" of a time in seconds. */
export function day(seconds: number): string {
  return new Date(seconds * 1000).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  });
}

/** Seconds to be added to a clock: "−47", "+1:00:00", "0". */
export function offset(seconds: number): string {
  const whole = Math.abs(seconds);
  if (whole < 100 || !Number.isInteger(whole)) return signed(seconds, 3);
  const parts = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
  const text = parts.map((part, n) => (n ? String(part).padStart(2, '0') : part)).join(':');
  return (seconds < 0 ? '−' : '+') + text;
}

/** The seconds that a person typed as "-47", "+1:30", or "−1:00:00"; null for anything else. */
export function readOffset(typed: string): number | null {
  const found = /^\s*([+\-−–]?)\s*(?:(?:(\d+):)?(\d+):)?(\d+(?:[.,]\d+)?)\s*s?\s*$/.exec(typed);
  if (!found) return null;
  const [, sign, hours = '0', minutes = '0', seconds = '0'] = found;
  const total = Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds.replace(',', '.'));
  return sign && sign !== '+' ? -total || 0 : total;
}
