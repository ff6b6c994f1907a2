import { Command as Search } from 'cmdk';

import type { Command, Stage } from '../../commands/registry';
import { Panel } from '../../parts/dialog';
import { KeyCap } from '../../parts/key-cap';

/** Type a few letters of any command and run it. */
export function CommandSearch({
  open,
  onClose,
  commands,
  stage,
}: {
  open: boolean;
  onClose: () => void;
  commands: readonly Command[];
  stage: Stage;
}) {
  return (
    <Panel open={open} onClose={onClose} title="Commands">
      <Search loop>
        <Search.Input
          autoFocus
          placeholder="What do you want to do?"
          className="h-10 w-full rounded border border-line bg-paper px-3"
        />
        <Search.List className="mt-3 max-h-[50vh] overflow-auto">
          <Search.Empty className="p-3 text-quiet">No command is called that.</Search.Empty>
          {commands
            .filter((command) => command.id !== 'search' && (command.when?.(stage) ?? true))
            .map((command) => (
              <Search.Item
                key={command.id}
                value={command.title}
                onSelect={() => {
                  onClose();
                  command.run(stage);
                }}
                className="flex cursor-pointer items-center justify-between rounded px-3 py-1.5 data-[selected=true]:bg-ink data-[selected=true]:text-paper"
              >
                {command.title}
                <span className="flex gap-1">
                  {command.keys.slice(0, 1).map((key) => (
                    <KeyCap key={key} chord={key} />
                  ))}
                </span>
              </Search.Item>
            ))}
        </Search.List>
      </Search>
    </Panel>
  );
}
