"""The application: guard, routes and the built page."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from importlib.resources import files as resources

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse

import winnow
from winnow.web.page import add_page
from winnow.web.routes import (
    aside,
    bring_in,
    files,
    filters,
    frames,
    groups,
    hints,
    lists,
    marks,
    settings,
    shoots,
    texts,
    wrap_up,
)
from winnow.web.security import Guard
from winnow.work.studio import Studio


def create_app(
    studio: Studio | None, token: str = "", hosts: frozenset[str] = frozenset()
) -> FastAPI:
    """The application for a running studio. Without one it can only describe itself."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        yield
        if studio is not None:
            studio.close()

    app = FastAPI(
        title="Winnow",
        version=winnow.__version__,
        description=winnow.__doc__ or "",
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.studio = studio
    for module in (
        shoots, bring_in, filters, frames, groups, hints, marks, texts, files, lists, settings, wrap_up,
        aside,
    ):  # fmt: skip
        app.include_router(module.router)
    app.add_exception_handler(RequestValidationError, _say_what_is_wrong)
    if studio is not None:
        add_page(app, resources("winnow.web") / "page")
        app.add_middleware(Guard, token=token, hosts=hosts)
    return app


async def _say_what_is_wrong(request: Request, error: Exception) -> JSONResponse:
    """One sentence instead of a list of machine words."""
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"] if part != "body")
    return JSONResponse({"detail": f"{where or 'The request'}: {first['msg']}."}, 400)
