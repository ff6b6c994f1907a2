"""Who may talk to the server: the person's own browser, with the token given at start.

Pure ASGI, so that no answer passes through it unguarded or buffered.
"""

from __future__ import annotations

import asyncio
import hmac
from http.cookies import SimpleCookie
from urllib.parse import parse_qs, urlencode

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request
from starlette.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from winnow.say import say
from winnow.web.sharing import Sharing, guests_may, login_page

MAX_BODY_BYTES = 4 * 1024 * 1024
MAX_LIST_BYTES = 48 * 1024 * 1024  # a list that came back
_CHANGING = {"POST", "PUT", "PATCH", "DELETE"}
_HEADERS = {
    "content-security-policy": (
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; "
        "img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; base-uri 'none'; "
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
    sent on without the token, so that it doesn't stay in the history.
    """

    def __init__(
        self, app: ASGIApp, token: str, hosts: frozenset[str], sharing: Sharing | None = None
    ) -> None:
        self.app = app
        self._token = token
        self._hosts = hosts
        self._sharing = sharing

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def send_guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(raw=message["headers"])
                for name, value in _HEADERS.items():  # guard: the policy for contents
                    headers[name] = value
                headers.setdefault("cache-control", "no-store")
                message["headers"] = headers.raw
            await send(message)

        headers = Headers(scope=scope)
        refusal = self._refusal(scope, headers)
        if refusal is not None:
            await JSONResponse({"detail": refusal[1]}, refusal[0])(scope, receive, send_guarded)
            return
        if self._sharing is not None and not _is_here(headers.get("host", "")):
            answer = await self._for_guests(self._sharing, scope, receive, headers)
            await (answer or self.app)(scope, receive, send if answer else send_guarded)
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
            await answer(scope, receive, send_guarded)
            return
        if not self._is_token(_cookie(headers)) and not self._is_token(_bearer(headers)):
            detail = say("Open Winnow with the address it printed when it started.")
            await JSONResponse({"detail": detail}, 401)(scope, receive, send_guarded)
            return
        await self.app(scope, receive, send_guarded)

    async def _for_guests(
        self, sharing: Sharing, scope: Scope, receive: Receive, headers: Headers
    ) -> Response | None:
        """What somebody else on the network gets; None where the application may answer."""
        address = scope["client"][0] if scope.get("client") else ""
        path, method = scope["path"], scope["method"]
        if not sharing.may_ask(address):
            return _refused(429, say("Too many requests. Wait a few seconds."))
        if sharing.is_guest(_cookie(headers)):
            if guests_may(method, path):  # guard: guests' rights
                return None
            return _refused(403, say("That is for the computer that Winnow runs on."))
        if method == "POST" and path == "/login":
            if not sharing.may_try(address):
                return _login(say("Too many tries. Wait a minute."), 429)
            form = parse_qs((await Request(scope, receive).body())[:4096].decode("latin-1"))
            given = form.get("password", [""])[0]
            if not await asyncio.to_thread(sharing.is_right, given):  # guard: the password
                return _login(say("This is not the password."), 403)
            sharing.forgive(address)
            answer: Response = RedirectResponse("/", 303)
            answer.set_cookie(
                cookie_name(headers.get("host", "")),
                sharing.token,
                httponly=True,  # guard: a cookie that no script reads
                samesite="strict",  # guard: a cookie that no other page sends
                path="/",
            )
            return answer
        if path.startswith("/api/"):
            return _refused(401, say("Open the address again and give the password."))
        return _login()

    def _refusal(self, scope: Scope, headers: Headers) -> tuple[int, str] | None:
        host = headers.get("host", "")
        if host.lower() not in self._hosts:  # guard: other hosts
            return 421, say("This address is not Winnow's.")
        if scope["method"] in _CHANGING:
            origin = headers.get("origin")
            if origin is not None and origin != f"http://{host}":  # guard: other origins
                return 403, say("Another page may not change anything here.")
            length = headers.get("content-length", "0")
            is_list = "/lists/" in scope["path"]
            most = MAX_LIST_BYTES if is_list else MAX_BODY_BYTES
            if not length.isdecimal() or int(length) > most:  # guard: oversized requests
                return 413, say("The request is too large.")
            if "transfer-encoding" in headers:  # guard: requests of unknown length
                return 411, say("A request must say its length.")
        return None

    def _is_token(self, given: str) -> bool:
        return hmac.compare_digest(given.encode(), self._token.encode())  # guard: the token


def _refused(status: int, detail: str) -> Response:
    return JSONResponse(
        {"detail": detail}, status, headers={**_HEADERS, "cache-control": "no-store"}
    )


def _login(notice: str = "", status: int = 200) -> Response:
    policy = _HEADERS["content-security-policy"].replace("form-action 'none'", "form-action 'self'")
    headers = {
        **_HEADERS,
        "content-security-policy": policy,
        "cache-control": "no-store",
        # Without a referrer a form says that it comes from nowhere.
        "referrer-policy": "same-origin",
    }
    return HTMLResponse(login_page(notice), status, headers=headers)


def _is_here(host: str) -> bool:
    """Whether a Host header names this computer as itself."""
    return host.rpartition(":")[0] in ("127.0.0.1", "localhost")


def cookie_name(host: str) -> str:
    """A name with the port in it: browsers give cookies of one port to all others of the host."""
    return f"winnow-{host.rpartition(':')[2]}"


def _cookie(headers: Headers) -> str:
    try:
        jar = SimpleCookie(headers.get("cookie", ""))
        morsel = jar.get(cookie_name(headers.get("host", "")))
    except Exception:
        return ""
    return morsel.value if morsel else ""


def _bearer(headers: Headers) -> str:
    scheme, _, value = headers.get("authorization", "").partition(" ")
    return value if scheme.lower() == "bearer" else ""
