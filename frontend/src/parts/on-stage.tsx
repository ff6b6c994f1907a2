/** Small parts that stand on the stage, between the photographs. */
import { keepFocus } from './keep-focus';

/** What stands in the middle of an empty stage. */
export function Middle({ children }: { children: React.ReactNode }) {
  return (
    <div className="flex h-full flex-col items-center justify-center gap-4 bg-stage px-6 text-center text-on-stage">
      {children}
    </div>
  );
}

/** The bar above the photographs: a line, or two, of words and keys. */
export function StageBar({ children }: { children: React.ReactNode }) {
  return (
    <div className="figures shrink-0 whitespace-nowrap text-on-stage pointer-coarse:contents">
      {children}
    </div>
  );
}

const LINE =
  'flex min-h-9 shrink-0 flex-wrap items-center gap-x-4 gap-y-0.5 bg-black/20 px-3 py-0.5';

/** A line of that bar; it goes on below where there is no room. */
export function BarLine({ children }: { children: React.ReactNode }) {
  return <div className={LINE}>{children}</div>;
}

/**
 * The line of what can be done. By touch it stands below the pictures, where the thumbs are: the
 * thing to do (the one in bold) nearest to the edge and as wide as the hand that holds the screen.
 */
export function ActLine({ children }: { children: React.ReactNode }) {
  return (
    <div
      data-acts
      className={`${LINE} pointer-coarse:order-last pointer-coarse:flex-wrap-reverse pointer-coarse:gap-2 pointer-coarse:py-2 pointer-coarse:[&_kbd]:hidden pointer-coarse:[&>button]:flex-1 pointer-coarse:[&>button]:justify-center pointer-coarse:[&>button]:rounded-lg pointer-coarse:[&>button]:bg-chrome pointer-coarse:[&>button]:px-3 pointer-coarse:[&>button]:text-ink pointer-coarse:[&>button:has(strong)]:h-14 pointer-coarse:[&>button:has(strong)]:basis-full pointer-coarse:[&>span]:hidden`}
    >
      {children}
    </div>
  );
}

/** A choice that is on or off; pressed with the pointer, it leaves the keys to the stage. */
export function Choice({
  on,
  onChange,
  children,
}: {
  on: boolean;
  onChange: (on: boolean) => void;
  children: React.ReactNode;
}) {
  return (
    <label className="flex items-center gap-1.5 pointer-coarse:min-h-11" onMouseDown={keepFocus}>
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} />
      {children}
    </label>
  );
}
