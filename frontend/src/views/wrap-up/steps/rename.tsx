import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Renaming, type RenamingPlan, type Shoot } from '../../../api/client';
import { Button } from '../../../parts/button';
import { Refused } from '../../../parts/refused';
import { counted } from '../../../texts/numbers';
import { settled } from '../../../state/marking';
import { useShoot } from '../../../state/shoot';
import { DeliveryNames } from './delivery-names';
import { Names, Progress } from '../notes';
import { ChooseFrames, useWhichFrames } from '../which-frames';
import { Step } from '../wrap-up';

/** Files get other names where they are: all of them or none, undone as one step. */
export function Rename({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const [template, setTemplate] = useState('{name}');
  const [seqFrom, setSeqFrom] = useState(1);
  const frames = useWhichFrames();
  const marksVersion = useShoot((state) => state.marksVersion);
  const path = { params: { path: { shoot: shoot.id } } };
  const body = { ...frames.wanted, template, seq_from: seqFrom };
  const { data: made } = useQuery({
    queryKey: ['renamings', shoot.id],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/renamings', path)),
  });
  const busy = made?.find((renaming) => ['planned', 'running', 'undoing'].includes(renaming.state));
  const plan = useQuery({
    queryKey: ['rename-plan', shoot.id, body, marksVersion, made?.[0]?.id, made?.[0]?.state],
    queryFn: () =>
      settled().then(() => ask(api.POST('/api/shoots/{shoot}/renamings/plan', { ...path, body }))),
    enabled: template.trim() !== '{name}' && !busy,
    placeholderData: (before) => before,
    retry: false,
  });
  const again = () => {
    void client.invalidateQueries({ queryKey: ['renamings', shoot.id] });
    void client.invalidateQueries({ queryKey: ['shoot', shoot.id] });
  };
  const start = useMutation({
    mutationFn: () => ask(api.POST('/api/shoots/{shoot}/renamings', { ...path, body })),
    onSettled: again,
  });
  const act = useMutation({
    mutationFn: ({ id, what }: { id: number; what: 'undo' | 'stop' }) =>
      ask(api.POST(`/api/renamings/{renaming}/${what}`, { params: { path: { renaming: id } } })),
    onSettled: again,
  });
  const wanted = template.trim() !== '{name}';
  const known = wanted && !plan.error ? plan.data : undefined;
  const last = made?.find((renaming) => renaming.state === 'done' || renaming.state === 'stopped');
  return (
    <Step number={3} title={t`Rename in place`}>
      <p className="text-quiet">
        <Trans>
          Files stay in their folders, and the files of a frame keep a common name. All are renamed
          or none, and it can be undone.
        </Trans>
      </p>
      <div className="flex items-center gap-4">
        <ChooseFrames which={frames} label={t`What is renamed`} />
      </div>
      <DeliveryNames
        label={t`New names`}
        folders={false}
        template={template}
        seqFrom={seqFrom}
        seqNext={shoot.seq_next}
        onSeqFrom={setSeqFrom}
        onChange={setTemplate}
      />
      {wanted && <Refused error={plan.error} />}
      {known && <Preview plan={known} />}
      <Refused error={start.error ?? act.error} />
      <div className="flex items-center gap-4">
        {busy ? (
          <>
            <Button onClick={() => act.mutate({ id: busy.id, what: 'stop' })}>
              <Trans>Stop renaming</Trans>
            </Button>
            <Progress label={t`Renamed`} done={busy.done} total={busy.steps}>
              <Trans>
                {busy.done} of {busy.steps}
              </Trans>
            </Progress>
          </>
        ) : (
          <Button
            main
            disabled={!known?.files || plan.isPlaceholderData || start.isPending}
            onClick={() => start.mutate()}
          >
            <Trans>Rename {counted(known?.frames ?? frames.number, 'frame')}</Trans>
          </Button>
        )}
      </div>
      {made?.slice(0, 5).map((renaming) => (
        <Renamed
          key={renaming.id}
          renaming={renaming}
          onUndo={
            renaming.id === last?.id && !busy
              ? () => act.mutate({ id: renaming.id, what: 'undo' })
              : null
          }
        />
      ))}
    </Step>
  );
}

function Preview({ plan }: { plan: RenamingPlan }) {
  return (
    <div className="rounded border border-line bg-paper p-3">
      <p>
        {plan.files === 0 ? (
          t`Every file has that name already.`
        ) : (
          <>
            <Trans>
              <strong>{counted(plan.files, 'file')}</strong> of {counted(plan.frames, 'frame')} get
              another name.
            </Trans>
          </>
        )}
      </p>
      {plan.numbered.length > 0 && (
        <p>
          <Trans>
            Names that are taken get a number, for example {plan.numbered[0]!.name} →{' '}
            {plan.numbered[0]!.copy_name}.
          </Trans>
        </p>
      )}
      <Names names={plan.names} />
      {plan.left.length > 0 && (
        <ul role="alert">
          {plan.left.map((left) => (
            <li key={left.name}>
              <Trans>
                <strong>{left.name}</strong> keeps its name. {left.why}
              </Trans>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

const STATES: Record<Renaming['state'], string> = {
  planned: t`Renaming`,
  running: t`Renaming`,
  undoing: t`Undoing`,
  done: t`Renamed`,
  undone: t`Names as they were:`,
  stopped: t`Not through:`,
};

function Renamed({ renaming, onUndo }: { renaming: Renaming; onUndo: (() => void) | null }) {
  return (
    <div
      className="flex items-center gap-3 rounded border border-line bg-paper p-3"
      data-renaming={renaming.state}
    >
      <span className="min-w-0 flex-1">
        <Trans>
          <strong>{STATES[renaming.state]}</strong> {counted(renaming.frames, 'frame')} to{' '}
          {renaming.template} {renaming.notice}
        </Trans>
      </span>
      {onUndo && (
        <Button onClick={onUndo}>
          <Trans>Undo</Trans>
        </Button>
      )}
    </div>
  );
}
