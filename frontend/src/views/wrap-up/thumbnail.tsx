import { pictureUrl } from '../../api/client';
import type { Frame } from '../../state/frames';

/** A small picture of a frame, whole. */
export function Thumbnail({ frame, large = false }: { frame: Frame | undefined; large?: boolean }) {
  const size = large ? 'h-32 w-48' : 'h-12 w-18';
  return (
    <span className={`${size} flex shrink-0 items-center justify-center bg-stage`}>
      {frame && frame.picture > 0 && (
        <img
          src={pictureUrl(frame, 'thumbnail')}
          alt={frame.name}
          loading="lazy"
          className="max-h-full max-w-full object-contain"
        />
      )}
    </span>
  );
}
