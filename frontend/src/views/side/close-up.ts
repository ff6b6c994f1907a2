import type { Label } from '../../api/client';
import type { Command } from '../../commands/command';
import type { Close } from '../../state/zoom';

/** What every view that shows frames beside each other is given. */
export interface CloseUp {
  commands: readonly Command[];
  labels: readonly Label[];
  /** how close is looked, 0 for the whole picture */
  near: Close;
  /** nothing but the photographs */
  bare: boolean;
  onClose: (near: Close) => void;
}
