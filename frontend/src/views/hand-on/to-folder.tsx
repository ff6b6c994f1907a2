import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Settings } from '../../api/client';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { PathField } from '../../parts/path-field';
import { Refused } from '../../parts/refused';
import { Tick } from '../../parts/tick';
import { settled } from '../../state/marking';
import { NO_FILTER } from '../../state/shoot';
import { counted } from '../../texts/numbers';
import { Preview, VERBS } from '../wrap-up/steps/deliver';
import { Made } from '../wrap-up/steps/delivery';

const HOWS = [
  ['copy', t`as verified copies`],
  ['move', t`moved out of the shoot’s folder`],
] as const;

/** The frames that are looked at go to a folder, verified; it can be taken back here. */
export function ToFolder({
  shootId,
  frames,
  settings,
  onSettings,
  onClose,
}: {
  shootId: number;
  frames: readonly number[];
  settings: Settings;
  onSettings: (settings: Settings) => void;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [target, setTarget] = useState(settings.last_target);
  const [how, setHow] = useState(settings.last_how);
  const [sidecars, setSidecars] = useState(true);
  const [begun, setBegun] = useState<number | null>(null);
  const path = { params: { path: { shoot: shootId } } };
  const body = {
    filter: NO_FILTER,
    frames: [...frames],
    ...{ target, how, sidecars, template: '{name}', which: 'all' as const },
    ...{ manifest: false, companions: false, seq_from: 1 },
  };
  const plan = useQuery({
    queryKey: ['plan', shootId, body],
    queryFn: () =>
      settled().then(() => ask(api.POST('/api/shoots/{shoot}/deliveries/plan', { ...path, body }))),
    enabled: target.trim().length > 1 && begun === null,
    placeholderData: (before) => before,
    retry: false,
  });
  const { data: made } = useQuery({
    queryKey: ['deliveries', shootId],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/deliveries', path)),
    enabled: begun !== null,
  });
  const start = useMutation({
    mutationFn: () => ask(api.POST('/api/shoots/{shoot}/deliveries', { ...path, body })),
    onSuccess: ({ id }) => {
      setBegun(id);
      onSettings({ ...settings, last_target: target.trim(), last_how: how });
      void client.invalidateQueries({ queryKey: ['deliveries', shootId] });
    },
  });
  const delivery = made?.find(({ id }) => id === begun);
  const known = plan.error ? undefined : plan.data;
  const left = known ? known.frames - known.already_there : 0;
  const ready = known && left > 0 && known.size <= known.free && !plan.isPlaceholderData;
  const go = () => ready && !start.isPending && start.mutate();
  return (
    <Panel open onClose={onClose} title={t`${counted(frames.length, 'frame')} to a folder`}>
      {begun === null ? (
        <form
          className="figures flex flex-col gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            go();
          }}
        >
          <PathField
            label={t`Folder`}
            value={target}
            onChange={setTarget}
            onEnter={go}
            autoFocus={!target}
          />
          <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
            <select
              aria-label={t`How`}
              className="h-8 rounded border border-line bg-paper px-2"
              value={how}
              onChange={(event) => setHow(event.target.value as Settings['last_how'])}
            >
              {HOWS.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </select>
            <Tick on={sidecars} onChange={setSidecars}>
              <Trans>with sidecars</Trans>
            </Tick>
          </div>
          {target.trim().length > 1 && <Refused error={plan.error} />}
          {known && target.trim().length > 1 && <Preview plan={known} />}
          <Refused error={start.error} />
          <div className="flex justify-end gap-3">
            <Button onClick={onClose}>
              <Trans>Cancel</Trans>
            </Button>
            <Button main type="submit" autoFocus={!!target} disabled={!ready || start.isPending}>
              {VERBS[how]} {counted(left, 'frame')}
            </Button>
          </div>
        </form>
      ) : (
        <div className="figures flex flex-col gap-3">
          {delivery ? <Made delivery={delivery} /> : <Trans>It begins …</Trans>}
          <p className="text-quiet">
            <Trans>It goes on when this is closed; Wrap up shows it, too.</Trans>
          </p>
          <div className="flex justify-end">
            <Button main autoFocus onClick={onClose}>
              <Trans>Close</Trans>
            </Button>
          </div>
        </div>
      )}
    </Panel>
  );
}
