import { t } from '@lingui/core/macro';
import { CircleQuestionMark } from 'lucide-react';
import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';

/** A small question mark beside what it explains; the words open by a click or the Enter key. */
export function Help({ about, children }: { about: string; children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger
        type="button"
        aria-label={t`Help: ${about}`}
        title={t`Help: ${about}`}
        className="inline-flex shrink-0 align-[-3px]"
        // On the stage the keys stay with the stage.
        onMouseDown={(event) => event.preventDefault()}
      >
        <CircleQuestionMark size={16} aria-hidden="true" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={about}
          onCloseAutoFocus={(event) => event.preventDefault()}
          sideOffset={6}
          collisionPadding={8}
          className="z-[60] flex max-h-[60vh] w-[min(26rem,92vw)] flex-col gap-2 overflow-y-auto rounded border border-line bg-paper p-3 text-[13px] whitespace-normal text-ink shadow-lg"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
