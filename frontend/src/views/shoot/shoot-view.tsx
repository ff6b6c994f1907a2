import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { Popover } from 'radix-ui';
import { Link, useParams } from 'react-router';

import { api, ask, inWords, type Settings, type Shoot } from '../../api/client';
import { withKeys } from '../../commands/key-set';
import { learnKeyboard } from '../../commands/keys';
import { forGuest } from '../../commands/guests';
import { commandsFor } from '../../commands/registry';
import type { View } from '../../commands/stage';
import { StartNotices } from '../../parts/start-notices';
import { Timeline } from '../../parts/timeline';
import { walk } from '../../state/marking';
import { followPair } from '../../state/paired';
import { followSeen } from '../../state/seen';
import { useLabels, useSettings } from '../../state/settings';
import { useGuest } from '../../state/sharing';
import { useShoot } from '../../state/shoot';
import { FrameView } from '../frame/frame-view';
import { HintsView } from '../hints/hints-view';
import { NumberView } from '../number/number-view';
import { KnockoutView } from '../knockout/knockout-view';
import { ReviewView } from '../review/review-view';
import { Sheet } from '../sheet/sheet';
import { SideView } from '../side/side-view';
import { WrapUp } from '../wrap-up/wrap-up';
import { CaptionsPanel } from '../captions/captions-panel';
import { AllFacts } from '../frame/all-facts';
import { BottomLine } from './bottom-line';
import { Clocks } from '../groups/clocks';
import { CommandSearch } from '../keys/command-search';
import { FilterPanel } from '../filter/filter-panel';
import { GroupsPanel } from '../groups/groups-panel';
import { History } from './history';
import { KeyEditor } from '../keys/key-editor';
import { KeySheet } from '../keys/key-sheet';
import { LabelEditor } from '../settings/label-editor';
import { Empty, Notices, NothingPasses, Problems } from './notices';
import { PacePanel } from './pace';
import { SharePanel } from '../guests/share-panel';
import { TopLine } from './top-line';
import { useKeys } from '../keys/use-keys';
import { useOpened } from './use-opened';
import { flipFold, useStage } from './use-stage';
import { Tour } from './tour';
import { WayPanel } from './way';

/** Views that show frames of their own choice, whatever the filter lets through. */
const OWN_SET: ReadonlySet<View> = new Set(['side', 'knockout', 'review', 'number']);

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
  const client = useQueryClient();
  const [settings, saveSettings] = useSettings();
  const labels = useLabels();
  const guest = useGuest();
  const {
    stage,
    show,
    setFilter,
    leaveKnockout,
    panel,
    setPanel,
    filterOpen,
    setFilterOpen,
    groupsOpen,
    setGroupsOpen,
    typing,
    bare,
    close,
    setClose,
    over,
  } = useStage({ shoot, view, settings, saveSettings, labels });
  const total = useShoot((state) => state.frames.length);
  const shown = useShoot((state) => state.visible.length);
  const filterNow = useShoot((state) => state.filter);
  const found = useShoot((state) => state.found);
  const undo = useShoot((state) => state.undo);

  const standard = useMemo(() => commandsFor(labels), [labels]);
  const commands = useMemo(
    () => withKeys(forGuest(standard, guest), settings.keys.keys),
    [standard, guest, settings.keys.keys],
  );
  useEffect(() => useShoot.getState().follow(settings.follow_newest), [settings.follow_newest]);
  useEffect(() => useShoot.getState().sortBy(settings.sort), [settings.sort]);
  const [, setKeyboardKnown] = useState(false);
  useEffect(() => void learnKeyboard().then(() => setKeyboardKnown(true)), []);
  useEffect(() => followPair(shoot.id), [shoot.id]);
  // How far the cull is, is the owner's.
  useEffect(() => (guest ? undefined : followSeen(shoot.id)), [shoot.id, guest]);
  const endGlance = useCallback(() => setClose(0), [setClose]);
  useKeys(commands, stage, panel !== '', endGlance);

  const changeSettings = (next: Settings) => saveSettings(next);
  const offStage = view === 'wrap-up' || view === 'hints';
  const hidden = bare && !offStage;
  return (
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
              <Popover.Root open={groupsOpen} onOpenChange={setGroupsOpen}>
                <Popover.Trigger
                  title={t`Groups (Ctrl+G)`}
                  className="shrink-0 border-b-2 border-quiet/40 text-quiet hover:text-ink"
                >
                  <Trans>groups</Trans>
                </Popover.Trigger>
                <Popover.Portal>
                  <Popover.Content
                    aria-label={t`Groups`}
                    // The keys belong to the stage again, not to the button that opened this.
                    onCloseAutoFocus={(event) => event.preventDefault()}
                    align="start"
                    sideOffset={8}
                    className="z-40 w-96 rounded-lg border border-line bg-chrome p-4 shadow-xl"
                  >
                    <GroupsPanel commands={commands} stage={stage} onFilter={setFilter} />
                  </Popover.Content>
                </Popover.Portal>
              </Popover.Root>
            }
            onView={stage.show}
            onFilter={() => setFilterOpen(!filterOpen)}
            onSettings={changeSettings}
            onStop={stage.stopIndexing}
            onGoOn={stage.lookAgain}
            onFollow={stage.toggleFollow}
            onClocks={stage.openClocks}
            onPanel={setPanel}
          />
        )}
        {!hidden && filterOpen && !offStage && (
          <FilterPanel labels={labels} typing={typing} onChange={setFilter} />
        )}
        {hidden && <Problems lost={lost} />}
        {!hidden && <StartNotices />}
        {!hidden && view === 'sheet' && (
          <Tour settings={settings} commands={commands} onSettings={changeSettings} />
        )}
        {!hidden && <Notices shoot={shoot} lost={lost} onAgain={stage.lookAgain} />}
        <div className="flex min-h-0 flex-1">
          <main className="relative min-h-0 min-w-0 flex-1">
            {view === 'wrap-up' ? (
              <WrapUp
                shoot={shoot}
                onFilter={(filter) => {
                  setFilter(filter);
                  show('sheet');
                }}
                onCompare={(ids) => {
                  const { select, go } = useShoot.getState();
                  go(ids[0]);
                  select(ids);
                  stage.show('side');
                }}
                onNumber={() => show('number')}
              />
            ) : view === 'hints' ? (
              <HintsView
                commands={commands}
                labels={labels}
                onOpen={(id) => {
                  useShoot.getState().go(id);
                  show('frame');
                }}
                onFilter={(filter) => {
                  setFilter(filter);
                  show('sheet');
                }}
              />
            ) : total === 0 ? (
              <Empty shoot={shoot} />
            ) : shown === 0 && !OWN_SET.has(view) ? (
              <NothingPasses
                filter={filterNow}
                found={found}
                onChange={setFilter}
                onUndo={undo ? () => walk('undo') : undefined}
              />
            ) : view === 'sheet' ? (
              <Sheet
                rowHeight={settings.row_height}
                labels={labels}
                onOpen={() => show('frame')}
                onFold={flipFold}
              />
            ) : view === 'side' ? (
              <SideView
                commands={commands}
                labels={labels}
                near={close}
                bare={bare}
                onClose={setClose}
                onKnockout={stage.side.knockout}
                onOnly={() => stage.groups.onlyThis()}
              />
            ) : view === 'knockout' ? (
              <KnockoutView
                commands={commands}
                labels={labels}
                near={close}
                bare={bare}
                onClose={setClose}
                onDone={leaveKnockout}
              />
            ) : view === 'review' ? (
              <ReviewView
                commands={commands}
                labels={labels}
                near={close}
                bare={bare}
                onClose={setClose}
                onDone={() => show('sheet')}
                onNumber={() => show('number')}
              />
            ) : view === 'number' ? (
              <NumberView
                wanted={shoot.keep_target}
                commands={commands}
                labels={labels}
                near={close}
                bare={bare}
                onClose={setClose}
                onDone={() => show('sheet')}
                onNumber={() => setPanel('pace')}
              />
            ) : (
              <FrameView
                labels={labels}
                facts={settings.facts_shown}
                bare={bare}
                over={over}
                close={close}
                glassScale={settings.magnifier}
                onClose={setClose}
                onStep={stage.step}
              />
            )}
          </main>
          {!hidden && (view === 'sheet' || view === 'frame') && <CaptionsPanel />}
        </div>
        {!hidden && (
          <BottomLine
            shoot={shoot}
            settings={settings}
            commands={commands}
            onSettings={changeSettings}
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
      <KeySheet
        open={panel === 'keys'}
        onClose={() => setPanel('')}
        commands={commands}
        labels={labels}
        onChange={() => setPanel('key-editor')}
      />
      <KeyEditor
        open={panel === 'key-editor'}
        onClose={() => setPanel('')}
        commands={standard}
        set={settings.keys}
        onChange={(keys) => saveSettings({ ...settings, keys })}
      />
      <LabelEditor open={panel === 'labels'} onClose={() => setPanel('')} labels={labels} />
      <History shootId={shoot.id} open={panel === 'history'} onClose={() => setPanel('')} />
      <PacePanel
        shoot={shoot}
        open={panel === 'pace'}
        onClose={() => setPanel('')}
        onFilter={setFilter}
        onNumber={() => show('number')}
      />
      <WayPanel
        shoot={shoot}
        open={panel === 'way'}
        onClose={() => setPanel('')}
        onChosen={(filter) => {
          setFilter(filter);
          void client.invalidateQueries({ queryKey: ['shoot', shoot.id] });
        }}
      />
      <SharePanel shoot={shoot} open={panel === 'share'} onClose={() => setPanel('')} />
      <AllFacts open={panel === 'facts'} onClose={() => setPanel('')} />
      <Clocks shootId={shoot.id} open={panel === 'clocks'} onClose={() => setPanel('')} />
      <CommandSearch
        open={panel === 'search'}
        onClose={() => setPanel('')}
        commands={commands}
        stage={stage}
        shootId={shoot.id}
        onFilter={setFilter}
      />
    </div>
  );
}
