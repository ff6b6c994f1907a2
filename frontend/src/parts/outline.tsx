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
