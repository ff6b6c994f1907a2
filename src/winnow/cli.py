"""The command line: winnow demo | demo-card | demo-camera | demo-editor | demo-client | serve | open | index | doctor."""

from __future__ import annotations

import argparse
import getpass
import json
import logging
import os
import re
import sqlite3
import threading
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, replace
from logging.handlers import RotatingFileHandler
from pathlib import Path
from urllib.parse import parse_qs, urlencode, urlsplit

import winnow
from winnow.core.labels import STANDARD_SET
from winnow.photos import scan
from winnow.photos.card import Card
from winnow.say import say
from winnow.store import labels, settings, shoots
from winnow.store.soundness import DatabaseError
from winnow.terminal import log_to, tell
from winnow.work import failures
from winnow.work.deliver.card_plan import CardAt
from winnow.work.moves import moved_shoots
from winnow.work.runtime import AlreadyRunning, Places, Runtime


def main(argv: list[str] | None = None) -> int:
    """Run a command; returns the exit status."""
    arguments = _parser().parse_args(argv)
    if not logging.getLogger().handlers:
        log_to(logging.StreamHandler())
    try:
        status: int = arguments.run(arguments)
    except (DatabaseError, scan.FolderError) as error:
        tell(f"winnow: {error}", wrong=True)
        return 1
    except (sqlite3.Error, OSError) as error:
        tell(f"winnow: {failures.in_words(error, 'winnow')}", wrong=True)
        return 1
    except KeyboardInterrupt:
        return 130
    return status


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="winnow", description=winnow.__doc__)
    parser.add_argument("--version", action="version", version=f"Winnow {winnow.__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    serving = argparse.ArgumentParser(add_help=False)
    serving.add_argument(
        "--port", type=int, default=8470, help=say("port on this computer (0: any free one)")
    )
    serving.add_argument("--browser", action="store_true", help=say("open the page in the browser"))

    serving.add_argument(
        "--cards", type=Path, metavar="FOLDER", help=say("simulated cards are in this folder, too")
    )

    serving.add_argument("--page-from", type=_on_this_computer, help=argparse.SUPPRESS)

    sharing = argparse.ArgumentParser(add_help=False)
    sharing.add_argument(
        "--share",
        action="store_true",
        help=say(
            "share the shoot with guests on the local network, with a password (asked for, or in "
            "WINNOW_PASSWORD); on screen it can be switched on and off, too"
        ),
    )
    sharing.add_argument(
        "--guests-may",
        choices=("look", "mark", "caption", "all"),
        default="all",
        help=say("what guests may do beyond looking"),
    )

    demo = commands.add_parser(
        "demo", parents=[serving, sharing], help=say("start with the demo shoot")
    )
    demo.set_defaults(run=_demo)
    card = commands.add_parser(
        "demo-card", help=say("fill a folder like a memory card with the demo's pictures")
    )
    card.add_argument("folder", type=Path, metavar="FOLDER")
    card.add_argument(
        "--mb-per-s",
        type=float,
        default=0,
        metavar="N",
        help=say("read it this slowly (0: no limit)"),
    )
    card.add_argument(
        "--fail", action="append", default=[], metavar="NAME", help=say("this file can't be read")
    )
    card.add_argument(
        "--end-after",
        type=float,
        default=0,
        metavar="MB",
        help=say("as if pulled out after so much"),
    )
    card.set_defaults(run=_demo_card)
    camera = commands.add_parser(
        "demo-camera", help=say("put the demo's pictures into a folder one by one, like a camera")
    )
    camera.add_argument("folder", type=Path, metavar="FOLDER")
    camera.add_argument("--every", type=float, default=4.0, metavar="SECONDS")
    camera.set_defaults(run=_demo_camera)
    editor = commands.add_parser(
        "demo-editor", help=say("stand in for an editor: a brighter copy of each picture")
    )
    editor.add_argument("files", nargs="+", type=Path, metavar="FILE")
    editor.add_argument("--into", type=Path, metavar="FOLDER", help=say("not beside the pictures"))
    editor.set_defaults(run=_demo_editor)
    client = commands.add_parser(
        "demo-client", help=say("stand in for a client: answer the gallery in a folder")
    )
    client.add_argument("gallery", type=Path, metavar="FOLDER")
    client.add_argument("--name", default=say("A client"), metavar="NAME")
    client.add_argument("--into", type=Path, default=Path("answer.json"), metavar="FILE")
    client.set_defaults(run=_demo_client)
    serve = commands.add_parser("serve", parents=[serving], help=say("start with your own shoots"))
    serve.set_defaults(run=_serve)
    opener = commands.add_parser(
        "open",
        parents=[serving, sharing],
        help=say("start, or go to, the shoot in one or more folders"),
    )
    opener.add_argument("folders", nargs="+", type=Path, metavar="FOLDER")
    opener.set_defaults(run=_open)
    index = commands.add_parser(
        "index", help=say("analyse folders as a shoot, without a page, for example over night")
    )
    index.add_argument("folders", nargs="+", type=Path, metavar="FOLDER")
    index.add_argument("--name", default="", metavar="NAME", help=say("of the shoot"))
    index.add_argument(
        "--executor",
        default="",
        metavar="dask:ADDRESS",
        help=say(
            "analyse on the machines of a dask.distributed scheduler; folders and Winnow's cache must be on "
            "storage that all of them see under the same paths"
        ),
    )
    index.set_defaults(run=_index)
    doctor = commands.add_parser("doctor", help=say("say what is there, and what is missing"))
    doctor.set_defaults(run=_doctor)
    return parser


def _on_this_computer(host: str) -> str:
    """Where the page comes from while somebody builds on it: "127.0.0.1:5173", nothing else than this computer."""
    if not re.fullmatch(r"127\.0\.0\.1:\d{1,5}", host):
        raise argparse.ArgumentTypeError(host)
    return host


def _index(arguments: argparse.Namespace) -> int:
    from winnow.work.index import headless

    for folder in arguments.folders:
        scan.check_folder(folder)
    resolved = [str(folder.resolve()) for folder in arguments.folders]
    try:
        workers = headless.workers_at(arguments.executor) if arguments.executor else None
        runtime = Runtime(Places.usual(), workers)
    except headless.ExecutorError as error:
        tell(f"winnow: {error}", wrong=True)
        return 1
    except AlreadyRunning as running:
        return _tell_running(running.url, resolved)
    try:
        return headless.index(runtime, resolved, arguments.name or Path(resolved[0]).name)
    finally:
        runtime.close()


def _doctor(arguments: argparse.Namespace) -> int:
    from winnow.work import doctor

    return 0 if doctor.report(Places.usual()) else 1


@dataclass(frozen=True, slots=True)
class Simulated:
    """What stands in for cards: how a folder is read as one, and where they are; and whether
    something is still filling the folders."""

    card_at: CardAt = Card
    places: tuple[Path, ...] = ()
    filling: Callable[[], bool] = lambda: False


def _run(  # noqa: C901
    arguments: argparse.Namespace,
    places: Places,
    folders: list[Path],
    name: str,
    prepare: Callable[[Runtime, int], None] | None = None,
    simulated: Simulated | None = None,
) -> int:
    from winnow.web.guests.sessions import ALL_RIGHTS, check_password
    from winnow.web.server import Share, serve

    password = ""
    if wants_guests := getattr(arguments, "share", False):
        password = os.environ.get("WINNOW_PASSWORD") or getpass.getpass(
            say("Password for others: ")
        )
        try:
            check_password(password)
        except ValueError as error:
            tell(f"winnow: {error}", wrong=True)
            return 1
    if arguments.cards:
        from winnow.demo.devices import SimulatedCard

        known = simulated or Simulated()
        simulated = replace(known, card_at=SimulatedCard, places=(*known.places, arguments.cards))
    simulated = simulated or Simulated()

    for folder in folders:
        scan.check_folder(folder)
    resolved = [str(folder.resolve()) for folder in folders]
    try:
        runtime = Runtime(places, card_at=simulated.card_at, card_places=simulated.places)
        runtime.indexer.held_back = simulated.filling
        _log_to(places.data / "winnow.log")
        if not simulated.filling():
            runtime.workers.warm()
    except AlreadyRunning as running:
        return _tell_running(running.url, resolved)
    path, share = "", None
    if resolved:
        shoot = shoots.find_by_folders(runtime.db, resolved)
        seen = moved_shoots.find(runtime.db, resolved) if shoot is None else None
        if seen:
            tell(say("{found}\nThe page asks what to do.\n", found=seen.sentence))
            path = _asking(resolved)
        else:
            if shoot is None:
                shoot = shoots.make(runtime.db, name or Path(resolved[0]).name, resolved)
                if prepare:
                    prepare(runtime, shoot)
            runtime.indexer.start(shoot)
            path = f"shoots/{shoot}"
            if wants_guests:
                may = ALL_RIGHTS if arguments.guests_may == "all" else (arguments.guests_may,)
                share = Share(shoot, password, tuple(one for one in may if one in ALL_RIGHTS))
    try:
        serve(
            runtime,
            arguments.port,
            path,
            open_browser=arguments.browser,
            share=share,
            page_from=arguments.page_from or "",
        )
    except OSError as error:
        runtime.close()
        tell(
            say(
                "winnow: port {port} can't be used ({strerror}). Choose another with --port, or --port 0 for any "
                "free one.",
                port=arguments.port,
                strerror=error.strerror,
            ),
            wrong=True,
        )
        return 1
    return 0


def _log_to(path: Path) -> None:
    """Keep what the log says: which file could not be read, and why."""
    handler = RotatingFileHandler(path, maxBytes=1_000_000, backupCount=2, encoding="utf-8")
    log_to(handler, "winnow")


def _asking(folders: list[str]) -> str:
    """Where the page asks whether a folder is that of a shoot that moved."""
    return "?" + urlencode({"open": folders[0]})


def _tell_running(url: str, folders: list[str]) -> int:
    """Another Winnow runs on this database: hand the folders to it and name its address."""
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
    return 0


def _serve(arguments: argparse.Namespace) -> int:
    return _run(arguments, Places.usual(), [], "")


def _open(arguments: argparse.Namespace) -> int:
    return _run(arguments, Places.usual(), arguments.folders, "")


def _demo(arguments: argparse.Namespace) -> int:
    from winnow.demo import devices, evening, shoot

    places = _demo_places()
    folder = places.data / evening.FOLDER_NAME
    makers = shoot.make_behind(folder)
    if makers:
        tell(
            say("Making the demo shoot: its frames appear one by one, in less than a minute."),
        )
    cards = places.data / "cards"

    def put_card_in() -> None:
        for maker in makers:
            maker.join()
        devices.fill_card(cards / "QUILLON", folder)

    threading.Thread(target=put_card_in, name="demo card", daemon=True).start()
    return _run(
        arguments,
        places,
        [folder],
        evening.SHOOT_NAME,
        _for_the_evening,
        Simulated(
            devices.SimulatedCard, (cards,), lambda: any(maker.is_alive() for maker in makers)
        ),
    )


def _demo_places() -> Places:
    usual = Places.usual()
    return Places(usual.data / "demo", usual.cache / "demo")


def _demo_card(arguments: argparse.Namespace) -> int:
    from winnow.demo import devices, evening

    count = devices.fill_card(arguments.folder, _demo_places().data / evening.FOLDER_NAME)
    faults = devices.Faults(arguments.mb_per_s, tuple(arguments.fail), arguments.end_after)
    devices.set_faults(arguments.folder, faults)
    tell(say("{count} files put on the card in {folder}.", count=count, folder=arguments.folder))
    return 0


def _demo_editor(arguments: argparse.Namespace) -> int:
    from winnow.demo import stand_ins

    for made in stand_ins.edit(arguments.files, arguments.into):
        tell(made)
    return 0


def _demo_client(arguments: argparse.Namespace) -> int:
    from winnow.demo import stand_ins

    try:
        data = stand_ins.answer(arguments.gallery, arguments.name)
    except ValueError as error:
        tell(f"winnow: {error}", wrong=True)
        return 1
    with arguments.into.open("xb") as out:
        out.write(data)
    tell(arguments.into)
    return 0


def _demo_camera(arguments: argparse.Namespace) -> int:
    from winnow.demo import devices, evening

    tell(say("The camera shoots until its last frame; Ctrl+C ends it."))
    made = _demo_places().data / evening.FOLDER_NAME
    for path in devices.keep_shooting(arguments.folder, made, arguments.every):
        tell(path)
    return 0


def _for_the_evening(runtime: Runtime, shoot: int) -> None:
    """What the photographer set before the demo shoot: labels with their meanings, a target."""
    from winnow.demo import evening

    shoots.aim(runtime.db, shoot, evening.KEEP_TARGET)
    named = [(label, *evening.LABELS[label.letter]) for label in STANDARD_SET]
    labels.save_labels(
        runtime.db, [replace(label, name=name, meaning=meaning) for label, name, meaning in named]
    )
    editor = {"command": "winnow demo-editor", "which": "ready"}
    settings.save_set(runtime.db, "programs", say("Stand-in editor"), editor)
