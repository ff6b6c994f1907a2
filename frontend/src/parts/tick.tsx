/** A box to tick, with its words. */
export function Tick({
  on,
  off = false,
  onChange,
  children,
}: {
  on: boolean;
  /** can't be changed now */
  off?: boolean;
  onChange: (on: boolean) => void;
  children: React.ReactNode;
}) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        checked={on}
        disabled={off}
        onChange={(event) => onChange(event.target.checked)}
      />
      {children}
    </label>
  );
}
