"""Who comes in by the shared line: guests of one shoot, each with a session of their own.

Pure ASGI.
"""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import Callable, Set
from typing import Final
from urllib.parse import parse_qs

from starlette.datastructures import Headers
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from winnow.say import say
from winnow.store import people
from winnow.web.guests.login import login_page
from winnow.web.guests.rights import guests_may
from winnow.web.guests.sessions import GUEST, BadName, Sharing
from winnow.web.security import (
    HEADERS,
    cookie,
    cookie_name,
    in_time,
    refusal,
    refused,
    with_headers,
)

MAX_BODY_BYTES: Final = 1024 * 1024
_MOST_LOGIN_BYTES: Final = 4096
_BODY_S: Final = 20.0


class SessionEnded(Exception):
    """A guest's session was ended while something was still sent to it."""


class GuestGuard:
    """Lets guests look at one shoot, and do there what they may; each request says in its scope
    which guest asks.

    ``hosts``: the Host headers of this line. ``shoot_of``: the shoot of a frame; None where there
    is none.
    """

    def __init__(
        self,
        app: ASGIApp,
        sharing: Sharing,
        hosts: Set[str],
        fingerprint: str,
        shoot_of: Callable[[int], int | None],
    ) -> None:
        self._app = app
        self._sharing = sharing
        self._hosts = hosts
        self._fingerprint = fingerprint
        self._shoot_of = shoot_of

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through, or refuse it."""
        if scope["type"] != "http":
            return
        scope.pop(GUEST, None)
        token = cookie(Headers(scope=scope))
        receive = in_time(receive, _BODY_S)
        answer = await self._answer(scope, receive, token)
        if answer is not None:
            await answer(scope, receive, send)
            return

        started = False

        async def send_to_guest(message: Message) -> None:
            nonlocal started
            if self._sharing.guest_of(token) is None:  # guard: streams of ended sessions
                if started:
                    await send({"type": "http.response.body", "body": b""})
                else:
                    await refused(401, _ended())(scope, receive, send)
                raise SessionEnded
            started = True
            await send(with_headers(message))

        with contextlib.suppress(SessionEnded):
            hidden = people.HIDDEN.set(True)  # guard: people are never for guests
            try:
                await self._app(scope, receive, send_to_guest)
            finally:
                people.HIDDEN.reset(hidden)

    async def _answer(self, scope: Scope, receive: Receive, token: str) -> Response | None:
        """What is answered here; None where the application may answer."""
        headers = Headers(scope=scope)
        if wrong := refusal(scope, headers, self._hosts, "https", MAX_BODY_BYTES):
            return refused(*wrong)
        address = scope["client"][0] if scope.get("client") else ""
        if not self._sharing.may_ask(address):
            return refused(429, say("Too many requests. Wait a few seconds."))
        path, method = scope["path"], scope["method"]
        guest = self._sharing.guest_of(token)
        if guest is not None:
            self._sharing.saw(token)
            shoot, may = self._sharing.shoot_id, guest.may
            if guests_may(method, path, shoot, may, self._shoot_of):  # guard: guests' rights
                scope[GUEST] = guest
                return None
            return refused(403, say("That is for the owner of this shoot."))
        if method == "POST" and path == "/login":
            return await self._sign_in(scope, receive, address)
        if path.startswith("/api/"):
            return refused(401, _ended())
        return self._login()

    async def _sign_in(self, scope: Scope, receive: Receive, address: str) -> Response:
        if not self._sharing.may_try(address):
            return self._login(say("Too many tries. Wait a minute."), 429)
        headers = Headers(scope=scope)
        if int(headers.get("content-length", "0")) > _MOST_LOGIN_BYTES:
            return self._login(say("The request is too large."), 413)
        form = parse_qs((await Request(scope, receive).body()).decode("utf-8", "replace"))
        password, name = (form.get(field, [""])[0] for field in ("password", "name"))
        if not await asyncio.to_thread(self._sharing.is_right, password):  # guard: the password
            return self._login(say("This is not the password."), 403, name)
        try:
            token = self._sharing.sign_in(name, address)
        except BadName as error:
            return self._login(str(error), 403, name)
        answer: Response = RedirectResponse(f"/shoots/{self._sharing.shoot_id}", 303)
        answer.set_cookie(
            cookie_name(headers.get("host", "")),
            token,
            httponly=True,  # guard: a guest's cookie that no script reads
            samesite="strict",  # guard: a guest's cookie that no other page sends
            secure=True,  # guard: a guest's cookie on the encrypted line only
            path="/",
        )
        return answer

    def _login(self, notice: str = "", status: int = 200, name: str = "") -> Response:
        policy = HEADERS["content-security-policy"].replace(
            "form-action 'none'", "form-action 'self'"
        )
        headers = {
            **HEADERS,
            "content-security-policy": policy,
            "cache-control": "no-store",
            # Without a referrer a form says that it comes from nowhere.
            "referrer-policy": "same-origin",
        }
        return HTMLResponse(login_page(self._fingerprint, notice, name), status, headers=headers)


def _ended() -> str:
    return say("Your session has ended. Open the address again.")
