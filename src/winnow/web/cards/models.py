"""What the API takes and gives of memory cards."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnow.web.models import FileName, Model, TypedPath


class CardOut(Model):
    """A card that is connected. Size in bytes; times in seconds, by the files' dates."""

    root: FileName
    name: FileName
    files: int
    size: int
    first_at: float
    last_at: float


class CardsOut(Model):
    """The cards that are connected, and what was chosen the last time."""

    cards: list[CardOut]
    target: str
    second: str
    template: str
    fields: dict[str, str] = Field(description="the template's fields, with what each stands for")


class WishIn(Model):
    """What to bring in from which card, where to, and by which folder template."""

    source: str = Field(max_length=4096)
    target: str = Field(max_length=4096)
    template: str = Field(max_length=400)
    shoot: str = Field(max_length=200)
    second: str = Field(default="", max_length=4096)
    twice: bool = Field(
        default=False, description="read every file from the card a second time and compare"
    )
    leave: list[TypedPath] = Field(
        default=[], max_length=100_000, description="files that stay on the card only, by path"
    )


class LookIn(Model):
    """Which card to look at, and where its copies may be."""

    source: str = Field(max_length=4096)
    target: str = Field(max_length=4096)


class OnCardOut(Model):
    """A frame on a card, or a film or sound of its own, with its files.

    ``taken_at``: seconds since 1970 of the camera's clock; ``day``: that day's number; ``group``:
    neighbours that show the same thing have one number; ``copied``: how many of its files are on
    the disk already.
    """

    path: FileName
    files: list[FileName]
    picture: bool
    taken_at: float
    day: int
    size: int
    group: int
    copied: int


class BringPlanOut(Model):
    """What a bringing-in would do. Sizes in bytes, times in seconds of the cameras' clocks."""

    files: int
    folders: list[FileName]
    already_there: int
    size: int
    free: int
    second_size: int
    second_free: int
    one_disk: bool = Field(description="whether both places lie on one disk")
    outside: int
    left: int = Field(description="files that are left out on wish")
    first_at: float | None
    last_at: float | None
    first: list[FileName]


class BringingOut(Model):
    """A bringing-in and how it stands; ``safe``: whether the card may be formatted, and why
    (not)."""

    id: int
    shoot_id: int | None
    source: str
    target: str
    second: str
    made_at: float
    ended_at: float | None
    state: Literal["planned", "running", "stopped", "done"]
    notice: str
    files: int
    done: int
    already_there: int
    failed: int
    to_copy: int
    copied: int
    safe: bool
    report: str


ItemState = Literal["planned", "done", "there", "failed"]


class BringItemOut(Model):
    """One file of a bringing-in: where it was on the card, and where its copy is."""

    path: FileName
    name: FileName
    size: int
    state: ItemState
    second_state: ItemState | Literal[""]
    hash: str | None
    notice: str
