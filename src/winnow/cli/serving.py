"""Starting the server: with a folder, a shoot, or nothing; and telling one that runs already."""

from __future__ import annotations

import argparse
import getpass
import json
import os
import signal
import sys
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, replace
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import TYPE_CHECKING, Final
from urllib.parse import parse_qs, urlencode, urlsplit

from winnow.photos import scan
from winnow.photos.card import Card
from winnow.photos.folders import is_wide, wide_words
from winnow.say import say
from winnow.store import shoots
from winnow.terminal import log_to, tell
from winnow.work.deliver.card_plan import CardAt
from winnow.work.moves import moved_shoots
from winnow.work.runtime import AlreadyRunning, Places, Runtime, running_at

if TYPE_CHECKING:
    from winnow.web.server import Share

PORT: Final = 8470


@dataclass(frozen=True, slots=True)
class Simulated:
    """What stands in for cards: how a folder is read as one, and where they are; and whether
    something is still filling the folders."""

    card_at: CardAt = Card
    places: tuple[Path, ...] = ()
    filling: Callable[[], bool] = lambda: False


def run(
    arguments: argparse.Namespace,
    places: Places,
    folders: list[Path],
    name: str,
    prepare: Callable[[Runtime, int], None] | None = None,
    simulated: Simulated | None = None,
) -> int:
    """Run the server until it is interrupted; returns the exit status.

    ``prepare``: called with a new shoot.
    """
    from winnow.web.own_files import has_screen
    from winnow.web.server import serve

    by_itself = getattr(arguments, "shows", False) and has_screen()
    open_browser = by_itself if arguments.browser is None else arguments.browser
    wants_guests = getattr(arguments, "share", False)
    password = _password() if wants_guests else ""
    if password is None:
        return 1
    simulated = _with_cards(simulated or Simulated(), arguments.cards)
    for folder in folders:
        scan.check_folder(folder)
    resolved = [str(folder.resolve()) for folder in folders]
    try:
        runtime = Runtime(places, card_at=simulated.card_at, card_places=simulated.places)
    except AlreadyRunning as running:
        return tell_running(running.url, resolved, places.data if open_browser else None)
    runtime.indexer.held_back = simulated.filling
    log_beside(places.data / "winnow.log")
    if not simulated.filling():
        runtime.workers.warm()
    shoot, path = _open(runtime, resolved, name, prepare)
    share = _shared(arguments, runtime, shoot, password) if wants_guests else None
    # A service is stopped so: it ends as by Ctrl+C, and says so.
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    try:
        serve(
            runtime,
            arguments.port,
            path,
            open_browser=open_browser,
            share=share,
            page_from=arguments.page_from or "",
        )
    except OSError as error:
        runtime.close()
        tell(
            say(
                "winnow: port {port} can’t be used ({strerror}). Choose another with --port, or "
                "--port 0 for any free one.",
                port=arguments.port,
                strerror=error.strerror,
            ),
            wrong=True,
        )
        return 1
    return 0


def _shared(
    arguments: argparse.Namespace, runtime: Runtime, shoot: int | None, password: str
) -> Share | None:
    """What is shared from the start: this shoot; where no folder was named, as when the machine of
    a studio starts, the one that was opened last."""
    from winnow.web.guests.sessions import ALL_RIGHTS
    from winnow.web.server import Share

    if shoot is None and not getattr(arguments, "folders", ()):
        shoot = shoots.last_opened(runtime.db)
    if shoot is None:
        tell(say("Nothing is shared yet: open a shoot on the page, and share it there.\n"))
        return None
    may = ALL_RIGHTS if arguments.guests_may == "all" else (arguments.guests_may,)
    return Share(shoot, password, tuple(right for right in may if right in ALL_RIGHTS))


def _password() -> str | None:
    """What guests say to come in; None, and told why, where it won't do."""
    from winnow.web.guests.sessions import check_password

    password = os.environ.get("WINNOW_PASSWORD", "")
    if not password and not sys.stdin.isatty():
        tell(
            say("winnow: nobody is here to be asked for the password: give it in WINNOW_PASSWORD"),
            wrong=True,
        )
        return None
    password = password or getpass.getpass(say("Password for others: "))
    try:
        check_password(password)
    except ValueError as error:
        tell(f"winnow: {error}", wrong=True)
        return None
    return password


def _with_cards(known: Simulated, cards: Path | None) -> Simulated:
    """Folders of a folder stand in for cards too."""
    if not cards:
        return known
    from winnow.demo.devices import SimulatedCard

    return replace(known, card_at=SimulatedCard, places=(*known.places, cards))


def _open(
    runtime: Runtime,
    folders: list[str],
    name: str,
    prepare: Callable[[Runtime, int], None] | None,
) -> tuple[int | None, str]:
    """Open folders as a shoot, and index it; the shoot, and the page's address.

    Without a shoot, the page asks.
    """
    if not folders:
        return None, ""
    shoot = shoots.find_by_folders(runtime.db, folders)
    seen = moved_shoots.find(runtime.db, folders) if shoot is None else None
    if seen:
        tell(say("{found}\nThe page asks what to do.\n", found=seen.sentence))
        return None, _asking(folders)
    wide = next(filter(is_wide, map(Path, folders)), None) if shoot is None else None
    if wide:
        tell(say("{found}\nThe page asks what to do.\n", found=wide_words(wide)))
        return None, _asking(folders)
    if shoot is None:
        shoot = shoots.make(runtime.db, name or Path(folders[0]).name, folders)
        if prepare:
            prepare(runtime, shoot)
    runtime.indexer.start(shoot)
    return shoot, f"shoots/{shoot}"


def log_beside(path: Path) -> None:
    """Keep what the log says: which file could not be read, and why."""
    handler = RotatingFileHandler(path, maxBytes=1_000_000, backupCount=2, encoding="utf-8")
    log_to(handler, "winnow")


def _asking(folders: list[str]) -> str:
    """Where the page asks whether a folder is that of a shoot that moved."""
    return "?" + urlencode({"open": folders[0]})


def tell_running(url: str, folders: list[str], shown_by: Path | None = None) -> int:
    """Another Winnow runs on this database: hand the folders to it and name its address.

    ``shown_by``: its data folder, where the address is to be opened in the browser, too.
    """
    if folders and url:
        parts = urlsplit(url)
        request = urllib.request.Request(
            # The system may not know names below localhost, as browsers do.
            f"{parts.scheme}://127.0.0.1:{parts.port}/api/shoots",
            json.dumps({"folders": folders}).encode(),
            {
                "Content-Type": "application/json",
                "Authorization": f"Bearer {parse_qs(parts.query)['token'][0]}",
            },
        )
        try:
            with urllib.request.urlopen(request, timeout=10) as answer:
                path = f"shoots/{json.load(answer)['id']}?"
        except urllib.error.HTTPError as error:
            if error.code != 409:
                raise
            tell(json.load(error)["detail"])
            path = f"{_asking(folders)}&"
        url = f"{parts.scheme}://{parts.netloc}/{path}{parts.query}"
    tell(say("Winnow is running already. Its address:\n\n  {url}\n", url=url))
    if url and shown_by:
        from winnow.web.own_files import show

        show(url, shown_by)
    return 0


def serve_nothing(arguments: argparse.Namespace) -> int:
    """Start with what was opened before."""
    return run(arguments, Places.usual(), [], "")


def open_folders(arguments: argparse.Namespace) -> int:
    """Start with folders, opened as a shoot."""
    return run(arguments, Places.usual(), arguments.folders, "")


def token_for_programs(arguments: argparse.Namespace) -> int:
    """Print the address and the token for programs of the person's own, as ``NAME=value``."""
    from winnow.web.own_files import OwnToken
    from winnow.web.versions import V1

    places = Places.usual()
    own = OwnToken(places.data)
    if arguments.forget:
        forgotten = own.forget()
        tell(say("No program gets in any more.") if forgotten else say("There was no token."))
        return 0
    token = own.make() if arguments.new else own.kept() or own.make()
    url = running_at(places)
    if not url:
        tell(say("Winnow is not running; start it with “winnow serve”.\n"), wrong=True)
    port = urlsplit(url).port if url else PORT
    tell(f"WINNOW_URL=http://127.0.0.1:{port}{V1.rstrip('/')}\nWINNOW_TOKEN={token}")
    return 0
