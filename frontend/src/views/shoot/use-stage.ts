import { t } from '@lingui/core/macro';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';

import {
  api,
  ask,
  inWords,
  type Filter,
  type Label,
  type Settings,
  type Shoot,
} from '../../api/client';
import type { Over, Stage, View } from '../../commands/stage';
import { compareHere, hasSet, shownNow, useCompare } from '../../state/compare';
import { useCaptions } from '../../state/captions';
import { useFaces } from '../../state/faces';
import { putOff, stepBack, take, takeSure, walkHere, wantBoth, wantNext } from '../../state/draft';
import { endKnockout, standing, useKnockout, walkBack } from '../../state/knockout';
import { mark, targets, walk } from '../../state/marking';
import { askOther, keepIt, letGo, questionBack, walkToNumber } from '../../state/to-number';
import { isSecond, openSecond } from '../../state/paired';
import { useOutline } from '../../state/outline';
import { isEmpty, NO_FILTER, useShoot } from '../../state/shoot';
import { refind } from '../../state/sync';
import { stepFace } from '../faces/step';
import type { Close } from '../frame/photograph';
import { AFTER_ORDER, AFTER_WORDS } from './bottom-line';
import { moves, seenInSheet } from './moving-acts';
import { groupActs, sideActs } from './side-acts';

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
  | 'share'
  | 'pace';

const NOTHING_OVER: ReadonlySet<Over> = new Set();
const SURROUND_WORDS = { dark: t`dark`, middle: t`middle`, light: t`light` };
const SURROUNDS: readonly Settings['surround'][] = ['dark', 'middle', 'light'];

/** Fold a group to its best frame, or unfold it. */
export function flipFold(group: number): void {
  const { folded, fold } = useShoot.getState();
  const next = new Set(folded);
  if (!next.delete(group)) next.add(group);
  fold(next);
}

/** The frames that a mark may move on to, where those are not all that pass the filter. */
function amongFor(view: View): readonly number[] | undefined {
  if (view === 'side') return shownNow();
  if (view === 'sheet' && useShoot.getState().folded.size) return seenInSheet();
  if (view !== 'knockout') return undefined;
  const { ids, path } = useKnockout.getState();
  const { best } = standing(ids, path);
  return best === undefined ? [] : [best];
}

/**
 * How many frames the group of the active one has, where the sheet shows only that one of it; else
 * 0.
 */
function foldedHere(view: View): number {
  const { folded, active, byId, visible, order } = useShoot.getState();
  const group = byId.get(active ?? -1)?.group;
  if (view !== 'sheet' || order !== 'time' || group === undefined || !folded.has(group)) return 0;
  return visible.filter((id) => byId.get(id)?.group === group).length;
}

function isOneGroup(ids: readonly number[]): boolean {
  const { byId } = useShoot.getState();
  return new Set(ids.map((id) => byId.get(id)?.group)).size < 2;
}

/** What is open over the shoot, and what its commands act on. */
export function useStage({
  shoot,
  view,
  settings,
  saveSettings,
  labels,
}: {
  shoot: Shoot;
  view: View;
  settings: Settings;
  saveSettings: (settings: Settings) => void;
  labels: readonly Label[];
}) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [panel, setPanel] = useState<Panel>('');
  const [filterOpen, setFilterOpen] = useState(false);
  const [typing, setTyping] = useState(false);
  const [bare, setBare] = useState(isSecond);
  const [close, setClose] = useState<Close>(0);
  const [groupsOpen, setGroupsOpen] = useState(false);
  const [over, setOver] = useState<ReadonlySet<Over>>(NOTHING_OVER);

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
      mark: (edit, turned) =>
        mark(edit, settings, labels, { among: amongFor(view), turned, folded: foldedHere(view) }),
      walk: (way) => {
        if (view === 'review') walkHere(way);
        else if (view === 'number') walkToNumber(way);
        // In a knockout the last comparison is what is undone.
        else if (view !== 'knockout' || way !== 'undo' || !walkBack()) walk(way);
      },
      show: (next) => {
        if (next !== 'side' || view === 'knockout' || compareHere()) show(next);
      },
      side: sideActs(view, show, close),
      review: {
        open: () => show(view === 'review' ? 'sheet' : 'review'),
        take: () => take(),
        takeNone: () => take([]),
        takeSure,
        another: wantNext,
        both: wantBoth,
        later: putOff,
        back: stepBack,
      },
      number: {
        open: () => show(view === 'number' ? 'sheet' : 'number'),
        letGo,
        keepIt,
        other: askOther,
        back: questionBack,
      },
      groups: groupActs(view, () => setGroupsOpen((on) => !on), settings, moves(view).stepGroup),
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
      cycleAfter: (what) => {
        // Keys can come faster than the page is drawn: the cache has the latest.
        const latest = client.getQueryData<Settings>(['settings']) ?? settings;
        const now = latest.after[what === 'grade' ? 'stars' : 'decision'];
        const next = AFTER_ORDER[(AFTER_ORDER.indexOf(now) + 1) % AFTER_ORDER.length]!;
        const changed = what === 'grade' ? { stars: next, label: next } : { decision: next };
        saveSettings({ ...latest, after: { ...latest.after, ...changed } });
        useShoot
          .getState()
          .say(
            what === 'grade'
              ? t`After stars or a label: ${AFTER_WORDS[next]}`
              : t`After a decision: ${AFTER_WORDS[next]}`,
          );
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
        document.querySelector<HTMLInputElement>('#written-filter')?.focus();
      },
      toggleFilter: () => {
        const { filter, filterOn, say } = useShoot.getState();
        if (isEmpty(filter)) say(t`There is no filter to turn off`);
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
            .say(t`The browser doesn’t let a second window open. Allow it, please.`, true);
      },
      toggleOver: (what) =>
        setOver((now) => {
          const next = new Set(now);
          if (!next.delete(what)) next.add(what);
          return next;
        }),
      toggleOutline: () => {
        const on = !useOutline.getState().on;
        useOutline.setState({ on });
        useShoot.getState().say(on ? t`Outlined where the blur is measured` : t`No outline`);
      },
      toggleFaces: () => useFaces.setState(({ open }) => ({ open: !open })),
      stepFace: (way) => void stepFace(view, way, () => setClose((now) => now || 1)),
      turn: (by) => {
        const frames = [...targets()];
        act(ask(api.POST('/api/shoots/{shoot}/turn', { ...path, body: { frames, by } })));
        useShoot
          .getState()
          .say(by === 1 ? t`Turned right, on screen only` : t`Turned left, on screen only`);
      },
      cycleSurround: () => {
        const next = SURROUNDS[(SURROUNDS.indexOf(settings.surround) + 1) % SURROUNDS.length]!;
        saveSettings({ ...settings, surround: next });
        useShoot.getState().say(t`Surround: ${SURROUND_WORDS[next]}`);
      },
      foldGroup: () => {
        const { byId, active, say, order } = useShoot.getState();
        const group = byId.get(active ?? -1)?.group;
        if (order !== 'time') say(t`Groups can be folded when the sheet is sorted by time`);
        else if (group !== undefined) flipFold(group);
      },
      foldAll: () => {
        const { frames, folded, fold, say, order } = useShoot.getState();
        if (order !== 'time') {
          say(t`Groups can be folded when the sheet is sorted by time`);
          return;
        }
        fold(folded.size ? new Set() : new Set(frames.map((frame) => frame.group)));
        say(folded.size ? t`All groups unfolded` : t`Every group shows its best frame`);
      },
      sortBy: (sort) => saveSettings({ ...settings, sort }),
      openPanel: setPanel,
      openClocks: () => setPanel('clocks'),
      openFacts: () => setPanel('facts'),
      toggleCaptions: () => {
        const open = !useCaptions.getState().open;
        useCaptions.setState({ open });
        if (open && view !== 'sheet' && view !== 'frame') show('frame');
      },
      toggleFollow: () => {
        const on = !settings.follow_newest;
        saveSettings({ ...settings, follow_newest: on });
        const { visible, go, say } = useShoot.getState();
        if (on) go(visible.at(-1));
        say(on ? t`The newest frame is followed` : t`New frames no longer move you`);
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
  return {
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
  };
}
