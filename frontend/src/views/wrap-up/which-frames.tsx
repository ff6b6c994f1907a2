import { t } from '@lingui/core/macro';
import { useState } from 'react';

import type { Filter } from '../../api/client';
import { NO_FILTER, useShoot } from '../../state/shoot';

export type What = 'picks' | 'shown' | 'selected';

const PICKS: Filter = { ...NO_FILTER, decisions: ['pick'] };

/** Which frames a step is done with: the picks, what the filter shows, or the selection. */
export function useWhichFrames(start?: What) {
  const visible = useShoot((state) => state.visible);
  const selection = useShoot((state) => state.selection);
  // Who selected frames before means these.
  const [what, setWhat] = useState<What>(start ?? (selection.length > 1 ? 'selected' : 'picks'));
  const picks = useShoot((state) => state.decided.pick);
  const frames = what === 'picks' ? null : [...(what === 'shown' ? visible : selection)];
  return {
    what,
    setWhat,
    /** as the server is asked */
    wanted: { filter: PICKS, frames },
    number: frames?.length ?? picks,
    noun: what === 'picks' ? ('pick' as const) : ('frame' as const),
    numbers: { picks, shown: visible.length, selected: selection.length },
  };
}

export type WhichFrames = ReturnType<typeof useWhichFrames>;

export function ChooseFrames({ which, label }: { which: WhichFrames; label: string }) {
  return (
    <select
      aria-label={label}
      className="h-8 rounded border border-line bg-paper px-2"
      value={which.what}
      onChange={(event) => which.setWhat(event.target.value as What)}
    >
      <option value="picks">{t`the picks: ${which.numbers.picks}`}</option>
      <option value="shown">{t`what the filter shows: ${which.numbers.shown}`}</option>
      <option value="selected">{t`the selection: ${which.numbers.selected}`}</option>
    </select>
  );
}
