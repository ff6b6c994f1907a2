import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, inWords, pictureUrl, type Shoot, type SidecarPlanned } from '../../api/client';
import { Button } from '../../parts/button';
import { counted } from '../../parts/numbers';
import { markInWords } from '../../state/frames';
import { useLabels } from '../../state/settings';
import { useShoot } from '../../state/shoot';
import { reload } from '../../state/sync';
import { Step } from './wrap-up';

type Whose = 'leave' | 'ours' | 'file';
const WHOSE: readonly [Whose, string][] = [
  ['leave', 'leave these sidecars as they are'],
  ['ours', 'write Winnow’s marks over them'],
  ['file', 'take the files’ marks over'],
];

/** Write every mark to an XMP sidecar beside its picture, after saying what would change. */
export function WriteMarks({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const [whose, setWhose] = useState<Whose>('leave');
  const marksVersion = useShoot((state) => state.marksVersion);
  const path = { params: { path: { shoot: shoot.id } } };
  const { data: plan, error } = useQuery({
    queryKey: ['sidecars', shoot.id, marksVersion],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/sidecars', path)),
    placeholderData: (before) => before,
  });
  const written = useMutation({
    mutationFn: () =>
      ask(api.POST('/api/shoots/{shoot}/sidecars', { ...path, body: { conflicts: whose } })),
    onSettled: async () => {
      await client.invalidateQueries({ queryKey: ['sidecars', shoot.id] });
      await reload();
    },
  });
  const of = (outcome: SidecarPlanned['outcome']) =>
    plan?.filter((one) => one.outcome === outcome) ?? [];
  const conflicts = of('conflict');
  const todo = of('new').length + of('change').length + of('take').length;
  const lines: [number, string][] = [
    [of('new').length, 'new'],
    [of('change').length, 'changed, with everything else in them kept'],
    [of('take').length, 'newer than Winnow: their marks are taken over'],
    [of('same').length, 'up to date'],
  ];
  const problem = error ?? written.error;
  return (
    <Step number={1} title="Write the marks to XMP sidecars">
      <p className="text-quiet">
        Decision, stars and label of each frame go into a small file beside the picture, where other
        programs read them. The pictures themselves are not touched.
      </p>
      {problem && <p role="alert">{inWords(problem)}</p>}
      {plan?.length === 0 && <p>No frame has a mark yet.</p>}
      <ul>
        {lines
          .filter(([count]) => count > 0)
          .map(([count, words]) => (
            <li key={words}>
              <strong>{counted(count, 'sidecar')}</strong> {words}
            </li>
          ))}
      </ul>
      {of('unreadable').map((one) => (
        <p key={one.frame} role="alert">
          <strong>{one.sidecar}</strong>: {one.notice}
        </p>
      ))}
      {conflicts.length > 0 && <Conflicts conflicts={conflicts} whose={whose} onWhose={setWhose} />}
      <div className="flex items-center gap-4">
        <Button
          main
          disabled={written.isPending || (todo === 0 && (whose === 'leave' || !conflicts.length))}
          onClick={() => written.mutate()}
        >
          {written.isPending ? 'Writing …' : 'Write the marks'}
        </Button>
        {written.isSuccess && (
          <span role="status" data-testid="written">
            {counted(written.data.written, 'sidecar')} written, {written.data.same} already so
            {written.data.problems.length > 0 && `, ${written.data.problems.length} left alone`}.
          </span>
        )}
      </div>
    </Step>
  );
}

function Conflicts({
  conflicts,
  whose,
  onWhose,
}: {
  conflicts: readonly SidecarPlanned[];
  whose: Whose;
  onWhose: (whose: Whose) => void;
}) {
  const labels = useLabels();
  const byId = useShoot((state) => state.byId);
  const nameOf = (letter: string) => labels.find((one) => one.letter === letter)?.name ?? letter;
  return (
    <div className="rounded border border-line bg-paper p-3">
      <p className="mb-2 font-bold">
        {counted(conflicts.length, 'frame')} marked differently here and in the file
      </p>
      <div className="max-h-56 overflow-auto">
        {conflicts.map((one) => {
          const frame = byId.get(one.frame);
          return (
            <div key={one.frame} className="flex items-center gap-4 border-t border-line py-1.5">
              {frame && (
                <img
                  src={pictureUrl(frame, 'thumbnail')}
                  alt=""
                  className="h-14 w-20 object-cover"
                />
              )}
              <strong className="w-32 truncate">{one.name}</strong>
              <span className="flex-1">
                here: {markInWords({ ...one.here, label: one.here.label ?? null }, nameOf)}
              </span>
              <span className="flex-1">
                in the file:{' '}
                {one.in_file &&
                  markInWords({ ...one.in_file, label: one.in_file.label ?? null }, nameOf)}{' '}
                {one.notice}
              </span>
            </div>
          );
        })}
      </div>
      <fieldset className="mt-2 flex flex-wrap gap-x-5 gap-y-1">
        <legend className="sr-only">Where both differ</legend>
        {WHOSE.map(([value, words]) => (
          <label key={value} className="flex items-center gap-1.5">
            <input
              type="radio"
              name="whose"
              checked={whose === value}
              onChange={() => onWhose(value)}
            />
            {words}
          </label>
        ))}
      </fieldset>
    </div>
  );
}
