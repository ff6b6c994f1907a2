"""An entry in the desktop's menu, and "open with" for folders: what freedesktop.org's Desktop Entry
Specification and its icon themes ask for."""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
from importlib.resources import files
from pathlib import Path
from typing import Final

from winnow.say import say
from winnow.terminal import tell

_ENTRY: Final = Path("applications", "winnow.desktop")
_ICON: Final = Path("icons", "hicolor", "scalable", "apps", "winnow.svg")


def desktop(arguments: argparse.Namespace) -> int:
    """Put Winnow into the desktop's menu, or take it out; returns the exit status."""
    if sys.platform in ("win32", "darwin"):
        tell(
            say("winnow: entries like this are known to Linux desktops alone. Use “winnow open”."),
            wrong=True,
        )
        return 1
    folder = _data_home()
    if arguments.remove:
        for part in (_ENTRY, _ICON):
            (folder / part).unlink(missing_ok=True)
        tell(say("Winnow is in the desktop’s menu no more."))
    else:
        _write(folder / _ICON, files("winnow.web").joinpath("page", "icon.svg").read_bytes())
        _write(folder / _ENTRY, entry(_command()).encode())
        tell(say("Winnow is in the desktop’s menu, and in “open with” of folders."))
        tell(say("“winnow desktop --remove” takes it out again."))
    # Desktops find it by themselves, with this at once.
    if refresh := shutil.which("update-desktop-database"):
        subprocess.run([refresh, "-q", folder / "applications"], check=False)
    return 0


def _data_home() -> Path:
    named = os.environ.get("XDG_DATA_HOME", "")
    return Path(named) if Path(named).is_absolute() else Path.home() / ".local" / "share"


def _write(path: Path, content: bytes) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(content)


def _command() -> list[str]:
    """What starts this Winnow, from wherever it is installed."""
    called = shutil.which(sys.argv[0])
    if called and Path(called).stem == "winnow":
        return [str(Path(called).absolute())]
    return [sys.executable, "-m", "winnow"]


def entry(command: list[str]) -> str:
    """The text of the entry that starts a command."""
    # It runs in a terminal: closing that, or Ctrl+C there, ends it.
    lines = {
        "Type": "Application",
        "Version": "1.0",
        "Name": "Winnow",
        "GenericName": say("Culling of photographs"),
        "Comment": say("Compare the frames of a shoot, decide, and hand the keepers on"),
        "Exec": " ".join([*map(_quoted, command), "open", "%F"]),
        "Icon": "winnow",
        "Terminal": "true",
        "MimeType": "inode/directory;",
        "Categories": "Graphics;Photography;",
    }
    return "[Desktop Entry]\n" + "".join(f"{key}={value}\n" for key, value in lines.items())


def _quoted(argument: str) -> str:
    """An argument of a command, quoted twice: as arguments are, and as the values of keys are
    (sections "The Exec key" and "Possible value types")."""
    for sign in ("\\", '"', "`", "$"):
        argument = argument.replace(sign, "\\" + sign)
    return '"' + argument.replace("%", "%%").replace("\\", "\\\\") + '"'
