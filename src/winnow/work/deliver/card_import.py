"""Bringing pictures in from a memory card: copied once, verified, resumable; the card is only read."""

from __future__ import annotations

import contextlib
import logging
import os
import shutil
import threading
import time
from collections.abc import Callable, Collection
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Final

from winnow.core.deliver import card_import as rules
from winnow.core.deliver.card_import import CardFile
from winnow.core.deliver.naming import manifest
from winnow.core.files.names import free_names
from winnow.core.files.templates import TemplateError
from winnow.photos import card, disks, entries, originals
from winnow.photos.card import Card, Listed
from winnow.photos.originals import CopyError, SourceError
from winnow.say import say
from winnow.store import card_imports, journals, shoots
from winnow.store.card_imports import Bringing, Item
from winnow.store.db import Database
from winnow.work import failures
from winnow.work.background import Background
from winnow.work.events import Events
from winnow.work.index.indexer import Indexer

log = logging.getLogger(__name__)
_TELL_EVERY_S: Final = 0.25
_INDEX_EVERY_S: Final = 1.5
_SPARE_BYTES: Final = 50_000_000  # left free on a disk

CardAt = Callable[[Path], Card]


class BringInError(Exception):
    """A bringing-in that can't be made, with the reason and what to do next in words."""


@dataclass(frozen=True, slots=True)
class Found:
    """A card that is connected. Times are of the cameras' clocks, from the files' dates."""

    root: Path
    files: int
    size: int
    first_at: float
    last_at: float


@dataclass(frozen=True, slots=True)
class Wish:
    """What the person wants: from which card, where to, by which template, under which name.

    ``twice``: every file is read from the card a second time; so it is where a second place is wanted.
    """

    source: str
    target: str
    template: str
    shoot: str
    second: str = ""
    twice: bool = False


@dataclass(frozen=True, slots=True)
class Plan:
    """What a bringing-in would do. Sizes are bytes; ``free`` is what each disk has left; ``one_disk``: both places lie
    on one disk."""

    source: Path
    target: Path
    second: Path | None
    items: tuple[Item, ...]
    folders: tuple[str, ...]
    outside: int
    already_there: int
    size: int
    free: int
    second_size: int
    second_free: int
    one_disk: bool
    first_at: float | None
    last_at: float | None


class BringIns:
    """Plans and runs bringings-in, each in a thread of its own.

    ``card_at`` makes a card of a folder; ``more_places`` are looked at for cards besides the usual.
    """

    def __init__(
        self,
        db: Database,
        events: Events,
        indexer: Indexer,
        card_at: CardAt = Card,
        more_places: tuple[Path, ...] = (),
    ) -> None:
        self._db = db
        self._events = events
        self._indexer = indexer
        self._card_at = card_at
        self._more_places = more_places
        self._looked_into: dict[tuple[Path, Listed], CardFile] = {}
        self._lock = threading.Lock()
        self._background = Background("bring-in", self._run)
        journals.note_interrupted(db, "bringing")

    def cards(self) -> list[Found]:
        """The cards that are connected."""
        found = []
        for root in card.find(self._more_places):
            try:
                files, _ = self._card_at(root).files()
            except OSError:
                continue
            times = [file.mtime_ns / 1e9 for file in files]
            found.append(
                Found(
                    root, len(files), sum(f.size for f in files),
                    min(times, default=0), max(times, default=0),
                )
            )  # fmt: skip
        return found

    def plan(self, wish: Wish) -> Plan:
        """What a bringing-in would do, without touching anything. Raises BringInError."""
        source, target, second = self._places(wish)
        on_card = self._card_at(source)
        try:
            listed, outside = on_card.files()
            files = [self._look_into(on_card, file) for file in listed]
        except OSError as error:
            raise BringInError(
                say(
                    "The card can't be read: {reason} Take it out, put it in again, and try once more.",
                    reason=originals.reason(error, source.name),
                )
            ) from None
        known = card_imports.copies(self._db, {file.print_ for file in files if file.print_})
        at = [_copy_below(known.get(file.print_, []), target) for file in files]
        again = [_copy_below(known.get(f.print_, []), second) if second else None for f in files]
        try:
            taken = _names_in(target, second, files, wish, {p for p in (*at, *again) if p})
            names = rules.destinations(files, wish.template, wish.shoot.strip(), taken)
        except TemplateError as error:
            raise BringInError(str(error)) from None
        items = []
        for file, name, here, there in zip(files, names, at, again, strict=True):
            placed = here or there or Path(name)
            items.append(
                Item(
                    path=file.path,
                    size=file.size,
                    mtime_ns=file.mtime_ns,
                    print_=file.print_,
                    name=placed.as_posix(),
                    state="there" if here else "planned",
                    second_state="" if not second else "there" if there == placed else "planned",
                )
            )
        return Plan(
            source=source,
            target=target,
            second=second,
            items=tuple(items),
            folders=tuple(dict.fromkeys(item.name.rpartition("/")[0] for item in items)),
            outside=outside,
            already_there=sum(item.state == "there" for item in items),
            size=sum(item.size for item in items if item.state == "planned"),
            free=_free(target),
            second_size=sum(item.size for item in items if item.second_state == "planned"),
            second_free=_free(second) if second else 0,
            one_disk=second is not None and _on_one_disk(target, second),
            first_at=min((file.taken_at for file in files), default=None),
            last_at=max((file.taken_at for file in files), default=None),
        )

    def _look_into(self, on_card: Card, file: Listed) -> CardFile:
        # Kept, so that a plan made again for another template needs no reading.
        key = (on_card.root, file)
        found = self._looked_into.get(key)
        if found is None:
            try:
                found = on_card.look_into(file)
            except OSError as error:
                if not on_card.is_there():
                    raise
                # One bad file keeps nothing else on the card; it is tried again when it is to be copied.
                log.warning("%s: %s", file.path, error)
                return on_card.unread(file)
            with self._lock:
                if len(self._looked_into) > 50_000:
                    self._looked_into.clear()
                self._looked_into[key] = found
        return found

    def _places(self, wish: Wish) -> tuple[Path, Path, Path | None]:
        source = Path(os.path.expanduser(wish.source.strip()))
        if not wish.source.strip() or not self._card_at(source).is_there():
            raise BringInError(
                say(
                    "“{source}” does not look like a memory card: it has no DCIM folder. To open pictures where they "
                    "are, use “Open a folder as a shoot”.",
                    source=wish.source,
                )
            )
        if not wish.shoot.strip():
            raise BringInError(say("Give the shoot a name."))
        source = source.resolve()
        target = _writable(wish.target, source, say("The folder to copy to"))
        second = (
            _writable(wish.second, source, say("The second place")) if wish.second.strip() else None
        )
        if second is not None and (second.is_relative_to(target) or _is_same(second, target)):
            raise BringInError(
                say("The second place lies in the first: choose one on another disk.")
            )
        return source, target, second

    def start(self, wish: Wish) -> int:
        """Write the plan down and begin to copy; returns its id. Raises BringInError."""
        plan = self.plan(wish)
        if not plan.items:
            raise BringInError(say("There are no files on this card."))
        for needed, free, where in (
            (plan.size, plan.free, say("The disk")),
            (plan.second_size, plan.second_free, say("The second place")),
        ):
            if needed and needed + _SPARE_BYTES > free:
                raise BringInError(
                    say(
                        "{where} has not enough space: {needed:,.1f} GB are needed, {free:,.1f} GB are free. Free some, "
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
            raise BringInError(originals.reason(error, plan.target.name)) from None
        shoot = _shoot_with(self._db, folders) or shoots.make(self._db, wish.shoot.strip(), folders)
        second = str(plan.second) if plan.second else ""
        mounts = (
            str(disks.mount_of(plan.target)),
            str(disks.mount_of(plan.second)) if plan.second else "",
        )
        bringing = card_imports.make(
            self._db, shoot, str(plan.source), str(plan.target), second, plan.outside, plan.items,
            mounts, twice=wish.twice,
        )  # fmt: skip
        self._go(bringing)
        return bringing

    def resume(self, bringing_id: int) -> None:
        """Go on with a stopped one; what failed is tried again."""
        found = card_imports.get(self._db, bringing_id)
        ended = found is not None and found.state != "running"
        with self._lock:
            if self._background.is_free(bringing_id, ended=ended):
                self._go(bringing_id)

    def stop(self, bringing_id: int) -> None:
        """Stop after the file that is being copied."""
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
        one_disk = bool(bringing.second) and _on_one_disk(
            Path(bringing.target), Path(bringing.second)
        )
        outcomes = card_imports.outcomes(self._db, bringing.id)
        return rules.report(outcomes, bringing.outside, running, one_disk)

    def _go(self, bringing_id: int) -> None:
        journals.keep_state(self._db, "bringing", bringing_id, "running")
        self._background.start(bringing_id)

    def _run(self, bringing_id: int, stopping: Callable[[], bool]) -> None:
        bringing = None
        try:
            bringing = card_imports.get(self._db, bringing_id)
            assert bringing is not None
            on_card = self._card_at(Path(bringing.source))
            _remove_parts(bringing, card_imports.items(self._db, bringing_id))
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
        """Check what is there, and copy what is not; returns the state, and a notice. Raises DiskGone."""
        told = indexed = time.monotonic()
        every = card_imports.items(self._db, bringing.id)
        _check_same_disks(bringing, every)
        for item in every:
            if not _is_open(item):
                continue
            if stopping():
                return "stopped", say("Stopped on your wish. Go on whenever you like.")
            _check_disks(bringing)
            after = _checked(bringing, on_card, item)
            if _is_to_copy(after):
                after = _bring(bringing, on_card, after)
            if after.notice:
                # What was not written because the disk went away waits for it.
                _check_disks(bringing)
            card_imports.keep_item(self._db, bringing.id, after)
            if after.notice and (ending := _why_to_stop(on_card, after.notice)):
                return "stopped", ending
            now = time.monotonic()
            if now - told > _TELL_EVERY_S:
                told = now
                self._tell(bringing)
            if bringing.shoot_id and now - indexed > _INDEX_EVERY_S:
                # What has arrived can be culled while the rest is copied.
                indexed = now
                self._indexer.start(bringing.shoot_id)
        return "done", ""

    def _look_once_more(self, bringing: Bringing) -> None:
        """Before a card is called safe: every copy is where it was put, and a list of checksums lies beside them."""
        _check_disks(bringing)
        items = card_imports.items(self._db, bringing.id)
        for item in items:
            lost = [
                column
                for column, place in _copies_of(bringing, item)
                if getattr(item, column) in ("done", "there") and not _is_whole(place, item.size)
            ]
            if lost:
                notice = say("{name} is not there any more.", name=item.name)
                card_imports.keep_item(self._db, bringing.id, _with(item, lost, "failed", notice))
        items = card_imports.items(self._db, bringing.id)
        for column, root in (("state", bringing.target), ("second_state", bringing.second)):
            if root and items:
                here = [i for i in items if getattr(i, column) in ("done", "there") and i.hash]
                _leave_checksums(Path(root) / f"checksums {bringing.id}.b3", here)

    def _tell(self, bringing: Bringing) -> None:
        if bringing.shoot_id:
            self._events.tell(bringing.shoot_id, "bringing", id=bringing.id)


def _writable(typed: str, source: Path, what: str) -> Path:
    """A folder to copy to, from what the person typed. Raises BringInError."""
    folder = Path(os.path.expanduser(typed.strip()))
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


def _shoot_with(db: Database, folders: list[str]) -> int | None:
    """The shoot that these folders belong to already."""
    for shoot in shoots.all_shoots(db):
        if set(folders) <= {folder.path for folder in shoot.folders}:
            return shoot.id
    return None


def _copies_of(bringing: Bringing, item: Item) -> list[tuple[str, Path]]:
    """Where the copies of a file are, or are to be, by the column that says how each stands."""
    roots = (("state", bringing.target), ("second_state", bringing.second))
    return [(column, Path(root) / item.name) for column, root in roots if root]


def _is_open(item: Item) -> bool:
    """Whether a file is still to be copied, or to be compared with the copy that was made of it before."""
    return _is_to_copy(item) or (item.hash is None and "there" in (item.state, item.second_state))


def _is_to_copy(item: Item) -> bool:
    return any(state in ("planned", "failed") for state in (item.state, item.second_state))


def _check_disks(bringing: Bringing) -> None:
    """See whether both disks are there. Raises DiskGone."""
    disks.check_mounted(bringing.mount, bringing.target)
    disks.check_mounted(bringing.second_mount, bringing.second)


def _check_same_disks(bringing: Bringing, items: list[Item]) -> None:
    """See whether the disks are those that were copied to before. Raises DiskGone."""
    _check_disks(bringing)
    for state, mount, root in (
        ("state", bringing.mount, bringing.target),
        ("second_state", bringing.second_mount, bringing.second),
    ):
        made = [Path(root) / item.name for item in items if getattr(item, state) == "done"]
        disks.check_same_disk(mount, root, made)


def _is_whole(place: Path, size: int) -> bool:
    try:
        return place.stat().st_size == size
    except OSError:
        return False


def _checked(bringing: Bringing, on_card: Card, item: Item) -> Item:
    """Compare what was copied before with the card, whole: disks and cards change what they hold. Where they differ,
    the file is to be copied anew, under another name."""
    there = [
        (column, place)
        for column, place in _copies_of(bringing, item)
        if getattr(item, column) == "there"
    ]
    if not there or item.hash is not None:
        return item
    try:
        with on_card.open(item.path) as opened:
            digest = originals.digest_of(opened, item.name)
    except (SourceError, OSError) as error:
        why = originals.reason(error, item.name)
        return _with(item, [column for column, _ in there], "failed", why)
    if all(_holds(place, digest, _roots(bringing)) for _, place in there):
        return replace(item, hash=digest)
    taken = [
        name for _, place in _copies_of(bringing, item) if place.parent.is_dir()
        for name in os.listdir(place.parent)
    ]  # fmt: skip
    folder, _, name = item.name.rpartition("/")
    ((free,),) = free_names([(name,)], taken)
    again = replace(item, name=f"{folder}/{free}" if folder else free)
    return _with(again, [column for column, _ in _copies_of(bringing, item)], "planned", "")


def _roots(bringing: Bringing) -> list[Path]:
    """The folders that the person chose."""
    return [Path(root) for root in (bringing.target, bringing.second) if root]


def _holds(place: Path, digest: str, roots: Collection[Path]) -> bool:
    try:
        return originals.file_hash(place, roots) == digest
    except OSError:
        return False


def _bring(bringing: Bringing, on_card: Card, item: Item) -> Item:
    """Copy one file to where it isn't yet; returns the item as it stands then."""
    wanted = [
        (column, place)
        for column, place in _copies_of(bringing, item)
        if getattr(item, column) in ("planned", "failed")
    ]
    try:
        roots = _roots(bringing)
        for root in roots:
            root.stat()
        missing = [(column, place) for column, place in wanted if not os.path.lexists(place)]
        present = [(column, place) for column, place in wanted if os.path.lexists(place)]
        for _, place in missing:
            entries.make_folder(place.parent, roots)
        item = _same(on_card, item)
        digest = ""
        refusals: list[str] = []
        if missing:
            with on_card.open(item.path) as opened:
                digest, refusals = originals.copy_to_each(
                    opened, item.path.rpartition("/")[2], item.mtime_ns, [p for _, p in missing],
                    size=item.size, roots=roots,
                )  # fmt: skip
            if bringing.second or bringing.twice:
                _read_again(on_card, item, digest, [p for _, p in missing], roots)
        elif present:
            with on_card.open(item.path) as opened:
                digest = originals.digest_of(opened, item.name)
    except (SourceError, CopyError, OSError) as error:
        notice = originals.reason(error, item.path.rpartition("/")[2])
        return _with(item, [column for column, _ in wanted], "failed", notice)
    after = replace(item, hash=digest, notice="")
    for (column, _), refusal in zip(missing, refusals, strict=True):
        after = _with(after, [column], "failed" if refusal else "done", refusal or after.notice)
    for column, place in present:
        # Only an equal file counts: so a resumed run meets what was finished just before a kill.
        equal = _holds(place, digest, roots)
        other = say("{name} is in the folder already, with other content.", name=place.name)
        after = _with(
            after, [column], "done" if equal else "failed", after.notice if equal else other
        )
    return after


def _read_again(
    on_card: Card, item: Item, digest: str, copies: list[Path], roots: Collection[Path]
) -> None:
    """Read a file from the card once more: a card or a reader may give another bit each time. Raises SourceError;
    then there is no copy."""
    on_card.forget(item.path)
    with on_card.open(item.path) as opened:
        again = originals.digest_of(opened, item.name)
    if again == digest:
        return
    for place in copies:
        with contextlib.suppress(OSError, CopyError):
            originals.remove_copy(place, digest, roots)
    raise SourceError(
        say(
            "{name} reads differently each time: the card or its reader fails. Try another reader.",
            name=item.path.rpartition("/")[2],
        )
    )


def _leave_checksums(path: Path, items: list[Item]) -> None:
    """Write down what was brought in, with the hash of each file, beside it. Raises CopyError."""
    listed = [(item.hash, item.name) for item in items if item.hash]
    data = manifest(listed).encode("utf-8", "surrogateescape")
    try:
        present = path.read_bytes() if path.exists() else None
        if present != data:
            originals.write_whole(path, data, present)
    except (OSError, CopyError) as error:
        why = originals.reason(error, path.name)
        raise CopyError(
            say("Every file is copied, but the list of their checksums is not. {why}", why=why)
        ) from None


def _on_one_disk(target: Path, second: Path) -> bool:
    """Whether two folders, which may not be there yet, lie on one disk."""
    return _existing(target).stat().st_dev == _existing(second).stat().st_dev


def _is_same(one: Path, other: Path) -> bool:
    """Whether two paths lead to one folder."""
    return one == other or (one.exists() and other.exists() and one.samefile(other))


def _same(on_card: Card, item: Item) -> Item:
    """Make sure the card holds what was planned: it may be another one now. Raises SourceError, OSError.

    Returns the item, with the print of a file that could not be read before.
    """
    found = on_card.look_into(Listed(item.path, item.size, item.mtime_ns))
    if item.print_ and found.print_ != item.print_:
        raise SourceError(
            say(
                "{name} is another file now. Is it the same card?",
                name=item.path.rpartition("/")[2],
            )
        )
    return replace(item, print_=found.print_)


def _with(item: Item, columns: list[str], state: str, notice: str) -> Item:
    first = state if "state" in columns else item.state
    second = state if "second_state" in columns else item.second_state
    return replace(item, state=first, second_state=second, notice=notice)


def _why_to_stop(on_card: Card, notice: str) -> str:
    """What makes it useless to go on with the next file; "" where only this one failed."""
    if not on_card.is_there():
        return say(
            "The card is gone. What is copied is safe: put the card in again and go on, it continues where "
            "it stopped."
        )
    if originals.DISK_FULL in notice:
        return say("{notice} What is copied is safe: it continues where it stopped.", notice=notice)
    return ""


def _remove_parts(bringing: Bringing, items: list[Item]) -> None:
    """Remove what a killed run left half-written."""
    roots = _roots(bringing)
    for place in {item.name.rpartition("/")[0] for item in items}:
        for root in roots:
            originals.remove_parts(root / place, roots=roots)
    for root in roots:
        originals.remove_parts(root, originals.WRITE_PREFIX)
