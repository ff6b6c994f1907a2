"""How an indexing stands, and what it says when it can’t go on."""

from __future__ import annotations

from dataclasses import dataclass

from winnow.say import say

FULL = say(
    "The disk that Winnow’s data or quick pictures are on is full, or can’t be written to. Free "
    "some space: the analysis goes on by itself. Marks that are refused are not stored."
)


NO_MODELS = say(
    "Faces can’t be looked for: the models for it are not installed. Set Winnow up again "
    "(scripts/setup.sh)."
)


@dataclass(frozen=True, slots=True)
class IndexStatus:
    """How an indexing stands. ``stage``: "looking", "measuring", "reading", "pictures", behind them
    "faces" or "hints"; "" when idle. ``cut_short``: ended by a fault, which the last notice says.
    """

    running: bool
    stage: str
    stopped: bool
    notices: tuple[str, ...]
    cut_short: bool = False
