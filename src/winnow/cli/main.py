"""The command line: winnow demo | demo-card | demo-camera | demo-editor | demo-client | serve |
open | index | token | desktop | doctor."""

from __future__ import annotations

import argparse
import logging
import re
import sqlite3
from pathlib import Path

import winnow
from winnow.cli.demo import demo_camera, demo_card, demo_client, demo_editor, demo_shoot
from winnow.cli.desktop import desktop
from winnow.cli.serving import PORT, open_folders, serve_nothing, tell_running, token_for_programs
from winnow.photos import scan
from winnow.say import say
from winnow.store.soundness import DatabaseError
from winnow.terminal import log_to, tell
from winnow.work import failures
from winnow.work.runtime import AlreadyRunning, Places, Runtime


def main(argv: list[str] | None = None) -> int:
    """Run a command; returns the exit status."""
    arguments = arguments_parser().parse_args(argv)
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


def arguments_parser() -> argparse.ArgumentParser:
    """The command line: its commands and what each takes."""
    parser = argparse.ArgumentParser(prog="winnow", description=winnow.__doc__)
    parser.add_argument("--version", action="version", version=f"Winnow {winnow.__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    serving = argparse.ArgumentParser(add_help=False)
    serving.add_argument(
        "--port", type=int, default=PORT, help=say("port on this computer (0: any free one)")
    )
    serving.add_argument(
        "--browser",
        action=argparse.BooleanOptionalAction,
        help=say("open the page in the browser, or leave it alone (“open” does by itself)"),
    )

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
    demo.set_defaults(run=demo_shoot)
    card = commands.add_parser(
        "demo-card", help=say("fill a folder like a memory card with the demo’s pictures")
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
        "--fail", action="append", default=[], metavar="NAME", help=say("this file can’t be read")
    )
    card.add_argument(
        "--end-after",
        type=float,
        default=0,
        metavar="MB",
        help=say("as if pulled out after so much"),
    )
    card.set_defaults(run=demo_card)
    camera = commands.add_parser(
        "demo-camera", help=say("put the demo’s pictures into a folder one by one, like a camera")
    )
    camera.add_argument("folder", type=Path, metavar="FOLDER")
    camera.add_argument("--every", type=float, default=4.0, metavar="SECONDS")
    camera.set_defaults(run=demo_camera)
    editor = commands.add_parser(
        "demo-editor", help=say("stand in for an editor: a brighter copy of each picture")
    )
    editor.add_argument("files", nargs="+", type=Path, metavar="FILE")
    editor.add_argument("--into", type=Path, metavar="FOLDER", help=say("not beside the pictures"))
    editor.set_defaults(run=demo_editor)
    client = commands.add_parser(
        "demo-client", help=say("stand in for a client: answer the gallery in a folder")
    )
    client.add_argument("gallery", type=Path, metavar="FOLDER")
    client.add_argument("--name", default=say("A client"), metavar="NAME")
    client.add_argument("--into", type=Path, default=Path("answer.json"), metavar="FILE")
    client.set_defaults(run=demo_client)
    serve = commands.add_parser(
        "serve",
        parents=[serving, sharing],
        help=say("start with your own shoots; --share shares the one that was opened last"),
    )
    serve.set_defaults(run=serve_nothing)
    opener = commands.add_parser(
        "open",
        parents=[serving, sharing],
        help=say("start, or go to, the shoot in one or more folders, in the browser"),
    )
    opener.add_argument("folders", nargs="*", type=Path, metavar="FOLDER")
    opener.set_defaults(run=open_folders, shows=True)
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
            "analyse on the machines of a dask.distributed scheduler; folders and Winnow’s cache "
            "must be on storage that all of them see under the same paths"
        ),
    )
    index.set_defaults(run=_index)
    token = commands.add_parser(
        "token", help=say("print the address and the token for programs of your own")
    )
    which = token.add_mutually_exclusive_group()
    which.add_argument(
        "--new", action="store_true", help=say("make another one; the one before is not valid then")
    )
    which.add_argument("--forget", action="store_true", help=say("let no program in any more"))
    token.set_defaults(run=token_for_programs)
    entry = commands.add_parser(
        "desktop", help=say("put Winnow into the desktop’s menu, and into “open with” of folders")
    )
    entry.add_argument("--remove", action="store_true", help=say("take it out again"))
    entry.set_defaults(run=desktop)
    doctor = commands.add_parser("doctor", help=say("say what is there, and what is missing"))
    doctor.set_defaults(run=_doctor)
    return parser


def _on_this_computer(host: str) -> str:
    """Where the page comes from while somebody builds on it: "127.0.0.1:5173", nothing else than
    this computer."""
    if not re.fullmatch(r"127\.0\.0\.1:\d{1,5}", host):
        raise argparse.ArgumentTypeError(host)
    return host


def _index(arguments: argparse.Namespace) -> int:
    from winnow.work.index import cluster, headless

    for folder in arguments.folders:
        scan.check_folder(folder)
    resolved = [str(folder.resolve()) for folder in arguments.folders]
    try:
        workers = cluster.workers_at(arguments.executor) if arguments.executor else None
        runtime = Runtime(Places.usual(), workers)
    except cluster.ExecutorError as error:
        tell(f"winnow: {error}", wrong=True)
        return 1
    except AlreadyRunning as running:
        return tell_running(running.url, resolved)
    try:
        return headless.index(runtime, resolved, arguments.name or Path(resolved[0]).name)
    finally:
        runtime.close()


def _doctor(arguments: argparse.Namespace) -> int:
    from winnow.work import doctor

    return 0 if doctor.report(Places.usual()) else 1
