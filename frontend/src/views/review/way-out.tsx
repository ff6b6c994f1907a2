import { Trans } from '@lingui/react/macro';

import type { Command } from '../../commands/command';
import { Act } from '../../parts/key-cap';

/** What a walk through groups is given: its commands, and what leads back to the sheet. */
export interface Walk {
  commands: readonly Command[];
  onDone: () => void;
}

/** What can be done at the end of a walk through groups: one back, or to the sheet. */
export function WayOut({
  of,
  words,
  commands,
  onBack,
  onDone,
}: Walk & {
  /** the command that goes one back */
  of: string;
  words: string;
  onBack: () => void;
}) {
  return (
    <>
      <Act of={of} commands={commands} onClick={onBack}>
        {words}
      </Act>
      <Act of="back" commands={commands} onClick={onDone}>
        <Trans>to the sheet</Trans>
      </Act>
    </>
  );
}
