import { t } from '@lingui/core/macro';
import { useEffect, useRef, useState } from 'react';

import { pictureUrl, type Facts } from '../../api/client';
import { share } from '../../texts/numbers';
import type { Frame } from '../../state/frames';
import type { Histogram } from './tones';
import type { Asked, Told } from './tones-worker';

/** One worker for the window: it starts when somebody first wants to see tones. */
let worker: Worker | null = null;

/** The tones of a frame's preview; undefined until they are read. */
export function useTones(
  frame: Frame,
  wanted: { clipped: boolean; edges: boolean; histogram: boolean },
  facts: Facts | undefined,
) {
  const [told, setTold] = useState<Told>();
  const { edges } = wanted;
  const ends = wanted.clipped ? facts?.clipped : undefined;
  const high = ends?.shown_from;
  const low = ends?.shown_to;
  const on = (wanted.clipped || edges || wanted.histogram) && frame.picture === 2;
  const url = on ? pictureUrl(frame, 'preview') : '';
  useEffect(() => {
    if (!url) return;
    worker ??= new Worker(new URL('./tones-worker.ts', import.meta.url), { type: 'module' });
    const from = worker;
    const listen = ({ data }: MessageEvent<Told>) => {
      if (data.url === url) setTold(data);
    };
    from.addEventListener('message', listen);
    // Flying past frames asks for nothing.
    const clipped = high === undefined || low === undefined ? null : { high, low };
    const timer = setTimeout(() => from.postMessage({ url, clipped, edges } satisfies Asked), 60);
    return () => {
      clearTimeout(timer);
      from.removeEventListener('message', listen);
    };
  }, [url, high, low, edges]);
  return told?.url === url ? told : undefined;
}

/** Patterns over the photograph, in the picture's own coordinates. */
export function PatternOver({ bitmap, name }: { bitmap: ImageBitmap | undefined; name: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    if (!element || !bitmap) return;
    element.width = bitmap.width;
    element.height = bitmap.height;
    element.getContext('2d')?.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  return (
    <canvas
      ref={canvas}
      data-over={name}
      data-drawn={!!bitmap}
      aria-hidden="true"
      className="pointer-events-none absolute inset-0 h-full w-full"
    />
  );
}

const WIDTH = 256;
const HEIGHT = 80;

/**
 * The histogram: all tones as an area, the three channels as lines, the clipped shares in words.
 */
export function HistogramOver({
  tones,
  facts,
}: {
  tones: Histogram | undefined;
  facts: Facts | undefined;
}) {
  const low = facts?.clipped_low ?? null;
  const high = facts?.clipped_high ?? null;
  return (
    <figure
      aria-label={t`Histogram`}
      className="pointer-events-none absolute top-12 left-2 rounded bg-black/75 p-2 text-xs text-white"
    >
      <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
        {[64, 128, 192].map((x) => (
          <line key={x} x1={x} x2={x} y1={0} y2={HEIGHT} stroke="#ffffff40" />
        ))}
        {tones && (
          <>
            <path d={`${line(tones.luma)} L255 ${HEIGHT} L0 ${HEIGHT} Z`} fill="#ffffff73" />
            <path d={line(tones.red)} fill="none" stroke="#ff8a80" />
            <path d={line(tones.green)} fill="none" stroke="#9be38f" strokeDasharray="5 2" />
            <path d={line(tones.blue)} fill="none" stroke="#9db8ff" strokeDasharray="2 2" />
          </>
        )}
      </svg>
      <figcaption className="figures mt-1 flex justify-between gap-3">
        <span>{low === null ? t`reading …` : t`${share(low)} dark end`}</span>
        <span>
          <span className="text-[#ff8a80]">R ―</span> <span className="text-[#9be38f]">G ‒ ‒</span>{' '}
          <span className="text-[#9db8ff]">B ···</span>
        </span>
        <span>{high !== null && t`${share(high)} bright end`}</span>
      </figcaption>
    </figure>
  );
}

/**
 * The heights of a histogram as a path. The root, so that a large flat area doesn't hide the rest.
 */
function line(counts: Uint32Array): string {
  // The ends hold what is clipped, which is told in words.
  const most = Math.max(1, ...counts.subarray(1, 255));
  return Array.from(counts, (count, x) => {
    const y = HEIGHT - HEIGHT * Math.min(1, Math.sqrt(count / most));
    return `${x ? 'L' : 'M'}${x} ${y.toFixed(1)}`;
  }).join(' ');
}
