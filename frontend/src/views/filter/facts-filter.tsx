import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useRef, useState } from 'react';

import {
  api,
  ask,
  inWords,
  type Choice,
  type FactChoice,
  type Filter,
  type FilterEdit,
  type FilterPart,
} from '../../api/client';
import { counted } from '../../texts/numbers';
import { useShoot } from '../../state/shoot';
import { useFilterFacts } from './use-filter-facts';

type RangedFact = Extract<FilterEdit, { do: 'range' }>['fact'];

/** Conditions on the facts of frames, clicked together; they stand in the written form, too. */
export function FactsFilter({
  filter,
  onChange,
}: {
  filter: Filter;
  onChange: (filter: Filter) => void;
}) {
  const { offered } = useFilterFacts();
  const { data: read } = useQuery({
    queryKey: ['written', filter.written],
    queryFn: () => ask(api.POST('/api/filters/written', { body: { text: filter.written } })),
    placeholderData: (last) => last,
    staleTime: Infinity,
  });
  const parts = read?.parts ?? [];
  const edit = async (change: FilterEdit) => {
    try {
      const after = await ask(
        api.POST('/api/filters/written/edit', { body: { text: filter.written, edit: change } }),
      );
      if (after.problem) useShoot.getState().say(after.problem, true);
      else onChange({ ...filter, written: after.text });
    } catch (error) {
      useShoot.getState().say(inWords(error), true);
    }
  };
  return (
    <div className="flex basis-full flex-wrap items-center gap-1">
      {offered.map((fact) => (
        <FactButton
          key={fact.fact}
          fact={fact}
          filter={filter}
          part={parts.find((part) => part.fact === fact.fact)}
          onEdit={(change) => void edit(change)}
        />
      ))}
      {parts.length > 0 && (
        <ul aria-label={t`Conditions`} className="ml-2 flex flex-wrap items-center gap-1">
          {parts.length > 1 && (
            <li>
              <button
                type="button"
                className="h-7 px-1 underline"
                title={t`change between all of them and any of them`}
                onClick={() =>
                  void edit({ do: 'join', how: read!.joined === 'all' ? 'any' : 'all' })
                }
              >
                {read!.joined === 'all' ? t`all of` : t`any of`}
              </button>
            </li>
          )}
          {parts.map((part, n) => (
            <Condition
              key={`${n} ${part.words}`}
              part={part}
              onTurn={() => void edit({ do: 'turn', part: n })}
              onRemove={() => void edit({ do: 'remove', part: n })}
            />
          ))}
        </ul>
      )}
    </div>
  );
}

function Condition({
  part,
  onTurn,
  onRemove,
}: {
  part: FilterPart;
  onTurn: () => void;
  onRemove: () => void;
}) {
  return (
    <li className="figures flex h-7 items-center rounded border border-ink bg-paper">
      <button
        type="button"
        className="h-full px-2"
        title={t`turn into its opposite`}
        onClick={onTurn}
      >
        {part.words}
      </button>
      <button
        type="button"
        aria-label={t`Take out ${part.words}`}
        className="h-full pr-1.5 text-quiet hover:text-ink"
        onClick={onRemove}
      >
        <X size={14} />
      </button>
    </li>
  );
}

function FactButton({
  fact,
  filter,
  part,
  onEdit,
}: {
  fact: FactChoice;
  filter: Filter;
  part: FilterPart | undefined;
  onEdit: (edit: FilterEdit) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className={`flex h-7 items-center rounded border px-2 ${part ? 'border-ink bg-ink text-paper' : 'border-line bg-paper'}`}
      >
        {fact.offered}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          // The keys belong to the stage again, not to the button that opened this.
          onCloseAutoFocus={(event) => event.preventDefault()}
          align="start"
          sideOffset={4}
          collisionPadding={8}
          aria-label={t`Filter by ${fact.offered}`}
          className="z-30 max-h-[60vh] w-80 overflow-y-auto rounded border border-line bg-chrome p-2 shadow-lg"
        >
          <Choices fact={fact} filter={filter} part={part} onEdit={onEdit} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** The values of a fact with the frames that each would leave, as bars; drawn across, a range. */
function Choices({
  fact,
  filter,
  part,
  onEdit,
}: {
  fact: FactChoice;
  filter: Filter;
  part: FilterPart | undefined;
  onEdit: (edit: FilterEdit) => void;
}) {
  const shootId = useShoot((state) => state.shootId);
  const found = useShoot((state) => state.found);
  const { data: choices } = useQuery({
    queryKey: ['choices', shootId, fact.fact, filter, found],
    queryFn: () =>
      ask(
        api.POST('/api/shoots/{shoot}/choices/{fact}', {
          params: { path: { shoot: shootId, fact: fact.fact } },
          body: filter,
        }),
      ),
    placeholderData: (last) => last,
  });
  const from = useRef<number | null>(null);
  const [drawn, setDrawn] = useState<readonly [number, number] | null>(null);
  if (!choices)
    return (
      <p className="px-1 text-quiet">
        <Trans>Counting …</Trans>
      </p>
    );
  if (!choices.length)
    return (
      <p className="px-1">
        <Trans>No frame that passes the rest of the filter has this fact.</Trans>
      </p>
    );
  const most = Math.max(1, ...choices.map((choice) => choice.count));

  const take = (start: number, end: number) => {
    const [first, last] = [choices[Math.min(start, end)]!, choices[Math.max(start, end)]!];
    if (first === last && first.high === null) {
      onEdit({ do: 'toggle', fact: fact.fact, value: first.value });
      return;
    }
    const again = first === last && isOn(first, part);
    const low = Number(first.value);
    // A bin of time ends before the next begins.
    const high =
      last.high === null ? Number(last.value) : last.high - (fact.fact === 'time' ? 1 : 0);
    onEdit({
      do: 'range',
      fact: fact.fact as RangedFact,
      low: again ? null : low,
      high: again ? null : high,
    });
  };
  const end = () => {
    if (drawn) take(...drawn);
    from.current = null;
    setDrawn(null);
  };
  return (
    <>
      <ul
        className="flex flex-col"
        onPointerLeave={() => {
          from.current = null;
          setDrawn(null);
        }}
      >
        {choices.map((choice, n) => {
          const on = drawn
            ? n >= Math.min(...drawn) && n <= Math.max(...drawn)
            : isOn(choice, part);
          return (
            <li key={choice.value}>
              <button
                type="button"
                aria-pressed={on}
                className={`figures relative flex h-7 w-full touch-none items-center justify-between rounded px-2 text-left select-none ${on ? 'font-bold' : ''}`}
                onPointerDown={(event) => {
                  if (event.button) return;
                  event.currentTarget.releasePointerCapture(event.pointerId);
                  from.current = n;
                  setDrawn([n, n]);
                }}
                onPointerEnter={() => {
                  if (from.current !== null && fact.ranged) setDrawn([from.current, n]);
                }}
                onPointerUp={end}
                // A key presses it without a pointer.
                onClick={(event) => {
                  if (event.detail === 0) take(n, n);
                }}
              >
                <span
                  aria-hidden
                  className={`absolute inset-y-0.5 left-0 rounded ${on ? 'bg-ink/25' : 'bg-ink/10'}`}
                  style={{ width: `${(100 * choice.count) / most}%` }}
                />
                <span className="relative flex min-w-0 items-center gap-1.5">
                  <span aria-hidden className="w-3 shrink-0">
                    {on ? '✓' : ''}
                  </span>
                  <span className="truncate">{choice.words}</span>
                </span>
                <span className="relative">{choice.count}</span>
              </button>
            </li>
          );
        })}
      </ul>
      <p className="px-2 pt-1 text-[13px] text-quiet">
        {fact.ranged
          ? part
            ? t`Click one, or draw across several.`
            : t`Click one, or draw across several. ${counted(choices.length, 'choice')}`
          : t`Click the ones you want.`}
      </p>
    </>
  );
}

function isOn(choice: Choice, part: FilterPart | undefined): boolean {
  if (!part) return false;
  if (part.values.length) return part.values.includes(choice.value);
  const value = Number(choice.value);
  const low = part.low ?? -Infinity;
  const high = part.high ?? Infinity;
  return value >= low - 1e-9 && (choice.high === null ? value <= high + 1e-9 : value < high);
}
