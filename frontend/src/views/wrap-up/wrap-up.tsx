import type { Filter, Shoot } from '../../api/client';
import { Deliver } from './deliver';
import { Lists } from './lists';
import { SetAside } from './set-aside';
import { TallyStep } from './tally';
import { WriteMarks } from './write-marks';

/** The end of the job, in order: look at it in numbers, write marks and texts, deliver, hand lists on, set the rejects aside. */
export function WrapUp({
  shoot,
  onFilter,
  onCompare,
}: {
  shoot: Shoot;
  onFilter: (filter: Filter) => void;
  onCompare: (ids: readonly number[]) => void;
}) {
  return (
    <div className="h-full overflow-auto bg-chrome">
      <div className="mx-auto flex max-w-3xl flex-col gap-6 px-6 py-8">
        <h2 className="text-xl font-bold">Wrap up</h2>
        <TallyStep shoot={shoot} onFilter={onFilter} onCompare={onCompare} />
        <WriteMarks shoot={shoot} />
        <Deliver shoot={shoot} />
        <Lists shoot={shoot} />
        <SetAside shoot={shoot} />
      </div>
    </div>
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
      aria-label={title}
      className="figures flex flex-col gap-3 rounded-lg border border-line bg-paper/70 p-5"
    >
      <h3 className="text-base font-bold">
        <span className="mr-2 text-quiet">{number}</span>
        {title}
      </h3>
      {children}
    </section>
  );
}
