import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useState } from 'react';

import type { Person } from '../../api/client';
import { Button } from '../../parts/button';
import { middleOf } from '../../state/faces';
import { useShoot } from '../../state/shoot';
import { counted, whole } from '../../texts/numbers';
import { FaceButton, Faces } from './faces';
import type { Change } from './people-panel';

/** Somebody: their best face so far, what they have, and what can be said of them. */
export function PersonRow({
  person,
  people,
  onChange,
  onFrames,
  onGo,
}: {
  person: Person;
  people: readonly Person[];
  onChange: (change: Change) => void;
  onFrames: () => void;
  onGo: (frame: number) => void;
}) {
  const [open, setOpen] = useState(false);
  const best = person.faces[person.best]!;
  const name = useShoot((state) => state.byId.get(best.frame)?.name ?? '');
  const maybe = people.filter(({ number }) => person.maybe.includes(number));
  const others = people.filter(({ number }) => number !== person.number);
  const shut = person.picks.length - person.open_picks.length;
  return (
    <li
      data-person={person.number}
      aria-label={t`Person ${person.number}`}
      className="border-t border-line py-3"
    >
      <div className="flex items-center gap-4">
        <FaceButton face={best} size={96} onGo={onGo} />
        <div className="min-w-0 flex-1">
          <p className="text-base">
            <strong>
              <Trans>Person {person.number}</Trans>
            </strong>
            {' · '}
            {counted(person.faces.length, 'frame')}
            {' · '}
            {person.picks.length ? (
              <>
                <Trans>{counted(person.picks.length, 'pick')}</Trans>
                {shut > 0 && <Trans>, eyes closed in {whole(shut)} of them</Trans>}
              </>
            ) : (
              <strong>
                <Trans>no pick yet</Trans>
              </strong>
            )}
          </p>
          <p className="text-quiet">
            <Trans>best so far: {name}</Trans>
          </p>
          {maybe.map((other) => (
            <p key={other.number} className="mt-1 flex items-center gap-2">
              <FaceButton face={other.faces[other.best]!} size={40} onGo={onGo} />
              <Trans>Maybe the same as person {other.number}?</Trans>
              <Button
                className="h-7 px-2"
                onClick={() => onChange({ do: 'join', one: person.number, other: other.number })}
              >
                <Trans>The same</Trans>
              </Button>
            </p>
          ))}
        </div>
        <div className="flex flex-wrap justify-end gap-2">
          <Button onClick={onFrames}>
            <Trans>Show these frames</Trans>
          </Button>
          <Button aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? <Trans>Fewer</Trans> : <Trans>All faces</Trans>}
          </Button>
          {others.length > 0 && (
            <select
              aria-label={t`Person ${person.number} is the same as`}
              className="h-9 rounded border border-line bg-paper px-2"
              value=""
              onChange={(event) =>
                onChange({ do: 'join', one: person.number, other: Number(event.target.value) })
              }
            >
              <option value="" disabled>
                {t`same as …`}
              </option>
              {others.map(({ number }) => (
                <option key={number} value={number}>
                  {t`person ${number}`}
                </option>
              ))}
            </select>
          )}
        </div>
      </div>
      {open && (
        <Faces
          faces={person.faces}
          out={(face) => onChange({ do: 'out', frame: face.frame, ...middleOf(face) })}
          onGo={onGo}
        />
      )}
    </li>
  );
}
