import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';

import type { Label } from '../../api/client';
import { SECTIONS, whereWords, type Command } from '../../commands/command';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { KeyCap } from '../../parts/key-cap';
import { LabelSign, PickSign, RejectSign } from '../../parts/marks';

interface Line {
  title: string;
  keys: readonly string[];
  /** the views in which they hold; "" for everywhere */
  where: string;
}

/** Commands that differ only by a number or a direction share a line. */
const FAMILIES: readonly { of: RegExp; title: string; brief?: boolean }[] = [
  { of: /^stars-[1-5]$/, title: t`Stars` },
  {
    of: /^narrow-stars-/,
    title: t`Only so many stars or more, with the filter that is on`,
    brief: true,
  },
  { of: /^nudge-/, title: t`Nudge this frame, looking close` },
  {
    of: /^keep-only-\d$/,
    title: t`Only the frame at that place: pick it, reject the others, go on`,
    brief: true,
  },
];

/** A line for each command that has a key, or for its family. */
function lines(commands: readonly Command[]): Line[] {
  const seen = new Set<RegExp>();
  return commands.flatMap((command): Line[] => {
    if (!command.keys.length) return [];
    const family = FAMILIES.find(({ of }) => of.test(command.id));
    const where = whereWords(command);
    if (!family) return [{ title: command.title, keys: command.keys, where }];
    if (seen.has(family.of)) return [];
    seen.add(family.of);
    const keys = commands
      .filter(({ id }) => family.of.test(id))
      .flatMap((each) => each.keys.slice(0, 1));
    return [
      {
        title: family.title,
        keys: family.brief && keys.length > 3 ? [keys[0]!, '…', keys.at(-1)!] : keys,
        where,
      },
    ];
  });
}

/** All keys on one page, with what the signs mean; it can be printed. */
export function KeySheet({
  open,
  onClose,
  onChange,
  commands,
  labels,
}: {
  open: boolean;
  onClose: () => void;
  onChange: () => void;
  commands: readonly Command[];
  labels: readonly Label[];
}) {
  return (
    <Panel open={open} onClose={onClose} title={t`Keys`} wide>
      <div data-print="keys" className="columns-1 gap-8 text-[13px] sm:columns-2 md:columns-3">
        {Object.entries(SECTIONS).map(([section, words]) => (
          <section key={section} className="mb-4 break-inside-avoid-column">
            <h3 className="mb-1 font-bold">{words}</h3>
            <dl>
              {lines(commands.filter((command) => command.section === section)).map(
                ({ title, keys, where }) => (
                  <div
                    key={title + where}
                    className="flex break-inside-avoid items-center justify-between gap-3"
                  >
                    <dt className="text-quiet">
                      {title}
                      {where && <span className="block text-[11px]">{where}</span>}
                    </dt>
                    <dd className="flex shrink-0 gap-1">
                      {keys.map((key) =>
                        key === '…' ? <span key={key}>…</span> : <KeyCap key={key} chord={key} />,
                      )}
                    </dd>
                  </div>
                ),
              )}
            </dl>
          </section>
        ))}
        <section className="mb-4 break-inside-avoid">
          <h3 className="mb-1 font-bold">
            <Trans>Signs</Trans>
          </h3>
          <ul className="flex flex-col gap-1 text-quiet">
            <li className="flex items-center gap-2">
              <PickSign size={22} /> <Trans>pick</Trans>
            </li>
            <li className="flex items-center gap-2">
              <RejectSign size={22} /> <Trans>reject, with hatching</Trans>
            </li>
            {labels.map((label) => (
              <li key={label.letter} className="flex items-center gap-2">
                <LabelSign label={label} size={22} /> {label.name}
                {label.meaning && `: ${label.meaning}`}
              </li>
            ))}
          </ul>
        </section>
      </div>
      <div className="mt-2 flex gap-2 print:hidden">
        <Button onClick={onChange}>
          <Trans>Change keys</Trans>
        </Button>
        <Button onClick={() => window.print()}>
          <Trans>Print</Trans>
        </Button>
      </div>
    </Panel>
  );
}
