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
    <div className="figures shrink-0 bg-black/20 px-3 whitespace-nowrap text-on-stage">
      {children}
    </div>
  );
}

/** A line of that bar; it goes on below where there is no room. */
export function BarLine({ children }: { children: React.ReactNode }) {
  return (
    <div className="flex min-h-9 flex-wrap items-center gap-x-4 gap-y-0.5 py-0.5">{children}</div>
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
