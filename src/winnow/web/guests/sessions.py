"""One shoot that is shared: its password, who signed in under which name, and who asked how
often."""

from __future__ import annotations

import hashlib
import hmac
import secrets
import threading
import time
import unicodedata
from collections import defaultdict, deque
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Final, Literal, get_args

from winnow.say import say

May = Literal["mark", "caption"]
ALL_RIGHTS: Final[tuple[May, ...]] = get_args(May)
GUEST: Final = "winnow.guest"  # in a request's scope: the guest who asks

SHORTEST: Final = 8  # characters of the password
_LONGEST_NAME: Final = 40
_MOST_GUESTS: Final = 50
_TRIES: Final = 5
_TRIES_OF_ALL: Final = 30
_WINDOW_S: Final = 60.0
_REQUESTS: Final = 1500  # of one address
_REQUESTS_WINDOW_S: Final = 5.0
_MOST_ADDRESSES: Final = 10_000


class BadName(ValueError):
    """A name that nobody can sign in under, with the reason in words."""


@dataclass(frozen=True, slots=True)
class Guest:
    """Somebody who signed in to look at a shoot.

    ``since`` and ``seen``: seconds since 1970; ``may``: beyond looking.
    """

    id: int
    name: str
    shoot_id: int
    address: str
    since: float
    seen: float
    may: frozenset[May]


def check_password(password: str) -> None:
    """Raises ValueError for a password that is too short."""
    if len(password) < SHORTEST:
        raise ValueError(say("The password needs {least} characters or more.", least=SHORTEST))


class Sharing:
    """One shoot, what its guests may do, and who they are. Safe to use from any thread.

    Raises ValueError for a password that is too short.
    """

    def __init__(
        self,
        shoot_id: int,
        password: str,
        may: Iterable[May] = ALL_RIGHTS,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        check_password(password)
        self.shoot_id = shoot_id
        self.may = frozenset(may)
        self._salt = secrets.token_bytes(16)
        self._hash = self._hashed(password)
        self._clock = clock
        self._lock = threading.Lock()
        self._guests: dict[str, Guest] = {}
        self._next = 1
        self._tries: dict[str, deque[float]] = defaultdict(deque)
        self._of_all: deque[float] = deque()
        self._requests: dict[str, deque[float]] = defaultdict(deque)

    def _hashed(self, password: str) -> bytes:
        return hashlib.scrypt(password.encode(), salt=self._salt, n=2**14, r=8, p=1)

    def may_try(self, address: str) -> bool:
        """Whether this address may try a password now; it counts as a try."""
        now = self._clock()
        with self._lock:
            if len(self._tries) > _MOST_ADDRESSES:
                self._tries.clear()
            tries = self._tries[address]
            for times in (tries, self._of_all):
                while times and now - times[0] > _WINDOW_S:
                    times.popleft()
            # guard: tries of passwords
            if len(tries) >= _TRIES or len(self._of_all) >= _TRIES_OF_ALL:
                return False
            tries.append(now)
            self._of_all.append(now)
            return True

    def is_right(self, password: str) -> bool:
        """Whether this is the password. Takes some 50 ms, on purpose."""
        return hmac.compare_digest(self._hashed(password[:1000]), self._hash)

    def may_ask(self, address: str) -> bool:
        """Whether an address has not asked too much lately."""
        now = self._clock()
        with self._lock:
            if len(self._requests) > _MOST_ADDRESSES:
                self._requests.clear()
            requests = self._requests[address]
            while requests and now - requests[0] > _REQUESTS_WINDOW_S:
                requests.popleft()
            requests.append(now)
            return len(requests) <= _REQUESTS  # guard: too many requests

    def sign_in(self, typed: str, address: str) -> str:
        """Let somebody in who gave the password; returns the token of the new session.

        Raises BadName.
        """
        name = " ".join(unicodedata.normalize("NFC", typed).split())
        if (
            not name
            or len(name) > _LONGEST_NAME
            or any(unicodedata.category(letter)[0] == "C" for letter in name)
        ):
            raise BadName(
                say("Give a name of 1 to {most} letters, figures or spaces.", most=_LONGEST_NAME)
            )
        token = secrets.token_urlsafe(24)
        now = time.time()
        with self._lock:
            taken = {guest.name.casefold() for guest in self._guests.values()}
            if name.casefold() in taken:  # guard: one name, one guest
                raise BadName(say("“{name}” is signed in already. Take another name.", name=name))
            if len(self._guests) >= _MOST_GUESTS:
                raise BadName(say("There are too many guests already."))
            self._guests[token] = Guest(
                self._next, name, self.shoot_id, address, now, now, self.may
            )
            self._next += 1
            # The password was right: earlier tries don't count any more.
            self._tries.pop(address, None)
        return token

    def guest_of(self, token: str) -> Guest | None:
        """Who has this session; None where there is none, or it was ended."""
        with self._lock:
            return self._guests.get(token)

    def saw(self, token: str) -> None:
        """The guest with this session asked for something."""
        with self._lock:
            if (guest := self._guests.get(token)) is not None:
                self._guests[token] = replace(guest, seen=time.time())

    def guests(self) -> list[Guest]:
        """Who is signed in, in the order in which they came."""
        with self._lock:
            return sorted(self._guests.values(), key=lambda guest: guest.id)

    def end(self, guest_id: int) -> None:
        """End a session: nothing more is answered to it."""
        with self._lock:
            # guard: ended sessions
            self._guests = {
                token: guest for token, guest in self._guests.items() if guest.id != guest_id
            }
