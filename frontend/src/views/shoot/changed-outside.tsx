import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';

import { api, ask, inWords, WINDOW, type Shoot } from '../../api/client';
import { counted } from '../../texts/numbers';
import { useHints } from '../../state/hints';
import { useShoot } from '../../state/shoot';
import { refind } from '../../state/sync';
import { useFilesStatus } from '../wrap-up/use-files';
import { keepFocus } from '../../parts/keep-focus';
import { Line, type Acts } from './line';

/** What could not be written by itself, and why: nobody pressed a button that would say so. */
export function NotWritten({ shoot }: { shoot: Shoot }) {
  const { data: status } = useFilesStatus(shoot.id);
  if (!status?.by_itself) return null;
  const problems = status.result?.problems ?? [];
  const known = shoot.tally.in_conflict >= problems.length;
  if (!status.notice && (!problems.length || known)) return null;
  return (
    <div
      role="status"
      onMouseDown={keepFocus}
      data-testid="not-written"
      className="border-b border-line bg-amber-100 px-4 py-1.5 text-black"
    >
      {problems.length ? (
        <Trans>
          The marks of {counted(problems.length, 'frame')} could not be written to files. They are
          kept here. {problems[0]!.notice}
        </Trans>
      ) : (
        <Trans>Marks could not be written to files. They are kept here. {status.notice}</Trans>
      )}
    </div>
  );
}

/** Another program wrote to files while the shoot is open: offered, never taken in silence. */
export function ChangedOutside({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const path = { params: { path: { shoot: shoot.id } } };
  const after = () => {
    void client.invalidateQueries({ queryKey: ['shoot', shoot.id] });
    void client.invalidateQueries({ queryKey: ['files', shoot.id] });
  };
  const take = useMutation({
    mutationFn: () =>
      ask(api.POST('/api/shoots/{shoot}/files/take', { ...path, body: { window: WINDOW } })),
    onSuccess: (change) => {
      const { receive, say } = useShoot.getState();
      receive(change);
      void refind();
      say([change.sentence ?? t`Nothing was new`, ...change.notices].join(' '));
    },
    onError: (error) => useShoot.getState().say(inWords(error), true),
    onSettled: after,
  });
  const leave = useMutation({
    mutationFn: () => ask(api.DELETE('/api/shoots/{shoot}/files/take', path)),
    onError: (error) => useShoot.getState().say(inWords(error), true),
    onSettled: after,
  });
  const { changed_outside: changed, in_conflict: conflicts } = shoot.tally;
  const look = () => void navigate(`/shoots/${shoot.id}/wrap-up`);
  if (!changed && conflicts) {
    return (
      <Line name="in-conflict" acts={[[t`choose`, look]]}>
        <Trans>
          Winnow and the files of <strong>{counted(conflicts, 'frame')}</strong> say different
          things. Neither is touched until you choose.
        </Trans>
      </Line>
    );
  }
  if (!changed) return null;
  const acts: Acts = [
    [t`take over`, () => take.mutate()],
    [t`look first`, look],
    [t`leave`, () => leave.mutate()],
  ];
  return (
    <Line name="changed-outside" acts={acts}>
      <Trans>
        Another program changed the marks or texts of <strong>{counted(changed, 'frame')}</strong>
      </Trans>
      {conflicts > 0 && t`; ${counted(conflicts, 'frame')} changed here as well`}.
    </Line>
  );
}

/**
 * Files that have another picture under the name of a marked one: what the marks are worth is
 * asked, never guessed.
 */
export function AnotherPicture({ shoot }: { shoot: Shoot }) {
  const navigate = useNavigate();
  const named = useHints(
    ({ kinds }) => kinds.find((kind) => kind.name === 'replaced')?.named.length,
  );
  if (!named) return null;
  const look = () => void navigate(`/shoots/${shoot.id}/hints?kind=replaced`);
  return (
    <Line name="another-picture" acts={[[t`look at them`, look]]}>
      <Trans>
        <strong>{counted(named, 'frame')}</strong> got another picture under the same name after
        being marked. Their marks were kept: mark them anew, or as they are.
      </Trans>
    </Line>
  );
}
