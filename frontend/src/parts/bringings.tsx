import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { CircleCheck, TriangleAlert } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';

import { api, ask, inWords, type Bringing } from '../api/client';
import { Button } from './button';
import { counted, duration, size } from '../texts/numbers';

export function isRunning(bringing: Bringing): boolean {
  return bringing.state === 'running' || bringing.state === 'planned';
}

/** The last bringings-in, asked for again as long as one of them goes on. */
export function useBringings() {
  return useQuery({
    queryKey: ['bringings'],
    queryFn: () => ask(api.GET('/api/bringings')),
    refetchInterval: (query) => (query.state.data?.some(isRunning) ? 700 : 15_000),
  });
}

/** Bringings-in that go on or wait, and the last one that is through, with its report. */
export function Bringings() {
  const { data, dataUpdatedAt } = useBringings();
  const shown = data?.filter(
    (cardImport, n) => n === 0 || isRunning(cardImport) || cardImport.state === 'stopped',
  );
  return shown?.map((bringing) => (
    <One key={bringing.id} bringing={bringing} seenAt={dataUpdatedAt} />
  ));
}

function One({ bringing, seenAt }: { bringing: Bringing; seenAt: number }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const running = isRunning(bringing);
  const act = useMutation({
    mutationFn: (step: 'stop' | 'resume') =>
      ask(
        api.POST('/api/bringings/{bringing}/{step}', {
          params: { path: { bringing: bringing.id, step } },
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: ['bringings'] }),
  });
  const through = bringing.done + bringing.already_there;
  const unfinished = through < bringing.files || bringing.failed > 0;
  return (
    <div className="rounded border border-line bg-paper p-3" data-bringing={bringing.state}>
      <div className="flex items-center gap-3">
        <span className="min-w-0 flex-1 truncate">
          <strong>
            {running ? t`Bringing in` : bringing.state === 'stopped' ? t`Stopped:` : t`Brought in`}
          </strong>{' '}
          {bringing.source} → {bringing.target}
        </span>
        {bringing.shoot_id && (
          <Link to={`/shoots/${bringing.shoot_id}`} className="underline">
            <Trans>the shoot</Trans>
          </Link>
        )}
        <button type="button" className="underline" onClick={() => setOpen(!open)}>
          {open ? t`hide files` : t`files`}
        </button>
        {running && (
          <Button onClick={() => act.mutate('stop')}>
            <Trans>Stop copying</Trans>
          </Button>
        )}
        {!running && unfinished && (
          <Button main onClick={() => act.mutate('resume')}>
            <Trans>Go on</Trans>
          </Button>
        )}
      </div>
      {running && (
        <progress
          className="my-1 h-2 w-full"
          max={Math.max(1, bringing.to_copy)}
          value={bringing.copied}
          aria-label={t`Copied`}
        />
      )}
      <p role="status">
        <Trans>
          {through} of {counted(bringing.files, 'file')} copied and compared
        </Trans>
        {bringing.to_copy > 0 && t` (${size(bringing.copied)} of ${size(bringing.to_copy)})`}
        {bringing.already_there > 0 && t`, ${bringing.already_there} of them there before`}
        {bringing.failed > 0 && t`, ${bringing.failed} failed`}.
        {running && <Rest bringing={bringing} seenAt={seenAt} />} {bringing.notice}
      </p>
      {act.error && <p role="alert">{inWords(act.error)}</p>}
      {!running && (
        <p
          className={`mt-1 flex items-start gap-2 font-semibold ${bringing.safe ? '' : 'text-wrong'}`}
        >
          {bringing.safe ? (
            <CircleCheck size={18} className="mt-px shrink-0 text-pick" />
          ) : (
            <TriangleAlert size={18} className="mt-px shrink-0" />
          )}
          {bringing.report}
        </p>
      )}
      {open && <Files bringing={bringing} />}
    </div>
  );
}

/** About how long it will still take, once that can be said. */
function Rest({ bringing, seenAt }: { bringing: Bringing; seenAt: number }) {
  // The pace since this was first seen: one that was stopped for a day is not slow.
  const [first] = useState({ at: seenAt, copied: bringing.copied });
  const seconds = restOf(first, seenAt, bringing.copied, bringing.to_copy);
  if (seconds === null) return null;
  return (
    <>
      {' '}
      <Trans>About {duration(seconds)} left.</Trans>
    </>
  );
}

/**
 * Seconds that the rest takes at the pace since `first` (times in ms); null while that isn't known.
 */
export function restOf(
  first: { at: number; copied: number },
  now: number,
  copied: number,
  all: number,
): number | null {
  const took = (now - first.at) / 1000;
  if (took < 2 || copied <= first.copied) return null;
  return (took / (copied - first.copied)) * (all - copied);
}

const STATES = {
  planned: t`not yet`,
  done: t`copied`,
  there: t`was there`,
  failed: t`failed`,
  '': '',
};

function Files({ bringing }: { bringing: Bringing }) {
  const { data } = useQuery({
    queryKey: ['brought', bringing.id, bringing.done, bringing.failed, bringing.state],
    queryFn: () =>
      ask(
        api.GET('/api/bringings/{bringing}/items', { params: { path: { bringing: bringing.id } } }),
      ),
    placeholderData: (before) => before,
  });
  return (
    <div className="mt-2 max-h-72 overflow-auto">
      <table className="w-full text-left text-[13px]">
        <thead className="text-quiet">
          <tr>
            <th className="font-normal">
              <Trans>On the card</Trans>
            </th>
            <th className="font-normal">
              <Trans>Copy</Trans>
            </th>
            <th className="font-normal">
              <Trans>Disk</Trans>
            </th>
            {bringing.second && (
              <th className="font-normal">
                <Trans>Second place</Trans>
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {data?.map((item) => (
            <tr key={item.path} className="border-t border-line align-top">
              <td className="pr-3">{item.path}</td>
              <td className="pr-3">{item.name}</td>
              <td title={item.hash ? `BLAKE3 ${item.hash}` : undefined}>
                {STATES[item.state]} {item.notice}
              </td>
              {bringing.second && <td>{STATES[item.second_state]}</td>}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
