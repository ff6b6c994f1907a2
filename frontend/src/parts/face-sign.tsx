import { SIGN_WORDS, type FaceSign } from '../state/faces';

/** What is no reason against a frame. */
const PLAIN: ReadonlySet<FaceSign> = new Set(['smile', 'left', 'right']);

/**
 * What a face shows: told by a shape, with the word beside it. Smiling: a bow that is open above;
 * looking away: a pupil at the rim; mid-speech: an open mouth; turned: a nose at that side.
 */
export function FaceSigns({
  signs,
  brief = false,
}: {
  signs: readonly FaceSign[];
  /** there is no room for the words */
  brief?: boolean;
}) {
  return signs.map((sign) => (
    <span
      key={sign}
      data-face-sign={sign}
      title={SIGN_WORDS[sign]}
      className={`flex shrink-0 items-center gap-1 ${PLAIN.has(sign) ? '' : 'font-bold'}`}
    >
      <svg
        width="18"
        height="12"
        viewBox="0 0 24 16"
        aria-hidden="true"
        className="inline-block shrink-0"
        fill="none"
        stroke="currentColor"
        strokeWidth="2"
      >
        {sign === 'smile' && <path d="M3 5c4 9.5 14 9.5 18 0" strokeLinecap="round" />}
        {sign === 'gaze' && (
          <>
            <path d="M2 8c5-7.5 15-7.5 20 0-5 7.5-15 7.5-20 0z" />
            <circle cx="18" cy="8" r="2.6" fill="currentColor" stroke="none" />
          </>
        )}
        {sign === 'left' && <path d="M9 2c6-1 8 2 8 6s-3 7-8 6V9.5L5 8.5 9 5z" />}
        {sign === 'right' && <path d="M15 2c-6-1-8 2-8 6s3 7 8 6V9.5l4-1L15 5z" />}
        {sign === 'speech' && <ellipse cx="12" cy="8" rx="8" ry="5.5" />}
      </svg>
      <span className={brief ? 'sr-only' : ''}>{SIGN_WORDS[sign]}</span>
    </span>
  ));
}
