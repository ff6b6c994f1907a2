"""Prints the API's description, from which the page's types are made."""

from __future__ import annotations

import json

from winnow.web.app import create_app


def description() -> str:
    """The OpenAPI description as JSON text, ending with a line feed."""
    return json.dumps(create_app(None).openapi(), indent=2, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(description(), end="")
