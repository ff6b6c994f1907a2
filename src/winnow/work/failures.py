"""What is said of a job that ended by a fault: a sentence with what to do next, never a machine's
words alone."""

from __future__ import annotations

import logging
import sqlite3
import time
from collections.abc import Callable
from typing import Final

from winnow.photos import refusals
from winnow.photos.refusals import CopyError
from winnow.say import say
from winnow.store.soundness import is_damage

log = logging.getLogger(__name__)
_AGAIN_S: Final = 0.5


def of_database(error: sqlite3.Error) -> str:
    """Why the database could not be used, as half a sentence that says what to do."""
    if is_damage(error):
        return say(
            "Winnow’s database is damaged. Start Winnow again: its last backup takes its place"
        )
    if getattr(error, "sqlite_errorcode", 0) == sqlite3.SQLITE_FULL:
        return say("The disk that Winnow’s data is on is full. Free some space and try again")
    return say("Winnow’s database can’t be used now ({error}). Try again", error=error)


def until_stored(store: Callable[[], None], stopping: Callable[[], bool]) -> None:
    """Do what a job must store before it ends, again and again where the database refuses it now: a
    job that is over is not shown as one that goes on. Winnow's end, or the person's, gives it up:
    the next start knows."""
    told = False
    while True:
        try:
            store()
        except sqlite3.Error as error:
            if not told:
                log.error("the end of a job could not be stored yet: %s", error)
            told = True
            if stopping():
                return
            time.sleep(_AGAIN_S)
        else:
            return


def in_words(error: Exception, job: str) -> str:
    """Why a job ended, in words.

    What was not foreseen goes to the log whole; ``job`` names it there.
    """
    if isinstance(error, CopyError):
        return str(error)
    if isinstance(error, OSError):
        log.warning("%s: %s", job, error)
        return refusals.reason(error)
    if isinstance(error, sqlite3.Error):
        log.error("%s: %s", job, error)
        return f"{of_database(error)}."
    log.error("%s", job, exc_info=error)
    what = str(error) or type(error).__name__
    return say(
        "Something went wrong that should not: {error}. Try it again.", error=what.rstrip(".")
    )
