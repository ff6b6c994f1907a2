import { Trans } from '@lingui/react/macro';

/** The end of a list that shows no more than so many. */
export function AndMore({ all, shown }: { all: number; shown: number }) {
  if (all <= shown) return null;
  return (
    <li className="self-center text-on-stage">
      <Trans>and {all - shown} more</Trans>
    </li>
  );
}
