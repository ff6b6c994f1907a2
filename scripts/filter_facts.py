"""The table of docs/filter.md from the facts of ``core.facts``, written anew."""

from __future__ import annotations

from pathlib import Path

from winnow.core.facts import TABLE

PAGE = Path(__file__).parents[1] / "docs/filter.md"
_HEAD = "| fact | what | values |\n|---|---|---|\n"


def table() -> str:
    """The facts that can be asked for, in the order of the table."""
    rows = (
        f"| `{fact.name}` | {fact.asked[0]} | {fact.asked[1]} |\n"
        for fact in TABLE
        if fact.asked[0]
    )
    return _HEAD + "".join(rows)


def page() -> str:
    """The page with its table as it should be."""
    before, _, rest = PAGE.read_text().partition(_HEAD)
    return before + table() + rest[rest.index("\n\n") + 1 :] if rest else before


if __name__ == "__main__":
    PAGE.write_text(page())
