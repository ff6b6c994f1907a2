"""Prints the API's description: as JSON, from which the page's types are made, or as the page
docs/api.md."""

from __future__ import annotations

import json
import sys
from itertools import groupby
from typing import Any

from winnow.web.app import create_app


def description() -> str:
    """The OpenAPI description as JSON text, ending with a line feed."""
    return json.dumps(create_app(None).openapi(), indent=2, ensure_ascii=False) + "\n"


def as_page() -> str:
    """The same for reading, in Markdown: what holds for all requests, then each request in one
    line."""
    described = create_app(None).openapi()
    about = {tag["name"]: tag.get("description", "") for tag in described["tags"]}
    requests = [
        (operation["tags"][0], method.upper(), path, operation)
        for path, methods in described["paths"].items()
        for method, operation in methods.items()
    ]
    requests.sort(key=lambda request: list(about).index(request[0]))
    parts = ["# The API", described["info"]["description"]]
    for tag, of_tag in groupby(requests, key=lambda request: request[0]):
        parts += [f"## {tag.capitalize()}", about[tag], _table(of_tag)]
    return "\n\n".join(part for part in parts if part) + "\n"


def _table(requests: Any) -> str:
    rows = ["| request | what it does |", "|---|---|"]
    for _, method, path, operation in requests:
        said = " ".join(operation.get("description", "").split("\n\n")[0].split()).replace(
            "|", "\\|"
        )
        rows.append(f"| `{method} {path}` | {said} |")
    return "\n".join(rows)


if __name__ == "__main__":
    print(as_page() if "--page" in sys.argv else description(), end="")
