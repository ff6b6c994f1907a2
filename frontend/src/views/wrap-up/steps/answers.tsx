import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, inWords, WINDOW, type AnswerCame, type Shoot } from '../../../api/client';
import { Button } from '../../../parts/button';
import { counted } from '../../../texts/numbers';
import { TakeFile } from '../../../parts/take-file';
import { useLabels } from '../../../state/settings';
import { useShoot } from '../../../state/shoot';
import { refind } from '../../../state/sync';
import { Thumbnail } from '../thumbnail';
import { Tick } from '../../../parts/tick';

const MOST_SHOWN = 60;

/** A client's answer is looked at, and taken over as one step that can be undone. */
export function Answers({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const labels = useLabels();
  const [text, setText] = useState('');
  const [label, setLabel] = useState<string>();
  const [pick, setPick] = useState(false);
  const [comments, setComments] = useState(true);
  const [problem, setProblem] = useState('');
  const path = { params: { path: { shoot: shoot.id } } };
  const chosen = label ?? labels[0]?.letter ?? '';
  const read = useMutation({
    mutationFn: (body: string) =>
      ask(
        api.POST('/api/shoots/{shoot}/proofs/answer/read', {
          ...path,
          body: { text: body, pick, comments, window: '' },
        }),
      ),
    onError: (error) => setProblem(inWords(error)),
  });
  const leave = () => {
    setText('');
    setProblem('');
    read.reset();
  };
  const take = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/shoots/{shoot}/proofs/answer/apply', {
          ...path,
          body: { text, label: chosen || null, pick, comments, window: WINDOW },
        }),
      ),
    onSuccess: (change) => {
      const { receive, say } = useShoot.getState();
      receive(change);
      void refind();
      say(change.sentence ?? t`The answer changed nothing`);
      leave();
      void client.invalidateQueries({ queryKey: ['proofs', shoot.id] });
    },
    onError: (error) => setProblem(inWords(error)),
  });
  return (
    <div className="flex flex-col gap-2 border-t border-line pt-3">
      <div>
        <TakeFile
          words={t`Read a client’s answer`}
          ending=".json"
          most={5_000_000}
          onText={(content) => {
            setProblem('');
            setText(content);
            read.mutate(content);
          }}
          onProblem={setProblem}
        />
      </div>
      {problem && (
        <p role="alert" className="font-semibold text-wrong">
          {problem}
        </p>
      )}
      {text && read.data && (
        <section
          aria-label={t`The client’s answer`}
          className="rounded border border-line bg-paper p-3"
        >
          <Said came={read.data} />
          <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
            <label className="flex items-center gap-2">
              <Trans>What is chosen gets</Trans>
              <select
                aria-label={t`Label for what is chosen`}
                className="h-8 rounded border border-line bg-paper px-2"
                value={chosen}
                onChange={(event) => setLabel(event.target.value)}
              >
                {labels.map((label) => (
                  <option key={label.letter} value={label.letter}>
                    {label.letter} {label.name}
                  </option>
                ))}
                <option value="">{t`no label`}</option>
              </select>
            </label>
            <Tick on={pick} onChange={setPick}>
              <Trans>and is picked</Trans>
            </Tick>
            <Tick on={comments} onChange={setComments}>
              <Trans>comments go to the frames’ instructions</Trans>
            </Tick>
          </div>
          <div className="mt-3 flex gap-3">
            <Button main disabled={take.isPending} onClick={() => take.mutate()}>
              <Trans>Take the answer over</Trans>
            </Button>
            <Button onClick={leave}>
              <Trans>Leave it</Trans>
            </Button>
          </div>
        </section>
      )}
    </div>
  );
}

function Said({ came }: { came: AnswerCame }) {
  const byId = useShoot((state) => state.byId);
  const comments = new Map(came.comments.map((comment) => [comment.frame, comment.comment]));
  const shown = [...new Set([...came.chosen, ...comments.keys()])];
  const chosen = new Set(came.chosen);
  return (
    <>
      <p>
        <strong>{came.client || t`A client`}</strong>{' '}
        <Trans>
          chose <strong>{counted(came.chosen.length, 'frame')}</strong> of “{came.proof}” and wrote{' '}
          {counted(came.comments.length, 'comment')}.
        </Trans>
      </p>
      {came.note && <p className="whitespace-pre-wrap">“{came.note}”</p>}
      {came.before > 0 && (
        <p role="alert">
          {plural(came.before, {
            one: '# answer to this proof was taken over before.',
            other: '# answers to this proof were taken over before.',
          })}{' '}
          <Trans>What this one does not choose stays as it is.</Trans>
        </p>
      )}
      {came.gone > 0 && (
        <p role="alert">
          <Trans>{counted(came.gone, 'frame')} of it no longer in the shoot.</Trans>
        </p>
      )}
      <ul className="mt-2 grid max-h-80 grid-cols-2 gap-x-4 gap-y-2 overflow-auto">
        {shown.slice(0, MOST_SHOWN).map((id) => (
          <li key={id} className="flex gap-2">
            <Thumbnail frame={byId.get(id)} />
            <span className="min-w-0 text-[13px]">
              <strong>{byId.get(id)?.name}</strong> {chosen.has(id) ? t`✓ chosen` : t`not chosen`}
              <br />
              <span className="break-words">{comments.get(id)}</span>
            </span>
          </li>
        ))}
      </ul>
      {shown.length > MOST_SHOWN && (
        <p className="text-quiet">
          <Trans>And {counted(shown.length - MOST_SHOWN, 'frame')} more.</Trans>
        </p>
      )}
    </>
  );
}
