"""The application: guard, routes and the built page."""

from __future__ import annotations

import logging
import sqlite3
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from importlib.resources import files as resources

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse

import winnow
from winnow.say import say
from winnow.web.cards import routes as bring_in
from winnow.web.deliveries import routes as deliveries
from winnow.web.draft import routes as draft
from winnow.web.files import routes as files
from winnow.web.filters import routes as filters
from winnow.web.folders import routes as folders
from winnow.web.frames import routes as frames
from winnow.web.groups import routes as groups
from winnow.web.guests import routes as sharing
from winnow.web.guests.shares import Shares
from winnow.web.hints import routes as hints
from winnow.web.lists import routes as lists
from winnow.web.marks import routes as marks
from winnow.web.own_files import OwnToken
from winnow.web.page import add_page
from winnow.web.pairs import routes as pairs
from winnow.web.people import routes as people
from winnow.web.programs import routes as programs
from winnow.web.proofs import routes as proofs
from winnow.web.renamings import routes as renamings
from winnow.web.security import Guard
from winnow.web.set_aside import routes as aside
from winnow.web.settings import routes as settings
from winnow.web.shoots import routes as shoots
from winnow.web.texts import routes as texts
from winnow.web.versions import Versions
from winnow.web.wrap_up import routes as wrap_up
from winnow.work import failures
from winnow.work.runtime import Runtime

log = logging.getLogger(__name__)

ABOUT = """\
Winnow: cull a shoot. Compare, decide, and hand the keepers on. This is what its page asks of its
server, and what a program of your own may ask, on the same computer.

**Who may ask.** `winnow token` prints an address and a token for programs of your own. It lasts
until you make another one (`--new`) or forget it (`--forget`); a program sends it with each
request, as `Authorization: Bearer …`. Browsers come in by the address that Winnow prints at its
start, which holds a token for that start alone. Requests must name this host, and changing ones
must not come from another page (Origin). Guests of a shoot that is shared come in by a line of
their own, and are answered only what [safety](safety.md) names.

**Versions.** `/api/v1/…` is what the tables below call `/api/…`. Within version 1 requests and
fields are added, and none is taken away or given another meaning; what must change comes as `v2`,
beside it. The page goes with its own server and names no version.

**A script** that culls a folder, from opening it to the delivery, is
[docs/examples/cull.py](examples/cull.py).

**What is refused** is refused whole: nothing of the request is stored. The answer is `{"detail":
"…"}`, one sentence that a person can act on: 400 it can't be understood, or not be done as things
stand; 401 without the token; 403 from another page, or not for guests; 404 there is no such thing
(any more); 411 and 413 without a length, too large; 421 another host's name; 429 too often; 503 the
disk is full.

**Units.** Times are seconds since 1970, those of cameras by the camera's clock, set right; places
in a picture are shares of its width and height, from the upper left; blur is px at 100 %; exposure
is EV; sizes are bytes.

**Marks** are durable when the answer comes. Every change of marks, texts or groups is one step of
the shoot's history, with a sentence that says it. `GET /api/shoots/{shoot}/events` is a stream of
server-sent events: whoever listens knows within a second what others changed. Long work (indexing,
deliveries, moves, proofs) answers at once and goes on behind; its state is asked for, or comes as
an event.

The whole description, with every model, is `/api/openapi.json`, and `frontend/openapi.json` in the
sources.
"""
TAGS = {
    "shoots": "A shoot is one body of work: one or more folders, and what was decided about their "
    "frames.",
    "folders": "Folders on this computer, to choose one. Never for guests.",
    "bring in": "From a memory card to a disk, verified.",
    "frames": "What is known of frames, and their pictures. `key` in a picture's address changes "
    "with its content.",
    "marks": "Decision, stars and label, and the history of all changes.",
    "groups": "Frames that show the same thing, and how they compare at the same part of the "
    "subject.",
    "hints": "What the analysis noticed, with figures and reasons. Nothing is marked by it unless "
    "a person says so.",
    "people": "Who is in which frame, where that is switched on. Never for guests.",
    "draft": "What to keep, proposed group by group. A person decides.",
    "filters": "Conditions on frames, clicked or [written](filter.md).",
    "texts": "Captions and rights, by the names of IPTC Core, and their templates.",
    "files": "Marks and texts in [sidecars and pictures](files.md).",
    "lists": "Frames as CSV or JSON, out and in again.",
    "settings": "Settings, label sets, key sets, the picture cache, and what concerns this start.",
    "sharing": "One shoot with guests on the local network, and what becomes of what they did.",
    "wrap-up": "The cull in numbers, and deliveries.",
    "renamings": "Names of files, in place.",
    "programs": "Programs of the person's own that files are handed to.",
    "pairs": "Frames that are parts of one picture.",
    "proofs": "Contact sheets, galleries, and clients' answers.",
    "aside": "The holding folder, and deleting for good.",
}


def create_app(
    runtime: Runtime | None,
    token: str = "",
    hosts: frozenset[str] = frozenset(),
    *,
    share_port: int = 0,
    when_opened: Callable[[], None] = lambda: None,
) -> FastAPI:
    """The application for a running runtime.

    Without one it can only describe itself. ``share_port``: where guests come in first;
    ``when_opened``: called when the address with the token was opened.
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        yield
        if runtime is not None:
            app.state.shares.switch_off()
            runtime.close()

    app = FastAPI(
        title="Winnow",
        version=winnow.__version__,
        description=ABOUT,
        openapi_tags=[{"name": name, "description": words} for name, words in TAGS.items()],
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.runtime = runtime
    for module in (
        shoots, folders, bring_in, filters, frames, groups, hints, people, pairs, draft, marks,
        texts, files, lists, settings, sharing, wrap_up, deliveries, renamings, programs, proofs,
        aside,
    ):  # fmt: skip
        app.include_router(module.router)
    app.add_exception_handler(RequestValidationError, _say_what_is_wrong)
    for kind in (sqlite3.OperationalError, sqlite3.DatabaseError, OSError):
        app.add_exception_handler(kind, _say_what_the_disk_says)
    if runtime is not None:
        add_page(app, resources("winnow.web") / "page")
        app.add_middleware(Versions)
        app.add_middleware(
            Guard,
            token=token,
            hosts=hosts,
            when_opened=when_opened,
            is_own=OwnToken(runtime.places.data).is_it,
        )
        app.state.shares = Shares(app, runtime.db, runtime.places.data, share_port)
    return app


async def _say_what_is_wrong(request: Request, error: Exception) -> JSONResponse:
    """One sentence instead of a list of machine words."""
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    # What it says of a value is Pydantic's own words, for whoever writes programs.
    where = ".".join(str(part) for part in first["loc"] if part != "body")
    return JSONResponse({"detail": f"{where or say('The request')}: {first['msg']}."}, 400)


async def _say_what_the_disk_says(request: Request, error: Exception) -> JSONResponse:
    """The disk, or the database on it, could not be written or read: nothing of the request is
    stored."""
    if isinstance(error, OSError):
        return JSONResponse({"detail": failures.in_words(error, str(request.url.path))}, 503)
    assert isinstance(error, sqlite3.DatabaseError)
    log.error("the database: %s", error)
    words = say("{trouble}: nothing of this was stored.", trouble=failures.of_database(error))
    return JSONResponse({"detail": words}, 503)
