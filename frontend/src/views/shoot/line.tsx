import type { ReactNode } from 'react';

import { keepFocus } from '../../parts/keep-focus';

export type Acts = readonly (readonly [words: string, act: () => void])[];

/**
 * A line over the stage about what others did, and what can be done about it, the main thing first.
 */
export function Line({ name, acts, children }: { name: string; acts: Acts; children: ReactNode }) {
  return (
    <div
      role="status"
      onMouseDown={keepFocus}
      data-testid={name}
      className="flex items-center gap-4 border-b border-line bg-paper px-4 py-1.5"
    >
      <span className="min-w-0 flex-1">{children}</span>
      {acts.map(([words, act], n) => (
        <button
          key={words}
          type="button"
          className={`underline ${n ? '' : 'font-semibold'}`}
          onClick={act}
        >
          {words}
        </button>
      ))}
    </div>
  );
}
