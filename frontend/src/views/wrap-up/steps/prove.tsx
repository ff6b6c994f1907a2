import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import {
  api,
  ask,
  type GalleryWish,
  type Proof,
  type ProofWish,
  type Proofs,
  type SheetWish,
  type Shoot,
} from '../../../api/client';
import { Button } from '../../../parts/button';
import { Refused } from '../../../parts/refused';
import { counted, day, whole } from '../../../texts/numbers';
import { settled } from '../../../state/marking';
import { useShoot } from '../../../state/shoot';
import { Answers } from './answers';
import { FolderRow, Progress } from '../notes';
import { GalleryForm, SheetForm } from './proof-forms';
import { ChooseFrames, useWhichFrames } from '../which-frames';
import { Step } from '../wrap-up';

/** A contact sheet on paper, or a gallery that a client opens, chooses in and answers. */
export function Prove({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const frames = useWhichFrames();
  const [kind, setKind] = useState<ProofWish['kind']>('gallery');
  const [target, setTarget] = useState('');
  const [sheet, setSheet] = useState<SheetWish>({
    kind: 'pdf',
    title: shoot.name,
    paper: 'A4',
    landscape: false,
    rows: 5,
    under: ['number', 'name'],
  });
  const [gallery, setGallery] = useState<GalleryWish>({
    kind: 'gallery',
    title: shoot.name,
    greeting: '',
    names: true,
    longest: 1600,
    watermark: '',
    wanted: null,
  });
  const marksVersion = useShoot((state) => state.marksVersion);
  const textsVersion = useShoot((state) => state.textsVersion);
  const path = { params: { path: { shoot: shoot.id } } };
  const proof: ProofWish = kind === 'pdf' ? sheet : gallery;
  const body = { ...frames.wanted, target, proof };
  const { data: proofs } = useQuery({
    queryKey: ['proofs', shoot.id],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/proofs', path)),
  });
  const plan = useQuery({
    queryKey: ['proof-plan', shoot.id, body, marksVersion, textsVersion, proofs?.making.running],
    queryFn: () =>
      settled().then(() => ask(api.POST('/api/shoots/{shoot}/proofs/plan', { ...path, body }))),
    enabled: target.trim().length > 1 && !!proof.title.trim(),
    placeholderData: (before) => before,
    retry: false,
  });
  const kept = (after: Proofs) => client.setQueryData(['proofs', shoot.id], after);
  const make = useMutation({
    mutationFn: () => ask(api.POST('/api/shoots/{shoot}/proofs', { ...path, body })),
    onSuccess: kept,
  });
  const stop = useMutation({
    mutationFn: () => ask(api.DELETE('/api/shoots/{shoot}/proofs', path)),
    onSuccess: kept,
  });
  const known = target.trim().length > 1 && !plan.error ? plan.data : undefined;
  const ready = !!known && !plan.isPlaceholderData && !make.isPending;
  const making = proofs?.making;
  return (
    <Step number={6} title={t`Show proofs`}>
      <div role="radiogroup" aria-label={t`Kind of proof`} className="flex gap-4">
        {(['gallery', 'pdf'] as const).map((one) => (
          <label key={one} className="flex items-center gap-2">
            <input type="radio" name="proof" checked={kind === one} onChange={() => setKind(one)} />
            {one === 'gallery'
              ? t`a gallery, in which a client chooses`
              : t`a contact sheet as PDF`}
          </label>
        ))}
      </div>
      <div>
        <ChooseFrames which={frames} label={t`What is shown`} />
      </div>
      {kind === 'gallery' ? (
        <GalleryForm wish={gallery} onChange={setGallery} />
      ) : (
        <SheetForm wish={sheet} onChange={setSheet} />
      )}
      <FolderRow
        label={t`Folder for the proof`}
        value={target}
        onChange={setTarget}
        onEnter={() => ready && make.mutate()}
      />
      {target.trim().length > 1 && <Refused error={plan.error} />}
      {known && (
        <div className="rounded border border-line bg-paper p-3">
          <p>
            <strong>{counted(known.frames, 'frame')}</strong>
            {known.pages > 0 &&
              t` on ${counted(known.pages, 'page')}, pictures ${whole(known.height)} mm high`}
            <Trans>
              , as <strong>{known.place}</strong>
            </Trans>
          </p>
          {known.unprintable && (
            <p role="alert">
              <Trans>
                These characters are not in the fonts that Winnow has, and print as boxes:{' '}
                {known.unprintable}
              </Trans>
            </p>
          )}
        </div>
      )}
      <Refused error={make.error} />
      <div className="flex items-center gap-4">
        {making?.running ? (
          <>
            <Button onClick={() => stop.mutate()}>
              <Trans>Stop</Trans>
            </Button>
            <Progress label={t`Made`} done={making.done} total={making.total}>
              <Trans>
                {making.done} of {counted(making.total, 'frame')}
              </Trans>
            </Progress>
          </>
        ) : (
          <>
            <Button main disabled={!ready} onClick={() => make.mutate()}>
              {kind === 'gallery' ? t`Make the gallery` : t`Make the contact sheet`}
            </Button>
            {making?.notice && <span role="alert">{making.notice}</span>}
          </>
        )}
      </div>
      {proofs?.made.map((one) => (
        <Made key={one.id} proof={one} />
      ))}
      <Answers shoot={shoot} />
    </Step>
  );
}

function Made({ proof }: { proof: Proof }) {
  return (
    <div className="rounded border border-line bg-paper p-3" data-proof={proof.kind}>
      <p>
        <strong>{proof.kind === 'pdf' ? t`Contact sheet` : t`Gallery`}</strong>{' '}
        <Trans>
          of {counted(proof.frames, 'frame')}, {day(proof.made_at)}: {proof.place}
        </Trans>
      </p>
      {proof.kind === 'gallery' && !proof.answers.length && (
        <p className="text-quiet">
          <Trans>Give the client the whole folder. “index.html” in it opens in any browser.</Trans>
        </p>
      )}
      {proof.answers.map((answer) => (
        <p key={answer.read_at}>
          <Trans>Answer of</Trans> <strong>{answer.client || t`a client`}</strong>
          <Trans>
            , taken over {day(answer.read_at)}: {answer.picks} chosen,{' '}
            {counted(answer.comments, 'comment')}.
          </Trans>
          {answer.note && ` “${answer.note}”`}
        </p>
      ))}
    </div>
  );
}
