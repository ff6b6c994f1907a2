import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient, type UseQueryResult } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';

import { api, ask, inWords, type BringPlan, type Cards } from '../../api/client';
import { Button } from '../../parts/button';
import { PathField } from '../../parts/path-field';
import { counted, size } from '../../texts/numbers';
import { CardChoice } from './card-choice';

/** What is wished of a card, what that would do, and starting it. */
function useBringIn(cards: Cards, source: string) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [wish, setWish] = useState({
    source,
    target: cards.target,
    second: cards.second,
    template: cards.template,
    shoot: '',
    twice: false,
    leave: [] as string[],
  });
  const body = { ...wish, shoot: wish.shoot.trim() || t`Untitled` };
  const plan = useQuery({
    queryKey: ['bring-plan', body],
    queryFn: () => ask(api.POST('/api/bringings/plan', { body })),
    enabled: body.source.trim().length > 1,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
  const start = useMutation({
    mutationFn: () => ask(api.POST('/api/bringings', { body })),
    onSuccess: (begun) => {
      void client.invalidateQueries({ queryKey: ['bringings'] });
      if (begun.shoot_id) void navigate(`/shoots/${begun.shoot_id}`);
    },
  });
  const fits =
    plan.data &&
    plan.data.size <= plan.data.free &&
    (!wish.second || plan.data.second_size <= plan.data.second_free);
  const ready = wish.shoot.trim() && !plan.error && plan.data && plan.data.files > 0 && fits;
  return {
    wish,
    set: (change: Partial<typeof wish>) => setWish({ ...wish, ...change }),
    plan,
    start,
    ready: !!ready,
    go: () => ready && !start.isPending && start.mutate(),
  };
}

/** From which card, where to, under which names; and what that would do. */
export function BringInForm({ cards, source }: { cards: Cards; source: string }) {
  const { wish, set, plan, start, ready, go } = useBringIn(cards, source);
  const [looking, setLooking] = useState(false);
  const left = useMemo(() => new Set(wish.leave), [wish.leave]);
  return (
    <form
      className="figures grid grid-cols-[9rem_minmax(0,1fr)] items-start gap-x-4 gap-y-3 max-[600px]:grid-cols-1"
      onSubmit={(event) => {
        event.preventDefault();
        go();
      }}
    >
      <Label>
        <Trans>Card</Trans>
      </Label>
      <PathField
        label={t`Card`}
        value={wish.source}
        onChange={(value) => set({ source: value, leave: [] })}
        onEnter={go}
        autoFocus={!source}
      />
      <Label>
        <Trans>What comes along</Trans>
      </Label>
      <div className="flex min-h-9 flex-col justify-center gap-2">
        {looking ? (
          <CardChoice
            source={wish.source}
            target={wish.target}
            left={left}
            onLeave={(next) => set({ leave: [...next] })}
          />
        ) : (
          <p className="flex flex-wrap items-baseline gap-x-4">
            <Trans>everything on the card</Trans>
            <button
              type="button"
              className="underline"
              disabled={!plan.data}
              onClick={() => setLooking(true)}
            >
              <Trans>Look first, and tick what comes along …</Trans>
            </button>
          </p>
        )}
      </div>
      <Label>
        <Trans>Name of the shoot</Trans>
      </Label>
      <input
        aria-label={t`Name of the shoot`}
        autoFocus={!!source}
        maxLength={200}
        className="h-9 rounded border border-line bg-paper px-3"
        value={wish.shoot}
        onChange={(event) => set({ shoot: event.target.value })}
      />
      <Label>
        <Trans>Copy to</Trans>
      </Label>
      <PathField
        label={t`Copy to`}
        value={wish.target}
        onChange={(value) => set({ target: value })}
        onEnter={go}
      />
      <Label>
        <Trans>into the folder</Trans>
      </Label>
      <div className="flex flex-col gap-1.5">
        <input
          aria-label={t`Folder template`}
          maxLength={400}
          spellCheck={false}
          className="h-9 w-full rounded border border-line bg-paper px-3"
          value={wish.template}
          onChange={(event) => set({ template: event.target.value })}
        />
        <span className="flex flex-wrap items-baseline gap-1.5 text-[13px] text-quiet">
          <Trans>put in</Trans>
          {Object.entries(cards.fields).map(([field, meaning]) => (
            <button
              key={field}
              type="button"
              title={meaning}
              className="rounded border border-line bg-paper px-1.5 hover:border-quiet"
              onClick={() => set({ template: `${wish.template}{${field}}` })}
            >
              {`{${field}}`}
            </button>
          ))}
        </span>
      </div>
      <Label>
        <Trans>Second place</Trans>
      </Label>
      <div>
        <PathField
          label={t`Second place`}
          value={wish.second}
          onChange={(value) => set({ second: value })}
          onEnter={go}
        />
        <p className="mt-1 text-[13px] text-quiet">
          <Trans>
            A backup on another disk, made at once from the same reading. Leave it empty for none.
          </Trans>
        </p>
        <label className="mt-1.5 flex items-center gap-2 text-[13px]">
          <input
            type="checkbox"
            checked={wish.twice || !!wish.second.trim()}
            disabled={!!wish.second.trim()}
            onChange={(event) => set({ twice: event.target.checked })}
          />
          <Trans>Read every file from the card a second time, and compare</Trans>
        </label>
      </div>
      <Label>
        <Trans>What happens</Trans>
      </Label>
      <WhatHappens source={wish.source} second={!!wish.second.trim()} plan={plan} />
      <span />
      <div className="flex items-center justify-end gap-3">
        {start.error ? (
          <p role="alert" className="min-w-0 flex-1 font-semibold text-wrong">
            {inWords(start.error)}
          </p>
        ) : (
          !wish.shoot.trim() && (
            <p className="flex-1 text-right text-quiet">
              <Trans>Give the shoot a name.</Trans>
            </p>
          )
        )}
        <Button main type="submit" disabled={!ready || start.isPending}>
          {wordsFor(plan.data)}
        </Button>
      </div>
    </form>
  );
}

function WhatHappens({
  source,
  second,
  plan,
}: {
  source: string;
  second: boolean;
  plan: UseQueryResult<BringPlan>;
}) {
  return (
    <div className="min-h-28 rounded border border-line bg-paper p-3" aria-live="polite">
      {plan.error ? (
        <p role="alert" className="font-semibold text-wrong">
          {inWords(plan.error)}
        </p>
      ) : plan.data ? (
        <Planned plan={plan.data} second={second} />
      ) : (
        <p className="text-quiet">
          {source.trim() ? t`Looking at the card …` : t`Say where the card is.`}
        </p>
      )}
    </div>
  );
}

/** What the button does: copy what is new, or only say whether all is safe. */
function wordsFor(plan: BringPlan | undefined): string {
  const fresh = plan ? plan.files - plan.already_there : 0;
  if (!plan || fresh > 0) return t`Bring in ${counted(fresh, 'file')}`;
  return plan.second_size ? t`Copy to the second place` : t`Check the card`;
}

function Label({ children }: { children: React.ReactNode }) {
  return (
    <span aria-hidden="true" className="pt-2 text-right text-quiet">
      {children}
    </span>
  );
}

function Planned({ plan, second }: { plan: BringPlan; second: boolean }) {
  const fresh = plan.files - plan.already_there;
  return (
    <div className="flex flex-col gap-1">
      {fresh === 0 ? (
        <p>{plan.left ? t`Nothing that is new comes along.` : t`Nothing on this card is new.`}</p>
      ) : (
        <p>
          <Trans>
            <strong>{counted(fresh, 'file')}</strong>, {size(plan.size)}, to
          </Trans>{' '}
          {plan.folders.length === 1 ? t`the folder` : t`${plan.folders.length} folders:`}{' '}
          <strong>{plan.folders.slice(0, 3).join(', ')}</strong>
          {plan.folders.length > 3 && ' …'}
          <Trans>. {size(plan.free)} are free.</Trans>
        </p>
      )}
      {plan.left > 0 && (
        <p>
          <Trans>
            {counted(plan.left, 'file')} left out, and only on the card: it will not be safe to
            format.
          </Trans>
        </p>
      )}
      {plan.already_there > 0 && (
        <p>
          <Trans>
            {counted(plan.already_there, 'file')} copied before: only compared with the card, whole.
          </Trans>
        </p>
      )}
      {second && (
        <p>
          {plan.second_size
            ? t`${size(plan.second_size)} to the second place`
            : t`All is in the second place already`}
          <Trans>; {size(plan.second_free)} are free there.</Trans>
        </p>
      )}
      {second && plan.one_disk && (
        <Alert>
          <Trans>Both places are on one disk: if it fails, both copies are gone.</Trans>
        </Alert>
      )}
      {plan.size > plan.free && (
        <Alert>
          <Trans>The disk has not enough space.</Trans>
        </Alert>
      )}
      {second && plan.second_size > plan.second_free && (
        <Alert>
          <Trans>The second place has not enough space.</Trans>
        </Alert>
      )}
      {plan.first.length > 0 && (
        <p className="truncate text-quiet">
          <Trans>for example {plan.first.slice(0, 2).join(', ')}</Trans>
        </p>
      )}
    </div>
  );
}

function Alert({ children }: { children: React.ReactNode }) {
  return (
    <p role="alert" className="font-semibold text-wrong">
      {children}
    </p>
  );
}
