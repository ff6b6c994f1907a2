import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';

import { api, ask, inWords, WINDOW, type Shoot } from '../../api/client';
import { useGuest } from '../../state/sharing';
import { useShoot } from '../../state/shoot';
import { refind } from '../../state/sync';
import { counted } from '../../texts/numbers';
import { Line } from '../shoot/line';

/**
 * What guests did in a shoot waits for the owner: nothing of it is written to files before it is
 * taken over.
 */
export function GuestsDid({ shoot }: { shoot: Shoot }) {
  const guest = useGuest();
  const client = useQueryClient();
  const path = { params: { path: { shoot: shoot.id } } };
  const key = ['guests', shoot.id];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/guests', path)),
    enabled: !guest,
  });
  const failed = (error: unknown) => useShoot.getState().say(inWords(error), true);
  const settled = () => {
    void client.invalidateQueries({ queryKey: key });
    void client.invalidateQueries({ queryKey: ['files', shoot.id] });
  };
  const take = useMutation({
    mutationFn: () =>
      ask(api.POST('/api/shoots/{shoot}/guests/take', { ...path, body: { window: WINDOW } })),
    onError: failed,
    onSettled: settled,
  });
  const back = useMutation({
    mutationFn: () =>
      ask(api.POST('/api/shoots/{shoot}/guests/take-back', { ...path, body: { window: WINDOW } })),
    onSuccess: (change) => {
      const { receive, say } = useShoot.getState();
      receive(change);
      void refind();
      if (change.sentence) say(change.sentence);
    },
    onError: failed,
    onSettled: settled,
  });
  if (!data?.length) return null;
  const frames = [...new Set(data.flatMap((step) => step.frames))];
  const names = data
    .map((step) => `${step.by} (${counted(step.frames.length, 'frame')})`)
    .join(', ');
  return (
    <Line
      name="guests-did"
      acts={[
        [t`take over`, () => take.mutate()],
        [t`select them`, () => useShoot.getState().select(frames)],
        [t`take back`, () => back.mutate()],
      ]}
    >
      <Trans>
        Guests changed marks or texts: <strong>{names}</strong>. Nothing of it is written to files
        until you take it over.
      </Trans>
    </Line>
  );
}
