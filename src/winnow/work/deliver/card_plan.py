"""What bringing in from a card would do: which file goes where, before anything is touched."""

from __future__ import annotations

import logging
import os
import shutil
import threading
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

from winnow.core.deliver import card_import as rules
from winnow.core.deliver.card_import import CardFile
from winnow.core.files.templates import TemplateError
from winnow.photos import folders, refusals
from winnow.photos.card import Card, Listed
from winnow.say import say
from winnow.store import card_imports
from winnow.store.card_imports import Item
from winnow.store.db import Database
from winnow.work.in_order import in_order

log = logging.getLogger(__name__)
CardAt = Callable[[Path], Card]
_AT_ONCE: Final = 4  # files looked into


class BringInError(Exception):
    """A bringing-in that can't be made, with the reason and what to do next in words."""


@dataclass(frozen=True, slots=True)
class Wish:
    """What the person wants: from which card, where to, by which template, under which name.

    ``twice``: every file is read from the card a second time; so it is where a second place is
    wanted. ``leave``: files, by path on the card, that are not copied; what is on the disk already
    is compared all the same.
    """

    source: str
    target: str
    template: str
    shoot: str
    second: str = ""
    twice: bool = False
    leave: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class CardPlan:
    """What a bringing-in would do.

    ``left``: how many files are left out on wish. Sizes are bytes; ``free`` is what each disk has
    left; ``one_disk``: both places lie on one disk.
    """

    source: Path
    target: Path
    second: Path | None
    items: tuple[Item, ...]
    folders: tuple[str, ...]
    outside: int
    left: int
    already_there: int
    size: int
    free: int
    second_size: int
    second_free: int
    one_disk: bool
    first_at: float | None
    last_at: float | None


def _writable(typed: str, source: Path, what: str) -> Path:
    """A folder to copy to, from what the person typed. Raises BringInError."""
    folder = folders.typed(typed)
    if not typed.strip() or not folder.is_absolute():
        raise BringInError(say("{what}: give the whole path, beginning with “/”.", what=what))
    folder = folder.resolve()
    if folder.exists() and not folder.is_dir():
        raise BringInError(
            say("{what}: “{folder}” is a file. Choose a folder.", what=what, folder=folder)
        )
    if folder.is_relative_to(source):
        raise BringInError(say("{what} lies on the card. Choose a folder on a disk.", what=what))
    there = _existing(folder)
    if not os.access(there, os.W_OK | os.X_OK):
        raise BringInError(
            say("{what}: you have no permission to write in “{there}”.", what=what, there=there)
        )
    return folder


def _existing(folder: Path) -> Path:
    while not folder.exists():
        folder = folder.parent
    return folder


def _free(folder: Path) -> int:
    return shutil.disk_usage(_existing(folder)).free


def _names_in(
    target: Path, second: Path | None, files: list[CardFile], wish: Wish, ours: set[Path]
) -> dict[str, list[str]]:
    """The names that the folders of a plan hold already, in either place, but for ``ours``: copies
    of these very files."""
    alone = rules.destinations(files, wish.template, wish.shoot.strip(), {})
    taken: dict[str, list[str]] = {}
    for place in {name.rpartition("/")[0] for name in alone}:
        for root in (target, second):
            if root is not None and (root / place).is_dir():
                names = os.listdir(root / place)
                taken.setdefault(place, []).extend(n for n in names if Path(place, n) not in ours)
    return taken


def _copy_below(copies: list[tuple[Path, int]], root: Path) -> Path | None:
    """A verified copy that is still there, relative to a folder; None without one."""
    for path, size in copies:
        try:
            if path.is_relative_to(root) and path.stat().st_size == size:
                return path.relative_to(root)
        except OSError:
            continue
    return None


def on_one_disk(target: Path, second: Path) -> bool:
    """Whether two folders, which may not be there yet, lie on one disk."""
    return _existing(target).stat().st_dev == _existing(second).stat().st_dev


def is_same(one: Path, other: Path) -> bool:
    """Whether two paths lead to one folder."""
    return one == other or (one.exists() and other.exists() and one.samefile(other))


class Planner:
    """Plans bringings-in. ``card_at`` makes a card of a folder."""

    def __init__(self, db: Database, card_at: CardAt) -> None:
        self._db = db
        self._card_at = card_at
        self._looked_into: dict[tuple[Path, Listed], CardFile] = {}
        self._lock = threading.Lock()

    def plan(self, wish: Wish) -> CardPlan:
        """What a bringing-in would do, without touching anything. Raises BringInError."""
        source, target, second = self._places(wish)
        files, outside = self._files(source)
        every = self._items(files, wish, target, second)
        items = [item for item in every if item.state != "planned" or item.path not in wish.leave]
        times = [file.taken_at for file in files]
        to_target = [item.size for item in items if item.state == "planned"]
        to_second = [item.size for item in items if item.second_state == "planned"]
        return CardPlan(
            source=source,
            target=target,
            second=second,
            items=tuple(items),
            folders=tuple(dict.fromkeys(item.name.rpartition("/")[0] for item in items)),
            outside=outside,
            left=len(every) - len(items),
            already_there=sum(item.state == "there" for item in items),
            size=sum(to_target),
            free=_free(target),
            second_size=sum(to_second),
            second_free=_free(second) if second else 0,
            one_disk=second is not None and on_one_disk(target, second),
            first_at=min(times, default=None),
            last_at=max(times, default=None),
        )

    def known_copies(self, source: str, target: str) -> tuple[Card, list[CardFile], set[str]]:
        """A card, what is on it, and which of its files lie below a folder already, by path. Raises
        BringInError."""
        on_card = self.card(source)
        files, _ = self._files(on_card.root)
        below = folders.typed(target).resolve()
        known = card_imports.copies(self._db, {f.fingerprint for f in files if f.fingerprint})
        copied = {f.path for f in files if _copy_below(known.get(f.fingerprint, []), below)}
        return on_card, files, copied

    def card(self, typed: str) -> Card:
        """The card in a folder that was typed. Raises BringInError."""
        on_card = self._card_at(folders.typed(typed).resolve())
        if not typed.strip() or not on_card.is_there():
            raise BringInError(
                say(
                    "“{source}” does not look like a memory card: it has no DCIM folder. To open "
                    "pictures where they "
                    "are, use “Open a folder as a shoot”.",
                    source=typed,
                )
            )
        return on_card

    def _files(self, source: Path) -> tuple[list[CardFile], int]:
        """What is on the card, looked into, and how many files lie outside its pictures."""
        on_card = self._card_at(source)
        try:
            listed, outside = on_card.files()
            looked = in_order(partial(self._look_into, on_card), listed, at_once=_AT_ONCE)
            return list(looked), outside
        except OSError as error:
            raise BringInError(
                say(
                    "The card can’t be read: {reason} Take it out, put it in again, and try once "
                    "more.",
                    reason=refusals.reason(error, source.name),
                )
            ) from None

    def _items(
        self, files: list[CardFile], wish: Wish, target: Path, second: Path | None
    ) -> list[Item]:
        """Where each file goes; one that is there already keeps its place."""
        known = card_imports.copies(
            self._db, {file.fingerprint for file in files if file.fingerprint}
        )
        at = [_copy_below(known.get(file.fingerprint, []), target) for file in files]
        again = [
            _copy_below(known.get(f.fingerprint, []), second) if second else None for f in files
        ]
        try:
            taken = _names_in(target, second, files, wish, {p for p in (*at, *again) if p})
            names = rules.destinations(files, wish.template, wish.shoot.strip(), taken)
        except TemplateError as error:
            raise BringInError(str(error)) from None
        items = []
        for file, name, here, there in zip(files, names, at, again, strict=True):
            placed = here or there or Path(name)
            in_second = "there" if there == placed else "planned"
            items.append(
                Item(
                    path=file.path,
                    size=file.size,
                    mtime_ns=file.mtime_ns,
                    fingerprint=file.fingerprint,
                    name=placed.as_posix(),
                    state="there" if here else "planned",
                    second_state=in_second if second else "",
                )
            )
        return items

    def _look_into(self, on_card: Card, file: Listed) -> CardFile:
        # Kept, so that a plan made again for another template needs no reading.
        key = (on_card.root, file)
        contents = self._looked_into.get(key)
        if contents is None:
            try:
                contents = on_card.look_into(file)
            except OSError as error:
                if not on_card.is_there():
                    raise
                # One bad file keeps nothing else on the card; it is tried again when it is to be
                # copied.
                log.warning("%s: %s", file.path, error)
                return on_card.unread(file)
            with self._lock:
                if len(self._looked_into) > 50_000:
                    self._looked_into.clear()
                self._looked_into[key] = contents
        return contents

    def _places(self, wish: Wish) -> tuple[Path, Path, Path | None]:
        source = self.card(wish.source).root
        if not wish.shoot.strip():
            raise BringInError(say("Give the shoot a name."))
        target = _writable(wish.target, source, say("The folder to copy to"))
        second = (
            _writable(wish.second, source, say("The second place")) if wish.second.strip() else None
        )
        if second is not None and (second.is_relative_to(target) or is_same(second, target)):
            raise BringInError(
                say("The second place lies in the first: choose one on another disk.")
            )
        return source, target, second
