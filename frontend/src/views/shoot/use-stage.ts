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
import { compareHere, hasSet, useCompare } from '../../state/compare';
import { useCaptions } from '../../state/captions';
import { endKnockout } from '../../state/knockout';
import { useFactsPanel } from '../../state/facts-panel';
import { targets } from '../../state/marking';
import { isSecond } from '../../state/paired';
import { useShoot } from '../../state/shoot';
import { refilter } from '../../state/sync';
import { draftActs } from './draft-acts';
import { filterActs } from './filter-acts';
import { lookActs } from './look-acts';
import { markActs } from './mark-acts';
import { moves } from './moving-acts';
import { sheetActs } from './sheet-acts';
import { groupActs, sideActs } from './side-acts';
import type { Close } from '../../state/zoom';
import { counted } from '../../texts/numbers';

export type Panel =
  | ''
  | 'keys'
  | 'key-editor'
  | 'search'
  | 'clocks'
  | 'history'
  | 'to-folder'
  | 'to-program'
  | 'labels'
  | 'way'
  | 'share'
  | 'people'
  | 'pace';

const NOTHING_OVER: ReadonlySet<Over> = new Set();
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
  const setFilter = useCallback((filter: Filter, on = true) => refilter(filter, on), []);
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
      ...markActs(view, settings, labels, (how) =>
        // Keys can come faster than the page is drawn: the cache has the latest.
        saveSettings(how(client.getQueryData<Settings>(['settings']) ?? settings)),
      ),
      ...lookActs({
        shootId: shoot.id,
        view,
        settings,
        save: saveSettings,
        act,
        setClose,
        setBare,
        setOver,
      }),
      ...filterActs(setFilter, setFilterOpen, setTyping),
      ...sheetActs(settings, saveSettings),
      ...draftActs(view, show),
      side: sideActs(view, show, close),
      groups: groupActs(view, () => setGroupsOpen((on) => !on), settings, moves(view).stepGroup),
      show: (next) => {
        if (next !== 'side' || view === 'knockout' || compareHere()) show(next);
      },
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
      openKeys: () => setPanel('keys'),
      openSearch: () => setPanel('search'),
      openClocks: () => setPanel('clocks'),
      openFacts: () => useFactsPanel.setState(({ open }) => ({ open: !open })),
      openPanel: setPanel,
      copyPaths: () => {
        const frames = [...targets()];
        if (!frames.length) return;
        act(
          ask(api.POST('/api/shoots/{shoot}/paths', { ...path, body: { frames } })).then(
            async ({ paths }) => {
              await navigator.clipboard.writeText(paths.join('\n'));
              const { say } = useShoot.getState();
              say(
                paths.length === 1
                  ? t`Copied: ${paths[0]!}`
                  : t`${counted(paths.length, 'path')} copied`,
              );
            },
          ),
        );
      },
      takeTour: () => {
        saveSettings({ ...settings, toured: false });
        show('sheet');
      },
      wrapUpAt: (step) => void navigate(`/shoots/${shoot.id}/wrap-up#step-${step}`),
      lookAgain: () => act(ask(api.POST('/api/shoots/{shoot}/index', path))),
      stopIndexing: () => act(ask(api.DELETE('/api/shoots/{shoot}/index', path))),
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
      navigate,
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

export type OpenStage = ReturnType<typeof useStage>;
