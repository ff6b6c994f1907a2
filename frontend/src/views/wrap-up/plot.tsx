import { Trans } from '@lingui/react/macro';
import { useEffect, useRef } from 'react';

import { saveFile } from '../../parts/files';
import { useSettings } from '../../state/settings';
import type { Ink } from './plots';

const WIDTH = 640;

/** A plot that can be saved as a picture; `words` says it to those who don't see it. */
export function Plot({
  title,
  words,
  height,
  draw,
  name,
}: {
  title: string;
  words: string;
  height: number;
  draw: (context: CanvasRenderingContext2D, width: number, ink: Ink) => void;
  name: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [{ theme }] = useSettings();
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return;
    let left = false;
    const paint = () => {
      if (left) return;
      // Twice the points: sharp on dense screens, and in a document.
      element.width = 2 * WIDTH;
      element.height = 2 * height;
      context.setTransform(2, 0, 0, 2, 0, 0);
      draw(context, WIDTH, inks());
    };
    paint();
    void document.fonts.ready.then(paint);
    return () => {
      left = true;
    };
  }, [draw, height, theme]);
  const save = () => canvas.current?.toBlob((blob) => blob && saveFile(`${name}.png`, blob));
  return (
    <figure className="flex flex-col gap-1">
      <figcaption className="flex items-center gap-3">
        <span className="font-semibold">{title}</span>
        <button type="button" className="text-[13px] underline" onClick={save}>
          <Trans>save as PNG</Trans>
        </button>
      </figcaption>
      <canvas
        ref={canvas}
        role="img"
        aria-label={words}
        style={{ width: '100%', aspectRatio: `${WIDTH} / ${height}` }}
      />
    </figure>
  );
}

/** The page's colours, as they are in this theme. */
function inks(): Ink {
  const style = getComputedStyle(document.documentElement);
  const of = (name: string) => style.getPropertyValue(`--color-${name}`).trim();
  return {
    paper: of('paper'),
    ink: of('ink'),
    quiet: of('quiet'),
    line: of('line'),
  };
}
