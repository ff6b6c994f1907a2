/**
 * A circle in two tones, seen on dark and on light, in a positioned box. All in shares of the box.
 */
export function Outline({
  x,
  y,
  width,
  height,
}: {
  x: number;
  y: number;
  width: number;
  height: number;
}) {
  const style = {
    left: `${100 * (x - width / 2)}%`,
    top: `${100 * (y - height / 2)}%`,
    width: `${100 * width}%`,
    height: `${100 * height}%`,
  };
  return (
    <span
      data-testid="outline"
      aria-hidden="true"
      className="pointer-events-none absolute rounded-full border-2 border-dashed border-white outline-2 outline-black/60"
      style={style}
    />
  );
}

/** A dot between two strokes, of one size however large the picture is drawn. */
export function FocusDot({ x, y }: { x: number; y: number }) {
  return (
    <span
      data-testid="focus-dot"
      aria-hidden="true"
      className="pointer-events-none absolute flex -translate-x-1/2 -translate-y-1/2 items-center gap-1"
      style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
    >
      <span className={STROKE} />
      <span className="size-2.5 rounded-full bg-white outline-2 outline-black/60" />
      <span className={STROKE} />
    </span>
  );
}

const STROKE = 'h-0.5 w-3 bg-white outline-1 outline-black/60';
