import { useQueryClient } from '@tanstack/react-query';

import type { Filter, Label, Settings, Shoot } from '../../api/client';
import type { Command } from '../../commands/command';
import type { Stage } from '../../commands/stage';
import { Clocks } from '../groups/clocks';
import { SharePanel } from '../guests/share-panel';
import { CommandSearch } from '../keys/command-search';
import { ToFolder } from '../hand-on/to-folder';
import { ToProgram } from '../hand-on/to-program';
import { targets } from '../../state/marking';
import { KeyEditor } from '../keys/key-editor';
import { KeySheet } from '../keys/key-sheet';
import { PeoplePanel } from '../people/people-panel';
import { LabelEditor } from '../settings/label-editor';
import { History } from './history';
import { PacePanel } from './pace';
import type { Panel } from './use-stage';
import { WayPanel } from './way';

/** The panels that open over a shoot, one at a time. `standard`: the commands with their standard keys. */
export function Panels({
  shoot,
  panel,
  setPanel,
  setFilter,
  stage,
  commands,
  standard,
  labels,
  settings,
  saveSettings,
  onElsewhere,
}: {
  shoot: Shoot;
  panel: Panel;
  setPanel: (panel: Panel) => void;
  setFilter: (filter: Filter) => void;
  stage: Stage;
  commands: readonly Command[];
  standard: readonly Command[];
  labels: readonly Label[];
  settings: Settings;
  saveSettings: (settings: Settings) => void;
  onElsewhere: (command: Command) => void;
}) {
  const client = useQueryClient();
  const opens = (name: Panel) => ({ open: panel === name, onClose: () => setPanel('') });
  return (
    <>
      <KeySheet
        {...opens('keys')}
        commands={commands}
        labels={labels}
        onChange={() => setPanel('key-editor')}
      />
      <KeyEditor
        {...opens('key-editor')}
        commands={standard}
        set={settings.keys}
        onChange={(keys) => saveSettings({ ...settings, keys })}
      />
      <LabelEditor {...opens('labels')} labels={labels} />
      <History {...opens('history')} shootId={shoot.id} onStep={stage.wrapUpAt} />
      <PacePanel
        {...opens('pace')}
        shoot={shoot}
        onFilter={setFilter}
        onNumber={() => stage.show('number')}
      />
      <WayPanel
        {...opens('way')}
        shoot={shoot}
        onChosen={(filter) => {
          setFilter(filter);
          void client.invalidateQueries({ queryKey: ['shoot', shoot.id] });
        }}
      />
      <SharePanel {...opens('share')} shoot={shoot} />
      <PeoplePanel {...opens('people')} shootId={shoot.id} onFilter={setFilter} />
      {panel === 'to-folder' && (
        <ToFolder
          shootId={shoot.id}
          frames={targets()}
          settings={settings}
          onSettings={saveSettings}
          onClose={() => setPanel('')}
        />
      )}
      {panel === 'to-program' && (
        <ToProgram
          shootId={shoot.id}
          frames={targets()}
          settings={settings}
          onSettings={saveSettings}
          onWrapUp={() => stage.show('wrap-up')}
          onClose={() => setPanel('')}
        />
      )}
      <Clocks {...opens('clocks')} shootId={shoot.id} />
      <CommandSearch
        {...opens('search')}
        commands={commands}
        stage={stage}
        shootId={shoot.id}
        onFilter={setFilter}
        onElsewhere={onElsewhere}
      />
    </>
  );
}
