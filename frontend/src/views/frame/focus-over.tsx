import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';

import { api, ask } from '../../api/client';
import type { Frame } from '../../state/frames';
import { filled, together } from './sharpness';

/** Squares over the photograph where it has edges: the larger, the sharper. */
const LEAST_PX = 12;

export function FocusOver({
  frame,
  shown,
}: {
  frame: Frame;
  /** CSS px of the picture's own width, before it is turned */
  shown: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { data, error } = useQuery({
    queryKey: ['focus', frame.id, frame.key],
    queryFn: () =>
      ask(api.GET('/api/frames/{frame}/focus', { params: { path: { frame: frame.id } } })),
    staleTime: Infinity,
    retry: false,
  });
  const scale = shown / (frame.width ?? shown);
  const height = (shown * (frame.height ?? 1)) / (frame.width ?? 1);
  useEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext('2d');
    if (!element || !pen) return;
    element.width = Math.round(shown);
    element.height = Math.round(height);
    if (!data) return;
    const map = together(data, Math.ceil(LEAST_PX / (data.tile * scale)));
    const side = map.tile * scale;
    pen.lineWidth = 1;
    map.blur.forEach((blur, n) => {
      if (blur === null) return;
      const square = (side - 3) * filled(blur);
      const x = ((n % map.columns) + 0.5) * side - square / 2;
      const y = (Math.floor(n / map.columns) + 0.5) * side - square / 2;
      // Two tones, so that it is seen on dark and on light.
      pen.strokeStyle = '#000';
      pen.strokeRect(x - 1, y - 1, square + 2, square + 2);
      pen.strokeStyle = '#fff';
      pen.strokeRect(x, y, square, square);
    });
  }, [data, shown, height, scale]);
  return (
    <>
      <canvas
        ref={canvas}
        data-testid="focus-over"
        data-drawn={!!data}
        aria-hidden="true"
        className="pointer-events-none absolute inset-0 h-full w-full"
      />
      {error && (
        <p className="absolute inset-x-0 top-1/2 text-center text-white">{error.message}</p>
      )}
    </>
  );
}
