import type { Filter, Label, Settings, Shoot } from '../../api/client';
import type { Command } from '../../commands/command';
import type { View } from '../../commands/stage';
import { markThese, walk } from '../../state/marking';
import { useShoot } from '../../state/shoot';
import { FrameView } from '../frame/frame-view';
import { HintsView } from '../hints/hints-view';
import { KnockoutView } from '../knockout/knockout-view';
import { NumberView } from '../number/number-view';
import { ReviewView } from '../review/review-view';
import { Sheet } from '../sheet/sheet';
import { flipFold } from './sheet-acts';
import { SideView } from '../side/side-view';
import { WrapUp } from '../wrap-up/wrap-up';
import { Empty, NothingPasses } from './notices';
import type { OpenStage } from './use-stage';

/** Views that show frames of their own choice, whatever the filter lets through. */
const OWN_SET: ReadonlySet<View> = new Set(['side', 'knockout', 'review', 'number']);

/** What is on the stage of a shoot: the view that is chosen, or why it has nothing to show. */
export function StageViews({
  shoot,
  view,
  settings,
  commands,
  labels,
  opened,
  mayMark,
  onSettings,
}: {
  shoot: Shoot;
  view: View;
  settings: Settings;
  commands: readonly Command[];
  labels: readonly Label[];
  opened: OpenStage;
  mayMark: boolean;
  onSettings: (settings: Settings) => void;
}) {
  const { stage, show, setFilter, leaveKnockout, setPanel, bare, close, setClose, over } = opened;
  const total = useShoot((state) => state.frames.length);
  const shown = useShoot((state) => state.visible.length);
  const closeUp = { commands, labels, near: close, bare, onClose: setClose };
  const toSheet = () => show('sheet');
  const toNumber = () => show('number');
  const filtered = (filter: Filter) => {
    setFilter(filter);
    show('sheet');
  };

  if (view === 'wrap-up')
    return (
      <WrapUp
        shoot={shoot}
        onFilter={filtered}
        onCompare={(ids) => {
          const { select, go } = useShoot.getState();
          go(ids[0]);
          select(ids);
          stage.show('side');
        }}
        onNumber={toNumber}
      />
    );
  if (view === 'hints')
    return (
      <HintsView
        commands={commands}
        labels={labels}
        onOpen={(id) => {
          useShoot.getState().go(id);
          show('frame');
        }}
        onFilter={filtered}
      />
    );
  if (total === 0) return <Empty shoot={shoot} />;
  if (shown === 0 && !OWN_SET.has(view)) return <Nothing onChange={setFilter} />;
  switch (view) {
    case 'sheet':
      return (
        <Sheet
          rowHeight={settings.row_height}
          names={settings.names_shown}
          busy={shoot.status.running}
          labels={labels}
          onMark={mayMark ? (id, edit) => markThese([id], edit) : undefined}
          onOpen={() => show('frame')}
          onFold={flipFold}
        />
      );
    case 'side':
      return (
        <SideView
          {...closeUp}
          onKnockout={stage.side.knockout}
          onMost={(tiles) => onSettings({ ...settings, tiles })}
          onOnly={() => stage.groups.onlyThis()}
        />
      );
    case 'knockout':
      return <KnockoutView {...closeUp} onDone={leaveKnockout} />;
    case 'review':
      return (
        <ReviewView
          {...closeUp}
          onDone={toSheet}
          onNumber={toNumber}
          onUndecided={() => {
            toSheet();
            stage.filterTo('undecided');
          }}
          onWrapUp={() => show('wrap-up')}
        />
      );
    case 'number':
      return (
        <NumberView
          {...closeUp}
          wanted={shoot.keep_target}
          onDone={toSheet}
          onNumber={() => setPanel('pace')}
        />
      );
    case 'frame':
      return (
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
      );
  }
}

/** No frame passes the filter. */
function Nothing({ onChange }: { onChange: (filter: Filter, on?: boolean) => void }) {
  const filter = useShoot((state) => state.filter);
  const found = useShoot((state) => state.found);
  const undo = useShoot((state) => state.undo);
  return (
    <NothingPasses
      filter={filter}
      found={found}
      onChange={onChange}
      onUndo={undo ? () => walk('undo') : undefined}
    />
  );
}
