import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';

import type { Label } from '../../api/client';
import { SECTIONS, type Command } from '../../commands/command';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { KeyCap } from '../../parts/key-cap';
import { LabelSign, PickSign, RejectSign } from '../../parts/marks';

/** A line for each command that has a key; the stars share one. */
function lines(commands: readonly Command[]): { title: string; keys: readonly string[] }[] {
  const stars = commands.filter((command) => /^stars-[1-5]$/.test(command.id));
  return commands
    .filter((command) => command.keys.length && (!stars.includes(command) || command === stars[0]))
    .map((command) =>
      command === stars[0]
        ? { title: t`Stars`, keys: stars.flatMap((each) => each.keys.slice(0, 1)) }
        : { title: command.title, keys: command.keys },
    );
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
      <div data-print="keys" className="columns-2 gap-8 text-[13px] md:columns-3">
        {Object.entries(SECTIONS).map(([section, words]) => (
          <section key={section} className="mb-4 break-inside-avoid-column">
            <h3 className="mb-1 font-bold">{words}</h3>
            <dl>
              {lines(commands.filter((command) => command.section === section)).map(
                ({ title, keys }) => (
                  <div
                    key={title}
                    className="flex break-inside-avoid items-center justify-between gap-3"
                  >
                    <dt className="text-quiet">{title}</dt>
                    <dd className="flex shrink-0 gap-1">
                      {keys.map((key) => (
                        <KeyCap key={key} chord={key} />
                      ))}
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
