import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Sharing, type Shoot } from '../../api/client';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { Refused } from '../../parts/refused';
import { SHARING } from '../../state/sharing';
import { counted, timeOfDay } from '../../texts/numbers';

type May = Sharing['may'][number];

/** Lets others on the local network look at a shoot, and says who does. */
export function SharePanel({
  shoot,
  open,
  onClose,
}: {
  shoot: Shoot;
  open: boolean;
  onClose: () => void;
}) {
  // While it is open, guests come and go.
  const { data } = useQuery({ ...SHARING, refetchInterval: open ? 2000 : false });
  const isThis = data?.on && data.shoot === shoot.id;
  return (
    <Panel open={open} onClose={onClose} title={t`Share this shoot on the local network`} wide>
      {data && (isThis ? <On sharing={data} /> : <Off shoot={shoot} sharing={data} />)}
    </Panel>
  );
}

function useShared() {
  const client = useQueryClient();
  return (sharing: Sharing) => client.setQueryData(SHARING.queryKey, sharing);
}

function Off({ shoot, sharing }: { shoot: Shoot; sharing: Sharing }) {
  const shared = useShared();
  const [password, setPassword] = useState('');
  const [may, setMay] = useState<readonly May[]>(['mark', 'caption']);
  const share = useMutation({
    mutationFn: () =>
      ask(api.PUT('/api/sharing', { body: { shoot: shoot.id, password, may: [...may] } })),
    onSuccess: shared,
  });
  const flip = (right: May) =>
    setMay(may.includes(right) ? may.filter((other) => other !== right) : [...may, right]);
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        share.mutate();
      }}
    >
      <p>
        <Trans>
          Guests open an address in their browser and sign in with a name and this password, over an
          encrypted line. They see the pictures of this shoot alone: never the files themselves, nor
          where they lie or were taken. What they do carries their name, and nothing of it is
          written to files before you take it over.
        </Trans>
      </p>
      {sharing.on && (
        <p className="font-semibold">
          <Trans>Another shoot is shared now: that ends, and its guests are signed out.</Trans>
        </p>
      )}
      <label className="flex flex-col gap-1">
        <Trans>Password for guests, {sharing.shortest} characters or more</Trans>
        <input
          className="h-9 rounded border border-line bg-paper px-2"
          autoComplete="off"
          spellCheck={false}
          maxLength={200}
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
      </label>
      <fieldset className="flex flex-wrap gap-x-6 gap-y-1">
        <legend className="mb-1">
          <Trans>Guests may</Trans>
        </legend>
        <label className="flex items-center gap-2">
          <input type="checkbox" checked disabled />
          <Trans>look</Trans>
        </label>
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={may.includes('mark')} onChange={() => flip('mark')} />
          <Trans>mark: decisions, stars, labels</Trans>
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={may.includes('caption')}
            onChange={() => flip('caption')}
          />
          <Trans>write captions</Trans>
        </label>
      </fieldset>
      <Refused error={share.error} />
      <div>
        <Button main type="submit" disabled={share.isPending || password.length < sharing.shortest}>
          {share.isPending ? <Trans>Sharing …</Trans> : <Trans>Share this shoot</Trans>}
        </Button>
      </div>
    </form>
  );
}

const MAY_WORDS: Record<May, string> = { mark: t`mark`, caption: t`write captions` };

function On({ sharing }: { sharing: Sharing }) {
  const client = useQueryClient();
  const shared = useShared();
  const stop = useMutation({
    mutationFn: () => ask(api.DELETE('/api/sharing')),
    onSuccess: shared,
  });
  const end = useMutation({
    mutationFn: (guest: number) =>
      ask(api.DELETE('/api/sharing/guests/{guest_id}', { params: { path: { guest_id: guest } } })),
    onSettled: () => client.invalidateQueries({ queryKey: SHARING.queryKey }),
  });
  const may = [t`look`, ...sharing.may.map((right) => MAY_WORDS[right])].join(', ');
  return (
    <div className="flex flex-col gap-5">
      <div className="flex items-start gap-6">
        <img src={sharing.code} alt={t`The address as a QR code`} className="w-44 bg-white" />
        <div className="flex min-w-0 flex-1 flex-col gap-3">
          <p>
            <Trans>Guests open one of these addresses, or read the code with a tablet:</Trans>
          </p>
          <ul className="figures">
            {sharing.urls.map((url, n) => (
              <li key={url} className={n ? '' : 'text-lg font-bold'}>
                {url}
              </li>
            ))}
          </ul>
          <p>
            <Trans>
              Their browser says once that it does not know this computer’s certificate. It is the
              right one if the SHA-256 there is:
            </Trans>
          </p>
          <code className="text-[12px] break-all" data-testid="fingerprint">
            {sharing.fingerprint}
          </code>
          <p>
            <Trans>They may: {may}.</Trans>
          </p>
        </div>
      </div>
      <section aria-label={t`Guests`}>
        <h3 className="mb-1 font-bold">
          {sharing.guests.length ? counted(sharing.guests.length, 'guest') : t`Nobody is here yet`}
        </h3>
        <ul className="divide-y divide-line border-y border-line">
          {sharing.guests.map((guest) => (
            <li key={guest.id} className="flex items-center gap-4 py-1.5">
              <strong className="min-w-0 flex-1 truncate">{guest.name}</strong>
              <span className="figures text-quiet">{guest.address}</span>
              <span className="figures text-quiet">
                <Trans>
                  since {timeOfDay(guest.since)}, last seen {timeOfDay(guest.seen)}
                </Trans>
              </span>
              <button type="button" className="underline" onClick={() => end.mutate(guest.id)}>
                <Trans>end the session</Trans>
              </button>
            </li>
          ))}
        </ul>
      </section>
      <Refused error={stop.error ?? end.error} />
      <div>
        <Button onClick={() => stop.mutate()} disabled={stop.isPending}>
          <Trans>Stop sharing</Trans>
        </Button>
      </div>
    </div>
  );
}
