"""What the API takes and gives of marks and the history."""

from __future__ import annotations

from pydantic import Field

from winnow.core.events import EventName, FramePatch
from winnow.core.marks import Decision
from winnow.web.models import Id, Letter, Model, Stars


class EditIn(Model):
    """A mark for frames; what is left out stays. ``label`` "" takes the label off.

    ``window`` names the window it came from, which has drawn it already.
    """

    frames: list[Id] = Field(min_length=1, max_length=100_000)
    decision: Decision | None = None
    stars: Stars | None = None
    label: Letter | None = None
    window: str = Field(default="", max_length=40)


class TakenGroup(Model):
    """What is decided of a group: frames to pick, to reject, and to leave undecided."""

    keep: list[Id] = Field(default=[], max_length=10_000)
    out: list[Id] = Field(default=[], max_length=100_000)
    open: list[Id] = Field(default=[], max_length=10_000)


class GroupsIn(Model):
    """Decisions on groups, as one step. ``proposed``: as the draft has it, changed or not."""

    groups: list[TakenGroup] = Field(min_length=1, max_length=10_000)
    proposed: bool = False
    window: str = Field(default="", max_length=40)


class HistoryOut(Model):
    """What undo and redo would do, in words."""

    undo: str | None
    redo: str | None


class PastChangeOut(Model):
    """A step of the history.

    ``made_at``: seconds since 1970; ``frames``: how many it changed; ``by``: the guest who made it,
    "" for the owner; ``left``: on a branch that was left when something else was done.
    """

    id: int
    sentence: str
    made_at: float
    frames: int
    by: str
    undone: bool
    left: bool


class GoToIn(Model):
    """The change that is to be the last one made; none for before the first one."""

    change: Id | None
    window: str = Field(default="", max_length=40)


class PaceOut(Model):
    """Frames decided in a minute of work, if that can be said, and the time worked, in seconds."""

    a_minute: float | None
    worked_s: float


class MarkedFrame(Model):
    """A frame and its mark."""

    frame: int
    decision: Decision
    stars: int
    label: str | None


class ChangeOut(HistoryOut):
    """A change that was made, and the mark of each of its frames after it."""

    sentence: str | None
    marks: list[MarkedFrame]
    texts: list[int] = Field(default=[], description="frames whose texts it changed")


class MarksEvent(Model):
    """A change of marks: the window it came from, and the guest who made it, "" for the owner.

    What ``undo`` and ``redo`` would do is the owner's: guests aren't told.
    """

    sentence: str | None
    marks: list[MarkedFrame]
    texts: list[int]
    undo: str | None = None
    redo: str | None = None
    window: str
    by: str


class FramesEvent(Model):
    """What is new of frames."""

    frames: list[FramePatch]


class IdEvent(Model):
    """What an event is about."""

    id: int


class EventsOut(Model):
    """The data of events, by their names; the others have none, and say that something is to be
    asked for anew."""

    marks: MarksEvent
    frames: FramesEvent
    delivery: IdEvent
    bringing: IdEvent
    others: list[EventName]


class WindowIn(Model):
    """Which window asks."""

    window: str = Field(default="", max_length=40)


class MarkOut(Model):
    """The mark of a frame."""

    decision: Decision
    stars: int
    label: str | None
