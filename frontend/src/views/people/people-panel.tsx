import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, inWords, type Filter, type People } from '../../api/client';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { counted } from '../../texts/numbers';
import { Faces } from './faces';
import { PersonRow } from './person-row';

/** Who is in which frame: one row a person, with what each has. */
export function PeoplePanel({
  shootId,
  open,
  onClose,
  onFilter,
}: {
  shootId: number;
  open: boolean;
  onClose: () => void;
  onFilter: (filter: Filter) => void;
}) {
  return (
    <Panel wide open={open} onClose={onClose} title={t`Who is in it`}>
      <Everybody
        shootId={shootId}
        onFrames={(written) => {
          onFilter({ ...NO_FILTER, written });
          onClose();
        }}
        onGo={(frame) => {
          useShoot.getState().go(frame);
          onClose();
        }}
      />
    </Panel>
  );
}

export type Change =
  | { do: 'on' }
  | { do: 'forget' }
  | { do: 'join'; one: number; other: number }
  | { do: 'out'; frame: number; x: number; y: number }
  | { do: 'undo' };

function send(shoot: number, change: Change): Promise<People> {
  const path = { params: { path: { shoot } } };
  if (change.do === 'on') return ask(api.PUT('/api/shoots/{shoot}/people', path));
  if (change.do === 'forget') return ask(api.DELETE('/api/shoots/{shoot}/people', path));
  if (change.do === 'undo') return ask(api.POST('/api/shoots/{shoot}/people/undo', path));
  const { do: what, ...body } = change;
  return what === 'join'
    ? ask(
        api.POST('/api/shoots/{shoot}/people/join', {
          ...path,
          body: body as { one: number; other: number },
        }),
      )
    : ask(
        api.POST('/api/shoots/{shoot}/people/out', {
          ...path,
          body: body as { frame: number; x: number; y: number },
        }),
      );
}

function Everybody({
  shootId,
  onFrames,
  onGo,
}: {
  shootId: number;
  onFrames: (written: string) => void;
  onGo: (frame: number) => void;
}) {
  const client = useQueryClient();
  const marks = useShoot((state) => state.marksVersion);
  const { data, error } = useQuery({
    queryKey: ['people', shootId, marks],
    queryFn: () =>
      ask(api.GET('/api/shoots/{shoot}/people', { params: { path: { shoot: shootId } } })),
    placeholderData: (before) => before,
  });
  const change = useMutation({
    mutationFn: (wanted: Change) => send(shootId, wanted),
    onSuccess: (people) => {
      client.setQueryData(['people', shootId, marks], people);
      void client.invalidateQueries({ queryKey: ['people', shootId] });
    },
  });
  const failed = error ?? change.error;
  return (
    <>
      {failed && (
        <p role="alert" className="mb-3 font-bold text-wrong">
          {inWords(failed)}
        </p>
      )}
      {data && !data.on && <Off can={data.can} onOn={() => change.mutate({ do: 'on' })} />}
      {data?.on && <Told data={data} onChange={change.mutate} onFrames={onFrames} onGo={onGo} />}
    </>
  );
}

function Off({ can, onOn }: { can: boolean; onOn: () => void }) {
  return (
    <>
      <p className="mb-3">
        <Trans>
          Winnow can put the faces of this shoot together by likeness: so you see who is in how many
          frames, and who has no pick yet. It happens on this computer only, nobody is named, guests
          never see it, and one button forgets it all.
        </Trans>
      </p>
      {can ? (
        <Button main onClick={onOn}>
          <Trans>Tell people apart in this shoot</Trans>
        </Button>
      ) : (
        <p className="text-quiet">
          <Trans>The models that this takes are missing here. Install Winnow again.</Trans>
        </p>
      )}
    </>
  );
}

function Told({
  data,
  onChange,
  onFrames,
  onGo,
}: {
  data: People;
  onChange: (change: Change) => void;
  onFrames: (written: string) => void;
  onGo: (frame: number) => void;
}) {
  const [sure, setSure] = useState(false);
  const without = data.people.filter((person) => !person.picks.length);
  return (
    <div className="figures">
      <p className="mb-3" role="status">
        {data.waits && (
          <strong>
            {data.left ? t`${counted(data.left, 'frame')} still to look at. ` : t`Looking … `}
          </strong>
        )}
        {data.people.length > 0 && (
          <>
            {counted(data.people.length, 'person')}.{' '}
            {without.length === 0 ? (
              <Trans>Nobody is left out: each is in a pick.</Trans>
            ) : (
              <Trans>
                Without a pick: {without.map((person) => t`person ${person.number}`).join(', ')}.
              </Trans>
            )}
          </>
        )}
        {!data.people.length && !data.waits && (
          <Trans>No face is in two frames: there is nobody to tell apart.</Trans>
        )}
      </p>
      <ul className="mb-4">
        {data.people.map((person) => (
          <PersonRow
            key={person.number}
            person={person}
            people={data.people}
            onChange={onChange}
            onFrames={() => onFrames(`person ${person.number}`)}
            onGo={onGo}
          />
        ))}
      </ul>
      {data.unsure.length > 0 && (
        <details className="mb-4">
          <summary>
            <Trans>
              Seen once, or too small, turned or blurred to tell:{' '}
              {counted(data.unsure.length, 'face')}
            </Trans>
          </summary>
          <Faces faces={data.unsure} onGo={onGo} />
        </details>
      )}
      <div className="flex flex-wrap items-center gap-3 border-t border-line pt-3">
        {data.said && (
          <Button onClick={() => onChange({ do: 'undo' })}>
            <Trans>Take back what you said last</Trans>
          </Button>
        )}
        <span className="flex-1" />
        {sure ? (
          <>
            <span>
              <Trans>All that was made to tell them apart is removed. Marks stay.</Trans>
            </span>
            <Button onClick={() => setSure(false)}>
              <Trans>Keep it</Trans>
            </Button>
            <Button main onClick={() => onChange({ do: 'forget' })}>
              <Trans>Forget everybody</Trans>
            </Button>
          </>
        ) : (
          <Button onClick={() => setSure(true)}>
            <Trans>Forget everybody …</Trans>
          </Button>
        )}
      </div>
    </div>
  );
}
