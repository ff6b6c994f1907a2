/** Marks as they lie on a frame: told by shape, place and letter, never by colour alone. */
import { t } from '@lingui/core/macro';

import type { Label } from '../api/client';
import type { Mark } from '../state/frames';
import { LinkedSign } from './linked-sign';

/** The filled almond of a pick. */
export function PickSign({ size }: { size: number }) {
  return (
    <svg width={size} height={size * 0.64} viewBox="0 0 25 16" aria-hidden="true" data-sign="pick">
      <path
        d="M1.5 8C7 0.2 18 0.2 23.5 8 18 15.8 7 15.8 1.5 8z"
        fill="var(--color-pick)"
        stroke="#fff"
        strokeWidth="1.8"
      />
    </svg>
  );
}

/** The bar of a reject. */
export function RejectSign({ size }: { size: number }) {
  return (
    <svg
      width={size}
      height={size * 0.42}
      viewBox="0 0 26 11"
      aria-hidden="true"
      data-sign="reject"
    >
      <rect
        x="1"
        y="1"
        width="24"
        height="9"
        fill="var(--color-reject)"
        stroke="#fff"
        strokeWidth="1.8"
      />
    </svg>
  );
}

const SHAPES: Record<Label['shape'], string> = {
  disc: 'M10 1a9 9 0 1 0 0.01 0z',
  square: 'M2 2h16v16H2z',
  triangle: 'M10 0.5L19.8 18.5H0.2z',
  diamond: 'M10 0L20 10 10 20 0 10z',
  hexagon: 'M5 1.4h10L20 10l-5 8.6H5L0 10z',
  cross: 'M5.5 0.5h9v5h5v9h-5v5h-9v-5h-5v-9h5z',
  shield: 'M1.5 1h17v8.5c0 5-4.5 8.5-8.5 10-4-1.5-8.5-5-8.5-10z',
  arch: 'M1.5 19V9.5a8.5 8.5 0 0 1 17 0V19z',
  pill: 'M6 3.5h8a6.5 6.5 0 0 1 0 13H6a6.5 6.5 0 0 1 0-13z',
};

/** Black or white, whichever is read better on a colour such as "#4080ff" (WCAG 2 contrast). */
export function inkOn(colour: string): '#000' | '#fff' {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const value = parseInt(colour.slice(at, at + 2), 16) / 255;
    return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b > 0.179 ? '#000' : '#fff';
}

/** A label of a mark; one that the set doesn't have any more keeps its letter. */
export function labelOf(labels: readonly Label[], letter: string | null): Label | undefined {
  if (letter === null) return undefined;
  return (
    labels.find((label) => label.letter === letter) ?? {
      letter,
      name: t`label ${letter}`,
      meaning: t`not in the present set`,
      shape: 'disc',
      colour: '#5c5c5c',
      written_as: letter,
    }
  );
}

/** A label: its own shape with its letter. */
export function LabelSign({ label, size }: { label: Label; size: number }) {
  return (
    <svg width={size} height={size} viewBox="-1 -1 22 22" role="img" aria-label={label.name}>
      <path
        d={SHAPES[label.shape]}
        fill={label.colour}
        stroke={inkOn(label.colour) === '#fff' ? '#fff' : '#000'}
        strokeWidth="1.2"
      />
      <text
        x="10"
        y={label.shape === 'triangle' ? 16.4 : 14.2}
        textAnchor="middle"
        fontSize={label.shape === 'triangle' ? 9.5 : 11.5}
        fontWeight="700"
        fill={inkOn(label.colour)}
      >
        {label.letter}
      </text>
    </svg>
  );
}

/** All marks over a picture. In `large` views the hatching keeps to a corner. */
export function MarksOver({
  mark,
  labels,
  linked,
  large = false,
}: {
  mark: Mark;
  labels: readonly Label[];
  /** it is a part of one picture with others */
  linked: boolean;
  large?: boolean;
}) {
  const label = labelOf(labels, mark.label);
  const size = large ? 34 : 22;
  return (
    <div className="pointer-events-none absolute inset-0">
      {mark.decision === 'reject' && (
        <div
          className="hatched absolute bottom-0 left-0"
          style={
            large
              ? { width: 150, height: 150, clipPath: 'polygon(0 0, 0 100%, 100% 100%)' }
              : { width: '100%', height: '100%', clipPath: 'polygon(0 0, 0 100%, 100% 100%)' }
          }
        />
      )}
      <div
        className={`absolute flex items-center gap-1 ${large ? 'bottom-3 left-3' : 'bottom-1.5 left-1.5'}`}
      >
        {mark.decision === 'pick' && <PickSign size={size} />}
        {mark.decision === 'reject' && <RejectSign size={size} />}
        {linked && <LinkedSign size={size} />}
      </div>
      {mark.stars > 0 && (
        <span
          // Drawn, not written: what the marks lie on says them by its name.
          data-stars={`${mark.stars}★`}
          className={`figures absolute rounded bg-black/70 font-bold text-white before:content-[attr(data-stars)] ${
            large
              ? 'right-3 bottom-3 px-2 py-0.5 text-xl'
              : 'right-1 bottom-1 px-1 text-xs leading-5'
          }`}
        />
      )}
      {label && (
        <span className={`absolute ${large ? 'top-3 right-3' : 'top-1 right-1'}`}>
          <LabelSign label={label} size={large ? 34 : 21} />
        </span>
      )}
    </div>
  );
}
