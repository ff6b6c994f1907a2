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
