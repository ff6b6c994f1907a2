"""What the API takes and gives of people."""

from __future__ import annotations

from pydantic import Field

from winnow.web.models import Id, Model


class SeenFaceOut(Model):
    """A face in a frame: its box, left, top, right, bottom, 0…1, and whether its eyes are closed,
    null where that can't be seen."""

    frame: int
    box: list[float]
    closed: bool | None


class PersonOut(Model):
    """Somebody of the shoot: their faces, one a frame, in order, and the place there of the best
    one so far; the frames with them that are picked, and those where their eyes are not closed; the
    numbers of people who may be the same."""

    number: int
    faces: list[SeenFaceOut]
    best: int
    picks: list[int]
    open_picks: list[int]
    maybe: list[int]


class PeopleOut(Model):
    """Who is in which frame.

    ``on``: people are told apart in this shoot; ``can``: what that takes is there; ``waits``: some
    frames are still to be looked at, ``left`` of them; ``unsure``: faces that are nobody's that is
    known; ``said``: something was said of people that can be taken back.
    """

    on: bool
    can: bool
    waits: bool
    left: int
    people: list[PersonOut] = Field(default=[])
    unsure: list[SeenFaceOut] = Field(default=[])
    said: bool = False


class JoinIn(Model):
    """Two numbers that are one person."""

    one: Id
    other: Id


class FaceIn(Model):
    """A face: its frame, its box, 0…1, and the key of the frame's picture."""

    frame: int = Field(ge=1, le=2**53)
    left: float = Field(ge=-1, le=2)
    top: float = Field(ge=-1, le=2)
    right: float = Field(ge=-1, le=2)
    bottom: float = Field(ge=-1, le=2)
    key: str = Field(default="", max_length=200)
