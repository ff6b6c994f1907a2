"""What Winnow has and what it lacks on this computer, in plain words with what to do."""

from __future__ import annotations

import os
import platform
import shutil
import sqlite3
import sys
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import Final, Literal

from winnow.photos import faces, planes, proof_gallery, proof_pdf
from winnow.say import say
from winnow.store import backups
from winnow.store.soundness import DatabaseError, is_sound
from winnow.work.runtime import Places
from winnow.work.workers import room

_LOW_DISK: Final = 2_000_000_000  # bytes
_SET_UP: Final = say("Set Winnow up again (scripts/setup.sh), or install the wheel.")


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that was looked at.

    ``state``: good; less, where something is missing that Winnow can do without; bad, where it
    can't.
    """

    state: Literal["good", "less", "bad"]
    what: str
    words: str


def examine(places: Places) -> Iterator[Finding]:
    """Look at the computer, the installation, the data and the disks. Nothing is changed."""
    for check in (_python, _computer, _page, _pictures, _models, _proofs):
        yield check()
    yield from _data(places)


def _finding(good: bool, what: str, words: str, otherwise: str, *, needed: bool = True) -> Finding:
    if good:
        return Finding("good", what, words)
    return Finding("bad" if needed else "less", what, otherwise)


def _python() -> Finding:
    version = platform.python_version()
    return _finding(
        sys.version_info >= (3, 11),
        "Python",
        say(
            "{version}, with SQLite {sqlite_version}",
            version=version,
            sqlite_version=sqlite3.sqlite_version,
        ),
        say("{version} is too old: 3.11 or newer is needed.", version=version),
    )


def _computer() -> Finding:
    count = os.cpu_count() or 1
    memory = room.memory_of_machine()
    words = say(
        "{count} processors, {memory:.0f} GB of memory, {system}",
        count=count,
        memory=memory / 1e9,
        system=platform.system(),
    )
    return _finding(
        memory > 3e9 and count > 1,
        say("Computer"),
        words,
        say(
            "{computer}. It will work, but slowly: two processors and 4 GB are the least for "
            "pleasant work.",
            computer=words,
        ),
        needed=False,
    )


def _page() -> Finding:
    there = (files("winnow.web") / "page" / "index.html").is_file()
    return _finding(
        there, say("Page"), say("built"), say("The page is not built. {set_up}", set_up=_SET_UP)
    )


def _pictures() -> Finding:
    quick = planes.is_quick()
    return _finding(
        quick,
        say("Pictures"),
        say("JPEG by libturbojpeg; raw and all other kinds"),
        say("JPEG is decoded a third slower without libturbojpeg: install libturbojpeg0."),
        needed=False,
    )


def _models() -> Finding:
    return _finding(
        faces.available(),
        say("Faces"),
        say("the models that find faces are there"),
        say(
            "Faces and closed eyes can’t be looked for: the models are missing. {set_up}",
            set_up=_SET_UP,
        ),
        needed=False,
    )


def _proofs() -> Finding:
    return _finding(
        proof_pdf.fonts_are_there() and proof_gallery.page_is_there(),
        say("Proofs"),
        say("fonts and the gallery’s page are there"),
        say(
            "Contact sheets and galleries can’t be made: fonts or the gallery’s page are missing. "
            "{set_up}",
            set_up=_SET_UP,
        ),
        needed=False,
    )


def _data(places: Places) -> Iterator[Finding]:
    path = places.data / "winnow.db"
    if not path.exists():
        yield Finding(
            "good", say("Database"), say("none yet; it will be made as {path}", path=path)
        )
    else:
        size = path.stat().st_size / 1e6
        try:
            sound = is_sound(path)
        except DatabaseError as error:
            yield Finding("bad", say("Database"), str(error))
            return
        yield _finding(
            sound,
            say("Database"),
            say("{path}, {size:,.0f} MB, without damage", path=path, size=size),
            say(
                "{path} is damaged. At its next start Winnow takes the newest backup instead, and "
                "keeps this file.",
                path=path,
            ),
        )
    made = backups.all_of(places.data)
    if made:
        last = time.strftime("%Y-%m-%d %H:%M", time.localtime(made[0].made_at))
        yield Finding(
            "good",
            say("Backups"),
            say("{made}, the newest of {newest}", made=len(made), newest=last),
        )
    elif path.exists():
        yield Finding(
            "less",
            say("Backups"),
            say("None yet: one is made when Winnow ends, and every hour of work."),
        )
    for what, folder in ((say("Data"), places.data), (say("Cache"), places.cache)):
        yield from _disk(what, folder)


def _disk(what: str, folder: Path) -> Iterator[Finding]:
    there = folder
    while not there.exists():
        there = there.parent
    if not os.access(there, os.W_OK | os.X_OK):
        yield Finding("bad", what, say("There is no permission to write in {there}.", there=there))
        return
    free = shutil.disk_usage(there).free
    yield _finding(
        free > _LOW_DISK,
        what,
        say("{folder}, {free:,.0f} GB free", folder=folder, free=free / 1e9),
        say(
            "Only {free:,.1f} GB are free for {folder}. Free some space.",
            free=free / 1e9,
            folder=folder,
        ),
        needed=False,
    )


SIGNS: Final = {"good": say("ok"), "less": say("less"), "bad": say("BAD")}


def report(places: Places, tell: Callable[[str], None] = print) -> bool:
    """Say what was found, line by line; returns whether Winnow can work."""
    results = list(examine(places))
    for result in results:
        tell(f"{SIGNS[result.state]:<4}  {result.what + ':':<10} {result.words}")
    bad = sum(result.state == "bad" for result in results)
    less = sum(result.state == "less" for result in results)
    if bad:
        tell("\n" + say("Winnow can’t work like this."))
    elif less:
        tell("\n" + say("Winnow works; something could be better."))
    else:
        tell("\n" + say("All is well."))
    return not bad
