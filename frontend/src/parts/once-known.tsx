import { Trans } from '@lingui/react/macro';
import type { ReactNode } from 'react';

import { inWords } from '../api/client';
import { usePersonKnown } from '../state/settings';
import { Button } from './button';

/**
 * Shows what it is given once the person's settings and labels are known. Before that a key may do
 * something else than the person bound it to, and a changed setting would take back all others.
 */
export function OnceKnown({ children }: { children: ReactNode }) {
  const { known, error, again } = usePersonKnown();
  if (known) return children;
  return (
    <main className="flex h-full flex-col items-center justify-center gap-4">
      {error ? (
        <>
          <p role="alert">{inWords(error)}</p>
          <Button onClick={again}>
            <Trans>Try again</Trans>
          </Button>
        </>
      ) : (
        <Trans>Opening …</Trans>
      )}
    </main>
  );
}
