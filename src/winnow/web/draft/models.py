"""What the API takes and gives of the draft."""

from __future__ import annotations

from pydantic import Field

from winnow.web.models import Id, Model


class ProposalOut(Model):
    """What is proposed for a group: its frames from best to worst, those to keep, the next to them,
    and why. ``sure``: one is better than all others; ``decided``: it has a pick, or nothing
    undecided."""

    group: int
    frames: list[int]
    keep: list[int]
    runner_up: int | None
    sure: bool
    decided: bool
    words: str


class DraftOut(Model):
    """A proposal of what to keep, group by group.

    ``picked``: picks already; ``kept``: how many would be kept in all; ``target``: how many are to
    be kept, if that is set; ``waits``: some of what it is made from is still being made; ``other``:
    in how many of ``compared`` groups with a pick none of the best frames is picked.
    """

    proposals: list[ProposalOut]
    picked: int
    kept: int
    target: int | None
    waits: bool
    compared: int
    other: int


class SettledIn(Model):
    """Frames that were asked for already."""

    settled: list[Id] = Field(default=[], max_length=100_000)


class QuestionOut(Model):
    """A frame that may go, or may be added.

    ``others``: what may go, or be added, instead; ``beside``: the pick that is most like it, if one
    is near; ``words``: what would be lost or gained.
    """

    frame: int
    others: list[int]
    beside: int | None
    words: str


class ToNumberOut(Model):
    """The way to the number that is to be kept: picks now, how many are wanted, and what may go, or
    be added, to get there."""

    picked: int
    target: int | None
    questions: list[QuestionOut]
