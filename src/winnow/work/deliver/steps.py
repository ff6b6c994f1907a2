"""The steps of a delivery, file by file, and their ways back."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable, Collection, Mapping, Sequence
from pathlib import Path

from winnow.core.deliver import naming
from winnow.core.deliver.ways import LEAVING
from winnow.core.files import merge
from winnow.core.files.merge import Said, Stated
from winnow.core.files.profiles import Writing
from winnow.core.frames import SIDECAR_ENDING, split_name
from winnow.photos import copies, entries, originals, refusals, whole, xmp
from winnow.photos.refusals import CopyError
from winnow.photos.xmp_check import SidecarError
from winnow.say import say
from winnow.store import frame_figures, frame_files, moved_files
from winnow.store.db import Database
from winnow.store.deliveries import Delivery, Item
from winnow.store.moved_files import HeldFile
from winnow.work.files.read import ONE_AT_A_TIME
from winnow.work.moves import journal

Outcome = tuple[str, str | None, str]  # state, hash and notice of an item


def _to_move(db: Database, delivery: Delivery, items: Sequence[Item]) -> list[HeldFile]:
    """The files of one frame and their places, where all can be moved now.

    Raises CopyError, OSError.
    """
    target, roots = Path(delivery.target), journal.chosen(db)
    if frame_figures.unfinished(db, [items[0].frame]):
        raise CopyError(say("It is still being analysed. Go on when that is done."))
    for item in items:
        if os.path.lexists(target / item.name):
            raise CopyError(say("{name} is in the folder already.", name=Path(item.name).name))
        if not item.source.exists():
            raise CopyError(
                say("{name}: the file or its folder is no longer there.", name=item.source.name)
            )
        # A sidecar takes marks in meanwhile.
        if split_name(item.name)[1] != SIDECAR_ENDING:
            entries.check_in_place(item.source, roots)
            stat = os.stat(item.source, follow_symlinks=False)
            copies.check_as_planned(item.source.name, stat, size_of(db, item))
    return [
        HeldFile(item.frame, item.source, target / item.name, item.size, delivery=delivery.id)
        for item in items
    ]


def move_frame(
    db: Database, delivery: Delivery, items: Sequence[Item], hashed: bool
) -> list[tuple[Item, Outcome]]:
    """Move the files of one frame, all or none."""
    frame = items[0].frame
    target = Path(delivery.target)
    known = moved_files.of_frames(db, [frame]).get(frame)
    try:
        if known is None:
            planned = _to_move(db, delivery, items)
            with ONE_AT_A_TIME:
                failed = journal.begin_and_move(db, {frame: planned})
            if failed:
                raise CopyError(failed[frame])
        elif known[0].delivery != delivery.id:
            raise CopyError(say("It was set aside, or moved out, in the meantime."))
        elif known[0].state != "held":
            raise CopyError(say("A part of its files could not be moved. Start Winnow again."))
        return [
            (
                item,
                ("done", copies.file_hash(target / item.name, [target]) if hashed else None, ""),
            )
            for item in items
        ]
    except (CopyError, OSError) as error:
        notice = refusals.reason(error, items[0].name)
        return [(item, ("failed", None, notice)) for item in items]


def moves_it(out: Mapping[int, Sequence[HeldFile]], item: Item, place: Path) -> bool:
    """Whether a delivery moved the file that is there now."""
    return any(file.place == place for file in out.get(item.frame, ()))


def take_back(db: Database, item: Item, place: Path, target: Path) -> tuple[str, str]:
    """Remove one file that was made; returns its state and a notice."""
    try:
        if not os.path.lexists(place):
            return "back", ""
        if item.kind in LEAVING and not _original_stands(db, item, place):
            return "done", say("Its original is no longer there: the copy stays.")
        originals.remove_copy(place, item.hash or "", [target])
    except (CopyError, OSError) as error:
        return "done", refusals.reason(error, item.name)
    return "back", ""


def _original_stands(db: Database, item: Item, copy: Path) -> bool:
    """Whether a frame's file is where it was, or set aside, with the content that was delivered,
    and stays there when the copy goes."""
    places = [item.source]
    places += [f.place for f in moved_files.of_frames(db, [item.frame]).get(item.frame, ())]
    for frame in frame_files.files_of(db, [item.frame]):
        places += frame.whole
    roots = journal.chosen(db)
    return any(
        originals.outlives(path, copy) and copies.file_hash(path, roots) == item.hash
        for path in places
    )


def size_of(db: Database, item: Item) -> int:
    """How many bytes an item's file should have: as many as were planned, unless Winnow has seen
    the frame as it is now."""
    for frame in frame_files.files_of(db, [item.frame]):
        with contextlib.suppress(OSError):  # the step says so
            if item.source in frame.all and not frame_files.changed_since(frame):
                return item.source.stat().st_size
    return item.size


def deliver(
    item: Item,
    roots: Collection[Path],
    target: Path,
    said: Said,
    how: Writing,
    moved: bool,
    tick: Callable[[int], None],
    planned: int,
) -> Outcome:
    """Copy or link one file, or write its sidecar, which may have ``moved`` with it.

    ``planned``: bytes that it should have.
    """
    place = target / item.name
    try:
        # Not the target itself: it was there a moment ago.
        target.stat()
        entries.make_folder(place.parent, roots)
        if item.kind == "sidecar":
            return _deliver_sidecar(item, place, roots, said, how, moved)
        if os.path.lexists(place):
            # Only an equal file counts as delivered: this is also how a resumed delivery meets
            # a copy that was finished just before the server was killed.
            digest = copies.file_hash(place, roots)
            if digest == copies.file_hash(item.source, roots):
                return "there", digest, ""
            return (
                "failed",
                None,
                say("{name} is in the folder already, with other content.", name=item.name),
            )
        if item.kind == "link":
            return "done", originals.link_new(item.source, place, roots, planned), ""
        return "done", copies.copy_verified(item.source, place, tick, roots, planned), ""
    except (CopyError, OSError) as error:
        return "failed", None, refusals.reason(error, item.name)


def _deliver_sidecar(
    item: Item, place: Path, roots: Collection[Path], said: Said, how: Writing, moved: bool
) -> Outcome:
    """Write a copy's sidecar: the original's, if there is one, with the marks as they are here."""
    is_sidecar = split_name(item.source.name)[1] == SIDECAR_ENDING
    there = entries.read_file(place, *roots) if os.path.lexists(place) else None
    base = (there if moved else entries.read_file(item.source, *roots)) if is_sidecar else None
    try:
        stated = xmp.read_sidecar(base) if base is not None else Stated()
        data = xmp.with_stated(base, merge.to_files(said, stated, how))
        if there == data:
            return "there", copies.file_hash(place, roots), ""
        if there is not None and not (moved and is_sidecar):
            return (
                "failed",
                None,
                say("{name} is in the folder already, with other content.", name=item.name),
            )
        whole.write_whole(place, data, there, roots)
    except SidecarError as error:
        return (
            "failed",
            None,
            say("The sidecar {name} can’t be read: {error}.", name=item.source.name, error=error),
        )
    return "done", copies.file_hash(place, roots), ""


def deliver_manifest(
    item: Item, target: Path, delivered: Sequence[Item], roots: Collection[Path]
) -> Outcome:
    """Write down what was delivered, with the hash of each file."""
    sums = {file.name: file.hash for file in delivered if file.hash and file.kind != "manifest"}
    for name in sums:
        # One that was moved along took marks in afterwards.
        if split_name(name)[1] == SIDECAR_ENDING:
            with contextlib.suppress(OSError):
                sums[name] = copies.file_hash(target / name, roots)
    listed = [(digest, name) for name, digest in sums.items()]
    data = naming.manifest(listed).encode("utf-8", "surrogateescape")
    place = target / item.name
    try:
        # One of an interrupted delivery knows less.
        present = entries.read_file(place, *roots) if os.path.lexists(place) else None
        if present != data:
            whole.write_whole(place, data, present, roots)
    except (CopyError, OSError) as error:
        return "failed", None, refusals.reason(error, item.name)
    return "done", copies.file_hash(place, roots), ""
