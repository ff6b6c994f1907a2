import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Settings } from '../../api/client';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { Refused } from '../../parts/refused';
import { settled } from '../../state/marking';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { counted } from '../../texts/numbers';

/** The frames that are looked at go to a program of the person's own. */
export function ToProgram({
  shootId,
  frames,
  settings,
  onSettings,
  onWrapUp,
  onClose,
}: {
  shootId: number;
  frames: readonly number[];
  settings: Settings;
  onSettings: (settings: Settings) => void;
  /** where programs are added */
  onWrapUp: () => void;
  onClose: () => void;
}) {
  const { data: programs, error } = useQuery({
    queryKey: ['programs'],
    queryFn: () => ask(api.GET('/api/programs')),
  });
  const [chosen, setChosen] = useState(settings.last_program);
  const program = programs?.find(({ name }) => name === chosen) ?? programs?.[0];
  const start = useMutation({
    mutationFn: (name: string) =>
      settled().then(() =>
        ask(
          api.POST('/api/shoots/{shoot}/hand-over', {
            params: { path: { shoot: shootId } },
            body: { filter: NO_FILTER, frames: [...frames], program: name },
          }),
        ),
      ),
    onSuccess: (_, name) => {
      onSettings({ ...settings, last_program: name });
      useShoot.getState().say(t`${name} is started with ${counted(frames.length, 'frame')}`);
      onClose();
    },
  });
  return (
    <Panel open onClose={onClose} title={t`${counted(frames.length, 'frame')} to a program`}>
      <form
        className="figures flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (program && !start.isPending) start.mutate(program.name);
        }}
      >
        {programs?.length === 0 && (
          <p>
            <Trans>
              No program is known yet. Any that takes files on its command line can be added in the
              wrap-up.
            </Trans>
          </p>
        )}
        {program && (
          <>
            <select
              aria-label={t`Program`}
              className="h-9 rounded border border-line bg-paper px-2"
              value={program.name}
              onChange={(event) => setChosen(event.target.value)}
            >
              {programs?.map(({ name }) => (
                <option key={name}>{name}</option>
              ))}
            </select>
            <p className="truncate text-[13px] text-quiet" title={program.command}>
              {program.command}
            </p>
          </>
        )}
        <Refused error={error ?? start.error} />
        <div className="flex justify-end gap-3">
          <Button onClick={onClose}>
            <Trans>Cancel</Trans>
          </Button>
          {program ? (
            <Button main type="submit" autoFocus disabled={start.isPending}>
              <Trans>Start it with {counted(frames.length, 'frame')}</Trans>
            </Button>
          ) : (
            <Button
              main
              onClick={() => {
                onClose();
                onWrapUp();
              }}
            >
              <Trans>Add a program …</Trans>
            </Button>
          )}
        </div>
      </form>
    </Panel>
  );
}
