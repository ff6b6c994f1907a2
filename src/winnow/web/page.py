"""The built page: its files by name, and its one document for every address of its own."""

from __future__ import annotations

import mimetypes
from importlib.resources.abc import Traversable

from fastapi import FastAPI, HTTPException, Response

from winnow.say import say

# Systems differ in whether they know it.
mimetypes.add_type("application/manifest+json", ".webmanifest")

_NOT_BUILT = "<!doctype html><title>Winnow</title><p>" + say(
    "The page is not built. Run scripts/setup.sh in the checkout, then start Winnow again."
)


def add_page(app: FastAPI, folder: Traversable) -> None:
    """Serve the page, read once into memory: it is small and never changes while running."""
    assets = _read_all(folder)

    # The last route: it takes what no other route does. API addresses stay errors.
    @app.get("/{path:path}", include_in_schema=False)
    async def page(path: str) -> Response:
        if path in assets:
            kind = mimetypes.guess_type(path)[0] or "application/octet-stream"
            headers = {}
            if path.startswith("assets/"):
                headers["cache-control"] = "private, max-age=31536000, immutable"
            return Response(assets[path], media_type=kind, headers=headers)
        if path.startswith(("api/", "assets/")):
            raise HTTPException(404, say("There is nothing at this address."))
        return Response(assets.get("index.html", _NOT_BUILT.encode()), media_type="text/html")


def _read_all(folder: Traversable, prefix: str = "") -> dict[str, bytes]:
    files: dict[str, bytes] = {}
    if not folder.is_dir():
        return files
    for entry in folder.iterdir():
        name = f"{prefix}{entry.name}"
        if entry.is_dir():
            files |= _read_all(entry, f"{name}/")
        else:
            files[name] = entry.read_bytes()
    return files
