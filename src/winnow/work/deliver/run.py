"""Delivering frames to a folder: journalled, verified by hash, paused and resumed, and taken
back."""

from __future__ import annotations

import contextlib
import errno
import threading
import time
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import partial
from itertools import groupby
from pathlib import Path
from typing import Final

from winnow.core.deliver.ways import leaves
from winnow.core.files.merge import NOTHING
from winnow.photos import copies, disks, refusals, whole
from winnow.say import say
from winnow.store import deliveries, guests, journals, moved_files, renamings, shoots
from winnow.store.db import Database
from winnow.store.deliveries import Delivery, Item
from winnow.work import failures
from winnow.work.background import Background
from winnow.work.deliver.plan import DeliveryError, DeliveryPlan
from winnow.work.deliver.steps import (
    Outcome,
    deliver,
    deliver_manifest,
    move_frame,
    moves_it,
    size_of,
    take_back,
)
from winnow.work.events import Events
from winnow.work.files.read import ONE_AT_A_TIME, how_written, said_of
from winnow.work.moves import journal
from winnow.work.moves.journal import BEGINNING

_TELL_S: Final = 0.2
_WINDOW: Final = 50  # samples of the speed, one at each telling


@dataclass(slots=True)
class Pace:
    """How quickly a delivery goes now.

    ``bytes``: since it was started or went on, unfinished files included.
    """

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

    def start(self, shoot_id: int, planned: DeliveryPlan) -> int:
        """Write the plan down and start; returns the delivery's id. DeliveryError."""
        if not planned.items:
            raise DeliveryError(say("There is nothing to deliver."))
        needed = planned.size
        if needed > planned.free:
            raise DeliveryError(
                say(
                    "The disk has not enough space: {needed:,.0f} MB are needed, {free:,.0f} MB "
                    "are free.",
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
        delivery = deliveries.get(self._db, delivery_id)
        if delivery and delivery.state in ("planned", "running", "stopped"):
            journals.keep_state(self._db, "delivery", delivery_id, "cancelled", say("Cancelled."))
            self._tell(delivery)
        self._cancelled.discard(delivery_id)

    def take_back(self, delivery_id: int) -> None:
        """Remove the copies that a delivery made, and move back what it moved.

        Only what is unchanged since, and only copies whose original is still there.
        """
        with self._lock:
            if self._is_free(delivery_id):
                self._returning.add(delivery_id)
                self._go(delivery_id, "returning")

    def _is_free(self, delivery_id: int) -> bool:
        delivery = deliveries.get(self._db, delivery_id)
        ended = delivery is not None and delivery.state not in ("running", "returning")
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
                notice = say("Paused as you asked.")
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
            copies.remove_parts(folder, roots=roots)
            copies.remove_parts(folder, whole.WRITE_PREFIX, roots)
        here = said_of(self._db, delivery.shoot_id, (item.frame for item in every))
        how = how_written(self._db)
        hashed = any(item.kind == "manifest" for item in every)
        for _, together in groupby(
            self._waiting(delivery), lambda i: (not leaves(i.kind), i.frame, i.kind)
        ):
            items = list(together)
            if not leaves(items[0].kind):
                if stopping():
                    return False
                self._keep(delivery, move_frame(self._db, delivery, items, hashed))
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
                        outcome = deliver_manifest(item, target, listed, roots)
                    else:
                        said = here.get(item.frame, NOTHING)
                        moved = not leaves(delivery.how)
                        planned = size_of(self._db, item)
                        outcome = deliver(item, roots, target, said, how, moved, tick, planned)
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
            if item.state == "done" and (leaves(delivery.how) or item.frame in out)
        ]
        disks.check_same_disk(delivery.mount, delivery.target, made)

    def _waiting(self, delivery: Delivery) -> list[Item]:
        """What is to be delivered yet. The list of what was delivered is made again when more
        is."""
        waiting = deliveries.items(self._db, delivery.id, ("planned", "failed"))
        if waiting and waiting[-1].kind != "manifest":
            every = deliveries.items(self._db, delivery.id)
            waiting += [item for item in every if item.kind == "manifest"]
        return waiting

    def _is_there(self, delivery: Delivery, item: Item) -> bool:
        """Whether the picture that a sidecar stands beside came along, where pictures are moved."""
        files = moved_files.of_frames(self._db, [item.frame]).get(item.frame, ())
        return leaves(delivery.how) or any(file.delivery == delivery.id for file in files)

    def _keep(self, delivery: Delivery, outcomes: Sequence[tuple[Item, Outcome]]) -> None:
        """Record what became of files.

        Raises DiskGone, CopyError where all others would fail for the same reason.
        """
        refused = next((o for _, o in outcomes if o[0] == "failed"), None)
        if refused is not None:
            # What is not written yet waits for the disk.
            disks.check_mounted(delivery.mount, delivery.target)
        for item, outcome in outcomes:
            deliveries.keep_item(self._db, delivery.id, item.number, *outcome)
        if refused is not None and refusals.DISK_FULL in refused[2]:
            raise OSError(errno.ENOSPC, "the disk is full")

    def _return(self, delivery: Delivery, stopping: Callable[[], bool]) -> bool:
        """Take back what was delivered. Returns whether that went through."""
        target = Path(delivery.target)
        self._check_disk(delivery, deliveries.items(self._db, delivery.id))
        out = moved_files.of_delivery(self._db, delivery.id)
        for folder in {file.source.parent for files in out.values() for file in files}:
            # What a way back that was killed has left there.
            copies.remove_parts(folder, roots=journal.chosen(self._db))
        made = deliveries.items(self._db, delivery.id, ("done", "failed"))
        for item in reversed([item for item in made if leaves(item.kind)]):
            if stopping():
                return False
            place = target / item.name
            if item.state != "done" or (item.kind == "sidecar" and moves_it(out, item, place)):
                continue
            state, notice = take_back(self._db, item, place, target)
            deliveries.keep_item(self._db, delivery.id, item.number, state, item.hash, notice)
            self._count(delivery, item.size)
        for frame, files in out.items():
            if stopping():
                return False
            with ONE_AT_A_TIME:
                failed = journal.move_back(self._db, {frame: files})
            for item in (item for item in made if not leaves(item.kind) and item.frame == frame):
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
        """Count the bytes of one file as it is copied; afterwards it counts whole, whatever came of
        it."""
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
        if not leaves(delivery.how):
            self._events.tell(delivery.shoot_id, "order")
