import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import {
  api,
  ask,
  type FilesPlan,
  type FilesStatus,
  type PartName,
  type Shoot,
} from '../../../api/client';
import { Button } from '../../../parts/button';
import { counted } from '../../../texts/numbers';
import { useSettings } from '../../../state/settings';
import { useShoot } from '../../../state/shoot';
import { Conflicts, type Side } from './conflicts';
import { FileSettings } from './file-settings';
import { LabelTexts } from './label-texts';
import { Ended, FramesDone } from '../notes';
import { useFilesPlan, useFilesStatus } from '../use-files';
import { WouldWrite } from './would-write';
import { Step } from '../wrap-up';
import { Refused } from '../../../parts/refused';

/** Whose word counts, by part, and by "frame part" for single ones. */
export type Decided = { kinds: Partial<Record<PartName, Side>>; single: Record<string, Side> };

const NOTHING: Decided = { kinds: {}, single: {} };

/** Write marks and texts where other programs read them, after saying what would change. */
export function WriteMarks({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const [settings, saveSettings] = useSettings();
  const [decided, setDecided] = useState<Decided>(NOTHING);
  const path = { params: { path: { shoot: shoot.id } } };
  const { data: status } = useFilesStatus(shoot.id);
  const running = status?.running ?? false;
  const { data: plan, error } = useFilesPlan(
    shoot.id,
    [settings.embed, settings.sidecar_names, settings.profile],
    !running,
  );
  const again = () => client.invalidateQueries({ queryKey: ['files', shoot.id] });
  const start = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/shoots/{shoot}/files', {
          ...path,
          body: {
            plan: plan?.plan ?? '',
            kinds: decided.kinds,
            single: Object.entries(decided.single).map(([key, side]) => {
              const [frame, part] = key.split(' ');
              return { frame: Number(frame), part: part as PartName, side };
            }),
          },
        }),
      ),
    onSuccess: () => setDecided(NOTHING),
    onSettled: again,
  });
  const stop = useMutation({
    mutationFn: () => ask(api.DELETE('/api/shoots/{shoot}/files', path)),
    onSettled: again,
  });
  const conflicts = plan?.frames.filter((frame) => frame.outcome === 'conflict') ?? [];
  const settled = conflicts.filter((conflict) =>
    conflict.conflicts.every(
      (part) => decided.single[`${conflict.frame} ${part}`] ?? decided.kinds[part],
    ),
  );
  const number = (outcome: string) => plan?.counts[outcome] ?? 0;
  const todo = number('new') + number('change') + number('take') + settled.length;
  const problem = error ?? start.error;
  return (
    <Step number={2} title={t`Write marks and texts to files`}>
      <p className="text-quiet">
        <Trans>
          Decision, stars, label, captions and rights go where other programs read them, as XMP.
          What those files say besides is kept.
        </Trans>
      </p>
      <FileSettings shootId={shoot.id} settings={settings} onChange={saveSettings} />
      <Refused error={problem} />
      {plan && <Summary plan={plan} />}
      {!!plan?.unchecked && (
        <p role="status">
          <Trans>
            {counted(plan.unchecked, 'frame')} changed by guests: nothing of them is written until
            you take it over.
          </Trans>
        </p>
      )}
      {!!plan?.takes_away && (
        <p role="alert" className="font-semibold text-wrong">
          <Trans>
            In {counted(plan.takes_away, 'frame')}, files take away or replace what is said here.
            Look below first.
          </Trans>
        </p>
      )}
      {plan?.frames
        .filter((frame) => frame.outcome === 'unreadable')
        .map((frame) => (
          <p key={frame.frame} role="alert">
            <strong>{frame.name}</strong>: {frame.notice}
          </p>
        ))}
      {plan && <LabelTexts shootId={shoot.id} unknown={plan.unknown_labels} />}
      {conflicts.length > 0 && (
        <Conflicts conflicts={conflicts} decided={decided} onDecide={setDecided} />
      )}
      {plan && <WouldWrite plan={plan} />}
      <div className="flex items-center gap-4">
        {running ? (
          <Button onClick={() => stop.mutate()}>
            <Trans>Stop writing</Trans>
          </Button>
        ) : (
          <Button
            main
            disabled={start.isPending || todo === 0 || !plan}
            onClick={() => start.mutate()}
          >
            <Trans>Write {counted(todo, 'frame')}</Trans>
          </Button>
        )}
        {status && <Result status={status} />}
      </div>
    </Step>
  );
}

function Summary({ plan }: { plan: FilesPlan }) {
  const lines: [string, string][] = [
    ['new', t`with a new file beside the picture`],
    ['change', t`with changes to the files`],
    ['take', t`with something newer in the files, which is taken over`],
    ['conflict', t`with different things said here and in the files`],
    ['unreadable', t`with files that are left alone`],
    ['same', t`up to date`],
  ];
  const some = lines.filter(([outcome]) => plan.counts[outcome]);
  if (!some.length)
    return (
      <p>
        <Trans>No frame has a mark or a text yet.</Trans>
      </p>
    );
  return (
    <ul>
      {some.map(([outcome, words]) => (
        <li key={outcome} data-outcome={outcome}>
          <strong>{counted(plan.counts[outcome]!, 'frame')}</strong> {words}
        </li>
      ))}
      {plan.embeds > 0 && (
        <li>
          <Trans>
            <strong>{counted(plan.embeds, 'JPEG')}</strong> would be rewritten; their pictures stay
            bit for bit.
          </Trans>
        </li>
      )}
    </ul>
  );
}

function Result({ status }: { status: FilesStatus }) {
  const byId = useShoot((state) => state.byId);
  if (status.running) {
    return <FramesDone label={t`Written`} done={status.done} total={status.total} />;
  }
  const { result } = status;
  if (!result) return <Ended notice={status.notice} />;
  const { problems } = result;
  return (
    <div role="status" data-testid="written" className="min-w-0 flex-1">
      {status.stopped && t`Stopped. `}
      <Trans>
        {counted(result.written, 'file')} written, {counted(result.same, 'frame')} already so
      </Trans>
      {result.taken > 0 && t`, ${counted(result.taken, 'frame')} taken over`}
      {problems.length > 0 && t`, ${counted(problems.length, 'frame')} left alone`}.
      {problems.length > 0 && (
        <details>
          <summary className="cursor-pointer underline">
            <Trans>why</Trans>
          </summary>
          <ul className="max-h-40 overflow-auto">
            {problems.map((problem) => (
              <li key={problem.frame}>
                <strong>{byId.get(problem.frame)?.name}</strong>: {problem.notice}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
