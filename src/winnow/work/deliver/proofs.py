"""Proofs for a client: contact sheets and galleries are made, each behind, whole or not at all."""

from __future__ import annotations

import os
import secrets
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any, Final, Literal

from winnow.core.deliver import proof_sheet
from winnow.core.deliver.proof_sheet import LayoutError, SheetLayout
from winnow.core.files.names import free_names
from winnow.core.files.templates import safe_name
from winnow.photos import proof_gallery, proof_pdf, refusals, whole
from winnow.photos.cache import PictureCache
from winnow.photos.proof_gallery import ProofFrame
from winnow.photos.refusals import CopyError
from winnow.say import say
from winnow.store import frames, guests, labels
from winnow.store import proofs as stored
from winnow.store.db import Database
from winnow.store.proofs import ProofKind
from winnow.work import failures
from winnow.work.background import Background
from winnow.work.deliver.plan import DeliveryError, check_target
from winnow.work.events import Events
from winnow.work.files.read import said_of
from winnow.work.index.indexer import Indexer
from winnow.work.workers.tasks import Failure

_MOST: Final = 5_000  # frames of one proof
_NOT_SET_UP: Final = say(
    "Proofs need fonts and a page that are not installed. Set Winnow up again (scripts/setup.sh)."
)


class ProofError(Exception):
    """A proof that can't be made, or an answer that can't be taken over, in words."""


@dataclass(frozen=True, slots=True)
class SheetWish:
    """A contact sheet as PDF."""

    title: str
    layout: SheetLayout = field(default_factory=SheetLayout)


@dataclass(frozen=True, slots=True)
class GalleryWish:
    """A gallery. ``longest``: px of the pictures' long edge; ``wanted``: how many are to be
    chosen."""

    title: str
    greeting: str = ""
    names: bool = True
    longest: int = 1600
    watermark: str = ""
    wanted: int | None = None


Wish = SheetWish | GalleryWish


@dataclass(frozen=True, slots=True)
class ProofPlan:
    """What would be made.

    ``unprintable``: characters that the fonts lack, of a sheet; ``height``: of its pictures, mm.
    """

    place: str
    frames: int
    pages: int
    height: float
    unprintable: str


@dataclass(frozen=True, slots=True)
class ProofStatus:
    """How making a proof of a shoot stands."""

    running: bool = False
    kind: ProofKind = "pdf"
    done: int = 0
    total: int = 0
    place: str = ""
    notice: str = ""


def plan(
    db: Database, shoot_id: int, typed: str, frame_ids: Sequence[int], wish: Wish
) -> ProofPlan:
    """What a proof would be, without making anything. Raises ProofError."""
    if not frame_ids:
        raise ProofError(say("There are no frames for this proof."))
    if refused := guests.refusal(db, shoot_id, frame_ids):
        raise ProofError(refused)
    if len(frame_ids) > _MOST:
        raise ProofError(say("A proof has at most {most:,} frames. Narrow the filter.", most=_MOST))
    if not proof_pdf.fonts_are_there() or not proof_gallery.page_is_there():
        raise ProofError(_NOT_SET_UP)
    place = _place(db, shoot_id, typed, wish)
    rows = frames.get_all(db, shoot_id, frame_ids)
    if isinstance(wish, GalleryWish):
        return ProofPlan(str(place), len(rows), 0, 0, "")
    try:
        pages = proof_sheet.pages(wish.layout, [_size(row) for row in rows.values()])
        height = proof_sheet.row_height(wish.layout)
    except LayoutError as error:
        raise ProofError(str(error)) from None
    lines = _lines(db, shoot_id, list(rows), wish.layout)
    texts = [wish.title, *(line for under in lines.values() for line in under)]
    return ProofPlan(str(place), len(rows), len(pages), height, proof_pdf.unprintable(texts))


def _place(db: Database, shoot_id: int, typed: str, wish: Wish) -> Path:
    """A free name for the proof in the folder that was typed."""
    try:
        target = check_target(db, shoot_id, typed)
        present = os.listdir(target) if target.is_dir() else []
    except DeliveryError as error:
        raise ProofError(str(error)) from None
    except OSError as error:
        raise ProofError(refusals.reason(error, Path(typed).name)) from None
    ending = ".pdf" if isinstance(wish, SheetWish) else ""
    title = safe_name(wish.title.replace(".", " ") if not ending else wish.title)
    ((name,),) = free_names([(f"{title}{ending}",)], present)
    return target / name


def _size(row: Any) -> tuple[int, int]:
    """Width and height as the frame is shown, upright and turned by hand."""
    width, height = row.width or 3, row.height or 2
    return (height, width) if row.turned % 2 else (width, height)


def _lines(
    db: Database, shoot_id: int, frame_ids: Sequence[int], layout: SheetLayout
) -> dict[int, list[str]]:
    said = said_of(db, shoot_id, frame_ids)
    names = labels.label_names(db)
    lines = {}
    for number, (frame, row) in enumerate(frames.get_all(db, shoot_id, frame_ids).items(), 1):
        mark, texts = said[frame].mark, said[frame].texts
        taken = row.shot_at
        when = time.strftime("%Y-%m-%d  %H:%M:%S", time.gmtime(taken)) if taken else ""
        shown = [f"{mark.stars}★" if mark.stars else "", names.get(mark.label or "", "")]
        lines[frame] = proof_sheet.lines_under(
            layout,
            {
                "number": str(number),
                "name": row.name,
                "date": when,
                "marks": " ".join(filter(None, shown)),
                "title": texts.title,
                "caption": texts.caption,
            },
        )
    return lines


class Proofs:
    """Makes proofs, each shoot in a thread of its own."""

    def __init__(self, db: Database, cache: PictureCache, indexer: Indexer, events: Events) -> None:
        self._db = db
        self._cache = cache
        self._indexer = indexer
        self._events = events
        self._orders: dict[int, tuple[str, list[int], Wish]] = {}
        self._status: dict[int, ProofStatus] = {}
        self._lock = threading.Lock()
        self._background = Background("proof", self._run)

    def start(self, shoot_id: int, typed: str, frame_ids: list[int], wish: Wish) -> None:
        """Begin to make a proof. Raises ProofError."""
        planned = plan(self._db, shoot_id, typed, frame_ids, wish)
        kind: ProofKind = "pdf" if isinstance(wish, SheetWish) else "gallery"
        with self._lock:
            if not self._background.is_free(shoot_id, ended=not self.status(shoot_id).running):
                raise ProofError(say("A proof of this shoot is being made already."))
            self._orders[shoot_id] = (typed, frame_ids, wish)
            self._status[shoot_id] = ProofStatus(True, kind, 0, planned.frames, planned.place)
            self._background.start(shoot_id)

    def status(self, shoot_id: int) -> ProofStatus:
        """How it stands."""
        return self._status.get(shoot_id, ProofStatus())

    def stop(self, shoot_id: int) -> None:
        """Stop; what was begun is removed."""
        self._background.stop(shoot_id)

    def wait(self, shoot_id: int) -> None:
        """Wait until the proof is made."""
        self._background.wait(shoot_id)

    def close(self) -> None:
        """Stop. The server is about to end."""
        self._background.close()

    def _run(self, shoot_id: int, stopping: Callable[[], bool]) -> None:
        typed, frame_ids, wish = self._orders.pop(shoot_id)
        told = 0.0

        def tick(done: int) -> None:
            nonlocal told
            self._status[shoot_id] = replace(self.status(shoot_id), done=done)
            if time.monotonic() - told > 0.2:
                told = time.monotonic()
                self._events.tell(shoot_id, "proof")

        notice = ""
        try:
            place = _place(self._db, shoot_id, typed, wish)
            place.parent.mkdir(parents=True, exist_ok=True)
            token = secrets.token_hex(8)
            rows = frames.get_all(self._db, shoot_id, frame_ids)
            if isinstance(wish, SheetWish):
                self._make_sheet(shoot_id, place, rows, wish, tick, stopping)
                kind: Literal["pdf", "gallery"] = "pdf"
            else:
                self._make_gallery(token, place, rows, wish, tick, stopping)
                kind = "gallery"
            stored.make(self._db, shoot_id, token, kind, wish.title, str(place), list(rows))
            self._status[shoot_id] = replace(self.status(shoot_id), place=str(place))
        except proof_pdf.Stopped:
            notice = say("Stopped as you asked. Nothing was made.")
        except (ProofError, CopyError) as error:
            notice = str(error)
        except OSError as error:
            notice = refusals.reason(error, wish.title)
        except Exception as error:
            notice = failures.in_words(error, f"a proof of shoot {shoot_id}")
        finally:
            self._status[shoot_id] = replace(self.status(shoot_id), running=False, notice=notice)
            self._events.tell(shoot_id, "proof")

    def _make_sheet(
        self,
        shoot_id: int,
        place: Path,
        rows: Mapping[int, Any],
        wish: SheetWish,
        tick: Callable[[int], None],
        stopping: Callable[[], bool],
    ) -> None:
        ids = list(rows)
        lines = _lines(self._db, shoot_id, ids, wish.layout)
        pages = proof_sheet.pages(wish.layout, [_size(row) for row in rows.values()])
        data = proof_pdf.make(
            wish.layout,
            pages,
            wish.title,
            lambda index: self._picture(rows[ids[index]]),
            lambda index: lines[ids[index]],
            tick,
            stopping,
        )
        whole.write_whole(place, data, None)

    def _make_gallery(
        self,
        token: str,
        place: Path,
        rows: Mapping[int, Any],
        wish: GalleryWish,
        tick: Callable[[int], None],
        stopping: Callable[[], bool],
    ) -> None:
        whole.remove_unfinished_folders(place.parent)
        with whole.whole_folder(place) as folder:
            (folder / "large").mkdir()
            (folder / "small").mkdir()
            listed = []
            for number, row in enumerate(rows.values(), 1):
                if stopping():
                    raise proof_pdf.Stopped
                source = self._picture(row)
                if source is None:
                    raise ProofError(
                        say(
                            "{name} has no picture that could be shown: {why} Leave it out.",
                            name=row.name,
                            why=row.notice or say("it is missing"),
                        )
                    )
                name = f"{number:04d}.jpg"
                large, (width, height) = proof_gallery.picture(source, wish.longest, wish.watermark)
                small, _ = proof_gallery.picture(source, proof_gallery.SMALL_PX, wish.watermark)
                (folder / "large" / name).write_bytes(large)
                (folder / "small" / name).write_bytes(small)
                shown = row.name if wish.names else ""
                listed.append(ProofFrame(number, shown, width, height))
                tick(number)
            page = proof_gallery.page(token, wish.title, wish.greeting, wish.wanted, listed)
            (folder / "index.html").write_bytes(page)

    def _picture(self, row: Any) -> bytes | None:
        """A frame's preview as it is shown; made if it isn't there."""
        key = row.key
        data = self._cache.read(key, "preview") if key else None
        if data is None and key and not isinstance(self._indexer.picture(row.id).result(), Failure):
            data = self._cache.read(key, "preview")
        if data is None and key:
            data = self._cache.read(key, "thumbnail")
        return proof_pdf.turned(data, row.turned) if data is not None else None
