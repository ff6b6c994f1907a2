"""What hints say of a shoot: whom they name, how often people disagreed, and marks by them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

from winnow.core.marks import Change, Decision, Edit, Mark, plan_edit
from winnow.core.verdict.hints import KINDS, Kind
from winnow.say import say, within_sentence
from winnow.store import frames, hints, labels, marks
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class KindNow:
    """A kind of hint in a shoot.

    ``named``: the frames, in order; ``decided``: how many of those a person decided one by one or
    in bulk, but not by this hint; ``disagreed``: how many of these against it.
    """

    kind: Kind
    threshold: float
    named: list[int]
    decided: int
    disagreed: int


def summary(db: Database, shoot_id: int) -> list[KindNow]:
    """Every kind of hint, with the frames that it names now."""
    thresholds = hints.thresholds(db, shoot_id)
    figures = hints.figures(db, shoot_id)
    everything = [frame for noticed in figures.values() for frame, _ in noticed]
    decisions = marks.marks_of(db, shoot_id, everything)
    by_hints = hints.decided_by_hints(db, shoot_id)
    return [
        _kind_now(kind, thresholds[name], figures.get(name, []), decisions, by_hints)
        for name, kind in KINDS.items()
    ]


def _kind_now(
    kind: Kind,
    threshold: float,
    figures: Sequence[tuple[int, float]],
    decisions: Mapping[int, Mark],
    by_hints: Mapping[int, str],
) -> KindNow:
    named = [frame for frame, figure in figures if kind.names(figure, threshold)]
    # What was decided by this very hint says nothing of whether somebody agrees.
    said = [
        decisions[frame].decision
        for frame in named
        if frame in decisions and kind.name not in by_hints.get(frame, "").split(",")
    ]
    decided = [decision for decision in said if decision is not Decision.UNDECIDED]
    against = Decision.PICK if kind.fault else Decision.REJECT
    return KindNow(
        kind, threshold, named, len(decided), sum(decision is against for decision in decided)
    )


@dataclass(frozen=True, slots=True)
class Said:
    """A hint of one frame: its figure and reason, the threshold now, and whether that names the
    frame."""

    kind: Kind
    figure: float
    words: str
    threshold: float
    named: bool


def of_frame(db: Database, shoot_id: int, frame: int) -> list[Said]:
    """What was noticed of a frame: what names it first, then what comes nearest to it."""
    thresholds = hints.thresholds(db, shoot_id)
    said = [
        Said(
            KINDS[name],
            figure,
            words,
            thresholds[name],
            KINDS[name].names(figure, thresholds[name]),
        )
        for name, figure, words in hints.of_frame(db, frame)
        if name in KINDS
    ]
    order = list(KINDS)
    return sorted(said, key=lambda now: (not now.named, order.index(now.kind.name)))


def apply(
    db: Database,
    shoot_id: int,
    edit: Edit,
    wanted: Sequence[int],
    kinds: Sequence[str],
    by: str = "",
) -> Change | None:
    """Set a mark on frames that hints named, as one step of the history; ``by``: the guest who
    does.

    Raises KeyError when one of the frames is not in this shoot.
    """
    titles = ", ".join(within_sentence(KINDS[kind].title) for kind in kinds)

    def plan() -> Change | None:
        present = marks.marks_of(db, shoot_id, wanted)
        if len(present) < len(set(wanted)):
            raise KeyError("a frame")
        change = plan_edit(edit, present, partial(frames.name_of, db), labels.label_names(db))
        if change is None:
            return None
        return replace(
            change,
            sentence=say(
                "{sentence}, by hints ({titles})", sentence=change.sentence, titles=titles
            ),
            by_hints=tuple(kinds),
        )

    return marks.apply(db, shoot_id, plan, by)
