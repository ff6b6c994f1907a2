import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { Popover } from 'radix-ui';

import { useTitle } from '../../parts/key-cap';
import { GroupsPanel } from './groups-panel';

/** The word "groups" of the top line, and what opens below it. */
export function GroupsButton({
  open,
  onOpen,
  ...panel
}: { open: boolean; onOpen: (open: boolean) => void } & React.ComponentProps<typeof GroupsPanel>) {
  const title = useTitle();
  return (
    <Popover.Root open={open} onOpenChange={onOpen}>
      <Popover.Trigger
        title={title(t`Groups`, 'groups')}
        className="shrink-0 border-b-2 border-quiet/40 text-quiet hover:text-ink"
      >
        <Trans>groups</Trans>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={t`Groups`}
          // The keys belong to the stage again, not to the button that opened this.
          onCloseAutoFocus={(event) => event.preventDefault()}
          align="start"
          sideOffset={8}
          className="z-40 w-96 rounded-lg border border-line bg-chrome p-4 shadow-xl"
        >
          <GroupsPanel {...panel} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
