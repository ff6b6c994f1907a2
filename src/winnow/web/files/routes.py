"""Marks and texts in files: what would be written, writing it, conflicts, changes outside,
profiles."""

from __future__ import annotations

from collections import Counter
from dataclasses import asdict
from typing import Annotated, Any

from fastapi import APIRouter, HTTPException, Query, Response

from winnow.core.files import merge
from winnow.core.files.merge import Said
from winnow.core.files.profiles import Profile, ProfileError, check, writing
from winnow.say import say
from winnow.store import file_state, guests, settings
from winnow.store import labels as label_store
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep
from winnow.web.files.models import (
    FilesPlanOut,
    FilesStatusOut,
    LabelTextIn,
    PlannedOut,
    ProfileModel,
    SaidOut,
    SampleOut,
    SamplesOut,
    TakenOut,
    WriteFilesIn,
    WriteOut,
    WrittenFilesOut,
)
from winnow.web.marks.models import WindowIn
from winnow.web.settings.routes import SetNameQuery
from winnow.work import change_events
from winnow.work.files import label_texts, profiles
from winnow.work.files import read as files_read
from winnow.work.files import write as files_write
from winnow.work.files.write import Order, Planned
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api", tags=["files"], responses=RESPONSES)
_FIRST = 40  # of the frames without a problem
_MOST = 1000


def said_out(statement: Said) -> SaidOut:
    """What is said of a frame, as the API says it."""
    return SaidOut.model_validate(statement)


def _planned(p: Planned) -> PlannedOut:
    return PlannedOut.of(
        p,
        took=p.merged.took,
        conflicts=p.merged.conflicts,
        writes=[
            WriteOut(file=file, prop=prop, before=before, after=after)
            for file, prop, before, after in p.writes
        ],
        label_text=p.stated.mark.label or "",
    )


def _adds_only(p: Planned) -> bool:
    return not merge.takes_away(p.here, p.merged)


@router.get("/shoots/{shoot}/files/plan")
def plan_files(shoot: ShootDep, runtime: RuntimeDep) -> FilesPlanOut:
    """What writing would do to each frame's files; nothing is touched."""
    planned = files_write.plan(runtime.db, shoot)
    how = files_read.how_written(runtime.db)
    listed: list[Planned] = []
    shown: Counter[str] = Counter()
    taking = 0
    for p in planned:
        shown[p.outcome] += 1
        takes_away = merge.takes_away(p.here, p.merged)
        most = _MOST if takes_away or p.outcome in ("conflict", "unreadable") else _FIRST
        if p.outcome != "same" and shown[p.outcome] <= most:
            listed.append(p)
            # Of one in conflict nothing is taken before somebody decides.
            taking += takes_away and p.outcome not in ("conflict", "unreadable")
    texts = [p.stated.mark.label for p in planned if p.stated.mark.label]
    return FilesPlanOut(
        unchecked=len(guests.held_back(runtime.db, shoot)),
        # Nothing is taken away that is not listed.
        plan=runtime.file_writer.remember(files_write.shown(listed)),
        counts=dict(Counter(p.outcome for p in planned)),
        embeds=sum(
            target.embeds for p in planned if p.outcome in ("new", "change") for target in p.targets
        ),
        takes_away=taking,
        frames=[_planned(p) for p in sorted(listed, key=_adds_only)],
        unknown_labels=dict(Counter(text for text in texts if not how.knows(text))),
    )


@router.get("/shoots/{shoot}/files")
def get_files_status(shoot: ShootDep, runtime: RuntimeDep) -> FilesStatusOut:
    """How the last writing of a shoot stands, and what waits."""
    status = runtime.file_writer.status(shoot)
    result = status.result
    return FilesStatusOut.of(
        status,
        result=result and WrittenFilesOut.of(result, problems=result.problems[:_MOST]),
        unwritten=len(file_state.unwritten(runtime.db, shoot)),
        changed_outside=file_state.offered(runtime.db, shoot),
    )


@router.post("/shoots/{shoot}/files", status_code=202)
def write_to_files(shoot: ShootDep, wanted: WriteFilesIn, runtime: RuntimeDep) -> FilesStatusOut:
    """Start writing; what only the files changed is taken over first."""
    runtime.file_writer.start(
        shoot,
        Order(
            None if wanted.frames is None else tuple(wanted.frames),
            dict(wanted.kinds.items()),
            {(choice.frame, choice.part): choice.side for choice in wanted.single},
            runtime.file_writer.shown(wanted.plan),
        ),
    )
    return get_files_status(shoot, runtime)


@router.delete("/shoots/{shoot}/files")
def stop_writing(shoot: ShootDep, runtime: RuntimeDep) -> FilesStatusOut:
    """Stop writing; what is written stays."""
    runtime.file_writer.stop(shoot)
    return get_files_status(shoot, runtime)


@router.post("/shoots/{shoot}/files/take")
def take_over(shoot: ShootDep, asked: WindowIn, runtime: RuntimeDep) -> TakenOut:
    """Take over what changed in files outside Winnow, as one step of the history."""
    return _taken(runtime, shoot, file_state.offered(runtime.db, shoot), asked.window)


def _taken(runtime: Runtime, shoot: int, frames: list[int], window: str) -> TakenOut:
    change, notices = files_read.read_changed(runtime.db, shoot, only=frames)
    answer: dict[str, Any] = change_events.tell(runtime.db, runtime.events, shoot, change, window)
    runtime.events.tell(shoot, "files")
    runtime.events.tell(shoot, "progress")
    return TakenOut(**answer, notices=notices)


@router.delete("/shoots/{shoot}/files/take", status_code=204)
def leave_files(shoot: ShootDep, runtime: RuntimeDep) -> Response:
    """Leave what changed outside as it is: Winnow goes on with its own, and writing says what
    differs."""
    file_state.note_read(runtime.db, file_state.offered(runtime.db, shoot))
    runtime.events.tell(shoot, "files")
    runtime.events.tell(shoot, "progress")
    return Response(status_code=204)


@router.post("/shoots/{shoot}/label-texts")
def map_label_text(shoot: ShootDep, wanted: LabelTextIn, runtime: RuntimeDep) -> TakenOut:
    """Say what a label text found in files means, here and from now on, and take it over."""
    if wanted.letter and wanted.letter not in label_store.label_names(runtime.db):
        raise HTTPException(400, say("There is no label “{letter}”.", letter=wanted.letter))
    frames = label_texts.give_meaning(runtime.db, shoot, wanted.text, wanted.letter)
    return _taken(runtime, shoot, frames, "")


@router.get("/label-texts")
def list_label_texts(runtime: RuntimeDep) -> dict[str, str]:
    """What label texts found in files mean: a letter, "" for no label."""
    return dict(settings.load(runtime.db).label_texts)


@router.delete("/label-texts")
def forget_label_text(
    text: Annotated[str, Query(min_length=1, max_length=200)], runtime: RuntimeDep
) -> dict[str, str]:
    """A label text found in files means nothing any more. Marks that were taken over stay."""
    texts = list_label_texts(runtime)
    texts.pop(text, None)
    settings.save(runtime.db, {"label_texts": texts})
    return texts


@router.get("/profiles")
def list_profiles(runtime: RuntimeDep) -> list[ProfileModel]:
    """The person's profiles, in the order of names."""
    saved = settings.saved_sets(runtime.db, "profiles")
    return [ProfileModel.model_validate(content) for content in saved.values()]


@router.put("/profiles")
def save_profile(wanted: ProfileModel, runtime: RuntimeDep) -> list[ProfileModel]:
    """Keep a profile under its name."""
    profile = _profile(wanted)
    try:
        check(profile)
        writing(profile, profiles.label_set(runtime.db), {})
    except ProfileError as error:
        raise HTTPException(400, str(error)) from None
    settings.save_set(runtime.db, "profiles", wanted.name, asdict(profile))
    return list_profiles(runtime)


@router.delete("/profiles")
def forget_profile(name: SetNameQuery, runtime: RuntimeDep) -> list[ProfileModel]:
    """Remove a profile; if it was in use, the standard one is."""
    settings.forget_set(runtime.db, "profiles", name)
    return list_profiles(runtime)


def _profile(model: ProfileModel) -> Profile:
    return Profile(**model.model_dump())


@router.post("/shoots/{shoot}/profiles/preview")
def preview_profile(shoot: ShootDep, wanted: ProfileModel, runtime: RuntimeDep) -> SamplesOut:
    """How marks would be written, and as what they would be read again; nothing is kept."""
    try:
        check(_profile(wanted))
        samples, ambiguous = profiles.preview(runtime.db, shoot, _profile(wanted))
    except ProfileError as error:
        return SamplesOut(samples=[], problem=str(error))
    return SamplesOut(
        samples=[SampleOut.of(stated, mark=mark, again=again) for mark, stated, again in samples],
        ambiguous=ambiguous,
    )
