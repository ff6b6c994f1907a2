import { Trans } from '@lingui/react/macro';
import type { ReactNode } from 'react';

import { pictureUrl, type PictureKind } from '../api/client';
import type { Frame } from '../state/frames';

/**
 * What lies in a picture's own coordinates, turned as the person wants to see it. Fills its
 * positioned parent, which has the proportions of the turned picture.
 */
export function Turned({ turned, children }: { turned: number; children: ReactNode }) {
  const aside = turned % 2 === 1;
  return (
    <div className="absolute inset-0" style={{ containerType: 'size' }}>
      <div
        className="absolute top-1/2 left-1/2"
        style={{
          width: aside ? '100cqh' : '100cqw',
          height: aside ? '100cqw' : '100cqh',
          transform: `translate(-50%, -50%) rotate(${turned * 90}deg)`,
        }}
      >
        {children}
      </div>
    </div>
  );
}

/**
 * Says over a picture that should be seen at full size that its file can't be read: what lies away
 * is still culled.
 */
export function KeptPreview() {
  return (
    <span
      role="status"
      className="pointer-events-none absolute bottom-10 left-1/2 -translate-x-1/2 rounded bg-black/75 px-2 py-0.5 text-[13px] whitespace-nowrap text-white"
    >
      <Trans>the kept preview: its file can’t be read now</Trans>
    </span>
  );
}

/** A small picture of a frame, filling its positioned parent. */
export function Thumbnail({
  frame,
  kind = 'thumbnail',
  className = 'object-cover',
}: {
  frame: Frame;
  kind?: PictureKind;
  className?: string;
}) {
  const image = (
    <img
      src={pictureUrl(frame, kind)}
      alt=""
      draggable={false}
      decoding="async"
      className={`h-full w-full ${className}`}
    />
  );
  return frame.turned ? <Turned turned={frame.turned}>{image}</Turned> : image;
}
