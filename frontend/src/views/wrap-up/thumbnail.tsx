import { pictureUrl } from '../../api/client';
import type { Frame } from '../../state/frames';

/** A small picture of a frame, whole. */
export function Thumbnail({
  frame,
  large = false,
  named = true,
}: {
  frame: Frame | undefined;
  large?: boolean;
  /** its name stands beside it */
  named?: boolean;
}) {
  const size = large ? 'h-32 w-48' : 'h-12 w-18';
  return (
    <span className={`${size} flex shrink-0 items-center justify-center bg-stage`}>
      {frame && frame.picture > 0 && (
        <img
          src={pictureUrl(frame, 'thumbnail')}
          alt={named ? '' : frame.name}
          loading="lazy"
          className="max-h-full max-w-full object-contain"
        />
      )}
    </span>
  );
}
