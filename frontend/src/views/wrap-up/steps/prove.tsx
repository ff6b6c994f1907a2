import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';

import type { Proof, ProofPlan, Shoot } from '../../../api/client';
import { Button } from '../../../parts/button';
import { Refused } from '../../../parts/refused';
import { counted, day, whole } from '../../../texts/numbers';
import { Answers } from './answers';
import { FolderRow, FramesDone } from '../notes';
import { GalleryForm, SheetForm } from './proof-forms';
import { ChooseFrames } from '../which-frames';
import { useProving } from './use-proving';
import { Step } from '../wrap-up';

/** A contact sheet on paper, or a gallery that a client opens, chooses in and answers. */
export function Prove({ shoot }: { shoot: Shoot }) {
  const { frames, kind, setKind, target, setTarget, proofs, known, ready, make, stop, ...proving } =
    useProving(shoot);
  const making = proofs?.making;
  return (
    <Step number={6} title={t`Show proofs`}>
      <div role="radiogroup" aria-label={t`Kind of proof`} className="flex gap-4">
        {(['gallery', 'pdf'] as const).map((choice) => (
          <label key={choice} className="flex items-center gap-2">
            <input
              type="radio"
              name="proof"
              checked={kind === choice}
              onChange={() => setKind(choice)}
            />
            {choice === 'gallery'
              ? t`a gallery, in which a client chooses`
              : t`a contact sheet as PDF`}
          </label>
        ))}
      </div>
      <div>
        <ChooseFrames which={frames} label={t`What is shown`} />
      </div>
      {kind === 'gallery' ? (
        <GalleryForm wish={proving.gallery} onChange={proving.setGallery} />
      ) : (
        <SheetForm wish={proving.sheet} onChange={proving.setSheet} />
      )}
      <FolderRow
        label={t`Folder for the proof`}
        value={target}
        onChange={setTarget}
        onEnter={() => ready && make.mutate()}
      />
      <Refused error={proving.refused} />
      {known && <Planned plan={known} />}
      <Refused error={make.error} />
      <div className="flex items-center gap-4">
        {making?.running ? (
          <>
            <Button onClick={() => stop.mutate()}>
              <Trans>Stop making it</Trans>
            </Button>
            <FramesDone label={t`Made`} done={making.done} total={making.total} />
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
      {proofs?.made.map((proof) => (
        <Made key={proof.id} proof={proof} />
      ))}
      <Answers shoot={shoot} />
    </Step>
  );
}

/** How large the proof would be, and where it would lie. */
function Planned({ plan }: { plan: ProofPlan }) {
  return (
    <div className="rounded border border-line bg-paper p-3">
      <p>
        <strong>{counted(plan.frames, 'frame')}</strong>
        {plan.pages > 0 &&
          t` on ${counted(plan.pages, 'page')}, pictures ${whole(plan.height)} mm high`}
        <Trans>
          , as <strong>{plan.place}</strong>
        </Trans>
      </p>
      {plan.unprintable && (
        <p role="alert">
          <Trans>
            These characters are not in the fonts that Winnow has, and print as boxes:{' '}
            {plan.unprintable}
          </Trans>
        </p>
      )}
    </div>
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
