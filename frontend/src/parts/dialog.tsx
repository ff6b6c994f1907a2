import { Dialog as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

/** A panel over the page; Esc and a click beside it close it. */
export function Panel({
  open,
  onClose,
  title,
  wide = false,
  children,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Overlay data-overlay="" className="fixed inset-0 z-40 bg-black/40" />
        <Radix.Content
          aria-describedby={undefined}
          className={`fixed top-[8vh] left-1/2 z-50 max-h-[84vh] -translate-x-1/2 overflow-auto rounded-lg border border-line bg-chrome p-6 text-ink shadow-2xl ${wide ? 'w-[min(1000px,94vw)]' : 'w-[min(560px,94vw)]'}`}
        >
          <Radix.Title className="mb-4 text-lg font-bold">{title}</Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
