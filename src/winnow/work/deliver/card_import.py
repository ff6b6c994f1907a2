"""Bringing pictures in from a memory card: copied once, verified, resumable; the card is only
read."""

from __future__ import annotations

import contextlib
import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

from winnow.core.deliver import card_import as rules
from winnow.photos import card, disks, refusals
from winnow.photos.card import Card
from winnow.say import say
from winnow.store import card_imports, journals, shoots
from winnow.store.card_imports import Bringing, Item
from winnow.store.db import Database
from winnow.work import failures
from winnow.work.background import Background
from winnow.work.deliver.card_copies import (
    bring,
    check_disks,
    check_same_disks,
    checked,
    copies_of,
    is_open,
    is_to_compare,
    is_to_copy,
    is_whole,
    leave_checksums,
    remove_parts,
    why_to_stop,
    with_state,
)
from winnow.work.deliver.card_look import CardLook
from winnow.work.deliver.card_plan import BringInError, CardAt, CardPlan, Planner, Wish, on_one_disk
from winnow.work.events import Events
from winnow.work.in_order import in_order
from winnow.work.index.indexer import Indexer

log = logging.getLogger(__name__)
_TELL_EVERY_S: Final = 0.25
_INDEX_EVERY_S: Final = 1.5
_SPARE_BYTES: Final = 50_000_000  # left free on a disk
# One file is read from the card while another is written and a third read back.
# Alone it took 1.93 times reading and writing once; two, three and four at once 1.47, 1.30 and 1.23
# (benchmarks/card.py).
_AT_ONCE: Final = 4


@dataclass(frozen=True, slots=True)
class FoundCard:
    """A card that is connected. Times are of the cameras' clocks, from the files' dates."""

    root: Path
    files: int
    size: int
    first_at: float
    last_at: float


class BringIns:
    """Plans and runs bringings-in, each in a thread of its own.

    ``card_at`` makes a card of a folder; ``more_places`` are looked at for cards besides the usual;
    ``at_once`` files are copied at a time.
    """

    def __init__(
        self,
        db: Database,
        events: Events,
        indexer: Indexer,
        card_at: CardAt = Card,
        more_places: tuple[Path, ...] = (),
        at_once: int = _AT_ONCE,
    ) -> None:
        self._db = db
        self._events = events
        self._indexer = indexer
        self._card_at = card_at
        self._more_places = more_places
        self._at_once = at_once
        self._planner = Planner(db, card_at)
        self.look = CardLook(self._planner)
        self._lock = threading.Lock()
        self._background = Background("bring-in", self._run)
        journals.note_interrupted(db, "bringing")

    def cards(self) -> list[FoundCard]:
        """The cards that are connected."""
        cards = []
        for root in card.find(self._more_places):
            try:
                files, _ = self._card_at(root).files()
            except OSError:
                continue
            times = [file.mtime_ns / 1e9 for file in files]
            cards.append(
                FoundCard(
                    root, len(files), sum(f.size for f in files),
                    min(times, default=0), max(times, default=0),
                )
            )  # fmt: skip
        return cards

    def plan(self, wish: Wish) -> CardPlan:
        """What a bringing-in would do, without touching anything. Raises BringInError."""
        return self._planner.plan(wish)

    def start(self, wish: Wish) -> int:
        """Write the plan down and begin to copy; returns its id. Raises BringInError."""
        plan = self.plan(wish)
        if not plan.items:
            raise BringInError(
                say("Everything on this card is left out. Tick what comes along.")
                if plan.left
                else say("There are no files on this card.")
            )
        for needed, free, where in (
            (plan.size, plan.free, say("The disk")),
            (plan.second_size, plan.second_free, say("The second place")),
        ):
            if needed and needed + _SPARE_BYTES > free:
                raise BringInError(
                    say(
                        "{where} has not enough space: {needed:,.1f} GB are needed, {free:,.1f} "
                        "GB are free. Free some, "
                        "or choose another folder.",
                        where=where,
                        needed=needed / 1e9,
                        free=free / 1e9,
                    )
                )
        folders = [str(plan.target / folder) for folder in plan.folders]
        try:
            for folder in (*folders, *([str(plan.second)] if plan.second else [])):
                Path(folder).mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise BringInError(refusals.reason(error, plan.target.name)) from None
        shoot = _shoot_with(self._db, folders) or shoots.make(self._db, wish.shoot.strip(), folders)
        second = str(plan.second) if plan.second else ""
        mounts = (
            str(disks.mount_of(plan.target)),
            str(disks.mount_of(plan.second)) if plan.second else "",
        )
        bringing = card_imports.make(
            self._db, shoot, str(plan.source), str(plan.target), second, plan.outside, plan.items,
            mounts, twice=wish.twice, left=plan.left,
        )  # fmt: skip
        self._go(bringing)
        return bringing

    def resume(self, bringing_id: int) -> None:
        """Go on with a stopped one; what failed is tried again."""
        row = card_imports.get(self._db, bringing_id)
        ended = row is not None and row.state != "running"
        with self._lock:
            if self._background.is_free(bringing_id, ended=ended):
                self._go(bringing_id)

    def stop(self, bringing_id: int) -> None:
        """Stop after the files that are being copied."""
        self._background.stop(bringing_id)

    def wait(self, bringing_id: int) -> None:
        """Wait until it has ended."""
        self._background.wait(bringing_id)

    def close(self) -> None:
        """Stop everything. The server is about to end."""
        self._background.close()

    def report(self, bringing: Bringing) -> tuple[bool, str]:
        """Whether the card is safe to format, and why (not), in words."""
        running = bringing.state in ("planned", "running")
        one_disk = bool(bringing.second) and on_one_disk(
            Path(bringing.target), Path(bringing.second)
        )
        outcomes = card_imports.outcomes(self._db, bringing.id)
        return rules.report(outcomes, bringing.outside, running, one_disk, bringing.left_out)

    def _go(self, bringing_id: int) -> None:
        journals.keep_state(self._db, "bringing", bringing_id, "running")
        self._background.start(bringing_id)

    def _run(self, bringing_id: int, stopping: Callable[[], bool]) -> None:
        bringing = None
        try:
            bringing = card_imports.get(self._db, bringing_id)
            assert bringing is not None
            on_card = self._card_at(Path(bringing.source))
            remove_parts(bringing, card_imports.items(self._db, bringing_id))
            state, notice = self._each(bringing, on_card, stopping)
            if state == "done":
                self._look_once_more(bringing)
        except Exception as error:
            state, notice = "stopped", failures.in_words(error, f"bringing in {bringing_id}")
        keep = partial(journals.keep_state, self._db, "bringing", bringing_id, state, notice)
        failures.until_stored(keep, stopping)
        if bringing and bringing.shoot_id:
            self._indexer.start(bringing.shoot_id)
        if bringing:
            self._tell(bringing)

    def _each(
        self, bringing: Bringing, on_card: Card, stopping: Callable[[], bool]
    ) -> tuple[str, str]:
        """Check what is there, and copy what is not; returns the state, and a notice.

        Raises DiskGone.
        """
        told = indexed = time.monotonic()
        every = card_imports.items(self._db, bringing.id)
        check_same_disks(bringing, every)
        waiting = [item for item in every if is_open(item)]
        endings: list[str] = []
        done = 0
        copied = in_order(
            partial(_copied, bringing, on_card),
            waiting,
            at_once=self._at_once,
            going=lambda: not endings and not stopping(),
            alone=is_to_compare,
        )
        # Whatever is raised here, nothing is still being copied afterwards.
        with contextlib.closing(copied):
            for after in copied:
                done += 1
                card_imports.keep_item(self._db, bringing.id, after)
                if after.notice and (ending := why_to_stop(on_card, after.notice)):
                    endings.append(ending)
                now = time.monotonic()
                if now - told > _TELL_EVERY_S:
                    told = now
                    self._tell(bringing)
                if bringing.shoot_id and now - indexed > _INDEX_EVERY_S:
                    # What has arrived can be culled while the rest is copied.
                    indexed = now
                    self._indexer.start(bringing.shoot_id)
        if endings:
            return "stopped", endings[0]
        if done < len(waiting):
            return "stopped", say("Stopped as you asked. Go on whenever you like.")
        return "done", ""

    def _look_once_more(self, bringing: Bringing) -> None:
        """Before a card is called safe: every copy is where it was put, and a list of checksums
        lies beside them."""
        check_disks(bringing)
        items = card_imports.items(self._db, bringing.id)
        for item in items:
            lost = [
                column
                for column, place in copies_of(bringing, item)
                if getattr(item, column) in ("done", "there") and not is_whole(place, item.size)
            ]
            if lost:
                notice = say("{name} is not there any more.", name=item.name)
                card_imports.keep_item(
                    self._db, bringing.id, with_state(item, lost, "failed", notice)
                )
        items = card_imports.items(self._db, bringing.id)
        for column, root in (("state", bringing.target), ("second_state", bringing.second)):
            if root and items:
                here = [i for i in items if getattr(i, column) in ("done", "there") and i.hash]
                leave_checksums(Path(root) / f"checksums {bringing.id}.b3", here)

    def _tell(self, bringing: Bringing) -> None:
        if bringing.shoot_id:
            self._events.tell(bringing.shoot_id, "bringing", id=bringing.id)


def _copied(bringing: Bringing, on_card: Card, item: Item) -> Item:
    """One file compared with what was copied before, and copied. Raises DiskGone."""
    check_disks(bringing)
    after = checked(bringing, on_card, item)
    if is_to_copy(after):
        after = bring(bringing, on_card, after)
    if after.notice:
        # What was not written because the disk went away waits for it.
        check_disks(bringing)
    return after


def _shoot_with(db: Database, folders: list[str]) -> int | None:
    """The shoot that these folders belong to already."""
    for shoot in shoots.all_shoots(db):
        if set(folders) <= {folder.path for folder in shoot.folders}:
            return shoot.id
    return None
