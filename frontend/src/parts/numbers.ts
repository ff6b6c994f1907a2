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
