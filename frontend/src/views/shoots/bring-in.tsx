import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask } from '../../api/client';
import { Bringings } from '../../parts/bringings';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { counted, day, size } from '../../texts/numbers';
import { BringInForm } from './bring-in-form';

/** The cards that are connected, the way to bring one in, and how the last ones stand. */
export function BringIn() {
  const [from, setFrom] = useState<string | null>(null);
  const { data } = useQuery({
    queryKey: ['cards'],
    queryFn: () => ask(api.GET('/api/cards')),
    refetchInterval: 4000,
  });
  return (
    <section className="figures flex flex-col gap-2 rounded-lg border border-line bg-paper/60 p-5">
      <h2 className="font-bold">
        <Trans>Bring in from a memory card</Trans>
      </h2>
      {data?.cards.map((card) => (
        <div key={card.root} className="flex items-center gap-3" data-card={card.root}>
          <CardShape />
          <span className="min-w-0 flex-1 truncate" title={card.root}>
            <strong>{card.name}</strong> · {counted(card.files, 'file')}, {size(card.size)}
            {card.files > 0 && <span className="text-quiet"> · {day(card.last_at)}</span>}
          </span>
          <Button main onClick={() => setFrom(card.root)}>
            <Trans>Bring in …</Trans>
          </Button>
        </div>
      ))}
      {data && (
        <p className="text-quiet">
          {data.cards.length === 0 &&
            t`No card is connected: put one in, and it appears here by itself. `}
          <Trans>Each copy is read back and compared; the card is only read.</Trans>{' '}
          <button type="button" className="underline" onClick={() => setFrom('')}>
            <Trans>Another place that holds a card …</Trans>
          </button>
        </p>
      )}
      <Bringings />
      {data && (
        <Panel
          open={from !== null}
          onClose={() => setFrom(null)}
          title={t`Bring in from a memory card`}
          wide
        >
          {from !== null && <BringInForm cards={data} source={from} />}
        </Panel>
      )}
    </section>
  );
}

/** A small drawing of a card with its cut corner. */
function CardShape() {
  return (
    <svg width="16" height="20" viewBox="0 0 16 20" aria-hidden="true" className="shrink-0">
      <path d="M1 1h9l5 5v13H1z" fill="none" stroke="currentColor" strokeWidth="1.5" />
      <path d="M4 4v4M7 4v4" stroke="currentColor" strokeWidth="1.5" />
    </svg>
  );
}
