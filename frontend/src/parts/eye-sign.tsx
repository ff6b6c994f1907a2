/** Eyes as they are found: told by shape, and always with the word beside it. */
export type EyesLook = 'open' | 'half' | 'closed' | 'soft' | 'unseen';

/**
 * Open: a rim with its pupil; half closed: a lid over the upper half of both; soft: a broken rim;
 * closed: one line with lashes; not seen: a dot.
 */
export function EyeSign({ look, size = 18 }: { look: EyesLook; size?: number }) {
  return (
    <svg
      width={size}
      height={size * 0.67}
      viewBox="0 0 24 16"
      aria-hidden="true"
      data-eyes={look}
      className="inline-block shrink-0"
      fill="none"
      stroke="currentColor"
      strokeWidth="2"
      strokeLinecap="round"
    >
      {look === 'open' && (
        <>
          <path d="M2 8c5-7.5 15-7.5 20 0-5 7.5-15 7.5-20 0z" />
          <circle cx="12" cy="8" r="3" fill="currentColor" stroke="none" />
        </>
      )}
      {look === 'half' && (
        <>
          <path d="M2 7.5h20c-5 7.5-15 7.5-20 0z" />
          <path d="M9 8a3 3 0 0 0 6 0z" fill="currentColor" stroke="none" />
        </>
      )}
      {look === 'soft' && (
        <>
          <path d="M2 8c5-7.5 15-7.5 20 0-5 7.5-15 7.5-20 0z" strokeDasharray="2.5 4" />
          <circle cx="12" cy="8" r="3" strokeDasharray="1.5 3" />
        </>
      )}
      {look === 'closed' && <path d="M2 6c5 6 15 6 20 0M6.5 10l-1.5 3M12 11.5v3.5M17.5 10l1.5 3" />}
      {look === 'unseen' && <circle cx="12" cy="8" r="1.5" fill="currentColor" />}
    </svg>
  );
}
