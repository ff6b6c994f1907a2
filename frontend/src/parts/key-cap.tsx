import { shown } from '../commands/keys';

/** A key as it looks on the keyboard. */
export function KeyCap({ chord }: { chord: string }) {
  return (
    <kbd className="inline-flex h-6 min-w-6 shrink-0 items-center justify-center rounded border border-line border-b-2 bg-paper px-1.5 font-sans text-xs font-semibold text-ink">
      {shown(chord)}
    </kbd>
  );
}
