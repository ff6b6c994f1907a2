"""Sharing on the local network: off unless it is asked for, behind a password, for looking and marking only."""

from __future__ import annotations

import hashlib
import hmac
import html
import re
import secrets
import socket
import time
from collections import defaultdict, deque
from collections.abc import Callable
from typing import Final

from winnow.say import LANGUAGE, say

SHORTEST: Final = 8  # characters of the password
_TRIES: Final = 5
_TRIES_OF_ALL: Final = 30
_WINDOW_S: Final = 60.0
_REQUESTS: Final = 1500  # of one address
_REQUESTS_WINDOW_S: Final = 5.0
_MOST_ADDRESSES: Final = 10_000

# What guests may change: marks, texts, groups and what goes with looking. All else is for the computer itself.
_GUESTS_CHANGE: Final = re.compile(
    r"/api/(shoots/\d+/(marks|undo|redo|history|find|turn|beside|faces|open|texts|texts/edit|looking-at|choices/[^/]+"
    r"|groups/preview|groups/edit|hints/apply|lists)|filters/written|filters/written/edit)"
)
_GUESTS_DONT_READ: Final = re.compile(
    r"/api/(folders|cards|bringings.*|programs|deliveries.*|recipes|cache|shoots/\d+/(deliveries|hand-over|files/plan))"
)


class Sharing:
    """A password, and who tried how often. ``addresses``: host names and addresses of this computer."""

    def __init__(
        self,
        password: str,
        addresses: tuple[str, ...] = (),
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        if len(password) < SHORTEST:
            raise ValueError(say("The password needs {least} characters or more.", least=SHORTEST))
        self.addresses = addresses
        self.token = secrets.token_urlsafe(24)
        self._salt = secrets.token_bytes(16)
        self._hash = self._hashed(password)
        self._clock = clock
        self._tries: dict[str, deque[float]] = defaultdict(deque)
        self._of_all: deque[float] = deque()
        self._requests: dict[str, deque[float]] = defaultdict(deque)

    def _hashed(self, password: str) -> bytes:
        return hashlib.scrypt(password.encode(), salt=self._salt, n=2**14, r=8, p=1)

    def may_try(self, address: str) -> bool:
        """Whether this address may try a password now; it counts as a try."""
        now = self._clock()
        if len(self._tries) > _MOST_ADDRESSES:
            self._tries.clear()
        own = self._tries[address]
        for times in (own, self._of_all):
            while times and now - times[0] > _WINDOW_S:
                times.popleft()
        if len(own) >= _TRIES or len(self._of_all) >= _TRIES_OF_ALL:  # guard: tries of passwords
            return False
        own.append(now)
        self._of_all.append(now)
        return True

    def is_right(self, password: str) -> bool:
        """Whether this is the password. Takes some 50 ms, on purpose."""
        return hmac.compare_digest(self._hashed(password[:1000]), self._hash)

    def forgive(self, address: str) -> None:
        """The password was right: earlier tries don't count any more."""
        self._tries.pop(address, None)

    def may_ask(self, address: str) -> bool:
        """Whether an address has not asked too much lately."""
        now = self._clock()
        if len(self._requests) > _MOST_ADDRESSES:
            self._requests.clear()
        own = self._requests[address]
        while own and now - own[0] > _REQUESTS_WINDOW_S:
            own.popleft()
        own.append(now)
        return len(own) <= _REQUESTS  # guard: too many requests

    def is_guest(self, token: str) -> bool:
        """Whether this is the guests' token."""
        return hmac.compare_digest(token.encode(), self.token.encode())


def guests_may(method: str, path: str) -> bool:
    """Whether guests may do this: look, mark, write about frames, and group."""
    if method in ("GET", "HEAD"):
        return _GUESTS_DONT_READ.fullmatch(path) is None
    return _GUESTS_CHANGE.fullmatch(path) is not None


def own_addresses() -> tuple[str, ...]:
    """The names and IPv4 addresses by which others on the network reach this computer."""
    name = socket.gethostname()
    found = {name: None, f"{name}.local": None}
    try:
        for info in socket.getaddrinfo(name, None, socket.AF_INET):
            found[str(info[4][0])] = None
    except OSError:
        pass
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            # No packet is sent: it only asks which address would be used (192.0.2.0/24: RFC 5737).
            probe.connect(("192.0.2.1", 9))
            found[str(probe.getsockname()[0])] = None
        except OSError:
            pass
    return tuple(one for one in found if not one.startswith("127."))


def login_page(notice: str = "") -> str:
    """The page that asks guests for the password."""
    said = f'<p role="alert"><strong>{html.escape(notice)}</strong></p>' if notice else ""
    return (
        f'<!doctype html><html lang="{LANGUAGE}"><head><meta charset="utf-8"><title>Winnow</title>'
        '<meta name="viewport" content="width=device-width, initial-scale=1"><style>'
        "body{font:16px/1.5 system-ui,sans-serif;background:#eceded;color:#1b1d1f;display:grid;place-items:center;"
        "min-height:90vh;margin:0}form{display:grid;gap:12px;width:min(22em,88vw)}input,button{font:inherit;"
        "padding:10px 12px;border:1px solid #8b8f92;border-radius:6px}button{background:#1b1d1f;color:#fafafa}"
        '</style></head><body><main><form method="post" action="/login"><h1>Winnow</h1>'
        f"{said}<label>{say('Password of this shoot’s owner')}<br>"
        '<input type="password" name="password" autocomplete="current-password" autofocus required></label>'
        f"<button>{say('Open')}</button></form></main></body></html>"
    )
