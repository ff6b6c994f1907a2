import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { Command as Search } from 'cmdk';
import { useState } from 'react';
import { useNavigate } from 'react-router';

import { api, ask, type Filter } from '../../api/client';
import { appliesIn, whereWords, type Command } from '../../commands/command';
import { EVERYDAY } from '../../commands/everyday';
import type { Stage } from '../../commands/stage';
import { Panel } from '../../parts/dialog';
import { KeyCap } from '../../parts/key-cap';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { counted } from '../../texts/numbers';
import { useFilterFacts } from '../filter/use-filter-facts';

/** So many frames are listed at most; more letters narrow them down. */
const MOST_FRAMES = 8;
const ITEM =
  'flex cursor-pointer items-center justify-between gap-4 rounded px-3 py-1.5 data-[selected=true]:bg-ink data-[selected=true]:text-paper';

/** Type a few letters of any command, shoot, saved filter or frame, and go there. */
export function CommandSearch({
  open,
  onClose,
  ...rest
}: {
  open: boolean;
  onClose: () => void;
  commands: readonly Command[];
  stage: Stage;
  shootId: number;
  onFilter: (filter: Filter) => void;
  /** run a command of another view: there */
  onElsewhere: (command: Command) => void;
}) {
  return (
    <Panel open={open} onClose={onClose} title={t`Search`}>
      <Found onClose={onClose} {...rest} />
    </Panel>
  );
}

/**
 * Whether all words that are typed are in a name, or among the everyday words for it; the nearer to
 * the front of the name, the better.
 */
function matches(name: string, typed: string, everyday: readonly string[] = []): number {
  const title = name.toLowerCase();
  const more = everyday.join(' ').toLowerCase();
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.every((word) => title.includes(word) || more.includes(word))) return 0;
  const at = title.indexOf(words[0] ?? '');
  return at < 0 ? 0.001 : 1 / (1 + at);
}

function Found({
  onClose,
  commands,
  stage,
  shootId,
  onFilter,
  onElsewhere,
}: {
  onClose: () => void;
  commands: readonly Command[];
  stage: Stage;
  shootId: number;
  onFilter: (filter: Filter) => void;
  onElsewhere: (command: Command) => void;
}) {
  const [typed, setTyped] = useState('');
  const navigate = useNavigate();
  const frames = useShoot((state) => state.frames);
  const { data: shoots } = useQuery({
    queryKey: ['shoots'],
    queryFn: () => ask(api.GET('/api/shoots')),
  });
  const { data: filters } = useQuery({
    queryKey: ['filters'],
    queryFn: () => ask(api.GET('/api/filters')),
  });
  const then = (work: () => void) => () => {
    onClose();
    work();
  };
  const wanted = typed.trim().toLowerCase();
  const named =
    wanted.length < 2
      ? []
      : frames.filter((frame) => frame.name.toLowerCase().includes(wanted)).slice(0, MOST_FRAMES);
  const written = useWritten(typed);
  const offered = commands.filter(({ id }) => id !== 'search');
  const here = offered.filter((command) => appliesIn(command, stage.view));
  const elsewhere = offered.filter((command) => !appliesIn(command, stage.view));
  const item = (command: Command, run: () => void) => (
    <Search.Item
      key={command.id}
      value={`${command.title} ${command.id}`}
      keywords={[EVERYDAY[command.id] ?? '']}
      onSelect={then(run)}
      className={ITEM}
    >
      <span>
        {command.title}
        {!appliesIn(command, stage.view) && (
          <span className="ml-2 text-[13px] opacity-70">
            <Trans>in: {whereWords(command)}</Trans>
          </span>
        )}
      </span>
      <span className="flex gap-1">
        {command.keys.slice(0, 1).map((key) => (
          <KeyCap key={key} chord={key} />
        ))}
      </span>
    </Search.Item>
  );
  return (
    <Search loop label={t`Commands, frames, filters, shoots`} filter={matches}>
      <Search.Input
        autoFocus
        value={typed}
        onValueChange={setTyped}
        placeholder={t`command, frame, saved filter or shoot`}
        className="h-10 w-full rounded border border-line bg-paper px-3"
      />
      <Search.List className="mt-3 max-h-[50vh] overflow-auto [&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-quiet">
        <Search.Empty className="p-3 text-quiet">
          <Trans>Nothing is called that.</Trans>
        </Search.Empty>
        {named.length > 0 && (
          <Search.Group heading={t`Frames`}>
            {named.map((frame) => (
              <Search.Item
                key={frame.id}
                value={`frame ${frame.name} ${frame.id}`}
                className={ITEM}
                onSelect={then(() => {
                  const { visible, go } = useShoot.getState();
                  if (!visible.includes(frame.id)) stage.clearFilter();
                  go(frame.id);
                })}
              >
                {frame.name}
                <span>
                  <Trans>group {frame.group + 1}</Trans>
                </span>
              </Search.Item>
            ))}
          </Search.Group>
        )}
        {written && (
          <Search.Group heading={t`Filter`} forceMount>
            <Search.Item
              forceMount
              value={`filter by ${typed}`}
              className={ITEM}
              disabled={!!written.problem}
              onSelect={then(() => onFilter({ ...NO_FILTER, written: typed.trim() }))}
            >
              {written.problem ? (
                <span>{written.problem}</span>
              ) : (
                <span>
                  <Trans>Show only: {written.words}</Trans>
                </span>
              )}
            </Search.Item>
          </Search.Group>
        )}
        <Search.Group heading={t`Commands`}>
          {here.map((command) => item(command, () => command.run(stage)))}
        </Search.Group>
        {wanted && (
          <Search.Group heading={t`Commands of other views`}>
            {elsewhere.map((command) => item(command, () => onElsewhere(command)))}
          </Search.Group>
        )}
        {!!filters?.length && (
          <Search.Group heading={t`Saved filters`}>
            {filters.map((saved) => (
              <Search.Item
                key={saved.name}
                value={`filter ${saved.name}`}
                className={ITEM}
                onSelect={then(() => onFilter(saved.filter as Filter))}
              >
                {saved.name}
              </Search.Item>
            ))}
          </Search.Group>
        )}
        <Search.Group heading={t`Shoots`}>
          {shoots
            ?.filter((shoot) => shoot.id !== shootId)
            .map((shoot) => (
              <Search.Item
                key={shoot.id}
                value={`shoot ${shoot.name} ${shoot.id}`}
                className={ITEM}
                onSelect={then(() => void navigate(`/shoots/${shoot.id}`))}
              >
                {shoot.name}
                <span>{counted(shoot.tally.frames, 'frame')}</span>
              </Search.Item>
            ))}
          <Search.Item
            value="all shoots"
            className={ITEM}
            onSelect={then(() => void navigate('/'))}
          >
            <Trans>All shoots</Trans>
          </Search.Item>
        </Search.Group>
      </Search.List>
    </Search>
  );
}

/** What typed conditions mean as a filter, or what is wrong with them; nothing for other words. */
function useWritten(typed: string): { words: string; problem: string } | undefined {
  const { flags } = useFilterFacts();
  const text = typed.trim();
  const looks =
    /[<>=~≤≥]|\.\./.test(text) || text.split(/\s+/).some((word) => flags.includes(word));
  const { data } = useQuery({
    queryKey: ['written', text],
    queryFn: () => ask(api.POST('/api/filters/written', { body: { text } })),
    staleTime: Infinity,
    enabled: looks,
  });
  return looks ? data : undefined;
}
