import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useState, type ComponentProps, type ReactNode } from 'react';

import { PathField } from '../../parts/path-field';
import { counted } from '../../texts/numbers';

/** Why a job ended before its end, as the server says it. */
export function Ended({ notice }: { notice: string | undefined }) {
  if (!notice) return null;
  return (
    <p role="alert" className="min-w-0 flex-1 font-semibold text-wrong">
      {notice}
    </p>
  );
}

/** How far a piece of work is. */
export function Progress({
  label,
  done,
  total,
  children,
}: {
  label: string;
  done: number;
  total: number;
  children?: ReactNode;
}) {
  return (
    <div role="status" className="flex min-w-0 flex-1 items-center gap-3">
      <progress
        className="h-2 min-w-24 flex-1"
        max={Math.max(1, total)}
        value={done}
        aria-label={label}
      />
      {children}
    </div>
  );
}

/** How many frames are through. */
export function FramesDone({ label, done, total }: { label: string; done: number; total: number }) {
  return (
    <Progress label={label} done={done} total={total}>
      <Trans>
        {done} of {counted(total, 'frame')}
      </Trans>
    </Progress>
  );
}

/** Names before and after: the first one, and all of them on demand. */
export function Names({ names }: { names: readonly { name: string; copy_name: string }[] }) {
  const [open, setOpen] = useState(false);
  const first = names[0];
  if (!first) return null;
  return (
    <details className="mt-1" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer">
        {first.name} → <strong>{first.copy_name}</strong>
        {names.length > 1 && (
          <span className="text-quiet"> {t`and ${counted(names.length - 1, 'name')} more`}</span>
        )}
      </summary>
      {open && (
        <ul className="max-h-64 overflow-auto text-[13px]" tabIndex={0} aria-label={t`All names`}>
          {names.map((each) => (
            <li key={each.name + each.copy_name}>
              {each.name} → {each.copy_name}
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}

/** A folder's path with the word for it beside it. */
export function FolderRow(field: ComponentProps<typeof PathField>) {
  return (
    <div className="flex items-center gap-3">
      <span aria-hidden="true">
        <Trans>Folder</Trans>
      </span>
      <div className="min-w-0 flex-1">
        <PathField {...field} />
      </div>
    </div>
  );
}
