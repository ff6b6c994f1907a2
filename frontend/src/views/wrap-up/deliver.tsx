import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import {
  api,
  ask,
  inWords,
  type Delivery,
  type Filter,
  type Plan,
  type Recipe,
  type Shoot,
} from '../../api/client';
import { Button } from '../../parts/button';
import { counted, size } from '../../parts/numbers';
import { PathField } from '../../parts/path-field';
import { settled } from '../../state/marking';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { DeliveryNames } from './delivery-names';
import { Recipes } from './recipes';
import { Step } from './wrap-up';

const PICKS: Filter = { ...NO_FILTER, decisions: ['pick'] };
const START: Recipe = {
  name: '',
  target: '',
  what: 'picks',
  sidecars: true,
  template: '{name}',
  which: 'all',
  links: false,
  manifest: false,
};

/** Deliver frames to a folder, verified, after saying what would go where under which name. */
export function Deliver({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const [wish, setWish] = useState<Recipe>(START);
  const [what, setWhat] = useState<'picks' | 'shown' | 'selected'>('picks');
  const marksVersion = useShoot((state) => state.marksVersion);
  const visible = useShoot((state) => state.visible);
  const selection = useShoot((state) => state.selection);
  const { target, sidecars, template, which, links, manifest } = wish;
  const edit = (change: Partial<Recipe>) => setWish({ ...wish, ...change });
  const path = { params: { path: { shoot: shoot.id } } };
  const frames = what === 'picks' ? null : [...(what === 'shown' ? visible : selection)];
  const body = { target, sidecars, filter: PICKS, frames, template, which, links, manifest };
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
    },
  });
  const known = plan.error ? undefined : plan.data;
  const ready = known && known.files > 0 && known.size <= known.free && !plan.isPlaceholderData;
  const go = () => ready && start.mutate();
  const number = known?.frames ?? (what === 'picks' ? shoot.tally.picks : (frames?.length ?? 0));
  const select = 'h-8 rounded border border-line bg-paper px-2';
  return (
    <Step number={3} title="Deliver to a folder">
      <p className="text-quiet">
        Each copy is read back and compared with its original. Nothing that is in the folder already
        is written over.
      </p>
      <Recipes
        wish={{ ...wish, what: what === 'selected' ? 'picks' : what }}
        onUse={(recipe) => {
          setWish(recipe);
          setWhat(recipe.what);
        }}
      />
      <PathField
        label="Folder for the copies"
        value={target}
        onChange={(value) => edit({ target: value })}
        onEnter={go}
      />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <select
          aria-label="What is delivered"
          className={select}
          value={what}
          onChange={(event) => setWhat(event.target.value as typeof what)}
        >
          <option value="picks">the picks: {shoot.tally.picks}</option>
          <option value="shown">what the filter shows: {visible.length}</option>
          <option value="selected">the selection: {selection.length}</option>
        </select>
        <select
          aria-label="Which files"
          className={select}
          value={which}
          onChange={(event) => edit({ which: event.target.value as Recipe['which'] })}
        >
          <option value="all">raw and JPEG</option>
          <option value="ready">JPEG, where there is one</option>
          <option value="raw">raw, where there is one</option>
        </select>
        <select
          aria-label="How"
          className={select}
          value={links ? 'link' : 'copy'}
          onChange={(event) => edit({ links: event.target.value === 'link' })}
        >
          <option value="copy">as verified copies</option>
          <option value="link">as hard links, on the same disk</option>
        </select>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={sidecars}
            onChange={(event) => edit({ sidecars: event.target.checked })}
          />
          with sidecars
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={manifest}
            onChange={(event) => edit({ manifest: event.target.checked })}
          />
          with a manifest of checksums
        </label>
      </div>
      <DeliveryNames template={template} onChange={(value) => edit({ template: value })} />
      {target.trim().length > 1 && plan.error && (
        <p role="alert" className="font-semibold text-reject">
          {inWords(plan.error)}
        </p>
      )}
      {known && <Preview plan={known} />}
      {start.error && (
        <p role="alert" className="font-semibold text-reject">
          {inWords(start.error)}
        </p>
      )}
      <div>
        <Button main disabled={!ready || start.isPending} onClick={go}>
          {links ? 'Link' : 'Copy'} {counted(number, what === 'picks' ? 'pick' : 'frame')}
        </Button>
      </div>
      {made?.map((delivery) => (
        <Made key={delivery.id} delivery={delivery} />
      ))}
    </Step>
  );
}

function Preview({ plan }: { plan: Plan }) {
  return (
    <div className="rounded border border-line bg-paper p-3">
      {plan.files === 0 ? (
        <p>There is nothing to deliver.</p>
      ) : (
        <p>
          <strong>{counted(plan.files, 'file')}</strong> of {counted(plan.frames, 'frame')},{' '}
          {size(plan.size)}, to <strong>{plan.target}</strong>
          {plan.makes_folder && ' (the folder is made)'}. {size(plan.free)} are free.
        </p>
      )}
      {plan.size > plan.free && (
        <p role="alert" className="font-semibold text-reject">
          The disk has not enough space.
        </p>
      )}
      {plan.already_there > 0 && (
        <p>{counted(plan.already_there, 'frame')} there already, with equal content.</p>
      )}
      {plan.renamed.length > 0 && (
        <p>
          {counted(plan.renamed.length, 'name')} taken by other files; the copies get free ones, for
          example {plan.renamed[0]!.name} → {plan.renamed[0]!.copy_name}.
        </p>
      )}
      {plan.first.some((one) => one.name !== one.copy_name) && (
        <details className="mt-1">
          <summary className="cursor-pointer">
            {plan.first[0]!.name} → <strong>{plan.first[0]!.copy_name}</strong>
          </summary>
          <ul className="text-[13px]">
            {plan.first.slice(1).map((one) => (
              <li key={one.copy_name}>
                {one.name} → {one.copy_name}
              </li>
            ))}
          </ul>
        </details>
      )}
      {plan.missing.length > 0 && (
        <p role="alert">
          {counted(plan.missing.length, 'pick')} can’t be found on disk:{' '}
          {plan.missing.slice(0, 5).join(', ')}
        </p>
      )}
    </div>
  );
}

const STATES = { planned: 'not copied', done: 'copied', there: 'was there', failed: 'failed' };

function Made({ delivery }: { delivery: Delivery }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const path = { params: { path: { delivery: delivery.id } } };
  const { data: items } = useQuery({
    queryKey: ['items', delivery.id, delivery.state, delivery.done, delivery.failed],
    queryFn: () => ask(api.GET('/api/deliveries/{delivery}/items', path)),
    enabled: open,
    placeholderData: (before) => before,
  });
  const act = useMutation({
    mutationFn: (what: 'stop' | 'resume') =>
      ask(api.POST(`/api/deliveries/{delivery}/${what}`, path)),
    onSettled: () => {
      void client.invalidateQueries({ queryKey: ['deliveries', delivery.shoot_id] });
    },
  });
  const running = delivery.state === 'running' || delivery.state === 'planned';
  const through = delivery.done + delivery.already_there;
  return (
    <div className="rounded border border-line bg-paper p-3" data-delivery={delivery.state}>
      <div className="flex items-center gap-3">
        <span className="min-w-0 flex-1 truncate">
          <strong>
            {running ? 'Copying to' : delivery.state === 'stopped' ? 'Stopped:' : 'Copied to'}
          </strong>{' '}
          {delivery.target}
        </span>
        {running && <Button onClick={() => act.mutate('stop')}>Stop</Button>}
        {(delivery.state === 'stopped' || (delivery.state === 'done' && delivery.failed > 0)) && (
          <Button onClick={() => act.mutate('resume')}>Go on</Button>
        )}
        <button type="button" className="underline" onClick={() => setOpen(!open)}>
          {open ? 'hide files' : 'what went where'}
        </button>
      </div>
      {running && (
        <progress
          className="my-1 h-2 w-full"
          max={Math.max(1, delivery.size)}
          value={delivery.size_done}
          aria-label="Copied"
        />
      )}
      <p role="status">
        {through} of {counted(delivery.files, 'file')} verified ({size(delivery.size_done)})
        {delivery.already_there > 0 && `, ${delivery.already_there} of them there before`}
        {delivery.failed > 0 && `, ${delivery.failed} failed`}. {delivery.notice}
      </p>
      {open && (
        <table className="mt-2 w-full text-left text-[13px]">
          <thead className="text-quiet">
            <tr>
              <th className="font-normal">Original</th>
              <th className="font-normal">Copy</th>
              <th className="font-normal">Result</th>
            </tr>
          </thead>
          <tbody>
            {items?.map((item) => (
              <tr key={item.name} className="border-t border-line align-top">
                <td className="max-w-72 truncate pr-3" title={item.source}>
                  {item.source}
                </td>
                <td className="pr-3">{item.name}</td>
                <td title={item.hash ? `BLAKE3 ${item.hash}` : undefined}>
                  {STATES[item.state]} {item.notice}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
