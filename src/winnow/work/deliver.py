"""Copying picks to a folder: planned in a journal, verified by hash, stoppable, resumable."""

from __future__ import annotations

import os
import shutil
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from winnow.core import sync
from winnow.core.frames import split_name
from winnow.core.names import clash_key, free_names
from winnow.core.profiles import Writing
from winnow.core.sync import NOTHING, Said, Stated
from winnow.photos import originals, xmp
from winnow.photos.originals import CopyError
from winnow.store import deliveries, journals, on_disk, shoots
from winnow.store.db import Database
from winnow.store.deliveries import Delivery, Item
from winnow.store.on_disk import FrameFiles
from winnow.work.background import Background
from winnow.work.events import Events
from winnow.work.said import how_written, said_of


class DeliveryError(Exception):
    """A delivery that can't be made, with the reason and what to do next in words."""


@dataclass(frozen=True, slots=True)
class Plan:
    """What a delivery would do. Sizes are bytes; ``free`` is what the target's disk has left."""

    target: str
    makes_folder: bool
    items: tuple[Item, ...]
    frames: int
    size: int
    free: int
    renamed: tuple[tuple[str, str], ...]
    already_there: int
    missing: tuple[str, ...]


def check_target(db: Database, shoot_id: int, typed: str) -> Path:
    """The target folder from what the person typed. Raises DeliveryError."""
    target = Path(os.path.expanduser(typed.strip()))
    if not typed.strip() or not target.is_absolute():
        raise DeliveryError("Give the whole path of the folder, beginning with “/”.")
    target = target.resolve()
    if target.exists() and not target.is_dir():
        raise DeliveryError(f"“{target}” is a file. Choose a folder.")
    for folder in shoots.folders_of(db, shoot_id):
        if target.is_relative_to(Path(folder.path).resolve()):
            raise DeliveryError(
                f"“{target}” lies within this shoot: the copies would become frames of it. "
                "Choose a folder outside."
            )
    parent = _existing(target)
    if not parent.is_dir() or not os.access(parent, os.W_OK | os.X_OK):
        raise DeliveryError(
            f"You have no permission to write in “{parent}”. Choose another folder."
        )
    return target


def _existing(folder: Path) -> Path:
    while not folder.exists():
        folder = folder.parent
    return folder


def plan(
    db: Database, shoot_id: int, typed: str, frame_ids: Sequence[int], with_sidecars: bool
) -> Plan:
    """Plan which file goes where, without touching anything. Raises DeliveryError.

    A file that is in the target already with equal content is not copied again; one with other
    content makes the new one take a free name.
    """
    target = check_target(db, shoot_id, typed)
    here = said_of(db, shoot_id, frame_ids)
    present = {clash_key(name): name for name in _names_in(target)}
    missing: list[str] = []
    wanted: list[tuple[FrameFiles, tuple[str, ...]]] = []
    kept: list[tuple[FrameFiles, tuple[str, ...]]] = []
    for frame in on_disk.files_of(db, here):
        if not all(path.is_file() for path in frame.all):
            missing.append(frame.name)
            continue
        names = tuple(path.name for path in frame.all)
        if with_sidecars and here[frame.id] != NOTHING:
            names = (*names, f"{split_name(names[0])[0]}.xmp")
        if all(_is_there(target, path, present) for path in frame.all):
            kept.append((frame, names))
        else:
            wanted.append((frame, names))
    taken = [*present.values(), *(name for _, names in kept for name in names)]
    placed = free_names([names for _, names in wanted], taken)
    items: list[Item] = []
    renamed: list[tuple[str, str]] = []
    for (frame, names), final in zip(wanted, placed, strict=True):
        items += _items(frame, final)
        renamed += [pair for pair in zip(names, final, strict=True) if pair[0] != pair[1]]
    for frame, names in kept:
        items += _items(frame, names)
    return Plan(
        target=str(target),
        makes_folder=not target.exists(),
        items=tuple(items),
        frames=len(wanted) + len(kept),
        size=sum(item.size for item in items),
        free=shutil.disk_usage(_existing(target)).free,
        renamed=tuple(renamed),
        already_there=len(kept),
        missing=tuple(missing),
    )


def _names_in(folder: Path) -> list[str]:
    return os.listdir(folder) if folder.is_dir() else []


def _is_there(target: Path, source: Path, present: dict[str, str]) -> bool:
    """Whether the target holds this very file already, under its own name."""
    name = present.get(clash_key(source.name))
    if name != source.name:
        return False
    there = target / name
    return (
        there.is_file()
        and there.stat().st_size == source.stat().st_size
        and originals.file_hash(there) == originals.file_hash(source)
    )


def _items(frame: FrameFiles, names: Sequence[str]) -> list[Item]:
    sources = list(frame.all)
    items = [
        Item(frame.id, "copy", source, name, source.stat().st_size)
        for source, name in zip(sources, names, strict=False)
    ]
    if len(names) > len(sources):
        sidecar = frame.sidecars[0] if frame.sidecars else frame.shown
        items.append(Item(frame.id, "sidecar", sidecar, names[-1], 0))
    return items


class Deliveries:
    """Runs deliveries, each in a thread of its own."""

    def __init__(self, db: Database, events: Events) -> None:
        self._db = db
        self._events = events
        self._background = Background("deliver", self._run)
        journals.note_interrupted(db, "delivery")

    def start(self, shoot_id: int, planned: Plan) -> int:
        """Write the plan down and start copying; returns the delivery's id. DeliveryError."""
        if not planned.items:
            raise DeliveryError("There is nothing to copy.")
        needed = planned.size
        if needed > planned.free:
            raise DeliveryError(
                f"The disk has not enough space: {needed / 1e6:,.0f} MB are needed, "
                f"{planned.free / 1e6:,.0f} MB are free."
            )
        delivery = deliveries.make(self._db, shoot_id, planned.target, planned.items)
        self._go(delivery)
        return delivery

    def resume(self, delivery_id: int) -> None:
        """Go on with a stopped delivery; files that failed are tried again."""
        if not self._background.is_running(delivery_id):
            self._go(delivery_id)

    def stop(self, delivery_id: int) -> None:
        """Stop after the file that is being copied."""
        self._background.stop(delivery_id)

    def wait(self, delivery_id: int) -> None:
        """Wait until it has ended."""
        self._background.wait(delivery_id)

    def close(self) -> None:
        """Stop every delivery. The server is about to end."""
        self._background.close()

    def _go(self, delivery_id: int) -> None:
        journals.keep_state(self._db, "delivery", delivery_id, "running")
        self._background.start(delivery_id)

    def _run(self, delivery_id: int, stopping: Callable[[], bool]) -> None:
        delivery = deliveries.get(self._db, delivery_id)
        assert delivery is not None
        target = Path(delivery.target)
        try:
            target.mkdir(parents=True, exist_ok=True)
            originals.remove_parts(target)
            originals.remove_parts(target, originals.WRITE_PREFIX)
        except OSError as error:
            notice = originals.reason(error, target.name)
            journals.keep_state(self._db, "delivery", delivery_id, "stopped", notice)
            self._tell(delivery)
            return
        here = said_of(
            self._db, delivery.shoot_id, (i.frame for i in deliveries.items(self._db, delivery_id))
        )
        how = how_written(self._db)
        told = 0.0
        for item in deliveries.items(self._db, delivery_id, ("planned", "failed")):
            if stopping():
                journals.keep_state(
                    self._db, "delivery", delivery_id, "stopped", "Stopped on your wish."
                )
                self._tell(delivery)
                return
            state, digest, notice = _deliver(item, target, here.get(item.frame, NOTHING), how)
            deliveries.keep_item(self._db, delivery_id, item.number, state, digest, notice)
            if time.monotonic() - told > 0.2:
                told = time.monotonic()
                self._tell(delivery)
        journals.keep_state(self._db, "delivery", delivery_id, "done")
        self._tell(delivery)

    def _tell(self, delivery: Delivery) -> None:
        self._events.tell(delivery.shoot_id, "delivery", id=delivery.id)


def _deliver(item: Item, target: Path, said: Said, how: Writing) -> tuple[str, str | None, str]:
    """Copy one file; returns its state, its hash and a notice."""
    place = target / item.name
    try:
        if item.kind == "sidecar":
            return _deliver_sidecar(item, place, said, how)
        if place.exists():
            # Only an equal file counts as delivered: this is also how a resumed delivery meets
            # a copy that was finished just before the server was killed.
            digest = originals.file_hash(place)
            if digest == originals.file_hash(item.source):
                return "there", digest, ""
            return "failed", None, f"{item.name} is in the folder already, with other content."
        return "done", originals.copy_verified(item.source, place), ""
    except CopyError as error:
        return "failed", None, str(error)
    except OSError as error:
        return "failed", None, originals.reason(error, item.name)


def _deliver_sidecar(
    item: Item, place: Path, said: Said, how: Writing
) -> tuple[str, str | None, str]:
    """Write a copy's sidecar: the original's, if there is one, with the marks as they are here."""
    is_sidecar = split_name(item.source.name)[1] == "xmp"
    base = item.source.read_bytes() if is_sidecar else None
    try:
        stated = xmp.read_sidecar(base) if base is not None else Stated()
        data = xmp.with_stated(base, sync.to_files(said, stated, how))
        if place.exists():
            if place.read_bytes() == data:
                return "there", originals.file_hash(place), ""
            return "failed", None, f"{item.name} is in the folder already, with other content."
        originals.write_whole(place, data, None)
    except xmp.SidecarError as error:
        return "failed", None, f"The sidecar {item.source.name} can't be read: {error}."
    return "done", originals.file_hash(place), ""
