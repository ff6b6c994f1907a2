"""Frames: the list, the filter, the facts and the pictures."""

from __future__ import annotations

import asyncio
import mimetypes
import os
from collections.abc import Iterator
from concurrent.futures import BrokenExecutor, Future
from dataclasses import replace
from typing import Annotated, Any, BinaryIO, Final, TypeVar
from urllib.parse import quote

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Request, Response
from fastapi.responses import StreamingResponse
from starlette.concurrency import run_in_threadpool

from winnow.core.events import FramePatch
from winnow.core.facts import BY_NAME, STATED, told, told_alone
from winnow.core.measure import focus_map
from winnow.core.verdict.hints.soft import place_of
from winnow.core.verdict.order import Standing, in_words
from winnow.photos import entries
from winnow.photos.cache import PictureKind
from winnow.say import say
from winnow.store import (
    file_state,
    frame_figures,
    frame_files,
    frames,
    groups,
    guests,
    hints,
    texts,
)
from winnow.web.depends import RESPONSES, GuestDep, IdPath, RuntimeDep, ShootDep, to_filter
from winnow.web.frames.models import (
    FactsOut,
    FindIn,
    FocusOut,
    FoundOut,
    FramesOut,
    LookingAt,
    PartIn,
    PathsIn,
    PathsOut,
    SeenIn,
    StatedOut,
    TurnedOut,
    TurnIn,
)
from winnow.web.models import as_text
from winnow.work import filtering
from winnow.work.runtime import Runtime
from winnow.work.workers.part_tasks import Part
from winnow.work.workers.tasks import Failure

T = TypeVar("T")
router = APIRouter(prefix="/api", tags=["frames"], responses=RESPONSES)
_JPEG: dict[int | str, dict[str, Any]] = {
    200: {"content": {"image/jpeg": {}}, "description": "a JPEG picture"}
}
_CHUNK: Final = 1 << 20
_FOREVER = "private, max-age=31536000, immutable"


@router.get("/shoots/{shoot}/frames")
def list_frames(shoot: ShootDep, runtime: RuntimeDep) -> FramesOut:
    """Every frame of a shoot, group by group, in order of time within each."""
    rows = frames.rows(runtime.db, shoot)
    said: dict[Standing, int] = {}
    standing = [
        -1 if r.standing is None else said.setdefault(_alike(r.standing), len(said)) for r in rows
    ]
    return FramesOut(
        id=[r.id for r in rows],
        name=[r.name for r in rows],
        kind=[r.kind for r in rows],
        state=[int(r.state) for r in rows],
        picture=[r.picture for r in rows],
        key=[r.key for r in rows],
        missing=[r.missing for r in rows],
        notice={r.id: r.notice for r in rows if r.notice},
        shot_at=[r.shot_at for r in rows],
        width=[r.width for r in rows],
        height=[r.height for r in rows],
        group=[r.group for r in rows],
        turned=[r.turned for r in rows],
        held=[r.id for r in rows if r.held],
        moved_out=[r.id for r in rows if r.moved_out],
        undated=[r.id for r in rows if r.shot_at is not None and not r.dated],
        pairs=groups.pairs(runtime.db, shoot),
        seen=[r.seen for r in rows],
        blur=[r.blur_px for r in rows],
        standing=standing,
        standings=[in_words(standing) for standing in said],
        decision=[r.mark.decision for r in rows],
        stars=[r.mark.stars for r in rows],
        label=[r.mark.label for r in rows],
    )


def _alike(standing: Standing) -> Standing:
    """The same for all that are told in the same words."""
    return replace(standing, blur=None, times=round(standing.times, 1))


@router.post("/shoots/{shoot}/find")
def find(shoot: ShootDep, wanted: FindIn, runtime: RuntimeDep) -> FoundOut:
    """The frames that pass a filter, and how many each choice would leave."""
    answer = filtering.find(runtime.db, shoot, to_filter(wanted, runtime))
    name, different = runtime.answers.said(shoot, answer.ids, wanted.since)
    return FoundOut.of(
        answer.counts,
        answer=name,
        words=answer.words,
        ids=answer.ids if different is None else None,
        came=different.came if different else [],
        gone=different.gone if different else [],
    )


@router.put("/shoots/{shoot}/looking-at", status_code=204)
def looking_at(shoot: ShootDep, wanted: LookingAt, runtime: RuntimeDep) -> Response:
    """Say which frames are on screen: their pictures come first."""
    runtime.indexer.look_at(shoot, wanted.frames)
    return Response(status_code=204)


@router.post("/shoots/{shoot}/seen", status_code=204)
def note_seen(shoot: ShootDep, wanted: SeenIn, runtime: RuntimeDep) -> Response:
    """Note that frames were looked at, for how far the cull is."""
    frames.note_seen(runtime.db, shoot, wanted.frames)
    return Response(status_code=204)


@router.post("/shoots/{shoot}/turn")
def turn(shoot: ShootDep, wanted: TurnIn, runtime: RuntimeDep) -> TurnedOut:
    """Turn frames on screen; their files are not changed."""
    turned = frames.turn(runtime.db, shoot, wanted.frames, wanted.by)
    patches: list[FramePatch] = [{"id": frame, "turned": by} for frame, by in turned.items()]
    runtime.events.tell(shoot, "frames", frames=patches)
    return TurnedOut(turned=turned)


_NOT_FOR_GUESTS: dict[str, Any] = {
    "folder": "",
    "latitude": None,
    "longitude": None,
    "content_hash": None,
    "sidecars": [],
    "companions": [],
}


@router.get("/frames/{frame}")
def get_facts(frame: IdPath, runtime: RuntimeDep, guest: GuestDep) -> FactsOut:
    """The facts of one frame; to a guest without where it lies and was taken, and without serial
    numbers."""
    runtime.indexer.somebody_looks()
    row = frames.get(runtime.db, frame)
    if row is None:
        raise HTTPException(404, say("There is no such frame."))
    (files,) = frame_files.files_of(runtime.db, [frame])
    map_ = frame_figures.focus_map(runtime.db, frame)
    region = focus_map.sharpest_region(focus_map.unpack(map_)) if map_ else None
    stated = frames.stated(runtime.db, [frame])[frame]
    judged = hints.judged_of(runtime.db, [frame]).get(frame)
    verdict = hints.verdict_of(runtime.db, frame)
    facts = FactsOut.of(
        row,
        blur_px=region.figure.blur if region else None,
        stated=[
            StatedOut(
                fact=fact.name,
                title=fact.title,
                value=value,
                words=told(fact.name, value),
                alone=told_alone(fact.name, value),
            )
            for fact in STATED
            if (value := stated[fact.column]) is not None
        ],
        judged_at=place_of(judged) if judged else "",
        standing=judged.standing if judged else None,
        verdict=verdict.words if verdict else "",
        marked_by=guests.marked_by(runtime.db, frame),
        clock_offset_s=(row.shot_at or 0) - (row.zoned_at or 0),
        in_file=file_state.embedded(runtime.db, frame).mark,
        texts=texts.texts_of(runtime.db, row.shoot_id, [frame])[frame],
        files=[path.name for path in files.all],
        sidecars=[path.name for path in files.sidecars],
        companions=[path.name for path in files.companions],
        folder=files.shown.parent,
    )
    if guest is not None:  # guard: facts that guests don't get
        public = [value for value in facts.stated if not BY_NAME[value.fact].private]
        return facts.model_copy(update=_NOT_FOR_GUESTS | {"stated": public})
    return facts


@router.get("/frames/{frame}/thumbnail", response_class=Response, responses=_JPEG)
async def get_thumbnail(frame: IdPath, request: Request, runtime: RuntimeDep) -> Response:
    """A picture with a long edge of 512 px, or what the camera embedded until that is made."""
    return await _picture(runtime, request, frame, "thumbnail")


@router.get("/frames/{frame}/preview", response_class=Response, responses=_JPEG)
async def get_preview(frame: IdPath, request: Request, runtime: RuntimeDep) -> Response:
    """A picture with a long edge of 2,048 px; made at once if it isn't there."""
    return await _picture(runtime, request, frame, "preview")


async def _picture(runtime: Runtime, request: Request, frame: int, kind: PictureKind) -> Response:
    # The page's address names the content, so a picture is never asked for twice.
    key = request.query_params.get("key", "")
    if key and request.headers.get("if-none-match") == f'"{key}"':
        return Response(status_code=304)
    runtime.indexer.somebody_looks()
    row = await run_in_threadpool(frames.get, runtime.db, frame)
    if row is None:
        raise HTTPException(404, say("There is no such frame."))
    key = row.key or ""
    data = await run_in_threadpool(_cached, runtime, key, kind, row.picture)
    if data is None and key:
        result = await _made(runtime.indexer.picture(frame))
        if isinstance(result, Failure):
            raise HTTPException(404, result.notice)
        data = await run_in_threadpool(runtime.cache.read, key, kind)
    if data is None:
        raise HTTPException(404, row.notice or say("The picture isn’t there yet."))
    final = kind == "preview" or row.picture == 2
    return _jpeg(data, key if final else "")


async def _made(future: Future[T]) -> T:
    """What a worker makes; when the worker ends over it, that is said in words."""
    try:
        return await asyncio.wrap_future(future)
    except BrokenExecutor:
        raise HTTPException(
            503, say("Decoding this file stopped the decoder. Try again.")
        ) from None


def _cached(runtime: Runtime, key: str, kind: PictureKind, picture: int) -> bytes | None:
    if not key:
        return None
    data = runtime.cache.read(key, kind)
    if data is None and kind == "thumbnail" and picture == 1:
        data = runtime.cache.read(key, "early")
    return data


@router.get("/frames/{frame}/full", response_class=Response, responses=_JPEG)
async def get_full(frame: IdPath, runtime: RuntimeDep, guest: GuestDep) -> Response:
    """The frame at full size; to a guest made anew, without what the file says beside it."""
    row = await run_in_threadpool(frames.get, runtime.db, frame)
    if row is None:
        raise HTTPException(404, say("There is no such frame."))
    made = guest is not None  # guard: originals
    result = await _made(runtime.close_ups.full_size(frame, made=made))
    if isinstance(result, Failure):
        raise HTTPException(404, result.notice)
    return _jpeg(result, row.key or "")


@router.get("/frames/{frame}/original", response_class=StreamingResponse)
def get_original(frame: IdPath, runtime: RuntimeDep) -> StreamingResponse:
    """The file that is shown for a frame, as it is: to be dragged out of the page."""
    files = frame_files.files_of(runtime.db, [frame])
    if not files:
        raise HTTPException(404, say("There is no such frame."))
    path = files[0].shown
    try:
        opened = entries.open_file(path, files[0].root)
    except OSError as error:
        raise HTTPException(
            404, say("The file can’t be opened: {why}.", why=error.strerror)
        ) from None
    headers = {
        "Content-Disposition": f"attachment; filename*=UTF-8''{quote(as_text(path.name))}",
        "Content-Length": str(os.fstat(opened.fileno()).st_size),
        "Cache-Control": "no-store",
    }
    kind = mimetypes.guess_type(path.name)[0] or "application/octet-stream"
    return StreamingResponse(_chunks(opened), media_type=kind, headers=headers)


def _chunks(opened: BinaryIO) -> Iterator[bytes]:
    with opened:
        while chunk := opened.read(_CHUNK):
            yield chunk


@router.post("/shoots/{shoot}/paths")
def list_paths(shoot: ShootDep, wanted: PathsIn, runtime: RuntimeDep) -> PathsOut:
    """Where the picture files of frames are, as text to be copied."""
    ours = frames.of_shoot(runtime.db, shoot, wanted.frames)
    if len(ours) < len(set(wanted.frames)):
        raise HTTPException(404, say("One of these frames is not in this shoot."))
    return PathsOut(
        paths=[
            as_text(path)
            for files in frame_files.files_of(runtime.db, wanted.frames)
            for path in files.all
        ]
    )


@router.get("/frames/{frame}/part", response_class=Response, responses=_JPEG)
async def get_part(
    frame: IdPath, runtime: RuntimeDep, wanted: Annotated[PartIn, Query()]
) -> Response:
    """A part of the frame at full size, or twice that."""
    row = await run_in_threadpool(frames.get, runtime.db, frame)
    if row is None:
        raise HTTPException(404, say("There is no such frame."))
    part = Part(wanted.left, wanted.top, wanted.width, wanted.height, wanted.scale)
    result = await _made(runtime.close_ups.part(frame, part))
    if isinstance(result, Failure):
        raise HTTPException(404, result.notice)
    current = wanted.key == (row.key or "")
    return _jpeg(result, _name(row.key, part) if current else "")


@router.get("/frames/{frame}/focus")
def get_focus(frame: IdPath, runtime: RuntimeDep) -> FocusOut:
    """Where the frame is sharp."""
    packed = frame_figures.focus_map(runtime.db, frame)
    if packed is None:
        raise HTTPException(404, say("The focus of this frame isn’t measured yet."))
    unpacked = focus_map.unpack(packed)
    blur, _ = focus_map.tiles(unpacked)
    rows, columns = blur.shape
    values = [None if np.isnan(v) else round(float(v), 2) for v in blur.ravel()]
    return FocusOut(rows=rows, columns=columns, tile=focus_map.tile_px(unpacked), blur=values)


def _name(key: str | None, part: Part) -> str:
    return f"{key}.{part.left}.{part.top}.{part.width}.{part.height}.{part.scale}"


def _jpeg(data: bytes, key: str) -> Response:
    headers = {"cache-control": _FOREVER, "etag": f'"{key}"'} if key else {}
    return Response(data, media_type="image/jpeg", headers=headers)
