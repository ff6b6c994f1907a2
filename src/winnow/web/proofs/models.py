"""What the API takes and gives of proofs, renamings, programs and deletions."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnow.core.deliver.proof_sheet import MOST_ROWS
from winnow.web.deliveries.models import FramesIn
from winnow.web.models import FileName, Model

Title = Annotated[str, Field(min_length=1, max_length=200)]


class SheetModel(Model):
    """A contact sheet as PDF."""

    kind: Literal["pdf"]
    title: Title
    paper: Literal["A5", "A4", "A3", "Letter", "Legal", "Tabloid"] = "A4"
    landscape: bool = False
    rows: int = Field(default=5, ge=1, le=MOST_ROWS)
    under: list[Literal["number", "name", "date", "marks", "title", "caption"]] = Field(
        default=["number", "name"], max_length=6
    )


class GalleryModel(Model):
    """A gallery in a folder, that opens without a server."""

    kind: Literal["gallery"]
    title: Title
    greeting: str = Field(default="", max_length=5_000)
    names: bool = True
    longest: Literal[1200, 1600, 2048] = 1600
    watermark: str = Field(default="", max_length=80)
    wanted: Annotated[int, Field(ge=1, le=5_000)] | None = None


class ProofIn(FramesIn):
    """A proof to be made, in a folder."""

    target: str = Field(max_length=4096)
    proof: SheetModel | GalleryModel = Field(discriminator="kind")


class ProofPlanOut(Model):
    """What a proof would be. ``height``: of the pictures on paper, mm."""

    place: FileName
    frames: int
    pages: int
    height: float
    unprintable: str


class AnswerReadOut(Model):
    """An answer that was taken over. Time in seconds since 1970."""

    client: str
    note: str
    read_at: float
    picks: int
    comments: int


class ProofOut(Model):
    """A proof that was made. Time in seconds since 1970."""

    id: int
    kind: Literal["pdf", "gallery"]
    title: str
    place: FileName
    made_at: float
    frames: int
    answers: list[AnswerReadOut]


class MakingOut(Model):
    """How the last making of a proof stands; ``done`` of ``total`` are frames."""

    running: bool
    kind: Literal["pdf", "gallery"]
    done: int
    total: int
    place: str
    notice: str


class ProofsOut(Model):
    """A shoot's proofs, the last one first, and the one that is being made."""

    made: list[ProofOut]
    making: MakingOut


class AnswerIn(Model):
    """The content of the file that a client saved."""

    text: str = Field(max_length=5_000_000)
    label: Annotated[str, Field(max_length=8)] | None = Field(
        default=None, description="of what was chosen"
    )
    pick: bool = Field(default=False, description="what was chosen is picked, too")
    comments: bool = Field(default=True, description="comments are added to the instructions")
    window: str = Field(default="", max_length=64)


class CommentOut(Model):
    """A client's comment on a frame."""

    frame: int
    comment: str


class AnswerOut(Model):
    """What an answer says. ``gone``: frames of it that are no longer in the shoot."""

    proof: str
    client: str
    note: str
    chosen: list[int]
    comments: list[CommentOut]
    gone: int
    before: int = Field(description="answers to this proof that were taken over already")
