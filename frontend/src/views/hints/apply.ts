/** Marks by hints: one step of the history, told with the kinds by which it was done. */
import { t } from '@lingui/core/macro';

import { api, ask, inWords, WINDOW, type HintKind } from '../../api/client';
import type { Edit } from '../../state/marking';
import { loadHintsSoon } from '../../state/hints';
import { settled } from '../../state/marking';
import { useShoot } from '../../state/shoot';
import { refind } from '../../state/sync';

export async function applyByHints(
  frames: readonly number[],
  kinds: readonly HintKind['name'][],
  edit: Edit,
): Promise<void> {
  const { shootId, say } = useShoot.getState();
  if (!frames.length) return;
  try {
    // Marks that are on their way come first in the history.
    await settled();
    const change = await ask(
      api.POST('/api/shoots/{shoot}/hints/apply', {
        params: { path: { shoot: shootId } },
        body: { frames: [...frames], kinds: [...kinds], window: WINDOW, ...edit },
      }),
    );
    useShoot.getState().receive(change);
    await refind();
    say(change.sentence ? said(change.sentence) : t`They have this mark already`);
    loadHintsSoon();
  } catch (error) {
    say(t`Not stored: ${inWords(error)}`, true);
  }
}

function said(sentence: string): string {
  return sentence.slice(0, 1).toUpperCase() + sentence.slice(1);
}
