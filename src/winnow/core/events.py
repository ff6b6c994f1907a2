"""What happens in a shoot, as windows are told: the names of events, and what comes with them."""

from __future__ import annotations

from typing import Literal, Required

from typing_extensions import TypedDict  # what Pydantic asks for before Python 3.12

from winnow.core.verdict.order import StandingWords

# Those without data say that something is to be asked for anew.
EventName = Literal[
    "order",  # which frames there are, and their groups
    "progress",
    "hints",
    "frames",
    "marks",
    "files",
    "aside",
    "renaming",
    "proof",
    "programs",
    "guests",
    "delivery",
    "bringing",
    "people",
]


class FramePatch(TypedDict, total=False):
    """What is new of a frame; what is left out is as it was.

    ``width``, ``height``: px; ``blur``: px at 100 %; ``turned``: quarter turns to the right.
    """

    id: Required[int]
    state: int
    picture: int
    key: str
    width: int
    height: int
    notice: str
    blur: float | None
    standing: StandingWords
    turned: int
