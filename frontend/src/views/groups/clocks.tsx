import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { Help } from '../../parts/help';
import { api, ask, inWords, type Clock, type SuggestedOffset } from '../../api/client';
import { Panel } from '../../parts/dialog';
import { TableHead } from '../../parts/table-head';
import { counted, offset, readOffset, zone } from '../../texts/numbers';
import { clock } from '../../state/frames';

/** The cameras of a shoot and what is added to each one's clock, so that all are in one order. */
export function Clocks({
  shootId,
  open,
  onClose,
}: {
  shootId: number;
  open: boolean;
  onClose: () => void;
}) {
  return (
    <Panel open={open} onClose={onClose} title={t`Cameras’ clocks`} wide>
      <Cameras shootId={shootId} />
    </Panel>
  );
}

function Cameras({ shootId }: { shootId: number }) {
  const path = { params: { path: { shoot: shootId } } };
  const { data } = useQuery({
    queryKey: ['clocks', shootId],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/clocks', path)),
    // Frames may still be coming in.
    refetchInterval: 2000,
  });
  const { data: suggested } = useQuery({
    queryKey: ['clocks', shootId, 'suggested'],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/clocks/suggested', path)),
    enabled: (data?.length ?? 0) > 1,
  });
  return (
    <div className="figures flex flex-col gap-3">
      <p className="text-quiet">
        <Trans>
          Where clocks differed, frames of one moment stand apart. Set what is to be added to a
          camera’s clock: seconds (−47), or hours, minutes and seconds (+1:00:00). Where files state
          the time zone of the clock, it is allowed for already. The files keep their own times.
        </Trans>
      </p>
      <table className="w-full text-left">
        <TableHead
          names={[
            t`Camera`,
            t`Frames`,
            t`By its own clock`,
            <>
              <Trans>Add</Trans>{' '}
              <Help about={t`Cameras’ clocks`}>
                <p>
                  <Trans>
                    Where two cameras show the same moment, Winnow proposes what to add. Or find a
                    moment that both have, such as a flash: subtract the one time from the other.
                    Only the order here changes; undo is to type 0.
                  </Trans>
                </p>
              </Help>
            </>,
          ]}
        />
        <tbody>
          {data?.map((cameraClock) => (
            <Row
              key={`${cameraClock.camera} ${cameraClock.serial} ${cameraClock.offset_s}`}
              shootId={shootId}
              cameraClock={cameraClock}
              suggested={suggested?.find(
                (other) =>
                  other.camera === cameraClock.camera && other.serial === cameraClock.serial,
              )}
            />
          ))}
        </tbody>
      </table>
      {data?.length === 0 && (
        <p>
          <Trans>No frame has been read yet.</Trans>
        </p>
      )}
    </div>
  );
}

/** Less than this is no clock that is wrong, but the second that a picture took. */
const LEAST_S = 3;

/** By what a camera's frames have their place in the order. */
function zones(cameraClock: Clock): string {
  const stated = cameraClock.zones.map(zone).join(', ');
  if (!stated) return t`no time zone stated: by its clock`;
  return cameraClock.unzoned
    ? t`${stated} stated, but not by ${counted(cameraClock.unzoned, 'frame')}: these by its clock`
    : t`${stated} stated: by the instant`;
}

function Row({
  shootId,
  cameraClock,
  suggested,
}: {
  shootId: number;
  cameraClock: Clock;
  suggested: SuggestedOffset | undefined;
}) {
  const client = useQueryClient();
  const [typed, setTyped] = useState(offset(cameraClock.offset_s));
  const { mutate, error } = useMutation({
    mutationFn: (offset_s: number) =>
      ask(
        api.PUT('/api/shoots/{shoot}/clocks', {
          params: { path: { shoot: shootId } },
          body: { camera: cameraClock.camera, serial: cameraClock.serial, offset_s },
        }),
      ),
    onSuccess: (clocks) => {
      client.setQueryData(['clocks', shootId], clocks);
      void client.invalidateQueries({ queryKey: ['facts'] });
    },
  });
  const wanted = readOffset(typed);
  const keep = () => {
    if (wanted !== null && wanted !== cameraClock.offset_s) mutate(wanted);
  };
  return (
    <tr className="border-t border-line">
      <td className="py-2 pr-3">
        <strong>{cameraClock.camera || t`not stated`}</strong>
        {cameraClock.serial && (
          <span className="text-quiet">
            {' '}
            <Trans>no. {cameraClock.serial}</Trans>
          </span>
        )}
      </td>
      <td className="pr-3">{counted(cameraClock.frames, 'frame')}</td>
      <td className="py-2 pr-3">
        <Trans>
          {clock(cameraClock.first_at)} to {clock(cameraClock.last_at)}
        </Trans>
        <br />
        <span className="text-quiet">{zones(cameraClock)}</span>
      </td>
      <td>
        <input
          aria-label={t`Add to the clock of ${cameraClock.camera || t`the other camera`}`}
          aria-invalid={wanted === null}
          maxLength={14}
          className={`h-8 w-28 rounded border bg-paper px-2 text-right ${wanted === null ? 'border-reject' : 'border-line'}`}
          value={typed}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={keep}
          onKeyDown={(event) => event.key === 'Enter' && keep()}
        />
        {wanted === null && (
          <span className="ml-2 text-wrong">
            <Trans>like −47 or +1:00:00</Trans>
          </span>
        )}
        {error && (
          <span role="alert" className="ml-2 text-wrong">
            {inWords(error)}
          </span>
        )}
        {suggested && Math.abs(suggested.seconds - cameraClock.offset_s) > LEAST_S && (
          <button
            type="button"
            className="ml-2 underline"
            title={t`${suggested.agree} of ${suggested.pairs} pairs of frames that look alike say so`}
            onClick={() => mutate(Math.round(suggested.seconds))}
          >
            <Trans>
              {offset(Math.round(suggested.seconds))} by {counted(suggested.agree, 'like pair')}
            </Trans>
          </button>
        )}
      </td>
    </tr>
  );
}
