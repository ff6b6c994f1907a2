/** Two frames that overlap: a part of one picture. */
export function LinkedSign({ size }: { size: number }) {
  return (
    <svg
      width={size}
      height={size * 0.72}
      viewBox="0 0 25 18"
      aria-hidden="true"
      data-sign="linked"
      className="inline-block shrink-0"
    >
      <rect x="1.5" y="1.5" width="14" height="11" fill="#000" stroke="#fff" strokeWidth="2" />
      <rect x="9.5" y="5.5" width="14" height="11" fill="#000" stroke="#fff" strokeWidth="2" />
      <rect x="9.5" y="5.5" width="6" height="7" fill="#fff" />
    </svg>
  );
}
