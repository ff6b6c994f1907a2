import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import {
  api,
  ask,
  type GalleryWish,
  type ProofWish,
  type Proofs,
  type SheetWish,
  type Shoot,
} from '../../../api/client';
import { settled } from '../../../state/marking';
import { useShoot } from '../../../state/shoot';
import { useWhichFrames } from '../which-frames';

/** What is wished of a proof, what it would be, and making it. */
export function useProving(shoot: Shoot) {
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
  return {
    frames,
    kind,
    setKind,
    target,
    setTarget,
    sheet,
    setSheet,
    gallery,
    setGallery,
    proofs,
    refused: target.trim().length > 1 ? plan.error : null,
    known,
    ready,
    make,
    stop,
  };
}
