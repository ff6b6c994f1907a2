"""Copying picks to a folder: planned in a journal, verified by hash, stoppable, resumable."""

from __future__ import annotations

import os
import shutil
import time
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from winnow.core import delivering, sync
from winnow.core.delivering import ToName, Which
from winnow.core.frames import split_name
from winnow.core.names import clash_key, free_names
from winnow.core.profiles import Writing
from winnow.core.sync import NOTHING, Said, Stated
from winnow.core.templates import TemplateError
from winnow.photos import originals, xmp
from winnow.photos.originals import CopyError
from winnow.store import deliveries, frames, journals, labels, on_disk, shoots
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


@dataclass(frozen=True, slots=True)
class Wish:
    """How frames are delivered. ``template``: of their names, see ``core.delivering``; ``which``: of their
    files; ``links``: as further names of the same files, on the same disk, instead of copies."""

    sidecars: bool = True
    template: str = delivering.AS_IT_IS
    which: Which = "all"
    links: bool = False
    manifest: bool = False


AS_USUAL: Final = Wish()


def plan(
    db: Database, shoot_id: int, typed: str, frame_ids: Sequence[int], wish: Wish = AS_USUAL
) -> Plan:
    """Plan which file goes where, without touching anything. Raises DeliveryError.

    A file that is in the target already with equal content is not copied again; one with other
    content makes the new one take a free name.
    """
    target = check_target(db, shoot_id, typed)
    here = said_of(db, shoot_id, frame_ids)
    missing: list[str] = []
    wanted: list[tuple[FrameFiles, tuple[Path, ...], bool]] = []
    for frame in on_disk.files_of(db, here):
        if not all(path.is_file() for path in frame.all):
            missing.append(frame.name)
            continue
        which = delivering.chosen([path.name for path in frame.all], wish.which)
        with_sidecar = wish.sidecars and here[frame.id] != NOTHING
        wanted.append((frame, tuple(frame.all[n] for n in which), with_sidecar))
    values, groups = _values(db, shoot_id, here)
    try:
        names = delivering.named(
            [
                ToName(tuple(p.name for p in files), values[frame.id], groups[frame.id], sidecar)
                for frame, files, sidecar in wanted
            ],
            wish.template,
        )
    except TemplateError as error:
        raise DeliveryError(str(error)) from None
    present = _present(target, {name.rpartition("/")[0] for own in names for name in own})
    there = [
        all(_is_there(target, path, name, present) for path, name in zip(files, own, strict=False))
        for (_, files, _), own in zip(wanted, names, strict=True)
    ]
    taken = [*present.values()]
    taken += [name for own, kept in zip(names, there, strict=True) if kept for name in own]
    placed = iter(free_names([n for n, kept in zip(names, there, strict=True) if not kept], taken))
    items: list[Item] = []
    renamed: list[tuple[str, str]] = []
    for (frame, files, _), own, kept in zip(wanted, names, there, strict=True):
        final = own if kept else next(placed)
        items += _items(frame, files, final, wish.links)
        renamed += [pair for pair in zip(own, final, strict=True) if pair[0] != pair[1]]
    if wish.manifest and items:
        ((name,),) = free_names([("manifest.b3",)], [*taken, *(item.name for item in items)])
        items.append(Item(0, "manifest", target, name, 0))
    return Plan(
        target=str(target),
        makes_folder=not target.exists(),
        items=tuple(items),
        frames=len(wanted),
        size=sum(item.size for item in items if item.kind == "copy"),
        free=shutil.disk_usage(_existing(target)).free,
        renamed=tuple(renamed),
        already_there=sum(there),
        missing=tuple(missing),
    )


def _values(
    db: Database, shoot_id: int, here: Mapping[int, Said]
) -> tuple[dict[int, dict[str, str]], dict[int, int]]:
    """What the fields of a template stand for, and the group, by frame."""
    shoot = shoots.get(db, shoot_id)
    names = labels.label_names(db)
    values, groups = {}, {}
    for frame, row in frames.for_list(db, shoot_id, here).items():
        said = here[frame]
        taken = row["shot_at"] if row["shot_at"] is not None else row["taken_at"]
        when = time.strftime("%Y-%m-%d %H%M%S", time.gmtime(max(0, taken or 0)))
        groups[frame] = row["group_no"]
        values[frame] = {
            "name": row["name"],
            "number": delivering.number_in(row["name"]),
            "date": when[:10],
            "year": when[:4],
            "month": when[5:7],
            "day": when[8:10],
            "time": when[11:],
            "shoot": shoot.name if shoot else "",
            "camera": row["camera"] or "",
            "stars": str(said.mark.stars),
            "label": names.get(said.mark.label or "", ""),
            "group": str(row["group_no"] + 1),
            "title": said.texts.title,
            "city": said.texts.city,
            "creator": ", ".join(said.texts.creators),
        }
    return values, groups


def _present(target: Path, folders: Iterable[str]) -> dict[str, str]:
    """The names in some folders of the target, relative to it, by what they must not clash with."""
    found = {}
    for folder in folders:
        for name in _names_in(target / folder):
            relative = f"{folder}/{name}" if folder else name
            found[clash_key(relative)] = relative
    return found


def _names_in(folder: Path) -> list[str]:
    return os.listdir(folder) if folder.is_dir() else []


def _is_there(target: Path, source: Path, name: str, present: Mapping[str, str]) -> bool:
    """Whether the target holds this very file already, under the name that it would get."""
    if present.get(clash_key(name)) != name:
        return False
    there = target / name
    return (
        there.is_file()
        and there.stat().st_size == source.stat().st_size
        and originals.file_hash(there) == originals.file_hash(source)
    )


def _items(
    frame: FrameFiles, files: Sequence[Path], names: Sequence[str], links: bool
) -> list[Item]:
    items = [
        Item(frame.id, "link" if links else "copy", source, name, source.stat().st_size)
        for source, name in zip(files, names, strict=False)
    ]
    if len(names) > len(files):
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
            for folder in {
                (target / i.name).parent for i in deliveries.items(self._db, delivery_id)
            }:
                originals.remove_parts(folder)
                originals.remove_parts(folder, originals.WRITE_PREFIX)
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
            if item.kind == "manifest":
                all_items = deliveries.items(self._db, delivery_id, ("done", "there"))
                state, digest, notice = _deliver_manifest(item, target, all_items)
            else:
                said = here.get(item.frame, NOTHING)
                state, digest, notice = _deliver(item, target, said, how)
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
        place.parent.mkdir(parents=True, exist_ok=True)
        if item.kind == "sidecar":
            return _deliver_sidecar(item, place, said, how)
        if place.exists():
            # Only an equal file counts as delivered: this is also how a resumed delivery meets
            # a copy that was finished just before the server was killed.
            digest = originals.file_hash(place)
            if digest == originals.file_hash(item.source):
                return "there", digest, ""
            return "failed", None, f"{item.name} is in the folder already, with other content."
        make = originals.link_new if item.kind == "link" else originals.copy_verified
        return "done", make(item.source, place), ""
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


def _deliver_manifest(
    item: Item, target: Path, delivered: Sequence[Item]
) -> tuple[str, str | None, str]:
    """Write down what was delivered, with the hash of each file."""
    listed = [(one.hash, one.name) for one in delivered if one.hash and one.kind != "manifest"]
    data = delivering.manifest(listed).encode("utf-8", "surrogateescape")
    place = target / item.name
    try:
        # One of an interrupted delivery knows less.
        present = place.read_bytes() if place.exists() else None
        if present != data:
            originals.write_whole(place, data, present)
    except (CopyError, OSError) as error:
        return "failed", None, str(error)
    return "done", originals.file_hash(place), ""
