/** Keys: how a pressed key is written, and how a written one is shown. */

/** The chord of a key event. Examples: "J", "Shift+D", "Ctrl+Z", "ArrowLeft", "?", "Space". */
export function chordOf(
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>,
): string {
  const key =
    event.key === ' ' ? 'Space' : event.key.length === 1 ? event.key.toUpperCase() : event.key;
  // Shift is part of a symbol such as "?", and said only with letters and named keys.
  const saysShift = event.shiftKey && (key.length > 1 || /^\p{L}$/u.test(key));
  return [
    event.ctrlKey || event.metaKey ? 'Ctrl' : '',
    event.altKey ? 'Alt' : '',
    saysShift ? 'Shift' : '',
    key,
  ]
    .filter(Boolean)
    .join('+');
}

const SHOWN: Record<string, string> = {
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  Escape: 'Esc',
};

/** How a chord is printed on a key cap. */
export function shown(chord: string): string {
  return chord
    .split('+')
    .map((part) => SHOWN[part] ?? part)
    .join(' ');
}

/** Whether a key event belongs to a field: one that is typed in, or moved by arrows. */
export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      target instanceof HTMLTextAreaElement ||
      target instanceof HTMLSelectElement ||
      (target instanceof HTMLInputElement &&
        !['checkbox', 'radio', 'button'].includes(target.type)))
  );
}
