import { Trans } from '@lingui/react/macro';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';

import { api, ask, inWords, type Shoot } from '../../api/client';
import { appliesIn, SHOW, type Command } from '../../commands/command';
import { withKeys } from '../../commands/key-set';
import { learnKeyboard } from '../../commands/keys';
import { forGuest } from '../../commands/guests';
import { commandsFor } from '../../commands/registry';
import type { View } from '../../commands/stage';
import { CommandsKnown } from '../../parts/key-cap';
import { StartNotices } from '../../parts/start-notices';
import { Timeline } from '../../parts/timeline';
import { useCompare } from '../../state/compare';
import { followPair } from '../../state/paired';
import { followSeen } from '../../state/seen';
import { useLabels, useSettings } from '../../state/settings';
import { useGuest } from '../../state/sharing';
import { useShoot } from '../../state/shoot';
import { CaptionsPanel } from '../captions/captions-panel';
import { BottomLine } from './bottom-line';
import { FrameMenu } from './frame-menu';
import { AllFacts } from '../frame/all-facts';
import { FilterPanel } from '../filter/filter-panel';
import { Notices, Problems } from './notices';
import { Panels } from './panels';
import { StageViews } from './stage-views';
import { TopLine } from './top-line';
import { GroupsButton } from '../groups/groups-button';
import { useKeys } from '../keys/use-keys';
import { useOpened } from './use-opened';
import { useStage } from './use-stage';
import { Tour } from './tour';

/** One shoot: timeline, stage, top and bottom line, and the keys. */
export function ShootView({ view }: { view: View }) {
  const shootId = Number(useParams()['shoot']);
  const client = useQueryClient();
  const { data: shoot, error } = useQuery({
    queryKey: ['shoot', shootId],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}', { params: { path: { shoot: shootId } } })),
  });
  const opened = useOpened(
    shootId,
    shoot,
    () => void client.invalidateQueries({ queryKey: ['shoot', shootId] }),
  );
  if (error) {
    return (
      <Message>
        <p>{inWords(error)}</p>
        <Link to="/" className="underline">
          <Trans>All shoots</Trans>
        </Link>
      </Message>
    );
  }
  if (!shoot || !opened.ready)
    return (
      <Message>
        <Trans>Opening …</Trans>
      </Message>
    );
  return <OpenShoot shoot={shoot} view={view} lost={opened.lost} />;
}

function Message({ children }: { children: React.ReactNode }) {
  return <main className="flex h-full flex-col items-center justify-center gap-4">{children}</main>;
}

function OpenShoot({ shoot, view, lost }: { shoot: Shoot; view: View; lost: boolean }) {
  const [settings, saveSettings] = useSettings();
  const labels = useLabels();
  const guest = useGuest();
  const opened = useStage({ shoot, view, settings, saveSettings, labels });
  const { stage, setFilter, panel, setPanel, filterOpen, setFilterOpen, setClose } = opened;

  const standard = useMemo(() => commandsFor(labels), [labels]);
  const commands = useMemo(
    () => withKeys(forGuest(standard, guest), settings.keys.keys),
    [standard, guest, settings.keys.keys],
  );
  useEffect(() => useShoot.getState().follow(settings.follow_newest), [settings.follow_newest]);
  useEffect(() => useShoot.getState().sortBy(settings.sort), [settings.sort]);
  useEffect(() => {
    useCompare.setState({ most: settings.tiles });
  }, [settings.tiles]);
  const [, setKeyboardKnown] = useState(false);
  useEffect(() => void learnKeyboard().then(() => setKeyboardKnown(true)), []);
  useEffect(() => followPair(shoot.id), [shoot.id]);
  // How far the cull is, is the owner's.
  useEffect(() => (guest ? undefined : followSeen(shoot.id)), [shoot.id, guest]);
  const endGlance = useCallback(() => setClose(0), [setClose]);
  useKeys(commands, stage, panel !== '', endGlance);

  // A command of another view is run there, once that is on the stage.
  const waiting = useRef<Command | null>(null);
  useEffect(() => {
    const command = waiting.current;
    if (!command || !appliesIn(command, view)) return;
    waiting.current = null;
    command.run(stage);
  }, [view, stage]);
  const runElsewhere = (command: Command) => {
    waiting.current = command;
    stage.show(command.in![0]!);
  };

  const offStage = view === 'wrap-up' || view === 'hints';
  const hidden = opened.bare && !offStage;
  return (
    <CommandsKnown.Provider value={commands}>
      <div className="flex h-full">
        {!hidden && <Timeline theme={settings.theme} bracketed={!offStage} />}
        <div className="flex min-w-0 flex-1 flex-col">
          {!hidden && (
            <TopLine
              shoot={shoot}
              view={view}
              settings={settings}
              filterOpen={filterOpen}
              groups={
                <GroupsButton
                  open={opened.groupsOpen}
                  onOpen={opened.setGroupsOpen}
                  commands={commands}
                  stage={stage}
                  onFilter={setFilter}
                />
              }
              onView={stage.show}
              onFilter={() => setFilterOpen(!filterOpen)}
              onSettings={saveSettings}
              onStop={stage.stopIndexing}
              onGoOn={stage.lookAgain}
              onFollow={stage.toggleFollow}
              onClocks={stage.openClocks}
              onPanel={setPanel}
            />
          )}
          {!hidden && filterOpen && !offStage && (
            <FilterPanel labels={labels} typing={opened.typing} onChange={setFilter} />
          )}
          {hidden && <Problems lost={lost} />}
          {!hidden && <StartNotices />}
          {!hidden && view === 'sheet' && (
            <Tour settings={settings} commands={commands} onSettings={saveSettings} />
          )}
          {!hidden && <Notices shoot={shoot} lost={lost} onAgain={stage.lookAgain} />}
          <div className="relative flex min-h-0 flex-1">
            <FrameMenu commands={commands} stage={stage} labels={labels} off={offStage}>
              <main className="relative min-h-0 min-w-0 flex-1">
                <StageViews
                  shoot={shoot}
                  view={view}
                  settings={settings}
                  commands={commands}
                  labels={labels}
                  opened={opened}
                  mayMark={!guest || guest.mark}
                  onSettings={saveSettings}
                />
              </main>
            </FrameMenu>
            {!hidden && (view === 'sheet' || view === 'frame') && <CaptionsPanel />}
            {!hidden && SHOW.includes(view) && <AllFacts />}
          </div>
          {!hidden && (
            <BottomLine
              shoot={shoot}
              settings={settings}
              commands={commands}
              stage={stage}
              onSettings={saveSettings}
              onUndo={() => stage.walk('undo')}
              onPanel={setPanel}
              onMark={
                offStage || view === 'review' || view === 'number' || (guest && !guest.mark)
                  ? undefined
                  : stage.mark
              }
            />
          )}
        </div>
        <Panels
          shoot={shoot}
          panel={panel}
          setPanel={setPanel}
          setFilter={setFilter}
          stage={stage}
          commands={commands}
          standard={standard}
          labels={labels}
          settings={settings}
          saveSettings={saveSettings}
          onElsewhere={runElsewhere}
        />
      </div>
    </CommandsKnown.Provider>
  );
}
