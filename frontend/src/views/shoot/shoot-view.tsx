import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';

import { api, ask, inWords, type Filter, type Settings, type Shoot } from '../../api/client';
import { chordOf, isTyping } from '../../commands/keys';
import { commandFor, commandsFor, type Stage, type View } from '../../commands/registry';
import { isRunning, useBringings } from '../../parts/bringings';
import { Button } from '../../parts/button';
import { Timeline } from '../../parts/timeline';
import { counted } from '../../parts/numbers';
import { otherFiles } from '../../parts/other-files';
import { mark, walk } from '../../state/marking';
import { neighbourGroup, nextUndecided } from '../../state/places';
import { useLabels, useSettings } from '../../state/settings';
import { isEmpty, NO_FILTER, useShoot } from '../../state/shoot';
import { listen, refind, reload } from '../../state/sync';
import { FrameView } from '../frame/frame-view';
import { inNextRow } from '../sheet/layout';
import { Sheet, sheetRows } from '../sheet/sheet';
import { WrapUp } from '../wrap-up/wrap-up';
import { AllFacts } from './all-facts';
import { AFTER_ORDER, AFTER_WORDS, BottomLine } from './bottom-line';
import { Clocks } from './clocks';
import { CommandSearch } from './command-search';
import { FilterPanel } from './filter-panel';
import { KeySheet } from './key-sheet';
import { TopLine } from './top-line';

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
    if (active !== null && useShoot.getState().moved)
      localStorage.setItem(placeKey(shootId), String(active));
  }, [active, shootId]);
  return { ready, lost };
}

function OpenShoot({ shoot, view, lost }: { shoot: Shoot; view: View; lost: boolean }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [settings, saveSettings] = useSettings();
  const labels = useLabels();
  const [panel, setPanel] = useState<'' | 'keys' | 'search' | 'facts' | 'clocks'>('');
  const [filterOpen, setFilterOpen] = useState(false);
  const [bare, setBare] = useState(false);
  const [looksClose, setLooksClose] = useState(false);
  const [sharp, setSharp] = useState(false);
  const active = useShoot((state) => state.active);
  const total = useShoot((state) => state.frames.length);
  const shown = useShoot((state) => state.visible.length);

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

  const stage = useMemo(
    (): Stage => ({
      view,
      settings,
      labels,
      ...moves(view),
      mark: (edit) => mark(edit, settings, labels),
      walk,
      show,
      back: () => {
        const { selection, select } = useShoot.getState();
        if (looksClose) setLooksClose(false);
        else if (bare) setBare(false);
        else if (view !== 'sheet') show('sheet');
        else if (selection.length) select([]);
        else setFilterOpen(false);
      },
      lookClose: () => setLooksClose((on) => !on),
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
      openFilter: () => setFilterOpen((open) => !open),
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
      openSecond: () => window.open(window.location.href, '_blank', 'popup,width=1280,height=800'),
      toggleSharp: () => setSharp((on) => !on),
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
    [view, settings, labels, looksClose, bare, show, setFilter, saveSettings, act, path, client],
  );
  const commands = useMemo(() => commandsFor(labels), [labels]);
  useEffect(() => useShoot.getState().follow(settings.follow_newest), [settings.follow_newest]);
  useKeys(commands, stage, panel !== '');

  const span = useSpan(view, active);
  const changeSettings = (next: Settings) => saveSettings(next);
  const hidden = bare && view !== 'wrap-up';
  return (
    <div className="flex h-full">
      {!hidden && <Timeline span={span} theme={settings.theme} />}
      <div className="flex min-w-0 flex-1 flex-col">
        {!hidden && (
          <TopLine
            shoot={shoot}
            view={view}
            settings={settings}
            filterOpen={filterOpen}
            onView={show}
            onFilter={() => setFilterOpen(!filterOpen)}
            onSettings={changeSettings}
            onStop={stage.stopIndexing}
            onGoOn={stage.lookAgain}
            onFollow={stage.toggleFollow}
            onClocks={stage.openClocks}
          />
        )}
        {!hidden && filterOpen && view !== 'wrap-up' && (
          <FilterPanel labels={labels} onChange={setFilter} />
        )}
        {!hidden && <Notices shoot={shoot} lost={lost} onAgain={stage.lookAgain} />}
        <main className="relative min-h-0 flex-1">
          {view === 'wrap-up' ? (
            <WrapUp shoot={shoot} />
          ) : total === 0 ? (
            <Empty shoot={shoot} />
          ) : shown === 0 ? (
            <NothingPasses onAll={stage.clearFilter} />
          ) : view === 'sheet' ? (
            <Sheet rowHeight={settings.row_height} labels={labels} onOpen={() => show('frame')} />
          ) : (
            <FrameView
              labels={labels}
              facts={settings.facts_shown}
              bare={bare}
              sharp={sharp}
              looksClose={looksClose}
              onLookClose={setLooksClose}
            />
          )}
        </main>
        {!hidden && (
          <BottomLine
            settings={settings}
            onSettings={changeSettings}
            onUndo={() => walk('undo')}
            onMark={view === 'wrap-up' ? undefined : stage.mark}
          />
        )}
      </div>
      <KeySheet open={panel === 'keys'} onClose={() => setPanel('')} commands={commands} />
      <AllFacts open={panel === 'facts'} onClose={() => setPanel('')} />
      <Clocks shootId={shoot.id} open={panel === 'clocks'} onClose={() => setPanel('')} />
      <CommandSearch
        open={panel === 'search'}
        onClose={() => setPanel('')}
        commands={commands}
        stage={stage}
      />
    </div>
  );
}

/** The commands that move the active frame and the selection. */
function moves(view: View) {
  const sight = () => {
    const { visible, marks, byId, active } = useShoot.getState();
    return {
      visible,
      active: active ?? -1,
      markOf: (id: number) => marks.get(id),
      groupOf: (id: number) => byId.get(id)?.group,
    };
  };
  const go = (id: number | null | undefined) => useShoot.getState().go(id);
  const step = (way: 1 | -1) => {
    const { visible, active } = sight();
    go(visible[visible.indexOf(active) + way]);
  };
  const stepGroup = (way: 1 | -1) => {
    const seen = sight();
    go(neighbourGroup(seen.active, way, seen));
  };
  return {
    step,
    stepGroup,
    stepRow: (way: 1 | -1) => {
      if (view === 'sheet') go(inNextRow(sheetRows.current, sight().active, way));
      else stepGroup(way);
    },
    end: (way: 1 | -1) => go(sight().visible.at(way === 1 ? -1 : 0)),
    nextUndecided: () => {
      const seen = sight();
      const next = nextUndecided(seen.active, seen);
      if (next === undefined) useShoot.getState().say('No other frame is undecided');
      else go(next);
    },
    selectGroup: () => {
      const { visible, groupOf, active } = sight();
      useShoot.getState().select(visible.filter((id) => groupOf(id) === groupOf(active)));
    },
    selectAll: () => useShoot.getState().select(sight().visible),
    extend: (way: 1 | -1) => {
      const { visible, active } = sight();
      const next = visible[visible.indexOf(active) + way];
      if (next !== undefined) useShoot.getState().choose(next, 'range');
    },
  };
}

function useKeys(commands: ReturnType<typeof commandsFor>, stage: Stage, suspended: boolean): void {
  useEffect(() => {
    if (suspended) return;
    const pressed = (event: KeyboardEvent) => {
      const chord = chordOf(event);
      if (event.defaultPrevented || (isTyping(event.target) && chord !== 'Ctrl+K')) return;
      const onButton =
        event.target instanceof HTMLButtonElement || event.target instanceof HTMLAnchorElement;
      // A focused button keeps its own keys.
      if (onButton && (chord === 'Space' || chord === 'Enter')) return;
      const command = commandFor(commands, chord, stage);
      if (!command) return;
      event.preventDefault();
      if (!event.repeat || command.repeats) command.run(stage);
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [commands, stage, suspended]);
}

/** The frames that the timeline brackets: the active one's group in frame view, else around it. */
function useSpan(view: View, active: number | null): readonly number[] {
  const byId = useShoot((state) => state.byId);
  const frames = useShoot((state) => state.frames);
  return useMemo(() => {
    if (active === null || view === 'wrap-up') return [];
    const group = byId.get(active)?.group;
    const members = frames.filter((frame) => frame.group === group);
    return [members[0]?.id ?? active, members.at(-1)?.id ?? active];
  }, [active, byId, frames, view]);
}

function Notices({ shoot, lost, onAgain }: { shoot: Shoot; lost: boolean; onAgain: () => void }) {
  const [hushed, setHushed] = useState('');
  const { failed, missing } = shoot.tally;
  const { data: bringings } = useBringings();
  const brought = bringings?.find((one) => one.shoot_id === shoot.id);
  const unsafe = brought && !isRunning(brought) && !brought.safe;
  const lines = [
    ...(lost
      ? ['Winnow does not answer. Marks made now are not stored. Is it still running?']
      : []),
    ...(unsafe ? [`${brought.report} ${brought.notice}`] : []),
    ...shoot.folders.map((folder) => folder.notice).filter(Boolean),
    ...shoot.status.notices,
    ...(missing
      ? [`${counted(missing, 'frame')} can’t be found on disk any more. Their marks are kept.`]
      : []),
    ...(failed && !shoot.status.running
      ? [`${counted(failed, 'frame')} can’t be shown; each says why.`]
      : []),
  ];
  const text = lines.join(' ');
  if (!text || text === hushed) return null;
  return (
    <div
      role="alert"
      className="flex items-center gap-4 border-b border-line bg-amber-100 px-4 py-1.5 text-black"
    >
      <span className="min-w-0 flex-1">{text}</span>
      <button type="button" className="underline" onClick={onAgain}>
        look again
      </button>
      <button type="button" className="underline" onClick={() => setHushed(text)}>
        hide
      </button>
    </div>
  );
}

function Empty({ shoot }: { shoot: Shoot }) {
  const others = otherFiles(shoot.folders);
  const gone = shoot.folders.some((folder) => folder.notice);
  return (
    <div className="flex h-full flex-col items-center justify-center gap-3 bg-stage text-on-stage">
      {shoot.status.running ? (
        <p>Looking for pictures …</p>
      ) : (
        <>
          <p className="text-lg font-bold">
            {gone ? 'This folder can’t be read now.' : 'No pictures in this folder yet.'}
          </p>
          {others && <p>In it: {others}.</p>}
          <p>JPEG, PNG, TIFF, HEIC and raw files appear here as soon as they are in the folder.</p>
          <Link to="/" className="underline">
            Open another folder
          </Link>
        </>
      )}
    </div>
  );
}

function NothingPasses({ onAll }: { onAll: () => void }) {
  return (
    <div className="flex h-full flex-col items-center justify-center gap-4 bg-stage text-on-stage">
      <p className="text-lg font-bold">No frame passes this filter.</p>
      <Button onClick={onAll}>Show all frames</Button>
    </div>
  );
}
