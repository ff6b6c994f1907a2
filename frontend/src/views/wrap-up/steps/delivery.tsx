import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Delivery } from '../../../api/client';
import { Button } from '../../../parts/button';
import { Refused } from '../../../parts/refused';
import { TableHead } from '../../../parts/table-head';
import { counted, duration, size } from '../../../texts/numbers';
import { Progress } from '../notes';

const STATES = {
  planned: t`not yet`,
  done: t`delivered`,
  there: t`was there`,
  failed: t`failed`,
  back: t`taken back`,
};
const DOING = { copy: t`Copying to`, move: t`Moving to`, link: t`Linking in` };
const DONE = { copy: t`Copied to`, move: t`Moved to`, link: t`Linked in` };

function stateInWords({ state, how }: Delivery): string {
  switch (state) {
    case 'planned':
    case 'running':
      return DOING[how];
    case 'returning':
      return t`Taking back from`;
    case 'returned':
      return t`Taken back from`;
    case 'stopped':
      return t`Paused:`;
    case 'cancelled':
      return t`Cancelled:`;
    case 'done':
      return DONE[how];
  }
}

/** One delivery: how it stands, and what can be done with it. */
export function Made({ delivery }: { delivery: Delivery }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const path = { params: { path: { delivery: delivery.id } } };
  const { data: items } = useQuery({
    queryKey: ['items', delivery.id, delivery.state, delivery.done, delivery.failed],
    queryFn: () => ask(api.GET('/api/deliveries/{delivery}/items', path)),
    enabled: open,
    placeholderData: (before) => before,
  });
  const act = useMutation({
    mutationFn: (step: 'stop' | 'resume' | 'cancel' | 'take-back') =>
      ask(
        api.POST('/api/deliveries/{delivery}/{step}', {
          params: { path: { delivery: delivery.id, step } },
        }),
      ),
    onSettled: () => {
      void client.invalidateQueries({ queryKey: ['deliveries', delivery.shoot_id] });
      void client.invalidateQueries({ queryKey: ['plan', delivery.shoot_id] });
    },
  });
  const running = delivery.state === 'running' || delivery.state === 'planned';
  const busy = running || delivery.state === 'returning';
  const again = delivery.state === 'stopped' || (delivery.state === 'done' && delivery.failed > 0);
  const through = delivery.done + delivery.already_there;
  return (
    <div className="rounded border border-line bg-paper p-3" data-delivery={delivery.state}>
      <div className="flex flex-wrap items-center gap-3">
        <span className="min-w-0 flex-1 truncate" title={delivery.target}>
          <strong>{stateInWords(delivery)}</strong> {delivery.target}
        </span>
        {running && (
          <Button onClick={() => act.mutate('stop')}>
            <Trans>Pause</Trans>
          </Button>
        )}
        {again && (
          <Button onClick={() => act.mutate('resume')}>
            <Trans>Go on</Trans>
          </Button>
        )}
        {(running || delivery.state === 'stopped') && (
          <Button onClick={() => act.mutate('cancel')}>
            <Trans>Cancel</Trans>
          </Button>
        )}
        {!busy && delivery.done > 0 && (
          <Button
            title={t`Removes the copies that are unchanged, or moves the files back`}
            onClick={() => act.mutate('take-back')}
          >
            <Trans>Take back</Trans>
          </Button>
        )}
        <button type="button" className="underline" onClick={() => setOpen(!open)}>
          {open ? t`hide files` : t`what went where`}
        </button>
      </div>
      {busy && (
        <Progress label={t`Delivered`} done={delivery.size_done} total={delivery.size}>
          {delivery.speed != null && (
            <span>
              {size(delivery.speed)}/s
              {delivery.left_s != null && t`, ${duration(delivery.left_s)} left`}
            </span>
          )}
        </Progress>
      )}
      <p role="status">
        {delivery.state === 'returned' ? (
          <>
            <Trans>{counted(delivery.back, 'file')} taken back</Trans>
            {delivery.done > 0 && t`, ${delivery.done} left as they are`}.
          </>
        ) : (
          <>
            <Trans>
              {through} of {counted(delivery.files, 'file')} verified ({size(delivery.size_done)})
            </Trans>
            {delivery.already_there > 0 && t`, ${delivery.already_there} of them there before`}
            {delivery.back > 0 && t`, ${delivery.back} taken back`}
            {delivery.failed > 0 && t`, ${delivery.failed} failed`}.
          </>
        )}{' '}
        {delivery.notice}
      </p>
      <Refused error={act.error} />
      {open && (
        <table className="mt-2 w-full text-left text-[13px]">
          <TableHead names={[t`Original`, t`Copy`, t`Result`]} />
          <tbody>
            {items?.map((item) => (
              <tr key={item.name} className="border-t border-line align-top">
                <td className="max-w-72 truncate pr-3" title={item.source}>
                  {item.source}
                </td>
                <td className="pr-3">{item.name}</td>
                <td title={item.hash ? `BLAKE3 ${item.hash}` : undefined}>
                  {STATES[item.state]} {item.notice}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
