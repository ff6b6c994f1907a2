"""Runs the application on this computer until it is interrupted."""

from __future__ import annotations

import contextlib
import re
import secrets
import socket
import types
from dataclasses import dataclass
from functools import partial
from pathlib import Path

import uvicorn
from fastapi import FastAPI

from winnow.say import say
from winnow.store import shoots
from winnow.terminal import tell
from winnow.web.app import create_app
from winnow.web.guests.sessions import May
from winnow.web.own_files import no_longer_leading, show, write_own
from winnow.web.patience import Patient
from winnow.work.runtime import Runtime


class _Server(uvicorn.Server):
    """Ends the windows' event streams first: they would keep a stopping server waiting."""

    runtime: Runtime

    def handle_exit(self, sig: int, frame: types.FrameType | None) -> None:
        self.runtime.events.close()
        super().handle_exit(sig, frame)


@dataclass(frozen=True, slots=True)
class Share:
    """A shoot to share from the start. See ``Sharing``."""

    shoot_id: int
    password: str
    may: tuple[May, ...]


def own_name(folder: Path) -> str:
    """The name of this computer that is this Winnow's alone: browsers give a host's cookies to
    every port of it, so the host has a name that no other program of this computer knows (RFC 6761,
    6.3: names below localhost are this computer). It is kept in a folder, as browsers keep what a
    page remembers by its host."""
    file = folder / "own-name"
    with contextlib.suppress(FileNotFoundError, ValueError):
        # Killed while it was written for the first time, it is cut off.
        if re.fullmatch(r"winnow-[0-9a-f]{16}\.localhost", name := file.read_text("ascii")):
            return name
    name = f"winnow-{secrets.token_hex(8)}.localhost"
    write_own(file, name)
    return name


def hosts_at(port: int, name: str = "", page_from: str = "") -> frozenset[str]:
    """The Host headers of requests that are meant for a server on this port. See ``serve``."""
    names = {f"{host}:{port}".lower() for host in ("127.0.0.1", "localhost", name) if host}
    return frozenset(names | {page_from} if page_from else names)


def serve(
    runtime: Runtime,
    port: int,
    path: str = "",
    *,
    open_browser: bool = False,
    share: Share | None = None,
    page_from: str = "",
) -> None:
    """Serve until Ctrl+C. ``port`` 0 takes a free one. Raises OSError when the port is taken.

    ``share``: a shoot is shared from the start. ``page_from``: host and port of a server on this
    computer that gives out the page and hands requests on, while somebody builds on the page.
    """
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listener.bind(("127.0.0.1", port))
    # From here on requests wait for the server instead of being refused.
    listener.listen(128)
    port = listener.getsockname()[1]
    token = secrets.token_urlsafe(24)
    name = own_name(runtime.places.data)
    app = create_app(
        runtime,
        token,
        hosts_at(port, name, page_from),
        share_port=port + 1,
        when_opened=partial(no_longer_leading, runtime.places.data),
    )
    config = uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=3, http=Patient)
    server = _Server(config)
    server.runtime = runtime
    url = f"http://{page_from or f'{name}:{port}'}/{path}{'&' if '?' in path else '?'}token={token}"
    runtime.announce(url)
    # uvicorn hands the interrupt on when it is done. One that comes before it listens ends all too.
    try:
        tell(say("Winnow is ready. Open this address in your browser:\n\n  {url}\n", url=url))
        if share:
            _share(app, runtime, share)
        tell(say("Ctrl+C stops it. Marks are stored as you make them."))
        if open_browser:
            show(url, runtime.places.data)
            tell(say("\nYour browser opens it now; with --no-browser it is left alone."))
        server.run(sockets=[listener])
    except KeyboardInterrupt:
        pass
    finally:
        listener.close()
        runtime.close()
        no_longer_leading(runtime.places.data)
    tell(say("\nWinnow has stopped."))


def _share(app: FastAPI, runtime: Runtime, share: Share) -> None:
    """Switch sharing on, and say where guests come in."""
    shared = app.state.shares.switch_on(share.shoot_id, share.password, share.may)
    shoot = shoots.get(runtime.db, share.shoot_id)
    tell(
        say(
            "The shoot “{shoot}” is shared on the network. Others open, and give the password:\n",
            shoot=shoot.name if shoot else "",
        )
    )
    tell("\n".join(f"  {url}" for url in shared.urls) + "\n")
    tell(say("Their browser asks about the certificate. Its SHA-256 is:\n"))
    tell(f"  {shared.fingerprint}\n")
