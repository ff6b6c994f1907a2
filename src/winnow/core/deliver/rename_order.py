"""The order in which files can be renamed, so that no name is ever taken twice."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from winnow.core.files.names import clash_key

BETWEEN: Final = (
    ".winnow-name-"  # begins the name that a file has for a moment, on the way to its own
)


@dataclass(frozen=True, slots=True)
class FileMove:
    """One renaming of one file, given by its number among those that were asked for; paths with
    "/"."""

    file: int
    old: str
    new: str
    alone: bool  # no other step has to do with these names: it can be made at any time


def in_order(pairs: Sequence[tuple[str, str]]) -> list[FileMove]:
    """The steps by which each file gets from its old path to its new one.

    No two new paths may clash, nor may a new path clash with a file that keeps its name. A path
    that another of these files has now is taken after that one has left; a circle of names, or a
    name that changes in case or Unicode form only, is resolved by way of a free one.
    """
    wanted = {n: pair for n, pair in enumerate(pairs) if pair[0] != pair[1]}
    holder = {clash_key(old): n for n, (old, _) in wanted.items()}
    taken_next = {clash_key(new): n for n, (_, new) in wanted.items()}
    alone = {
        n: clash_key(old) not in taken_next and clash_key(new) not in holder
        for n, (old, new) in wanted.items()
    }
    at = {n: old for n, (old, _) in wanted.items()}
    steps: list[FileMove] = []
    ready = [n for n, (_, new) in wanted.items() if clash_key(new) not in holder]
    stuck = iter(list(wanted))
    while True:
        while ready:
            n = ready.pop()
            old, new = wanted.pop(n)
            steps.append(FileMove(n, at[n], new, alone[n]))
            freed = clash_key(old)
            if at[n] == old:
                holder.pop(freed, None)
                follower = taken_next.get(freed)
                if follower in wanted and follower is not None:
                    ready.append(follower)
        n = next((number for number in stuck if number in wanted), -1)
        if n < 0:
            return steps
        # A circle: its first file steps out of the way.
        old = wanted[n][0]
        folder, _, name = old.rpartition("/")
        between = f"{folder}/{BETWEEN}{n}-{name}" if folder else f"{BETWEEN}{n}-{name}"
        steps.append(FileMove(n, old, between, False))
        at[n] = between
        holder.pop(clash_key(old), None)
        follower = taken_next.get(clash_key(old))
        ready.append(follower if follower is not None and follower in wanted else n)
