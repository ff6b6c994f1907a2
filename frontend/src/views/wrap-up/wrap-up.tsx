import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useState } from 'react';
import { useLocation } from 'react-router';

import type { Filter, Shoot } from '../../api/client';
import { WRAP_UP_STEPS } from '../../commands/wrap-up-steps';
import { Deliver } from './steps/deliver';
import { HandOver } from './steps/hand-over';
import { Lists } from './steps/lists';
import { Prove } from './steps/prove';
import { Rename } from './steps/rename';
import { SetAside } from './steps/set-aside';
import { TallyStep } from './tally';
import { WriteMarks } from './steps/write-marks';

/** The end of the job, in order: each step with what it would do, a figure and a way back. */
export function WrapUp({
  shoot,
  onFilter,
  onCompare,
  onNumber,
}: {
  shoot: Shoot;
  onFilter: (filter: Filter) => void;
  onCompare: (ids: readonly number[]) => void;
  /** the picks are to be trimmed or filled to the number */
  onNumber: () => void;
}) {
  const { hash } = useLocation();
  useEffect(() => {
    const number = Number(/^#step-(\d+)$/.exec(hash)?.[1]);
    if (number) goToStep(number);
  }, [hash]);
  return (
    <div className="h-full overflow-auto bg-chrome" id="wrap-up">
      <div className="mx-auto flex max-w-6xl gap-8 px-6 py-8">
        <Steps />
        <div className="flex min-w-0 max-w-3xl flex-1 flex-col gap-6">
          <h2 className="text-xl font-bold">
            <Trans>Wrap up</Trans>
          </h2>
          <TallyStep shoot={shoot} onFilter={onFilter} onCompare={onCompare} onNumber={onNumber} />
          <WriteMarks shoot={shoot} />
          <Rename shoot={shoot} />
          <Deliver shoot={shoot} />
          <HandOver shoot={shoot} />
          <Prove shoot={shoot} />
          <Lists shoot={shoot} />
          <SetAside shoot={shoot} />
        </div>
      </div>
    </div>
  );
}

function goToStep(number: number): void {
  const step = document.getElementById(`step-${number}`);
  step?.scrollIntoView({ block: 'start' });
  step?.focus({ preventScroll: true });
}

/** The steps by name, each a way there. */
function Steps() {
  const [last, setLast] = useState('');
  return (
    <nav
      aria-label={t`Steps of the wrap-up`}
      className="sticky top-8 hidden w-52 shrink-0 self-start pt-11 lg:block"
    >
      <ol className="flex flex-col">
        {WRAP_UP_STEPS.map(([, title], n) => (
          <li key={title}>
            <button
              type="button"
              aria-current={last === title ? 'step' : undefined}
              className="figures flex w-full gap-3 rounded px-2 py-1.5 text-left hover:bg-paper aria-[current]:font-bold"
              onClick={() => {
                setLast(title);
                goToStep(n + 1);
              }}
            >
              <span className="w-3 text-quiet">{n + 1}</span>
              {title}
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}

/** One step of the wrap-up. */
export function Step({
  number,
  title,
  children,
}: {
  number: number;
  title: string;
  children: React.ReactNode;
}) {
  return (
    <section
      id={`step-${number}`}
      aria-label={title}
      tabIndex={-1}
      className="figures flex scroll-mt-4 outline-none flex-col gap-3 rounded-lg border border-line bg-paper/70 p-5"
    >
      <h3 className="text-base font-bold">
        <span className="mr-2 text-quiet">{number}</span>
        {title}
      </h3>
      {children}
    </section>
  );
}
