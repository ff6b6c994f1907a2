/** The API, typed by its own description, and the one place that builds picture addresses. */
import { t } from '@lingui/core/macro';
import createClient from 'openapi-fetch';

import type { components, paths } from './schema';

type Schemas = components['schemas'];
export type Shoot = Schemas['ShootOut'];
export type Sharing = Schemas['SharingOut'];
export type Asked = Schemas['AskedOut'];
export type MovedShoot = Schemas['MovedShoot'];
export type FolderWithin = Schemas['WithinOut'];
export type FrameColumns = Schemas['FramesOut'];
export type Facts = Schemas['FactsOut'];
export type FocusTiles = Schemas['FocusOut'];
export type FoundOut = Schemas['FoundOut'];
/** All frames that pass a filter; the server may say only what is different to the last answer. */
export type Found = FoundOut & { ids: number[] };
export type Filter = Required<Schemas['FilterModel']>;
/** The data of events, by their names. */
export type Events = Schemas['EventsOut'];
export type EventName = Events['others'][number];
export type StandingWords = Schemas['StandingWords'];
export type Noticed = Schemas['NoticedOut'];
export type People = Schemas['PeopleOut'];
export type Person = Schemas['PersonOut'];
export type SeenFace = Schemas['SeenFaceOut'];
export type Draft = Schemas['DraftOut'];
export type Proposal = Schemas['ProposalOut'];
export type Question = Schemas['QuestionOut'];
export type FramePatch = Schemas['FramePatch'];
export type FilterEdit = Schemas['EditWritten']['edit'];
export type FilterPart = Schemas['PartOut'];
export type Beside = Schemas['BesideOut'];
export type Choice = Schemas['ChoiceOut'];
export type FilterFacts = Schemas['FilterFactsOut'];
export type FactChoice = Schemas['FactChoiceOut'];
export type HintKind = Schemas['HintKindOut'];
export type FrameHint = Schemas['FrameHintOut'];
export type FaceRows = Schemas['FacesOut'];
export type SecondLook = Schemas['SecondLookOut'];
export type Evidence = Schemas['EvidenceOut'];
export type Label = Schemas['LabelModel'];
export type LabelChoices = Schemas['LabelChoices'];
export type Settings = Required<Schemas['Settings']>;
export type AfterMark = NonNullable<Schemas['AfterMarks']['decision']>;
export type Decision = Schemas['Decision'];
export type Change = Schemas['ChangeOut'];
export type Plan = Schemas['PlanOut'];
export type Delivery = Schemas['DeliveryOut'];
export type DeliveryItem = Schemas['DeliveryItemOut'];
export type Cards = Schemas['CardsOut'];
export type OnCard = Schemas['OnCardOut'];
export type BringPlan = Schemas['BringPlanOut'];
export type Bringing = Schemas['BringingOut'];
export type Clock = Schemas['ClockOut'];
export type SuggestedOffset = Schemas['SuggestedOffset'];
export type FilesPlan = Schemas['FilesPlanOut'];
export type PlannedFiles = Schemas['PlannedOut'];
export type PartName = PlannedFiles['conflicts'][number];
export type Said = Schemas['SaidOut'];
export type FilesStatus = Schemas['FilesStatusOut'];
export type Profile = Schemas['ProfileModel'];
export type Samples = Schemas['SamplesOut'];
export type Texts = Schemas['TextsModel'];
export type TextsFound = Schemas['TextsOut'];
export type TextField = Schemas['FieldOut'];
export type TextTemplate = Schemas['TemplateModel'];
export type Aside = Schemas['AsideOut'];
export type Recipe = Schemas['RecipeModel'];
export type Funnel = Schemas['FunnelOut'];
export type ListCame = Schemas['CameOut'];
export type RenamingPlan = Schemas['RenamingPlanOut'];
export type Renaming = Schemas['RenamingOut'];
export type Program = Schemas['ProgramModel'];
export type ProofWish = Schemas['ProofIn']['proof'];
export type SheetWish = Required<Schemas['SheetModel']>;
export type GalleryWish = Required<Schemas['GalleryModel']>;
export type Proofs = Schemas['ProofsOut'];
export type ProofPlan = Schemas['ProofPlanOut'];
export type Proof = Schemas['ProofOut'];
export type AnswerCame = Schemas['AnswerOut'];
export type Deletion = Schemas['DeletionOut'];

export const api = createClient<paths>({ baseUrl: window.location.origin });

/** A refusal by the server, in its own words. */
export class Refusal extends Error {}

/** The data of an answer; throws a Refusal with the server's words. */
export async function ask<T>(
  answer: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let settled;
  try {
    settled = await answer;
  } catch {
    throw new Refusal(t`Winnow does not answer. Is it still running?`);
  }
  if (!settled.response.ok) {
    const detail = (settled.error as { detail?: unknown } | undefined)?.detail;
    throw new Refusal(
      typeof detail === 'string' ? detail : t`The server refused (${settled.response.status}).`,
    );
  }
  return settled.data as T;
}

export function inWords(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** Names this window, so that it doesn't draw its own marks twice. */
export const WINDOW = Math.random().toString(36).slice(2);

export type PictureKind = 'thumbnail' | 'preview' | 'full';

/** A picture's address names its content and stage: it may be kept for ever. */
export function pictureUrl(
  frame: { id: number; key: string | null; picture: number },
  kind: PictureKind,
): string {
  const stage = kind === 'thumbnail' ? `.${frame.picture}` : '';
  return `/api/frames/${frame.id}/${kind}?key=${frame.key ?? ''}${stage}`;
}
