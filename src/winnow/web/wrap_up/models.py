"""What the API gives of the cull in numbers."""

from __future__ import annotations

from typing import Literal

from winnow.web.models import Model


class BarOut(Model):
    """How many frames are left at a step of the funnel; ``value``: stars, or a label's letter."""

    kind: Literal["shot", "decided", "picks", "stars", "label", "delivered"]
    value: str
    frames: int


class FunnelOut(Model):
    """The end of a cull in numbers. ``pace``: decisions in equal parts of the time worked.

    ``alike``: runs of picks that look nearly the same.
    """

    bars: list[BarOut]
    groups: int
    without_pick: int
    alike: list[list[int]]
    a_minute: float | None
    worked_s: float
    pace: list[int]
