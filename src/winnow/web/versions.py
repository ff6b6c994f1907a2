"""The version of the API in its addresses: ``/api/v1/…`` is what ``/api/…`` is now.

Programs name it, so that a later Winnow can still answer them as this one does.
"""

from __future__ import annotations

from typing import Final

from starlette.types import ASGIApp, Receive, Scope, Send

API: Final = "/api/"
V1: Final = "/api/v1/"


class Versions:
    """Leads requests that name version 1 to what answers them."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Hand the request on."""
        if scope["type"] == "http" and scope["path"].startswith(V1):
            path = API + scope["path"].removeprefix(V1)
            scope = {**scope, "path": path, "raw_path": path.encode()}
        await self.app(scope, receive, send)
