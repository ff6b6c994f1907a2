"""Delivering frames to a folder: journalled, verified by hash, paused and resumed, and taken back."""

from __future__ import annotations

import contextlib
import errno
import os
import threading
import time
from collections import deque
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial
from itertools import groupby
from pathlib import Path
from typing import Final

from winnow.core.deliver import naming
from winnow.core.files import merge
from winnow.core.files.merge import NOTHING, Said, Stated
from winnow.core.files.profiles import Writing
from winnow.core.frames import SIDECAR_ENDING, split_name
from winnow.photos import disks, entries, originals, xmp
from winnow.photos.originals import CopyError
from winnow.photos.xmp_check import SidecarError
from winnow.say import say
from winnow.store import (
    deliveries,
    frame_files,
    frames,
    guests,
    journals,
    moved_files,
    renamings,
    shoots,
)
from winnow.store.db import Database
from winnow.store.deliveries import Delivery, Item
from winnow.store.moved_files import HeldFile
from winnow.work import failures
from winnow.work.background import Background
from winnow.work.deliver.plan import DeliveryError, Plan
from winnow.work.events import Events
from winnow.work.files.read import ONE_AT_A_TIME, how_written, said_of
from winnow.work.moves import journal
from winnow.work.moves.journal import BEGINNING

_TELL_S: Final = 0.2
_WINDOW: Final = 50  # samples of the speed, one at each telling


@dataclass(slots=True)
class Pace:
    """How quickly a delivery goes now. ``bytes``: since it was started or went on, unfinished files included."""

    bytes: int = 0
    of_file: int = 0  # bytes of the file that is being copied
    samples: deque[tuple[float, int]] = field(default_factory=lambda: deque(maxlen=_WINDOW))

    def speed(self) -> float | None:
        """Bytes a second over the last samples; None until there are enough."""
        if len(self.samples) < 2:
            return None
        (start, before), (end, after) = self.samples[0], self.samples[-1]
        return (after - before) / (end - start) if end - start > 0.5 else None


class Deliveries:
    """Runs deliveries, each in a thread of its own."""

    def __init__(self, db: Database, events: Events) -> None:
        self._db = db
        self._events = events
        self._background = Background("deliver", self._run)
        self._paces: dict[int, Pace] = {}
        self._returning: set[int] = set()
        self._cancelled: set[int] = set()
        self._lock = threading.Lock()
        journals.note_interrupted(db, "delivery")

    def start(self, shoot_id: int, planned: Plan) -> int:
        """Write the plan down and start; returns the delivery's id. DeliveryError."""
        if not planned.items:
            raise DeliveryError(say("There is nothing to deliver."))
        needed = planned.size
        if needed > planned.free:
            raise DeliveryError(
                say(
                    "The disk has not enough space: {needed:,.0f} MB are needed, {free:,.0f} MB are free.",
                    needed=needed / 1e6,
                    free=planned.free / 1e6,
                )
            )
        with BEGINNING:
            if renamings.is_going_on(self._db, shoot_id):
                raise DeliveryError(say("Files of this shoot are being renamed. Wait for that."))
            if journal.NAMES_CHANGED.count != planned.names_changed:
                raise DeliveryError(say("Names of files changed just now. Look at the plan again."))
            mount = str(disks.mount_of(Path(planned.target)))
            delivery = deliveries.make(
                self._db, shoot_id, planned.target, planned.items, planned.how, mount
            )
            self._go(delivery, "running")
        return delivery

    def resume(self, delivery_id: int) -> None:
        """Go on with a stopped delivery; files that failed are tried again."""
        with self._lock:
            if self._is_free(delivery_id):
                self._go(delivery_id, "running")

    def stop(self, delivery_id: int) -> None:
        """Pause after the file that is being copied."""
        self._background.stop(delivery_id)

    def cancel(self, delivery_id: int) -> None:
        """Give up what is not delivered yet. What was delivered stays, until it is taken back."""
        self._cancelled.add(delivery_id)
        self._background.stop(delivery_id)
        found = deliveries.get(self._db, delivery_id)
        if found and found.state in ("planned", "running", "stopped"):
            journals.keep_state(self._db, "delivery", delivery_id, "cancelled", say("Cancelled."))
            self._tell(found)
        self._cancelled.discard(delivery_id)

    def take_back(self, delivery_id: int) -> None:
        """Remove the copies that a delivery made, and move back what it moved. Only what is unchanged since,
        and only copies whose original is still there."""
        with self._lock:
            if self._is_free(delivery_id):
                self._returning.add(delivery_id)
                self._go(delivery_id, "returning")

    def _is_free(self, delivery_id: int) -> bool:
        found = deliveries.get(self._db, delivery_id)
        ended = found is not None and found.state not in ("running", "returning")
        return self._background.is_free(delivery_id, ended=ended)

    def pace(self, delivery_id: int) -> Pace | None:
        """How quickly a delivery goes; None where it doesn't."""
        return self._paces.get(delivery_id) if self._background.is_running(delivery_id) else None

    def wait(self, delivery_id: int) -> None:
        """Wait until it has ended."""
        self._background.wait(delivery_id)

    def close(self) -> None:
        """Stop every delivery. The server is about to end."""
        self._background.close()

    def _go(self, delivery_id: int, state: str) -> None:
        journals.keep_state(self._db, "delivery", delivery_id, state)
        self._paces[delivery_id] = Pace()
        self._background.start(delivery_id)

    def _run(self, delivery_id: int, stopping: Callable[[], bool]) -> None:
        returning = delivery_id in self._returning
        self._returning.discard(delivery_id)
        delivery = None
        state, notice = "stopped", ""
        try:
            delivery = deliveries.get(self._db, delivery_id)
            assert delivery is not None
            if (self._return if returning else self._deliver)(delivery, stopping):
                state = "returned" if returning else "done"
            else:
                notice = say("Paused on your wish.")
        except Exception as error:
            if isinstance(error, OSError) and error.filename is None and delivery:
                error.filename = delivery.target
            notice = failures.in_words(error, f"delivery {delivery_id}")
        if delivery_id not in self._cancelled:
            keep = partial(journals.keep_state, self._db, "delivery", delivery_id, state, notice)
            failures.until_stored(keep, stopping)
        if delivery:
            self._tell_moved(delivery)
            self._tell(delivery)

    def _deliver(self, delivery: Delivery, stopping: Callable[[], bool]) -> bool:
        """Deliver what is not delivered. Returns whether that went through."""
        target = Path(delivery.target)
        every = deliveries.items(self._db, delivery.id)
        self._check_disk(delivery, every)
        target.mkdir(parents=True, exist_ok=True)
        roots = [*shoots.roots(self._db), target]
        for folder in {(target / item.name).parent for item in every}:
            originals.remove_parts(folder, roots=roots)
            originals.remove_parts(folder, originals.WRITE_PREFIX, roots)
        here = said_of(self._db, delivery.shoot_id, (item.frame for item in every))
        how = how_written(self._db)
        hashed = any(item.kind == "manifest" for item in every)
        for _, together in groupby(
            self._waiting(delivery), lambda i: (i.kind == "move", i.frame, i.kind)
        ):
            items = list(together)
            if items[0].kind == "move":
                if stopping():
                    return False
                self._keep(delivery, _move_frame(self._db, delivery, items, hashed))
                for item in items:
                    self._count(delivery, item.size)
                continue
            for item in items:
                if stopping():
                    return False
                with self._counting(delivery, item) as tick:
                    if item.kind == "sidecar" and (why := self._no_sidecar(delivery, item)):
                        outcome: Outcome = ("failed", None, why)
                    elif item.kind == "manifest":
                        listed = deliveries.items(self._db, delivery.id, ("done", "there"))
                        outcome = _deliver_manifest(item, target, listed, roots)
                    else:
                        said = here.get(item.frame, NOTHING)
                        moved = delivery.how == "move"
                        outcome = _deliver(item, roots, target, said, how, moved, tick)
                    self._keep(delivery, [(item, outcome)])
        return True

    def _no_sidecar(self, delivery: Delivery, item: Item) -> str:
        """Why a sidecar is not written; "" where it is."""
        if not self._is_there(delivery, item):
            return say("Its picture was not moved.")
        if item.frame in guests.held_back(self._db, delivery.shoot_id):
            return say("A guest changed it just now. Take that over, and go on.")
        return ""

    def _check_disk(self, delivery: Delivery, every: Sequence[Item]) -> None:
        """See whether the target's disk is there, and the same one. Raises DiskGone."""
        disks.check_mounted(delivery.mount, delivery.target)
        # What was moved is there as long as it is held.
        out = moved_files.of_delivery(self._db, delivery.id)
        made = [
            Path(delivery.target) / item.name
            for item in every
            if item.state == "done" and (delivery.how != "move" or item.frame in out)
        ]
        disks.check_same_disk(delivery.mount, delivery.target, made)

    def _waiting(self, delivery: Delivery) -> list[Item]:
        """What is to be delivered yet. The list of what was delivered is made again when more is."""
        found = deliveries.items(self._db, delivery.id, ("planned", "failed"))
        if found and found[-1].kind != "manifest":
            every = deliveries.items(self._db, delivery.id)
            found += [item for item in every if item.kind == "manifest"]
        return found

    def _is_there(self, delivery: Delivery, item: Item) -> bool:
        """Whether the picture that a sidecar stands beside came along, where pictures are moved."""
        files = moved_files.of_frames(self._db, [item.frame]).get(item.frame, ())
        return delivery.how != "move" or any(file.delivery == delivery.id for file in files)

    def _keep(self, delivery: Delivery, outcomes: Sequence[tuple[Item, Outcome]]) -> None:
        """Record what became of files. Raises DiskGone, CopyError where all others would fail for the same reason."""
        refused = next((o for _, o in outcomes if o[0] == "failed"), None)
        if refused is not None:
            # What is not written yet waits for the disk.
            disks.check_mounted(delivery.mount, delivery.target)
        for item, outcome in outcomes:
            deliveries.keep_item(self._db, delivery.id, item.number, *outcome)
        if refused is not None and originals.DISK_FULL in refused[2]:
            raise OSError(errno.ENOSPC, "the disk is full")

    def _return(self, delivery: Delivery, stopping: Callable[[], bool]) -> bool:
        """Take back what was delivered. Returns whether that went through."""
        target = Path(delivery.target)
        self._check_disk(delivery, deliveries.items(self._db, delivery.id))
        out = moved_files.of_delivery(self._db, delivery.id)
        for folder in {file.source.parent for files in out.values() for file in files}:
            # What a way back that was killed has left there.
            originals.remove_parts(folder, roots=journal.chosen(self._db))
        made = deliveries.items(self._db, delivery.id, ("done", "failed"))
        for item in reversed([item for item in made if item.kind != "move"]):
            if stopping():
                return False
            place = target / item.name
            if item.state != "done" or (item.kind == "sidecar" and _moves(out, item, place)):
                continue
            state, notice = _take_back(self._db, item, place, target)
            deliveries.keep_item(self._db, delivery.id, item.number, state, item.hash, notice)
            self._count(delivery, item.size)
        for frame, files in out.items():
            if stopping():
                return False
            with ONE_AT_A_TIME:
                failed = journal.move_back(self._db, {frame: files})
            for item in (item for item in made if item.kind == "move" and item.frame == frame):
                state = "done" if failed else "back"
                why = failed.get(frame, "")
                deliveries.keep_item(self._db, delivery.id, item.number, state, item.hash, why)
                self._count(delivery, item.size)
        for folder in sorted({(target / i.name).parent for i in made}, reverse=True):
            with contextlib.suppress(OSError):
                while folder != target and folder.is_relative_to(target):
                    folder.rmdir()
                    folder = folder.parent
        return True

    @contextlib.contextmanager
    def _counting(self, delivery: Delivery, item: Item) -> Iterator[Callable[[int], None]]:
        """Count the bytes of one file as it is copied; afterwards it counts whole, whatever came of it."""
        pace = self._paces[delivery.id]
        pace.of_file = 0

        def tick(count: int) -> None:
            pace.of_file += count
            self._note(delivery, pace)

        yield tick
        pace.of_file = 0
        self._count(delivery, item.size)

    def _count(self, delivery: Delivery, size: int) -> None:
        pace = self._paces[delivery.id]
        pace.bytes += size
        self._note(delivery, pace)

    def _note(self, delivery: Delivery, pace: Pace) -> None:
        now = time.monotonic()
        if not pace.samples or now - pace.samples[-1][0] > _TELL_S:
            pace.samples.append((now, pace.bytes + pace.of_file))
            self._tell(delivery)

    def _tell(self, delivery: Delivery) -> None:
        self._events.tell(delivery.shoot_id, "delivery", id=delivery.id)

    def _tell_moved(self, delivery: Delivery) -> None:
        """Frames may be elsewhere now, also where it was paused or failed on the way."""
        if delivery.how == "move":
            self._events.tell(delivery.shoot_id, "order")


Outcome = tuple[str, str | None, str]  # state, hash and notice of an item


def _move_frame(
    db: Database, delivery: Delivery, items: Sequence[Item], hashed: bool
) -> list[tuple[Item, Outcome]]:
    """Move the files of one frame, all or none."""
    frame = items[0].frame
    target = Path(delivery.target)
    known = moved_files.of_frames(db, [frame]).get(frame)
    try:
        if known is None:
            if frames.unfinished(db, [frame]):
                raise CopyError(say("It is still being analysed. Go on when that is done."))
            planned = [
                HeldFile(frame, i.source, target / i.name, i.size, delivery=delivery.id)
                for i in items
            ]
            taken = next((f for f in planned if os.path.lexists(f.place)), None)
            if taken is not None:
                raise CopyError(say("{name} is in the folder already.", name=taken.place.name))
            if gone := next((f for f in planned if not f.source.exists()), None):
                raise CopyError(
                    say("{name}: the file or its folder is no longer there.", name=gone.source.name)
                )
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
                ("done", originals.file_hash(target / item.name, [target]) if hashed else None, ""),
            )
            for item in items
        ]
    except (CopyError, OSError) as error:
        notice = originals.reason(error, items[0].name)
        return [(item, ("failed", None, notice)) for item in items]


def _moves(out: Mapping[int, Sequence[HeldFile]], item: Item, place: Path) -> bool:
    return any(file.place == place for file in out.get(item.frame, ()))


def _take_back(db: Database, item: Item, place: Path, target: Path) -> tuple[str, str]:
    """Remove one file that was made; returns its state and a notice."""
    try:
        if not os.path.lexists(place):
            return "back", ""
        if item.kind in ("copy", "link") and not _original_stands(db, item, place):
            return "done", say("Its original is no longer there: the copy stays.")
        originals.remove_copy(place, item.hash or "", [target])
    except (CopyError, OSError) as error:
        return "done", originals.reason(error, item.name)
    return "back", ""


def _original_stands(db: Database, item: Item, copy: Path) -> bool:
    """Whether a frame's file is where it was, or set aside, with the content that was delivered, and stays there
    when the copy goes."""
    places = [item.source]
    places += [f.place for f in moved_files.of_frames(db, [item.frame]).get(item.frame, ())]
    for frame in frame_files.files_of(db, [item.frame]):
        places += frame.whole
    roots = journal.chosen(db)
    return any(
        originals.outlives(path, copy) and originals.file_hash(path, roots) == item.hash
        for path in places
    )


def _deliver(
    item: Item,
    roots: Collection[Path],
    target: Path,
    said: Said,
    how: Writing,
    moved: bool,
    tick: Callable[[int], None],
) -> Outcome:
    """Copy or link one file, or write its sidecar, which may have ``moved`` with it."""
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
            digest = originals.file_hash(place, roots)
            if digest == originals.file_hash(item.source, roots):
                return "there", digest, ""
            return (
                "failed",
                None,
                say("{name} is in the folder already, with other content.", name=item.name),
            )
        if item.kind == "link":
            return "done", originals.link_new(item.source, place, roots), ""
        return "done", originals.copy_verified(item.source, place, tick, roots), ""
    except (CopyError, OSError) as error:
        return "failed", None, originals.reason(error, item.name)


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
            return "there", originals.file_hash(place, roots), ""
        if there is not None and not (moved and is_sidecar):
            return (
                "failed",
                None,
                say("{name} is in the folder already, with other content.", name=item.name),
            )
        originals.write_whole(place, data, there, roots)
    except SidecarError as error:
        return (
            "failed",
            None,
            say("The sidecar {name} can't be read: {error}.", name=item.source.name, error=error),
        )
    return "done", originals.file_hash(place, roots), ""


def _deliver_manifest(
    item: Item, target: Path, delivered: Sequence[Item], roots: Collection[Path]
) -> Outcome:
    """Write down what was delivered, with the hash of each file."""
    sums = {one.name: one.hash for one in delivered if one.hash and one.kind != "manifest"}
    for name in sums:
        # One that was moved along took marks in afterwards.
        if split_name(name)[1] == SIDECAR_ENDING:
            with contextlib.suppress(OSError):
                sums[name] = originals.file_hash(target / name, roots)
    listed = [(digest, name) for name, digest in sums.items()]
    data = naming.manifest(listed).encode("utf-8", "surrogateescape")
    place = target / item.name
    try:
        # One of an interrupted delivery knows less.
        present = entries.read_file(place, *roots) if os.path.lexists(place) else None
        if present != data:
            originals.write_whole(place, data, present, roots)
    except (CopyError, OSError) as error:
        return "failed", None, originals.reason(error, item.name)
    return "done", originals.file_hash(place, roots), ""
