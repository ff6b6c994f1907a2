"""Runs the application on this computer until it is interrupted."""

from __future__ import annotations

import html
import os
import secrets
import socket
import types
import webbrowser
from pathlib import Path
from typing import Final

import uvicorn

from winnow.say import say
from winnow.terminal import tell
from winnow.web.app import create_app
from winnow.web.sharing import Sharing
from winnow.work.studio import Studio

_OPENS: Final = "open.html"


class _Server(uvicorn.Server):
    """Ends the windows' event streams first: they would keep a stopping server waiting."""

    studio: Studio

    def handle_exit(self, sig: int, frame: types.FrameType | None) -> None:
        self.studio.events.close()
        super().handle_exit(sig, frame)


def _leading_to(url: str, folder: Path) -> str:
    """The address of a file of this user's own that leads to an address: what stands in a command line, every user of
    this computer can read."""
    file = folder / _OPENS
    file.unlink(missing_ok=True)
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as written:
        written.write(
            f'<!doctype html><meta http-equiv="refresh" content="0; url={html.escape(url)}">'
        )
    return file.absolute().as_uri()


def hosts_at(port: int, sharing: Sharing | None = None, page_from: str = "") -> frozenset[str]:
    """The Host headers of requests that are meant for a server on this port. See ``serve``."""
    names = ("127.0.0.1", "localhost", *(sharing.addresses if sharing else ()))
    own = {f"{name}:{port}".lower() for name in names}
    return frozenset(own | {page_from} if page_from else own)


def serve(
    studio: Studio,
    port: int,
    path: str = "",
    *,
    open_browser: bool = False,
    sharing: Sharing | None = None,
    page_from: str = "",
) -> None:
    """Serve until Ctrl+C. ``port`` 0 takes a free one. Raises OSError when the port is taken.

    ``sharing``: others on the network may look and mark, too. ``page_from``: host and port of a server on this
    computer that gives out the page and hands requests on, while somebody builds on the page.
    """
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listener.bind(("0.0.0.0" if sharing else "127.0.0.1", port))
    # From here on requests wait for the server instead of being refused.
    listener.listen(128)
    port = listener.getsockname()[1]
    token = secrets.token_urlsafe(24)
    app = create_app(studio, token, hosts_at(port, sharing, page_from), sharing)
    config = uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=3)
    server = _Server(config)
    server.studio = studio
    url = f"http://{page_from or f'127.0.0.1:{port}'}/{path}{'&' if '?' in path else '?'}token={token}"
    studio.announce(url)
    tell(say("Winnow is ready. Open this address in your browser:\n\n  {url}\n", url=url))
    if sharing:
        tell(say("It is shared on the network. Others open, and give the password:\n"))
        tell("\n".join(f"  http://{name}:{port}/" for name in sharing.addresses) + "\n")
    tell(say("Ctrl+C stops it. Marks are stored as you make them."))
    if open_browser:
        webbrowser.open(_leading_to(url, studio.places.data))
    # uvicorn hands the interrupt on when it is done; by then everything is closed.
    try:
        server.run(sockets=[listener])
    except KeyboardInterrupt:
        pass
    finally:
        listener.close()
        (studio.places.data / _OPENS).unlink(missing_ok=True)
    tell(say("\nWinnow has stopped."))
