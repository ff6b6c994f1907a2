"""Who may talk to the server: the person's own browser, with the token given at start.

Guests come in by a line of their own (`guests/`). Pure ASGI, so that no answer passes through it
unguarded or buffered.
"""

from __future__ import annotations

import asyncio
import hmac
from collections.abc import Callable, Set
from urllib.parse import parse_qs, urlencode

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import cookie_parser
from starlette.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from winnow.say import say
from winnow.web.guests.sessions import GUEST

MAX_BODY_BYTES = 4 * 1024 * 1024
MAX_LIST_BYTES = 48 * 1024 * 1024  # a list that came back
_BODY_S = 120.0  # a list of 48 MB from a slow program
_CHANGING = {"POST", "PUT", "PATCH", "DELETE"}
HEADERS = {
    "content-security-policy": (
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; "
        "img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; manifest-src 'self'; "
        "base-uri 'none'; "
        "form-action 'none'; frame-ancestors 'none'"
    ),
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
}


class Guard:
    """Checks every request before the application sees it.

    ``hosts`` are the Host headers that are ours. A request with ``?token=`` gets the cookie and is
    sent on without the token, so that it doesn't stay in the history; ``when_opened`` is then
    called once. ``is_own`` knows the token of the person's own programs: they send it with each
    request, and never get a cookie for it.
    """

    def __init__(
        self,
        app: ASGIApp,
        token: str,
        hosts: frozenset[str],
        when_opened: Callable[[], None] = lambda: None,
        is_own: Callable[[str], bool] = lambda given: False,
    ) -> None:
        self.app = app
        self._is_own = is_own
        self._token = token
        self._hosts = hosts
        self._when_opened = when_opened

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through, or refuse it."""
        # Guests' requests have been looked at by the guard of their line, which alone can name a
        # guest here.
        if scope["type"] != "http" or GUEST in scope:
            await self.app(scope, receive, send)
            return

        async def send_guarded(message: Message) -> None:
            await send(with_headers(message))

        headers = Headers(scope=scope)
        is_list = "/lists/" in scope["path"]
        most = MAX_LIST_BYTES if is_list else MAX_BODY_BYTES
        wrong = refusal(scope, headers, self._hosts, "http", most)
        if wrong is not None:
            await refused(*wrong)(scope, receive, send)
            return
        query = parse_qs(scope["query_string"].decode("latin-1"))
        given = query.pop("token", [""])[0]
        if given and scope["method"] == "GET" and self._is_token(given):
            rest = urlencode(query, doseq=True)
            answer = RedirectResponse(scope["path"] + (f"?{rest}" if rest else ""), 303)
            answer.set_cookie(
                cookie_name(headers.get("host", "")),
                self._token,
                httponly=True,  # guard: a cookie that no script reads
                samesite="strict",  # guard: a cookie that no other page sends
                path="/",
            )
            self._when_opened()
            await answer(scope, receive, send_guarded)
            return
        if not self._is_token(cookie(headers)) and not self._lets_in(_bearer(headers)):
            answered = no_key() if _is_looked_at(scope, headers) else refused(401, _KEY_MISSING)
            await answered(scope, receive, send)
            return
        await self.app(scope, in_time(receive, _BODY_S), send_guarded)

    def _lets_in(self, sent: str) -> bool:
        return bool(sent) and (self._is_token(sent) or self._is_own(sent))

    def _is_token(self, given: str) -> bool:
        return hmac.compare_digest(given.encode(), self._token.encode())  # guard: the token


def refusal(
    scope: Scope, headers: Headers, hosts: Set[str], scheme: str, most: int
) -> tuple[int, str] | None:
    """Why a request is refused whoever asks: status and words; None where it is not.

    ``most``: bytes of its body.
    """
    asked = headers.getlist("host")
    if len(asked) != 1 or asked[0].lower() not in hosts:  # guard: other hosts; two hosts
        return 421, say("This address is not Winnow’s.")
    if scope["path"].startswith(("//", "/\\")):  # guard: paths that name a host
        return 400, say("This address is not Winnow’s.")
    if scope["method"] in _CHANGING:
        origin = headers.get("origin")
        if origin is not None and origin != f"{scheme}://{asked[0]}":  # guard: other origins
            return 403, say("Another page may not change anything here.")
        length = headers.get("content-length", "0")
        if not length.isdecimal() or int(length) > most:  # guard: oversized requests
            return 413, say("The request is too large.")
        if "transfer-encoding" in headers:  # guard: requests of unknown length
            return 411, say("A request must say its length.")
    return None


def with_headers(message: Message) -> Message:
    """A message of an answer, with the headers that every answer has."""
    if message["type"] == "http.response.start":
        headers = MutableHeaders(raw=message["headers"])
        for name, value in HEADERS.items():  # guard: the policy for contents
            headers[name] = value
        headers.setdefault("cache-control", "no-store")
        message["headers"] = headers.raw
    return message


_KEY_MISSING = say("Open Winnow with the address it printed when it started.")


def _is_looked_at(scope: Scope, headers: Headers) -> bool:
    """Whether somebody opens an address in a browser, and does not ask the API."""
    page = scope["method"] == "GET" and not scope["path"].startswith("/api/")
    return page and "text/html" in headers.get("accept", "")


def no_key() -> Response:
    """A page for who opens an address without its key: what is missing, and what to do."""
    style = (
        "body{font:16px/1.5 system-ui,sans-serif;max-width:34rem;margin:14vh auto;padding:0 1rem;"
        "color:#1b1d1f;background:#eceded}code{background:#fafafa;padding:0 .3em}"
    )
    parts = (
        "<!doctype html><meta charset=utf-8>"
        '<meta name=viewport content="width=device-width"><title>Winnow</title>',
        f"<style>{style}</style><h1>{say('This address lacks its key')}</h1><p>{_KEY_MISSING}</p>",
        "<p>"
        + say(
            "Winnow prints it in the window it was started from: it ends with {token}, and is "
            "another one at each start, so that nobody else on this computer or network gets in.",
            token="<code>?token=…</code>",
        )
        + "</p><p>"
        + say(
            "If that window is gone, stop Winnow and start it again: {command} opens the page with "
            "its key by itself. Nothing is lost by that.",
            command="<code>winnow serve --browser</code>",
        )
        + "</p>",
    )
    return HTMLResponse("".join(parts), 401, headers={**HEADERS, "cache-control": "no-store"})


def refused(status: int, detail: str) -> Response:
    """A refusal in words."""
    return JSONResponse(
        {"detail": detail}, status, headers={**HEADERS, "cache-control": "no-store"}
    )


def in_time(receive: Receive, seconds: float) -> Receive:
    """Receive a request's body, all of it within some seconds; then it counts as broken off."""
    ends: float | None = None
    whole = False

    async def receive_in_time() -> Message:
        nonlocal ends, whole
        if whole:
            return await receive()  # waits until the client is gone
        now = asyncio.get_running_loop().time()
        ends = ends or now + seconds
        try:
            left = ends - now  # guard: bodies that never end
            message = await asyncio.wait_for(receive(), left)
        except TimeoutError:
            whole = True
            return {"type": "http.disconnect"}
        whole = not message.get("more_body", False)
        return message

    return receive_in_time


def cookie_name(host: str) -> str:
    """A name with the port in it: several Winnows of one computer keep theirs apart."""
    return f"winnow-{host.rpartition(':')[2]}"


def cookie(headers: Headers) -> str:
    """The token in a request's cookie; "" where there is none."""
    name = cookie_name(headers.get("host", ""))
    return cookie_parser(headers.get("cookie", "")).get(name, "")


def _bearer(headers: Headers) -> str:
    scheme, _, value = headers.get("authorization", "").partition(" ")
    return value if scheme.lower() == "bearer" else ""
