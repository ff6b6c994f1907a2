"""Hints: what they say, their thresholds, marks by them, and a second look at what they threw
out."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, HTTPException, Query

from winnow.core.marks import Edit
from winnow.core.verdict.hints import KINDS, Kind, best
from winnow.say import say
from winnow.store import faces as face_store
from winnow.store import frames, labels
from winnow.store import hints as store
from winnow.web.depends import RESPONSES, ByDep, IdPath, RuntimeDep, ShootDep
from winnow.web.hints.models import (
    ApplyIn,
    EvidenceOut,
    FacesIn,
    FacesOut,
    FiguresOut,
    FrameHintOut,
    HintKindOut,
    HintsOut,
    KindName,
    MattersOut,
    NoticedOut,
    SecondLookOut,
    ThresholdIn,
    ThrownOutFrame,
    VerdictsOut,
    WhoCountsIn,
    WhoCountsOut,
)
from winnow.web.marks.models import ChangeOut
from winnow.work import change_events, evidence, hints, who_counts
from winnow.work.compare import face_rows
from winnow.work.index.faces_and_hints import FACE_VERSION

router = APIRouter(prefix="/api", tags=["hints"], responses=RESPONSES)


@router.get("/shoots/{shoot}/hints")
def list_hints(shoot: ShootDep, runtime: RuntimeDep) -> HintsOut:
    """Every kind of hint, with the frames that it names."""
    waits = store.is_stale(runtime.db, shoot) or bool(
        face_store.waiting(runtime.db, shoot, FACE_VERSION)
    )
    verdicts = store.verdicts_of_shoot(runtime.db, shoot).values()
    return HintsOut(
        waits=waits,
        kinds=[_kind_out(now) for now in hints.summary(runtime.db, shoot)],
        verdicts=VerdictsOut(
            frame=[verdict.frame for verdict in verdicts],
            place=[verdict.place for verdict in verdicts],
            usable=[verdict.usable for verdict in verdicts],
            together=sorted({verdict.together for verdict in verdicts if verdict.together}),
        ),
    )


def _figure_of(kind: Kind) -> dict[str, object]:
    """How a figure of the kind is written, and on which side of the threshold it is named."""
    limit = kind.limit
    return {"unit": limit.unit, "decimals": limit.decimals, "below": limit.below}


def _kind_out(now: hints.KindNow) -> HintKindOut:
    limit = now.kind.limit
    return HintKindOut.of(
        now.kind,
        threshold=now.threshold,
        usual=limit.usual,
        least=limit.least,
        most=limit.most,
        **_figure_of(now.kind),
        named=now.named,
        decided=now.decided,
        disagreed=now.disagreed,
    )


@router.get("/shoots/{shoot}/hints/{kind}")
def list_figures(shoot: ShootDep, kind: KindName, runtime: RuntimeDep) -> FiguresOut:
    """The figures of a kind of hint, in order of size."""
    figures = store.figures(runtime.db, shoot).get(kind, [])
    in_order = sorted(figures, key=lambda row: row[1])
    return FiguresOut(frames=[f for f, _ in in_order], figures=[round(v, 4) for _, v in in_order])


@router.put("/shoots/{shoot}/hints/{kind}")
def set_threshold(
    shoot: ShootDep, kind: KindName, wanted: ThresholdIn, runtime: RuntimeDep
) -> HintKindOut:
    """Move the threshold of a kind of hint in this shoot."""
    value = wanted.threshold
    if value is not None:
        limit = KINDS[kind].limit
        value = min(max(value, limit.least), limit.most)
    store.set_threshold(runtime.db, shoot, kind, value)
    if kind in best.COUNTS_BY:
        # Whom it names follows at once; reasons and orders are made anew behind.
        store.note_stale(runtime.db, shoot)
        runtime.indexer.start(shoot)
    runtime.events.tell(shoot, "hints")
    return next(_kind_out(now) for now in hints.summary(runtime.db, shoot) if now.kind.name == kind)


@router.post("/shoots/{shoot}/hints/apply")
def apply_hints(shoot: ShootDep, wanted: ApplyIn, runtime: RuntimeDep, by: ByDep) -> ChangeOut:
    """Set a mark on frames that hints named, as one step of the history."""
    if wanted.label and wanted.label not in labels.label_names(runtime.db):
        raise HTTPException(400, say("There is no label “{label}”.", label=wanted.label))
    try:
        edit = Edit(wanted.decision, wanted.stars, wanted.label)
    except ValueError as error:
        raise HTTPException(400, f"{error}.") from None
    try:
        change = hints.apply(runtime.db, shoot, edit, wanted.frames, list(wanted.kinds), by)
    except KeyError:
        raise HTTPException(404, say("One of these frames is not in this shoot.")) from None
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, wanted.window, by)
    )


@router.get("/shoots/{shoot}/evidence")
def list_evidence(
    shoot: ShootDep,
    runtime: RuntimeDep,
    kind: Annotated[list[KindName], Query(min_length=1, max_length=len(KINDS))],
) -> list[EvidenceOut]:
    """The frames that these kinds of hint name, each with its reasons, and the best other frame of
    its group."""
    return [
        EvidenceOut.model_validate(piece)
        for piece in evidence.evidence(runtime.db, shoot, set(kind))
    ]


@router.get("/shoots/{shoot}/second-look")
def second_look(
    shoot: ShootDep,
    runtime: RuntimeDep,
    all_rejects: Annotated[bool, Query(description="whoever threw them out")] = False,
) -> list[SecondLookOut]:
    """Groups that lost all that was usable, with the best of it first."""
    return [
        SecondLookOut.of(
            group,
            frames=[ThrownOutFrame(frame=frame, words=words) for frame, words in group.frames],
        )
        for group in evidence.second_look(runtime.db, shoot, all_rejects=all_rejects)
    ]


@router.get("/frames/{frame}/hints")
def list_frame_hints(frame: IdPath, runtime: RuntimeDep) -> NoticedOut:
    """What was noticed of a frame: the verdict on it, and hints, what names it first."""
    shoot = frames.shoot_of(runtime.db, frame)
    if shoot is None:
        raise HTTPException(404, say("There is no such frame."))
    verdict = store.verdict_of(runtime.db, frame)
    said = [
        FrameHintOut.of(
            hint.kind,
            **_figure_of(hint.kind),
            kind=hint.kind.name,
            words=hint.words,
            figure=hint.figure,
            threshold=hint.threshold,
            named=hint.named,
        )
        for hint in hints.of_frame(runtime.db, shoot, frame)
    ]
    return NoticedOut(
        verdict=verdict.words if verdict else "",
        best=bool(verdict and verdict.best),
        usable=verdict is None or verdict.usable,
        hints=said,
    )


@router.get("/frames/{frame}/matters")
def get_matters(frame: IdPath, runtime: RuntimeDep) -> MattersOut:
    """Where the blur of a frame is measured, unless a person chooses another point."""
    if frames.shoot_of(runtime.db, frame) is None:
        raise HTTPException(404, say("There is no such frame."))
    judged = store.judged_of(runtime.db, [frame]).get(frame)
    if judged is None or not judged.sure:
        return MattersOut(x=0.5, y=0.5, at="", radius=0)
    return MattersOut.of(judged)


@router.post("/shoots/{shoot}/faces")
def compare_faces(shoot: ShootDep, wanted: FacesIn, runtime: RuntimeDep) -> FacesOut:
    """The faces of frames in rows, one a person."""
    ids = list(dict.fromkeys(wanted.frames))
    if not set(ids) <= frames.of_shoot(runtime.db, shoot, ids):
        raise HTTPException(404, say("One of these frames is not in this shoot."))
    rows = face_rows.compare(runtime.db, shoot, ids)
    return FacesOut.of(rows, frames=ids)


@router.put("/shoots/{shoot}/faces/counts")
def say_who_counts(shoot: ShootDep, wanted: WhoCountsIn, runtime: RuntimeDep) -> WhoCountsOut:
    """Say whose face counts most, or doesn't count; the order of their groups follows behind."""
    ids = {face.frame for face in wanted.faces}
    if not ids <= frames.of_shoot(runtime.db, shoot, list(ids)):
        raise HTTPException(404, say("One of these frames is not in this shoot."))
    places = [(face.frame, face.x, face.y) for face in wanted.faces]
    try:
        said = who_counts.say(
            runtime.db, shoot, places, wanted.weight, everywhere=wanted.everywhere
        )
    except who_counts.NobodyKnownError:
        raise HTTPException(
            409,
            say("In which other frames this person is, isn’t known: say it in this group."),
        ) from None
    runtime.indexer.start(shoot)
    runtime.events.tell(shoot, "hints")
    return WhoCountsOut(frames=said)
