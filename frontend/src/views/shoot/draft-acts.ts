/** What the commands of the draft's review do, and those of the way to the number. */
import type { Stage, View } from '../../commands/stage';
import { putOff, stepBack, take, takeSure, wantBoth, wantNext } from '../../state/draft';
import { askOther, keepIt, letGo, questionBack } from '../../state/to-number';

export function draftActs(
  view: View,
  show: (view: View) => void,
): Pick<Stage, 'review' | 'number'> {
  return {
    review: {
      open: () => show(view === 'review' ? 'sheet' : 'review'),
      take: () => take(),
      takeNone: () => take([]),
      takeSure,
      another: wantNext,
      both: wantBoth,
      later: putOff,
      back: stepBack,
    },
    number: {
      open: () => show(view === 'number' ? 'sheet' : 'number'),
      letGo,
      keepIt,
      other: askOther,
      back: questionBack,
    },
  };
}
