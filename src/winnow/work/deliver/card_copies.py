"""One file of a card: where its copies go, and copying it, compared with the card."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Collection
from dataclasses import replace
from pathlib import Path

from winnow.core.deliver.naming import manifest
from winnow.core.files.names import free_names
from winnow.photos import copies as verified
from winnow.photos import disks, entries, originals, whole
from winnow.photos.card import Card, Listed
from winnow.photos.refusals import DISK_FULL, CopyError, SourceError, reason
from winnow.say import say
from winnow.store.card_imports import Bringing, Item


def copies_of(bringing: Bringing, item: Item) -> list[tuple[str, Path]]:
    """Where the copies of a file are, or are to be, by the column that says how each stands."""
    roots = (("state", bringing.target), ("second_state", bringing.second))
    return [(column, Path(root) / item.name) for column, root in roots if root]


def is_open(item: Item) -> bool:
    """Whether a file is still to be copied, or to be compared with the copy that was made of it
    before."""
    return is_to_copy(item) or is_to_compare(item)


def is_to_compare(item: Item) -> bool:
    """Whether a file is still to be compared with the copy that was made of it before."""
    return item.hash is None and "there" in (item.state, item.second_state)


def is_to_copy(item: Item) -> bool:
    """Whether a copy of a file is still to be made."""
    return any(state in ("planned", "failed") for state in (item.state, item.second_state))


def check_disks(bringing: Bringing) -> None:
    """See whether both disks are there. Raises DiskGone."""
    disks.check_mounted(bringing.mount, bringing.target)
    disks.check_mounted(bringing.second_mount, bringing.second)


def check_same_disks(bringing: Bringing, items: list[Item]) -> None:
    """See whether the disks are those that were copied to before. Raises DiskGone."""
    check_disks(bringing)
    for state, mount, root in (
        ("state", bringing.mount, bringing.target),
        ("second_state", bringing.second_mount, bringing.second),
    ):
        made = [Path(root) / item.name for item in items if getattr(item, state) == "done"]
        disks.check_same_disk(mount, root, made)


def is_whole(place: Path, size: int) -> bool:
    """Whether a file of this size is there."""
    try:
        return place.stat().st_size == size
    except OSError:
        return False


def checked(bringing: Bringing, on_card: Card, item: Item) -> Item:
    """Compare what was copied before with the card, whole: disks and cards change what they hold.

    Where they differ, the file is to be copied anew, under another name.
    """
    there = [
        (column, place)
        for column, place in copies_of(bringing, item)
        if getattr(item, column) == "there"
    ]
    if not there or item.hash is not None:
        return item
    try:
        with on_card.open(item.path) as opened:
            digest = verified.digest_of(opened, item.name)
    except (SourceError, OSError) as error:
        why = reason(error, item.name)
        return with_state(item, [column for column, _ in there], "failed", why)
    if all(_holds(place, digest, _roots(bringing)) for _, place in there):
        return replace(item, hash=digest)
    taken = [
        name for _, place in copies_of(bringing, item) if place.parent.is_dir()
        for name in os.listdir(place.parent)
    ]  # fmt: skip
    folder, _, name = item.name.rpartition("/")
    ((free,),) = free_names([(name,)], taken)
    again = replace(item, name=f"{folder}/{free}" if folder else free)
    return with_state(again, [column for column, _ in copies_of(bringing, item)], "planned", "")


def _roots(bringing: Bringing) -> list[Path]:
    """The folders that the person chose."""
    return [Path(root) for root in (bringing.target, bringing.second) if root]


def _holds(place: Path, digest: str, roots: Collection[Path]) -> bool:
    try:
        return verified.file_hash(place, roots) == digest
    except OSError:
        return False


def bring(bringing: Bringing, on_card: Card, item: Item) -> Item:
    """Copy one file to where it isn't yet; returns the item as it stands then."""
    wanted = [
        (column, place)
        for column, place in copies_of(bringing, item)
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
                digest, refusals = verified.copy_to_each(
                    opened, item.path.rpartition("/")[2], item.mtime_ns, [p for _, p in missing],
                    size=item.size, roots=roots,
                )  # fmt: skip
            if bringing.second or bringing.twice:
                _read_again(on_card, item, digest, [p for _, p in missing], roots)
        elif present:
            with on_card.open(item.path) as opened:
                digest = verified.digest_of(opened, item.name)
    except (SourceError, CopyError, OSError) as error:
        notice = reason(error, item.path.rpartition("/")[2])
        return with_state(item, [column for column, _ in wanted], "failed", notice)
    after = replace(item, hash=digest, notice="")
    for (column, _), refusal in zip(missing, refusals, strict=True):
        after = with_state(
            after, [column], "failed" if refusal else "done", refusal or after.notice
        )
    for column, place in present:
        # Only an equal file counts: so a resumed run meets what was finished just before a kill.
        equal = _holds(place, digest, roots)
        other = say("{name} is in the folder already, with other content.", name=place.name)
        after = with_state(
            after, [column], "done" if equal else "failed", after.notice if equal else other
        )
    return after


def _read_again(
    on_card: Card, item: Item, digest: str, copies: list[Path], roots: Collection[Path]
) -> None:
    """Read a file from the card once more: a card or a reader may give another bit each time.

    Raises SourceError; then there is no copy.
    """
    on_card.forget(item.path)
    with on_card.open(item.path) as opened:
        again = verified.digest_of(opened, item.name)
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


def leave_checksums(path: Path, items: list[Item]) -> None:
    """Write down what was brought in, with the hash of each file, beside it. Raises CopyError."""
    listed = [(item.hash, item.name) for item in items if item.hash]
    data = manifest(listed).encode("utf-8", "surrogateescape")
    try:
        present = path.read_bytes() if path.exists() else None
        if present != data:
            whole.write_whole(path, data, present)
    except (OSError, CopyError) as error:
        why = reason(error, path.name)
        raise CopyError(
            say("Every file is copied, but the list of their checksums is not. {why}", why=why)
        ) from None


def _same(on_card: Card, item: Item) -> Item:
    """Make sure the card holds what was planned: it may be another one now.

    Raises SourceError, OSError. Returns the item, with the print of a file that could not be read
    before.
    """
    present = on_card.look_into(Listed(item.path, item.size, item.mtime_ns))
    if item.fingerprint and present.fingerprint != item.fingerprint:
        raise SourceError(
            say(
                "{name} is another file now. Is it the same card?",
                name=item.path.rpartition("/")[2],
            )
        )
    return replace(item, fingerprint=present.fingerprint)


def with_state(item: Item, columns: list[str], state: str, notice: str) -> Item:
    """An item whose copies stand otherwise now."""
    first = state if "state" in columns else item.state
    second = state if "second_state" in columns else item.second_state
    return replace(item, state=first, second_state=second, notice=notice)


def why_to_stop(on_card: Card, notice: str) -> str:
    """What makes it useless to go on with the next file; "" where only this one failed."""
    if not on_card.is_there():
        return say(
            "The card is gone. What is copied is safe: put the card in again and go on, it "
            "continues where it stopped."
        )
    if DISK_FULL in notice:
        return say("{notice} What is copied is safe: it continues where it stopped.", notice=notice)
    return ""


def remove_parts(bringing: Bringing, items: list[Item]) -> None:
    """Remove what a killed run left half-written."""
    roots = _roots(bringing)
    for place in {item.name.rpartition("/")[0] for item in items}:
        for root in roots:
            verified.remove_parts(root / place, roots=roots)
    for root in roots:
        verified.remove_parts(root, whole.WRITE_PREFIX)
