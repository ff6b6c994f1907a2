import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { Command as Search } from 'cmdk';
import { useState } from 'react';
import { useNavigate } from 'react-router';

import { api, ask, type Filter } from '../../api/client';
import { appliesIn, type Command } from '../../commands/command';
import type { Stage } from '../../commands/stage';
import { Panel } from '../../parts/dialog';
import { KeyCap } from '../../parts/key-cap';
import { useShoot } from '../../state/shoot';
import { counted } from '../../texts/numbers';

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
}) {
  return (
    <Panel open={open} onClose={onClose} title={t`Search`}>
      <Found onClose={onClose} {...rest} />
    </Panel>
  );
}

/** Whether all words that are typed are in a name; the nearer to its front, the better. */
function matches(name: string, typed: string): number {
  const title = name.toLowerCase();
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.every((word) => title.includes(word))) return 0;
  return 1 / (1 + title.indexOf(words[0] ?? ''));
}

function Found({
  onClose,
  commands,
  stage,
  shootId,
  onFilter,
}: {
  onClose: () => void;
  commands: readonly Command[];
  stage: Stage;
  shootId: number;
  onFilter: (filter: Filter) => void;
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
        <Search.Group heading={t`Commands`}>
          {commands
            .filter((command) => command.id !== 'search' && appliesIn(command, stage.view))
            .map((command) => (
              <Search.Item
                key={command.id}
                value={command.title}
                onSelect={then(() => command.run(stage))}
                className={ITEM}
              >
                {command.title}
                <span className="flex gap-1">
                  {command.keys.slice(0, 1).map((key) => (
                    <KeyCap key={key} chord={key} />
                  ))}
                </span>
              </Search.Item>
            ))}
        </Search.Group>
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
