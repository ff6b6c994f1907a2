import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, inWords, type Label, type SecondLook } from '../../api/client';
import { Button } from '../../parts/button';
import { counted } from '../../texts/numbers';
import { markThese } from '../../state/marking';
import { useShoot } from '../../state/shoot';
import { Pictures } from './pictures';
import { Tick } from '../../parts/tick';

/** How many of a group's rejected frames are shown. */
const SHOWN = 5;

/** The best of what was rejected, group by group, where nothing was picked. */
export function SecondLooks({
  labels,
  onOpen,
}: {
  labels: readonly Label[];
  onOpen: (id: number) => void;
}) {
  const shootId = useShoot((state) => state.shootId);
  const version = useShoot((state) => state.marksVersion);
  const [all, setAll] = useState(false);
  const { data, error } = useQuery({
    // The history tells who rejected what: asked again once a mark is stored.
    queryKey: ['second-look', shootId, all, useShoot((state) => state.undo), version],
    queryFn: () =>
      ask(
        api.GET('/api/shoots/{shoot}/second-look', {
          params: { path: { shoot: shootId }, query: { all_rejects: all } },
        }),
      ),
    placeholderData: (last) => last,
  });
  return (
    <section aria-label={t`Second look`} className="figures flex min-h-0 flex-1 flex-col">
      <div className="flex items-center gap-4 px-4 py-3">
        <div className="min-w-0 flex-1">
          <h3 className="text-base font-bold">
            <Trans>Thrown out by hints, look again</Trans>
          </h3>
          <p className="text-[13px] text-quiet">
            <Trans>
              Groups of which nothing usable is left, though something was: what was rejected, the
              best first.
            </Trans>
            {data && t` ${counted(data.length, 'group')} left.`}
          </p>
        </div>
        <Tick on={all} onChange={setAll}>
          <Trans>also what you rejected yourself</Trans>
        </Tick>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto bg-stage p-3 text-on-stage">
        {error && <p className="p-6 text-center">{inWords(error)}</p>}
        {data?.length === 0 && (
          <p className="p-6 text-center">
            <Trans>
              Nothing to look at again: of every group that lost frames by hints, something that can
              be used is left.
            </Trans>
          </p>
        )}
        {data?.map((group) => (
          <Group key={group.group} one={group} labels={labels} onOpen={onOpen} />
        ))}
      </div>
    </section>
  );
}

function Group({
  one: group,
  labels,
  onOpen,
}: {
  one: SecondLook;
  labels: readonly Label[];
  onOpen: (id: number) => void;
}) {
  const reasons = new Map(group.frames.map(({ frame, words }) => [frame, words]));
  const best = group.frames[0]!.frame;
  const name = useShoot((state) => state.byId.get(best)?.name);
  return (
    <article aria-label={t`Group ${group.group + 1}`} className="mb-4">
      <div className="mb-1.5 flex items-center gap-3">
        <strong>
          <Trans>Group {group.group + 1}</Trans>
        </strong>
        <span>
          <Trans>
            {counted(group.frames.length, 'frame')} rejected, {group.by_hints} by hints
          </Trans>
        </span>
        <Button onClick={() => markThese([best], { decision: 'pick' })}>
          <Trans>Pick</Trans> {name}
        </Button>
        <Button onClick={() => markThese([best], { decision: 'undecided' })}>
          <Trans>Leave it undecided</Trans>
        </Button>
      </div>
      <Pictures
        ids={group.frames.slice(0, SHOWN).map(({ frame }) => frame)}
        labels={labels}
        height={150}
        plain
        words={(id) => reasons.get(id) ?? ''}
        onOpen={onOpen}
      />
    </article>
  );
}
