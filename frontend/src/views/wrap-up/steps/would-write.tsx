import { Trans } from '@lingui/react/macro';

import type { FilesPlan, PlannedFiles } from '../../../api/client';
import { counted } from '../../../texts/numbers';
import { labelName, PART_WORDS, partInWords } from '../../../state/mark-words';
import { useLabels } from '../../../state/settings';
import { useShoot } from '../../../state/shoot';
import { Thumbnail } from '../thumbnail';

/** Each property that would change, frame by frame, before anything is written. */
export function WouldWrite({ plan }: { plan: FilesPlan }) {
  const listed = plan.frames.filter(
    (frame) => frame.writes.length + frame.took.length > 0 && frame.outcome !== 'conflict',
  );
  const all = ['new', 'change', 'take'].reduce((sum, kind) => sum + (plan.counts[kind] ?? 0), 0);
  if (!listed.length) return null;
  return (
    <details className="rounded border border-line bg-paper p-3" open={plan.takes_away > 0}>
      <summary className="cursor-pointer font-semibold">
        <Trans>What would be written</Trans>
      </summary>
      <ul className="mt-2 max-h-72 overflow-auto">
        {listed.map((row) => (
          <Line key={row.frame} planned={row} />
        ))}
      </ul>
      {all > listed.length && (
        <p className="mt-2 text-quiet">
          <Trans>
            The first {listed.length} of {counted(all, 'frame')}.
          </Trans>
        </p>
      )}
    </details>
  );
}

function Line({ planned }: { planned: PlannedFiles }) {
  const frame = useShoot((state) => state.byId.get(planned.frame));
  const labels = useLabels();
  const nameOf = (letter: string) => labelName(labels, letter);
  return (
    <li className="flex gap-3 border-t border-line py-1.5">
      <Thumbnail frame={frame} />
      <div className="min-w-0 flex-1">
        <strong>{planned.name}</strong>
        <ul className="text-[13px]">
          {planned.took.map((part) => (
            <li key={part} className="break-words">
              <span className="text-quiet">
                <Trans>taken over · {PART_WORDS[part]}</Trans>
              </span>{' '}
              <s>{partInWords(planned.here, part, nameOf)}</s> →{' '}
              {partInWords(planned.in_file, part, nameOf)}
            </li>
          ))}
          {planned.writes.map((write) => (
            <li key={write.file + write.prop} className="break-words">
              <span className="text-quiet">
                {write.file} · {write.prop}
              </span>{' '}
              {write.before ? (
                <>
                  <s>{write.before}</s> →{' '}
                </>
              ) : (
                '+ '
              )}
              {write.after || (
                <em>
                  <Trans>taken out</Trans>
                </em>
              )}
            </li>
          ))}
        </ul>
      </div>
    </li>
  );
}
