"""What the API takes and gives of groups."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnow.web.models import Id, Model, StandingOut

Looseness = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class LoosenessIn(Model):
    """Where the slider stands: 0 tighter, 1 looser."""

    looseness: Looseness


class GroupsOut(Model):
    """The groups: entry n of ``group`` is the number of the group of frame ``id`` n, in order of
    time."""

    looseness: float
    number: int
    id: list[int]
    group: list[int]


class GroupEditIn(Model):
    """A change of groups by hand, for the group or place of ``frames``.

    split: the first frame begins a group; join: its group and the next one are one; move: the
    frames go to the group of ``to``; alone: to a group of their own.
    """

    do: Literal["split", "join", "move", "alone"]
    frames: list[Id] = Field(min_length=1, max_length=10_000)
    to: Id | None = None
    window: str = Field(default="", max_length=40)


class AlikeOut(Model):
    """The frames most like one, that one first."""

    ids: list[int]


class SuggestedOffset(Model):
    """What may be added to a camera's clock, in seconds; so many of the pairs of like frames
    agree."""

    camera: str
    serial: str
    seconds: float
    agree: int
    pairs: int


Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class BesideIn(Model):
    """Frames to be compared, at a point of one of them: 0…1 of its upright picture; none: what
    matters."""

    frame: Id
    x: Share | None = None
    y: Share | None = None
    frames: list[Id] = Field(min_length=1, max_length=24)
    fine: bool = Field(default=False, description="exact places, from the pictures at full size")
    prepare: bool = Field(default=True, description="decode them, as they are looked at close soon")


class BesideOut(Model):
    """One of the compared frames.

    ``x``, ``y``: the same part of the subject, 0…1 of the upright picture. ``scale``, ``angle``
    (degrees to the right): how its subject lies against the reference; ``sure``: whether the place
    was found, or plain coordinates stand for it. ``standing``: how sharp it is there; ``judged``:
    that is the verdict of its group, at the part that matters. ``clipped_high``, ``clipped_low``:
    shares, 0…1. ``ev``: how much brighter than its group, where a hint names it for that.
    ``faces``: how many that count have eyes that can be seen, ``closed``: how many of them have
    closed ones, ``smiling``: how many smile, ``eyes_blur``: of the sharpest of these eyes, px at
    100 %; ``radius``: how far around the place focus was compared, px.
    """

    frame: int
    x: float
    y: float
    scale: float
    angle: float
    confidence: float
    sure: bool
    standing: StandingOut
    judged: bool
    clipped_high: float | None
    clipped_low: float | None
    ev: float | None
    faces: int | None
    closed: int | None
    smiling: int | None
    eyes_blur: float | None
    radius: float
