import type { Command } from '../../commands/registry';
import { Panel } from '../../parts/dialog';
import { KeyCap } from '../../parts/key-cap';

const SECTIONS: readonly Command['section'][] = [
  'Mark',
  'Move',
  'Look',
  'Select',
  'Filter',
  'Shoot',
];

/** All keys on one page. */
export function KeySheet({
  open,
  onClose,
  commands,
}: {
  open: boolean;
  onClose: () => void;
  commands: readonly Command[];
}) {
  return (
    <Panel open={open} onClose={onClose} title="Keys" wide>
      <div className="columns-2 gap-10 md:columns-3">
        {SECTIONS.map((section) => (
          <section key={section} className="mb-5 break-inside-avoid">
            <h3 className="mb-1 font-bold">{section}</h3>
            <dl>
              {commands
                .filter((command) => command.section === section && command.keys.length)
                .map((command) => (
                  <div key={command.id} className="flex items-center justify-between gap-3 py-0.5">
                    <dt className="text-quiet">{command.title}</dt>
                    <dd className="flex shrink-0 gap-1">
                      {command.keys.map((key) => (
                        <KeyCap key={key} chord={key} />
                      ))}
                    </dd>
                  </div>
                ))}
            </dl>
          </section>
        ))}
      </div>
    </Panel>
  );
}
