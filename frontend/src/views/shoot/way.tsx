import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';

import { api, ask, inWords, type Filter, type Shoot } from '../../api/client';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { counted } from '../../texts/numbers';
import { markThese, settled } from '../../state/marking';
import { NO_FILTER, useShoot } from '../../state/shoot';

export const WAY_WORDS: Record<Shoot['way'], string> = {
  '': t`picking in`,
  pick_in: t`picking in`,
  weed_out: t`weeding out`,
};

/** How the first pass is done: chosen for each shoot, with what it means said beforehand. */
export function WayPanel({
  shoot,
  open,
  onClose,
  onChosen,
}: {
  shoot: Shoot;
  open: boolean;
  onClose: () => void;
  onChosen: (filter: Filter) => void;
}) {
  const undecided = useShoot((state) => state.decided.undecided);
  const choose = async (way: 'pick_in' | 'weed_out') => {
    onClose();
    try {
      await ask(
        api.PATCH('/api/shoots/{shoot}', {
          params: { path: { shoot: shoot.id } },
          body: { way },
        }),
      );
      if (way === 'weed_out') {
        const { frames, marks } = useShoot.getState();
        const open = frames.filter((frame) => marks.get(frame.id)?.decision === 'undecided');
        if (open.length)
          markThese(
            open.map((proposal) => proposal.id),
            { decision: 'pick' },
          );
        // The filter is asked for when the picks are there.
        await settled();
      }
      onChosen(way === 'weed_out' ? { ...NO_FILTER, decisions: ['pick'] } : NO_FILTER);
    } catch (error) {
      useShoot.getState().say(inWords(error), true);
    }
  };
  return (
    <Panel open={open} onClose={onClose} title={t`How do you go through this shoot?`} wide>
      <div className="grid gap-6 md:grid-cols-2">
        <section className="flex flex-col rounded border border-line bg-paper p-4">
          <h3 className="mb-2 text-base font-bold">
            <Trans>Pick in</Trans>
          </h3>
          <p className="mb-2">
            <Trans>
              All frames begin undecided. You pick the good ones, reject the bad ones, and leave the
              rest undecided: that is an answer, too.
            </Trans>
          </p>
          <p className="mb-4 text-quiet">
            <Trans>
              For shoots of which you keep a few. What you never looked at stays undecided, so
              nothing is kept by accident.
            </Trans>
          </p>
          <Button
            main={shoot.way !== 'weed_out'}
            className="mt-auto self-start"
            onClick={() => void choose('pick_in')}
          >
            {shoot.way === 'weed_out' ? t`Change to picking in` : t`Pick in`}
          </Button>
        </section>
        <section className="flex flex-col rounded border border-line bg-paper p-4">
          <h3 className="mb-2 text-base font-bold">
            <Trans>Weed out</Trans>
          </h3>
          <p className="mb-2">
            {undecided > 0 ? (
              <>
                <Trans>
                  The {counted(undecided, 'undecided frame')} become picks now, as one step that you
                  can undo, and only picks are shown.
                </Trans>
              </>
            ) : (
              t`Only picks are shown.`
            )}{' '}
            <Trans>
              Each frame that you reject leaves at once and the next one takes its place.
            </Trans>
          </p>
          <p className="mb-4 text-quiet">
            <Trans>
              For shoots of which you keep most. Mind: what you don’t look at counts as picked.
            </Trans>
          </p>
          <Button
            main={shoot.way === 'weed_out'}
            className="mt-auto self-start"
            onClick={() => void choose('weed_out')}
          >
            {shoot.way === 'weed_out'
              ? t`Go on weeding out`
              : undecided > 0
                ? t`Pick ${counted(undecided, 'frame')}, then weed out`
                : t`Weed out`}
          </Button>
        </section>
      </div>
    </Panel>
  );
}
