/** Keys: how a pressed key is written, and how a written one is shown. */

type Pressed = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'> & {
  code?: string;
};

/** The chord of a key event. Examples: "J", "Shift+D", "Ctrl+Z", "ArrowLeft", "?", "Space". */
export function chordOf(event: Pressed): string {
  const key = keyOf(event);
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

/**
 * The chord of a key event; with Shift on a figure also that, as what is printed there differs
 * between keyboards.
 */
export function chordsOf(event: Pressed): readonly string[] {
  const figure = event.shiftKey ? /^Digit([1-9])$/.exec(event.code ?? '')?.[1] : undefined;
  const chord = chordOf(event);
  return figure && !event.ctrlKey && !event.metaKey && !event.altKey
    ? [chord, `Shift+${figure}`]
    : [chord];
}

/** The chord without Alt, where that is held with it alone: a mark is then made the other way. */
export function withoutAlt(chord: string): string | undefined {
  return /^Alt\+(?!Shift\+)(.+)$/.exec(chord)?.[1];
}

/**
 * What is printed on the key; where that is no Latin letter, or the figures are only reached with
 * Shift, the place of the key counts instead, so that every keyboard has the standard keys.
 */
function keyOf({ key, code = '', shiftKey, altKey }: Pressed): string {
  if (key === ' ') return 'Space';
  const letter = /^Key([A-Z])$/.exec(code)?.[1];
  // With Alt some systems write other letters.
  if (letter && (altKey || (/^\p{L}$/u.test(key) && !/^\p{Script=Latin}$/u.test(key)))) {
    return letter;
  }
  const figure = /^Digit([0-9])$/.exec(code)?.[1];
  if (figure && !shiftKey && key.length === 1 && !/[0-9]/.test(key)) return figure;
  return key.length === 1 ? key.toUpperCase() : key;
}

/** A modifier alone is no chord yet. */
export function isModifier(event: Pick<KeyboardEvent, 'key'>): boolean {
  return ['Shift', 'Control', 'Alt', 'Meta', 'AltGraph', 'CapsLock', 'Dead'].includes(event.key);
}

const SHOWN: Record<string, string> = {
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  Escape: 'Esc',
};

/** What this keyboard prints on keys that stand for another letter or figure, where known. */
const printed = new Map<string, string>();

/** Ask the browser, where it can tell, what the person's keyboard prints. */
export async function learnKeyboard(): Promise<void> {
  const { keyboard } = navigator as unknown as {
    keyboard?: { getLayoutMap?: () => Promise<ReadonlyMap<string, string>> };
  };
  const layout = await keyboard?.getLayoutMap?.().catch(() => undefined);
  for (const [code, symbol] of layout ?? []) {
    const letter = /^Key([A-Z])$/.exec(code)?.[1];
    const figure = /^Digit([0-9])$/.exec(code)?.[1];
    if (letter && !/^\p{Script=Latin}$/u.test(symbol)) printed.set(letter, symbol.toUpperCase());
    if (figure && !/[0-9]/.test(symbol)) printed.set(figure, symbol);
  }
}

/** How a chord is printed on a key cap. */
export function shown(chord: string): string {
  // The key itself may be "+".
  const parts = chord === '+' ? ['+'] : chord.replace(/\+\+$/, '+plus').split('+');
  return parts
    .map((part) => SHOWN[part] ?? printed.get(part) ?? (part === 'plus' ? '+' : part))
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
