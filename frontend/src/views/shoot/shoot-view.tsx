import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Popover } from 'radix-ui';
import { Link, useNavigate, useParams } from 'react-router';

import { api, ask, inWords, type Filter, type Settings, type Shoot } from '../../api/client';
import { withKeys } from '../../commands/key-set';
import { learnKeyboard } from '../../commands/keys';
import { commandsFor } from '../../commands/registry';
import type { Over, Stage, View } from '../../commands/stage';
import { Timeline } from '../../parts/timeline';
import { compareHere, hasSet, shownNow, useCompare } from '../../state/compare';
import { endKnockout, useKnockout, standing, walkBack } from '../../state/knockout';
import { mark, targets, walk } from '../../state/marking';
import { followPair, isSecond, openSecond } from '../../state/paired';
import { useLabels, useSettings } from '../../state/settings';
import { isEmpty, NO_FILTER, useShoot } from '../../state/shoot';
import { listen, refind, reload } from '../../state/sync';
import { FrameView } from '../frame/frame-view';
import type { Close } from '../frame/photograph';
import { KnockoutView } from '../knockout/knockout-view';
import { Sheet } from '../sheet/sheet';
import { SideView } from '../side/side-view';
import { WrapUp } from '../wrap-up/wrap-up';
import { AllFacts } from './all-facts';
import { AFTER_ORDER, AFTER_WORDS, BottomLine } from './bottom-line';
import { Clocks } from './clocks';
import { CommandSearch } from './command-search';
import { FilterPanel } from './filter-panel';
import { GroupsPanel } from './groups-panel';
import { History } from './history';
import { KeyEditor } from './key-editor';
import { KeySheet } from './key-sheet';
import { LabelEditor } from './label-editor';
import { moves } from './moves';
import { Empty, Notices, NothingPasses, Problems } from './notices';
import { PacePanel } from './pace';
import { groupActs, sideActs } from './side-acts';
import { TopLine } from './top-line';
import { useKeys } from './use-keys';
import { WayPanel } from './way';

export type Panel =
  | ''
  | 'keys'
  | 'key-editor'
  | 'search'
  | 'facts'
  | 'clocks'
  | 'history'
  | 'labels'
  | 'way'
  | 'pace';

const NOTHING_OVER: ReadonlySet<Over> = new Set();
const SURROUNDS: readonly Settings['surround'][] = ['dark', 'middle', 'light'];

/** Fold a group to its best frame, or unfold it. */
function flipFold(group: number): void {
  const { folded, fold } = useShoot.getState();
  const next = new Set(folded);
  if (!next.delete(group)) next.add(group);
  fold(next);
}

/** The frames that a mark may move on to, where those are not all that pass the filter. */
function amongFor(view: View): readonly number[] | undefined {
  if (view === 'side') return shownNow();
  if (view !== 'knockout') return undefined;
  const { ids, path } = useKnockout.getState();
  const { best } = standing(ids, path);
  return best === undefined ? [] : [best];
}

function isOneGroup(ids: readonly number[]): boolean {
  const { byId } = useShoot.getState();
  return new Set(ids.map((id) => byId.get(id)?.group)).size < 2;
}

const placeKey = (shootId: number) => `winnow.place.${shootId}`;

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
          All shoots
        </Link>
      </Message>
    );
  }
  if (!shoot || !opened.ready) return <Message>Opening …</Message>;
  return <OpenShoot shoot={shoot} view={view} lost={opened.lost} />;
}

function Message({ children }: { children: React.ReactNode }) {
  return <main className="flex h-full flex-col items-center justify-center gap-4">{children}</main>;
}

/** Loads a shoot, listens to it, and remembers the place in it. */
function useOpened(shootId: number, shoot: Shoot | undefined, onProgress: () => void) {
  const client = useQueryClient();
  const [lost, setLost] = useState(false);
  const ready = useShoot((state) => state.shootId === shootId && state.loaded && !!state.found);
  const progress = useRef(onProgress);
  useEffect(() => {
    progress.current = onProgress;
  });
  const known = !!shoot;
  const filter = useRef(NO_FILTER);
  useEffect(() => {
    if (shoot) filter.current = { ...NO_FILTER, ...shoot.filter };
  }, [shoot]);

  useEffect(() => {
    if (!known) return;
    const place = Number(localStorage.getItem(placeKey(shootId))) || null;
    useShoot.getState().open(shootId, filter.current, place);
    const failed = (error: unknown) => useShoot.getState().say(inWords(error), true);
    ask(api.POST('/api/shoots/{shoot}/open', { params: { path: { shoot: shootId } } })).catch(
      failed,
    );
    ask(api.GET('/api/shoots/{shoot}/history', { params: { path: { shoot: shootId } } }))
      .then((history) => useShoot.setState(history))
      .catch(failed);
    reload().catch(failed);
    return listen(shootId, {
      progress: () => progress.current(),
      delivery: () => void client.invalidateQueries({ queryKey: ['deliveries', shootId] }),
      bringing: () => void client.invalidateQueries({ queryKey: ['bringings'] }),
      lost: setLost,
    });
  }, [shootId, known, client]);

  const active = useShoot((state) => state.active);
  useEffect(() => {
    if (active === null || !useShoot.getState().moved) return;
    // Not for every frame that is flown past.
    const timer = setTimeout(() => localStorage.setItem(placeKey(shootId), String(active)), 200);
    return () => clearTimeout(timer);
  }, [active, shootId]);
  return { ready, lost };
}

function OpenShoot({ shoot, view, lost }: { shoot: Shoot; view: View; lost: boolean }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [settings, saveSettings] = useSettings();
  const labels = useLabels();
  const [panel, setPanel] = useState<Panel>('');
  const [filterOpen, setFilterOpen] = useState(false);
  const [typing, setTyping] = useState(false);
  const [bare, setBare] = useState(isSecond);
  const [close, setClose] = useState<Close>(0);
  const [groupsOpen, setGroupsOpen] = useState(false);
  const [over, setOver] = useState<ReadonlySet<Over>>(NOTHING_OVER);
  const total = useShoot((state) => state.frames.length);
  const shown = useShoot((state) => state.visible.length);
  const filterNow = useShoot((state) => state.filter);
  const found = useShoot((state) => state.found);
  const undo = useShoot((state) => state.undo);

  const show = useCallback(
    (next: View) => {
      void navigate(`/shoots/${shoot.id}${next === 'sheet' ? '' : `/${next}`}`);
    },
    [navigate, shoot.id],
  );
  const setFilter = useCallback((filter: Filter, on = true) => {
    useShoot.getState().setFilter(filter, on);
    void refind();
  }, []);
  const act = useCallback(
    (work: Promise<unknown>) => {
      work
        .catch((error: unknown) => useShoot.getState().say(inWords(error), true))
        .finally(() => void client.invalidateQueries({ queryKey: ['shoot', shoot.id] }));
    },
    [client, shoot.id],
  );
  const path = useMemo(() => ({ params: { path: { shoot: shoot.id } } }), [shoot.id]);

  const leaveKnockout = useCallback(() => {
    endKnockout();
    show(hasSet(shoot.id) ? 'side' : 'sheet');
  }, [show, shoot.id]);

  const stage = useMemo(
    (): Stage => ({
      view,
      settings,
      labels,
      ...moves(view),
      mark: (edit) => mark(edit, settings, labels, amongFor(view)),
      walk: (way) => {
        // In a knockout the last comparison is what is undone.
        if (view !== 'knockout' || way !== 'undo' || !walkBack()) walk(way);
      },
      show: (next) => {
        if (next !== 'side' || view === 'knockout' || compareHere()) show(next);
      },
      side: sideActs(view, show, close),
      groups: groupActs(view, () => setGroupsOpen((on) => !on), settings),
      back: () => {
        const { selection, select, order, sortBy } = useShoot.getState();
        const { way, ids } = useCompare.getState();
        if (close) setClose(0);
        else if (bare) setBare(false);
        else if (view === 'side' && way !== 'tiles') useCompare.setState({ way: 'tiles' });
        else if (view === 'knockout') leaveKnockout();
        else if (view !== 'sheet') {
          show('sheet');
          // What was selected to be compared is selected still.
          if (view === 'side' && !isOneGroup(ids)) select(ids);
        } else if (order === 'alike') sortBy(settings.sort);
        else if (selection.length) select([]);
        else setFilterOpen(false);
      },
      lookClose: (scale) => setClose((now) => (now === scale ? 0 : scale)),
      cycleAfter: () => {
        // Keys can come faster than the page is drawn: the cache has the latest.
        const latest = client.getQueryData<Settings>(['settings']) ?? settings;
        const now = latest.after.decision;
        const next = AFTER_ORDER[(AFTER_ORDER.indexOf(now) + 1) % AFTER_ORDER.length]!;
        saveSettings({ ...latest, after: { ...latest.after, decision: next } });
        useShoot.getState().say(`After a decision: ${AFTER_WORDS[next]}`);
      },
      toggleBare: () => setBare((on) => !on),
      toggleFacts: () => saveSettings({ ...settings, facts_shown: !settings.facts_shown }),
      openFilter: () => {
        setTyping(false);
        setFilterOpen((open) => !open);
      },
      typeFilter: () => {
        setTyping(true);
        setFilterOpen(true);
        // Open already: only the field is wanted.
        document.querySelector<HTMLInputElement>('[aria-label="Written filter"]')?.focus();
      },
      toggleFilter: () => {
        const { filter, filterOn, say } = useShoot.getState();
        if (isEmpty(filter)) say('There is no filter to turn off');
        else setFilter(filter, !filterOn);
      },
      filterTo: (decision) => setFilter({ ...NO_FILTER, decisions: [decision] }),
      clearFilter: () => setFilter(NO_FILTER),
      openKeys: () => setPanel('keys'),
      openSearch: () => setPanel('search'),
      resize: (by) => {
        const height = Math.min(480, Math.max(80, settings.row_height + 20 * by));
        saveSettings({ ...settings, row_height: height });
      },
      lookAgain: () => act(ask(api.POST('/api/shoots/{shoot}/index', path))),
      stopIndexing: () => act(ask(api.DELETE('/api/shoots/{shoot}/index', path))),
      openSecond: () => {
        if (!openSecond(shoot.id))
          useShoot
            .getState()
            .say('The browser doesn’t let a second window open. Allow it, please.', true);
      },
      toggleOver: (what) =>
        setOver((now) => {
          const next = new Set(now);
          if (!next.delete(what)) next.add(what);
          return next;
        }),
      turn: (by) => {
        const frames = [...targets()];
        act(ask(api.POST('/api/shoots/{shoot}/turn', { ...path, body: { frames, by } })));
        useShoot.getState().say(`Turned ${by === 1 ? 'right' : 'left'}, on screen only`);
      },
      cycleSurround: () => {
        const next = SURROUNDS[(SURROUNDS.indexOf(settings.surround) + 1) % SURROUNDS.length]!;
        saveSettings({ ...settings, surround: next });
        useShoot.getState().say(`Surround: ${next}`);
      },
      foldGroup: () => {
        const { byId, active, say, order } = useShoot.getState();
        const group = byId.get(active ?? -1)?.group;
        if (order !== 'time') say('Groups can be folded when the sheet is sorted by time');
        else if (group !== undefined) flipFold(group);
      },
      foldAll: () => {
        const { frames, folded, fold, say, order } = useShoot.getState();
        if (order !== 'time') {
          say('Groups can be folded when the sheet is sorted by time');
          return;
        }
        fold(folded.size ? new Set() : new Set(frames.map((frame) => frame.group)));
        say(folded.size ? 'All groups unfolded' : 'Every group shows its best frame');
      },
      sortBy: (sort) => saveSettings({ ...settings, sort }),
      openPanel: setPanel,
      openClocks: () => setPanel('clocks'),
      openFacts: () => setPanel('facts'),
      toggleFollow: () => {
        const on = !settings.follow_newest;
        saveSettings({ ...settings, follow_newest: on });
        const { visible, go, say } = useShoot.getState();
        if (on) go(visible.at(-1));
        say(on ? 'The newest frame is followed' : 'New frames no longer move you');
      },
    }),
    [
      view,
      settings,
      labels,
      close,
      bare,
      show,
      setFilter,
      saveSettings,
      act,
      path,
      client,
      shoot.id,
      leaveKnockout,
    ],
  );
  const standard = useMemo(() => commandsFor(labels), [labels]);
  const commands = useMemo(
    () => withKeys(standard, settings.keys.keys),
    [standard, settings.keys.keys],
  );
  useEffect(() => useShoot.getState().follow(settings.follow_newest), [settings.follow_newest]);
  useEffect(() => useShoot.getState().sortBy(settings.sort), [settings.sort]);
  const [, setKeyboardKnown] = useState(false);
  useEffect(() => void learnKeyboard().then(() => setKeyboardKnown(true)), []);
  useEffect(() => followPair(shoot.id), [shoot.id]);
  const endGlance = useCallback(() => setClose(0), []);
  useKeys(commands, stage, panel !== '', endGlance);

  const changeSettings = (next: Settings) => saveSettings(next);
  const hidden = bare && view !== 'wrap-up';
  return (
    <div className="flex h-full">
      {!hidden && <Timeline theme={settings.theme} bracketed={view !== 'wrap-up'} />}
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
                  title="Groups (Ctrl+G)"
                  className="shrink-0 border-b-2 border-quiet/40 text-quiet hover:text-ink"
                >
                  groups
                </Popover.Trigger>
                <Popover.Portal>
                  <Popover.Content
                    aria-label="Groups"
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
        {!hidden && filterOpen && view !== 'wrap-up' && (
          <FilterPanel labels={labels} typing={typing} onChange={setFilter} />
        )}
        {hidden && <Problems lost={lost} />}
        {!hidden && <Notices shoot={shoot} lost={lost} onAgain={stage.lookAgain} />}
        <main className="relative min-h-0 flex-1">
          {view === 'wrap-up' ? (
            <WrapUp shoot={shoot} />
          ) : total === 0 ? (
            <Empty shoot={shoot} />
          ) : shown === 0 && view !== 'side' && view !== 'knockout' ? (
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
        {!hidden && (
          <BottomLine
            shoot={shoot}
            settings={settings}
            commands={commands}
            onSettings={changeSettings}
            onUndo={() => stage.walk('undo')}
            onPanel={setPanel}
            onMark={view === 'wrap-up' ? undefined : stage.mark}
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
