import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useState } from 'react';

import type { Shoot } from '../../api/client';
import { Tick } from '../../parts/tick';
import { counted } from '../../texts/numbers';
import { Card } from './card';

type Order = 'opened' | 'taken' | 'name';

// Of a few, all are seen at once.
const FEW = 3;

/**
 * Shoots as somebody looks for one: by words of name or folder, in an order, with the archive or
 * without.
 */
export function ShootList({ shoots }: { shoots: readonly Shoot[] }) {
  const [words, setWords] = useState('');
  const [order, setOrder] = useState<Order>('opened');
  const [archive, setArchive] = useState(false);
  const archived = shoots.filter((shoot) => shoot.archived).length;
  const shown = inOrder(
    shoots.filter((shoot) => (archive || words.trim() || !shoot.archived) && isMeant(shoot, words)),
    order,
  );
  return (
    <section className="flex flex-col gap-4">
      {shoots.length > FEW || archived ? (
        <div className="figures flex flex-wrap items-center gap-x-4 gap-y-2">
          <input
            type="search"
            aria-label={t`Search shoots`}
            placeholder={t`search shoots by name, folder or year`}
            className="h-9 min-w-48 flex-1 rounded border border-line bg-paper px-3"
            maxLength={200}
            value={words}
            onChange={(event) => setWords(event.target.value)}
            onKeyDown={(event) => event.key === 'Escape' && setWords('')}
          />
          <label className="flex items-center gap-2 text-quiet">
            <Trans>first</Trans>
            <select
              className="h-9 rounded border border-line bg-paper px-2 text-ink"
              value={order}
              onChange={(event) => setOrder(event.target.value as Order)}
            >
              <option value="opened">{t`last opened`}</option>
              <option value="taken">{t`last taken`}</option>
              <option value="name">{t`by name`}</option>
            </select>
          </label>
          {archived > 0 && (
            <Tick on={archive} onChange={setArchive}>
              <Trans>with the archive ({archived})</Trans>
            </Tick>
          )}
        </div>
      ) : null}
      <ul className="grid grid-cols-1 gap-5 md:grid-cols-2">
        {shown.map((shoot) => (
          <li key={shoot.id}>
            <Card shoot={shoot} />
          </li>
        ))}
      </ul>
      {shoots.length > 0 && shown.length === 0 && (
        <p className="text-quiet" role="status">
          {words.trim()
            ? t`None of ${counted(shoots.length, 'shoot')} has “${words.trim()}” in its name, folder or date.`
            : t`All shoots are in the archive.`}
        </p>
      )}
    </section>
  );
}

/** Whether each word is in a shoot's name, in a folder's path, or in the year and month of it. */
function isMeant(shoot: Shoot, words: string): boolean {
  const taken = shoot.first_at === null ? '' : new Date(shoot.first_at * 1000).toISOString();
  const text = [shoot.name, ...shoot.folders.map((folder) => folder.path), taken.slice(0, 10)]
    .join('\n')
    .toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

function inOrder(shoots: readonly Shoot[], order: Order): Shoot[] {
  const by: Record<Order, (one: Shoot, other: Shoot) => number> = {
    opened: (one, other) => other.opened_at - one.opened_at,
    taken: (one, other) => (other.last_at ?? other.made_at) - (one.last_at ?? one.made_at),
    name: (one, other) => one.name.localeCompare(other.name, undefined, { numeric: true }),
  };
  return [...shoots].sort(by[order]);
}
