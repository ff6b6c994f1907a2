import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';

import { Help } from '../../../parts/help';
import { api, ask, type Plan, type Recipe, type Shoot } from '../../../api/client';
import { Button } from '../../../parts/button';
import { Refused } from '../../../parts/refused';
import { counted, size } from '../../../texts/numbers';
import { settled } from '../../../state/marking';
import { useShoot } from '../../../state/shoot';
import { Made } from './delivery';
import { DeliveryNames } from './delivery-names';
import { FolderRow, Names } from '../notes';
import { Recipes } from './recipes';
import { ChooseFrames, useWhichFrames } from '../which-frames';
import { Step } from '../wrap-up';
import { Tick } from '../../../parts/tick';

const START: Recipe = {
  name: '',
  target: '',
  what: 'picks',
  sidecars: true,
  template: '{name}',
  which: 'all',
  how: 'copy',
  manifest: false,
  companions: false,
};
export const VERBS = { copy: t`Copy`, move: t`Move`, link: t`Link` };

/** Deliver frames to a folder, verified, after saying what would go where under which name. */
export function Deliver({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const [wish, setWish] = useState<Recipe>(START);
  const [seqFrom, setSeqFrom] = useState(1);
  const frames = useWhichFrames();
  const marksVersion = useShoot((state) => state.marksVersion);
  const { target, sidecars, template, which, how, manifest, companions } = wish;
  const edit = (change: Partial<Recipe>) => setWish({ ...wish, ...change });
  const path = { params: { path: { shoot: shoot.id } } };
  const body = {
    ...frames.wanted,
    ...{ target, sidecars, template, which, how, manifest, companions },
    seq_from: seqFrom,
  };
  const plan = useQuery({
    queryKey: ['plan', shoot.id, body, marksVersion],
    queryFn: () =>
      settled().then(() => ask(api.POST('/api/shoots/{shoot}/deliveries/plan', { ...path, body }))),
    enabled: target.trim().length > 1,
    placeholderData: (before) => before,
    retry: false,
  });
  const { data: made } = useQuery({
    queryKey: ['deliveries', shoot.id],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/deliveries', path)),
  });
  const start = useMutation({
    mutationFn: () => ask(api.POST('/api/shoots/{shoot}/deliveries', { ...path, body })),
    onSettled: () => {
      void client.invalidateQueries({ queryKey: ['deliveries', shoot.id] });
      void client.invalidateQueries({ queryKey: ['plan', shoot.id] });
      void client.invalidateQueries({ queryKey: ['shoot', shoot.id] });
    },
  });
  const known = plan.error ? undefined : plan.data;
  // Of what is there already, nothing is left to do.
  const left = known ? known.frames - known.already_there : frames.number;
  const ready =
    known && known.files > 0 && left > 0 && known.size <= known.free && !plan.isPlaceholderData;
  const go = () => ready && start.mutate();
  const select = 'h-8 rounded border border-line bg-paper px-2';
  return (
    <Step number={4} title={t`Deliver to a folder`}>
      <p className="text-quiet">
        <Trans>
          Each copy is read back and compared with its original. Nothing that is in the folder
          already is written over.
        </Trans>
      </p>
      <Recipes
        wish={{ ...wish, what: frames.what === 'selected' ? 'picks' : frames.what }}
        onUse={(recipe) => {
          setWish(recipe);
          frames.setWhat(recipe.what);
        }}
      />
      <FolderRow
        label={t`Folder for the copies`}
        value={target}
        onChange={(value) => edit({ target: value })}
        onEnter={go}
      />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <ChooseFrames which={frames} label={t`What is delivered`} />
        <select
          aria-label={t`Which files`}
          className={select}
          value={which}
          onChange={(event) => edit({ which: event.target.value as Recipe['which'] })}
        >
          <option value="all">{t`raw and JPEG`}</option>
          <option value="ready">{t`JPEG, where there is one`}</option>
          <option value="raw">{t`raw, where there is one`}</option>
        </select>
        <select
          aria-label={t`How`}
          className={select}
          value={how}
          onChange={(event) => edit({ how: event.target.value as Recipe['how'] })}
        >
          <option value="copy">{t`as verified copies`}</option>
          <option value="move">{t`moved out of the shoot’s folder`}</option>
          <option value="link">{t`as hard links, on the same disk`}</option>
        </select>
        <Help about={t`Copies, moves and links`}>
          <p>
            <Trans>
              Copies are read back from the disk and compared before they count. Moved files leave
              the shoot’s folder; the frames stay here with their marks. A hard link is a second
              name for the same file: it takes no room, and a change by either name changes both.
            </Trans>
          </p>
          <p>
            <Trans>
              A companion file has the name of a frame and is no picture: a short film, a spoken
              note, another program’s settings. What is moved takes its companions along.
            </Trans>
          </p>
          <p>
            <Trans>
              Each can be paused, goes on after a crash, and can be taken back as long as nothing
              was changed.
            </Trans>
          </p>
        </Help>
        <Tick on={sidecars} onChange={(on) => edit({ sidecars: on })}>
          <Trans>with sidecars</Trans>
        </Tick>
        {(companions || !!known?.companions) && (
          <Tick
            on={companions || how === 'move'}
            off={how === 'move'}
            onChange={(on) => edit({ companions: on })}
          >
            {known ? (
              <Trans>with {counted(known.companions, 'companion file')}</Trans>
            ) : (
              <Trans>with companion files</Trans>
            )}
          </Tick>
        )}
        <Tick on={manifest} onChange={(on) => edit({ manifest: on })}>
          <Trans>with a manifest of checksums</Trans>
        </Tick>
      </div>
      {how === 'move' && (
        <p className="text-quiet">
          <Trans>
            Moved frames stay in the shoot, with their marks and pictures. They can be taken back.
          </Trans>
        </p>
      )}
      <DeliveryNames
        label={t`Names of the copies`}
        template={template}
        seqFrom={seqFrom}
        seqNext={shoot.seq_next}
        onSeqFrom={setSeqFrom}
        onChange={(value) => edit({ template: value })}
      />
      {target.trim().length > 1 && <Refused error={plan.error} />}
      {known && <Preview plan={known} />}
      <Refused error={start.error} />
      <div>
        {(!known || left > 0 || known.frames === 0) && (
          <Button main disabled={!ready || start.isPending} onClick={go}>
            {VERBS[how]} {counted(left, frames.noun)}
          </Button>
        )}
      </div>
      {made?.map((delivery) => (
        <Made key={delivery.id} delivery={delivery} />
      ))}
    </Step>
  );
}

/** What a delivery would do. */
export function Preview({ plan }: { plan: Plan }) {
  return (
    <div className="rounded border border-line bg-paper p-3">
      {plan.files === 0 || plan.already_there === plan.frames ? (
        <p>
          {plan.already_there > 0 ? (
            <Trans>
              All {counted(plan.frames, 'frame')} are in <strong>{plan.target}</strong> already,
              with equal content: nothing is left to deliver.
            </Trans>
          ) : (
            <Trans>There is nothing to deliver.</Trans>
          )}
        </p>
      ) : (
        <p>
          <Trans>
            <strong>{counted(plan.files, 'file')}</strong> of {counted(plan.frames, 'frame')},{' '}
            {size(plan.size)}, to <strong>{plan.target}</strong>
          </Trans>
          {plan.makes_folder && t` (the folder is made)`}
          <Trans>. {size(plan.free)} are free.</Trans>
        </p>
      )}
      {plan.size > plan.free && (
        <p role="alert" className="font-semibold text-wrong">
          <Trans>The disk has not enough space.</Trans>
        </p>
      )}
      {plan.already_there > 0 && plan.already_there < plan.frames && (
        <p>
          <Trans>{counted(plan.already_there, 'frame')} there already, with equal content.</Trans>
        </p>
      )}
      {plan.renamed.length > 0 && (
        <p>
          <Trans>
            {counted(plan.renamed.length, 'name')} taken by other files; the copies get free ones,
            for example {plan.renamed[0]!.name} → {plan.renamed[0]!.copy_name}.
          </Trans>
        </p>
      )}
      {plan.names.some((file) => file.name !== file.copy_name) && <Names names={plan.names} />}
      <Some names={plan.linked}>
        <Trans>come along, as parts of one picture</Trans>
      </Some>
      <Some names={plan.changed}>
        <Trans>changed on disk since Winnow looked at it; what is there now is delivered</Trans>
      </Some>
      <Some names={plan.elsewhere}>
        <Trans>set aside or moved out already, and so not moved</Trans>
      </Some>
      <Some names={plan.unchecked}>
        <Trans>changed by guests and not taken over yet, and so without a sidecar</Trans>
      </Some>
      <Some names={plan.missing}>
        <Trans>not found on disk, and left out</Trans>
      </Some>
    </div>
  );
}

/** Some frames by name, and what about them. */
function Some({ names, children }: { names: readonly string[]; children: ReactNode }) {
  if (!names.length) return null;
  return (
    <p role="alert">
      <strong>{counted(names.length, 'frame')}</strong> {children}: {names.slice(0, 5).join(', ')}
      {names.length > 5 && ' …'}
    </p>
  );
}
