"""What the API takes and gives of the draft."""

from __future__ import annotations

from pydantic import Field

from winnow.web.models import Id, Model


class ProposalOut(Model):
    """What is proposed for a group: its frames from best to worst, those to keep, the next to them, and why. ``sure``: one is
    better than all others; ``decided``: it has a pick, or nothing undecided."""

    group: int
    frames: list[int]
    keep: list[int]
    runner_up: int | None
    sure: bool
    decided: bool
    words: str


class DraftOut(Model):
    """A proposal of what to keep, group by group. ``picked``: picks already; ``kept``: how many would be kept in all;
    ``target``: how many are to be kept, if that is set; ``waits``: some of what it is made from is still being made."""

    proposals: list[ProposalOut]
    picked: int
    kept: int
    target: int | None
    waits: bool


class TakenGroup(Model):
    """What a person takes for one group: frames to pick, and to reject."""

    keep: list[Id] = Field(default=[], max_length=10_000)
    out: list[Id] = Field(default=[], max_length=100_000)


class TakeIn(Model):
    """Groups whose proposals are taken, changed or not, as one step."""

    groups: list[TakenGroup] = Field(min_length=1, max_length=10_000)
    window: str = Field(default="", max_length=40)
