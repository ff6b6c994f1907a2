import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';

import { Help } from '../../../parts/help';
import type { PartName, PlannedFiles } from '../../../api/client';
import { counted } from '../../../texts/numbers';
import { labelName, PART_WORDS, partInWords } from '../../../state/mark-words';
import { useLabels } from '../../../state/settings';
import { useShoot } from '../../../state/shoot';
import { Thumbnail } from '../thumbnail';
import type { Decided } from './write-marks';

export type Side = 'here' | 'file';

const SIDES: readonly [Side, string][] = [
  ['here', t`as here`],
  ['file', t`as in the file`],
];

/** Parts that changed here and in the file: both values, to be decided one by one or for a kind. */
export function Conflicts({
  conflicts,
  decided,
  onDecide,
}: {
  conflicts: readonly PlannedFiles[];
  decided: Decided;
  onDecide: (decided: Decided) => void;
}) {
  const kinds = new Map<PartName, number>();
  for (const conflict of conflicts)
    for (const part of conflict.conflicts) kinds.set(part, (kinds.get(part) ?? 0) + 1);
  const decideKind = (part: PartName, side: Side) => {
    // What was said of single frames before is meant to follow.
    const single = Object.fromEntries(
      Object.entries(decided.single).filter(([key]) => !key.endsWith(` ${part}`)),
    );
    onDecide({ kinds: { ...decided.kinds, [part]: side }, single });
  };
  return (
    <section aria-label={t`Conflicts`} className="rounded border border-line bg-paper p-3">
      <h4 className="font-bold">
        <Trans>{counted(conflicts.length, 'frame')} changed here and in the file</Trans>{' '}
        <Help about={t`Conflicts`}>
          <p>
            <Trans>
              Since Winnow and the file last agreed, the same part was changed in both, differently.
              Say for each which one counts, or for all of a kind at once. Taking the file’s value
              is one step, which undo takes back.
            </Trans>
          </p>
        </Help>
      </h4>
      <p className="mb-2 text-quiet">
        <Trans>Nothing is written to them until you say which one counts.</Trans>
      </p>
      {[...kinds].map(([part, count]) => (
        <div key={part} className="flex items-center gap-3 py-1">
          <span className="w-56">
            <Trans>{PART_WORDS[part]} of</Trans>{' '}
            {count === 1 ? counted(1, 'frame') : t`all ${counted(count, 'frame')}`}
          </span>
          <Choice
            name={t`every ${PART_WORDS[part]}`}
            value={decided.kinds[part]}
            onChange={(side) => decideKind(part, side)}
          />
        </div>
      ))}
      <ul className="mt-2 max-h-[28rem] overflow-auto">
        {conflicts.map((conflict) => (
          <Frame
            key={conflict.frame}
            planned={conflict}
            decided={decided}
            onDecide={(part, side) =>
              onDecide({
                ...decided,
                single: { ...decided.single, [`${conflict.frame} ${part}`]: side },
              })
            }
          />
        ))}
      </ul>
    </section>
  );
}

function Frame({
  planned,
  decided,
  onDecide,
}: {
  planned: PlannedFiles;
  decided: Decided;
  onDecide: (part: PartName, side: Side) => void;
}) {
  const labels = useLabels();
  const frame = useShoot((state) => state.byId.get(planned.frame));
  const nameOf = (letter: string) => labelName(labels, letter);
  const inFile = (part: PartName) =>
    part === 'label' && planned.label_text && !planned.in_file.mark.label
      ? `“${planned.label_text}”`
      : partInWords(planned.in_file, part, nameOf);
  return (
    <li
      data-conflict={planned.name}
      className="flex gap-4 border-t border-line py-2"
      aria-label={planned.name}
    >
      <Thumbnail frame={frame} large />
      <div className="min-w-0 flex-1">
        <strong>{planned.name}</strong>
        {planned.conflicts.map((part) => (
          <div key={part} className="mt-1">
            <div className="text-[13px] text-quiet">{PART_WORDS[part]}</div>
            <Choice
              name={t`${PART_WORDS[part]} of ${planned.name}`}
              value={decided.single[`${planned.frame} ${part}`] ?? decided.kinds[part]}
              onChange={(side) => onDecide(part, side)}
              words={{ here: partInWords(planned.here, part, nameOf), file: inFile(part) }}
            />
          </div>
        ))}
      </div>
    </li>
  );
}

/** Whose word counts; nothing is chosen until somebody does. */
function Choice({
  name,
  value,
  onChange,
  words,
}: {
  name: string;
  value: Side | undefined;
  onChange: (side: Side) => void;
  words?: Record<Side, string>;
}) {
  return (
    <fieldset className="flex flex-wrap gap-2" aria-label={name}>
      {SIDES.map(([side, said]) => (
        <button
          key={side}
          type="button"
          aria-pressed={value === side}
          aria-label={`${name}: ${words ? `${words[side]}, ` : ''}${said}`}
          className={`flex max-w-full items-center gap-2 rounded border px-2.5 py-1 text-left ${value === side ? 'border-ink bg-ink text-paper' : 'border-line bg-chrome hover:border-quiet'}`}
          onClick={() => onChange(side)}
        >
          <span aria-hidden className="w-3">
            {value === side ? '✓' : ''}
          </span>
          {words && <strong className="min-w-0 break-words">{words[side]}</strong>}
          <span className="shrink-0">{said}</span>
        </button>
      ))}
    </fieldset>
  );
}
