"""What the API takes and gives of hints and faces."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnow.core.marks import Decision
from winnow.core.verdict.hints import KINDS
from winnow.web.models import Id, Letter, Model, Number, Stars, one_of

KindName = Annotated[str, *one_of(KINDS)]


class HintKindOut(Model):
    """A kind of hint.

    A frame is named when its figure is at the threshold or over it (``below``: under it).
    ``decided``: of the named frames those a person decided, not by this hint; ``disagreed``: those
    decided against it.
    """

    name: KindName
    title: str
    meaning: str
    figure: str
    unit: str
    decimals: int
    below: bool
    fault: bool = Field(description="it speaks against a frame")
    threshold: float
    usual: float
    least: float
    most: float
    named: list[int] = Field(description="frames, in order")
    decided: int
    disagreed: int


class VerdictsOut(Model):
    """How frames stand in their groups, column by column, from best to worst.

    ``place``: one more than are better; ``usable``: nothing makes it unusable. Those alone, or not
    judged yet, are left out. ``together``: where no frame of a group shows everybody with open
    eyes, the fewest that together do, by ids.
    """

    frame: list[int]
    place: list[int]
    usable: list[bool]
    together: list[list[int]]


class HintsOut(Model):
    """What hints say of a shoot; ``waits``: some of it is still being made."""

    kinds: list[HintKindOut]
    waits: bool
    verdicts: VerdictsOut


class FiguresOut(Model):
    """The figures of a kind of hint, in order of size, the frames with them."""

    frames: list[int]
    figures: list[float]


class ThresholdIn(Model):
    """Where a kind of hint begins to name frames; none: where it usually does."""

    threshold: Annotated[Number, Field(ge=0, le=1000, allow_inf_nan=False)] | None = None


class FrameHintOut(Model):
    """A hint of one frame: the figure, the reason, and whether the threshold names the frame."""

    kind: KindName
    title: str
    words: str
    figure: float
    threshold: float
    unit: str
    decimals: int
    below: bool
    fault: bool
    named: bool


class NoticedOut(Model):
    """What is said of a frame: the verdict on it in its group, in words, "" for one alone; and its
    hints."""

    verdict: str
    best: bool
    usable: bool
    hints: list[FrameHintOut]


class MattersOut(Model):
    """The part of a frame that matters, where its blur is measured: 0…1 of the upright picture, and
    how far around it, px at 100 %; 0 until that is known."""

    x: float
    y: float
    at: Literal["eyes", "focus point", "sharpest part", ""]
    radius: float


class ApplyIn(Model):
    """A mark for frames that hints named; what is left out stays. See ``EditIn``."""

    kinds: list[KindName] = Field(min_length=1, max_length=12)
    frames: list[Id] = Field(min_length=1, max_length=100_000)
    decision: Decision | None = None
    stars: Stars | None = None
    label: Letter | None = None
    window: str = Field(default="", max_length=40)


class PlaceOut(Model):
    """A part of a frame. ``x``, ``y``: 0…1 of the upright picture."""

    x: float
    y: float


class EvidenceOut(Model):
    """Why a frame is named.

    ``at``: the part it was judged at, if that is known; ``beside``: the best other frame of its
    group; ``beside_at``: the same part there.
    """

    frame: int
    words: str
    at: PlaceOut | None
    beside: int | None
    beside_at: PlaceOut | None


class ThrownOutFrame(Model):
    """A rejected frame, and what speaks against it."""

    frame: int
    words: str


class SecondLookOut(Model):
    """A group that lost all that was usable: what was rejected, from best to worst."""

    group: int
    by_hints: int
    frames: list[ThrownOutFrame]


class FacesIn(Model):
    """Frames whose faces are compared."""

    frames: list[Id] = Field(min_length=1, max_length=24)


class FacePlace(Model):
    """A face: its frame, and the middle of its box, 0…1."""

    frame: Id
    x: Number = Field(ge=0, le=1)
    y: Number = Field(ge=0, le=1)


class WhoCountsIn(Model):
    """How much the faces at these places count: most, not at all, or "" as any other.

    It holds for the same person in the groups of these frames; ``everywhere``: in the whole shoot,
    where people are told apart.
    """

    faces: list[FacePlace] = Field(min_length=1, max_length=24)
    weight: Literal["", "most", "none"]
    everywhere: bool = False


class WhoCountsOut(Model):
    """In how many frames that was said."""

    frames: int


class EyeOut(Model):
    """An eye.

    ``x``, ``y``: 0…1 of the upright picture; ``open``: how likely, 0…1, none where it can't be
    seen; ``gap``: between the lids, as a share of its width; ``blur``: px at 100 %.
    """

    x: float
    y: float
    open: float | None
    gap: float | None
    blur: float | None


class FaceOut(Model):
    """A face of a frame.

    ``box``: left, top, right, bottom, 0…1; ``turned``: to the side, degrees, to the right of the
    picture above zero, ``head_turned``: so far that it is worth a word; ``blur``: of its sharper
    eye, px at 100 %; ``eyes_closed``: none where that can't be seen; ``eyes_soft``: none
    where there is nothing to see it by; ``eyes_half``: half closed; ``looks_away``,
    ``mid_speech``: none where that can't be told; ``counts``: toward hints; ``weight``: how much it
    counts, if somebody said so.
    """

    frame: int
    box: list[float]
    eyes: list[EyeOut]
    turned: float
    blur: float | None
    eyes_closed: bool | None
    eyes_soft: bool | None
    eyes_half: bool
    looks_away: bool | None
    mid_speech: bool | None
    smiles: bool | None
    head_turned: bool
    counts: bool
    weight: Literal["", "most", "none"]
    judged_px: float | None = Field(
        description="the frame's blur, px at 100 %, at the face where it was judged"
    )


class FaceRow(Model):
    """One person's face in each of the frames, none where it isn't seen.

    ``best``: the places of the faces that no other is better than; empty where that are all.
    """

    faces: list[FaceOut | None]
    best: list[int]


class FacesOut(Model):
    """Faces in rows, a column for each of ``frames``; ``waits``: in some, faces weren't looked for
    yet; ``together``: where no frame has it, the fewest in which everybody's eyes are open once."""

    frames: list[int]
    rows: list[FaceRow]
    waits: bool
    together: list[int]
