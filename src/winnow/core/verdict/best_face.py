"""What a face shows, and which of one person's faces is best: eyes first, then gaze and mouth, then
how sharp the eyes are, then whether it smiles. The order is that of ``hints.best``; differences
that nobody sees are ties."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import inf, log

from winnow.core.marks import Decision, Mark
from winnow.core.measure import expression
from winnow.core.measure.faces import Face, are_closed
from winnow.core.verdict.hints import eyes, gaze, speech
from winnow.core.verdict.order import TIE, TIE_PX


@dataclass(frozen=True, slots=True)
class Shown:
    """What a face shows; None where that can't be told. ``blur``: of its sharper eye, px at 100 %;
    ``narrowed``: the eyes are half closed; ``counts``: it is neither tiny nor blurred
    background."""

    closed: bool | None
    aside: bool | None
    speaking: bool | None
    blur: float | None
    narrowed: bool = False
    counts: bool = True
    smiles: bool | None = None

    def signs(self) -> tuple[bool, bool, bool, int, bool]:
        """What comes before how sharp it is, the worse the larger. Unseen eyes may be closed."""
        unseen = self.closed is None
        return (
            not self.counts,
            bool(self.closed),
            self.narrowed,
            unseen + bool(self.aside),
            bool(self.speaking),
        )

    def better(self, other: Shown) -> bool:
        """Whether this face is clearly better than another one of the same person."""
        if self.signs() != other.signs():
            return self.signs() < other.signs()
        if self._sharper(other) or other._sharper(self):
            return self._sharper(other)
        return self.smiles is True and other.smiles is False

    def _sharper(self, other: Shown) -> bool:
        mine, theirs = self.blur or inf, other.blur or inf
        if inf in (mine, theirs):
            return mine < theirs
        return theirs - mine > TIE_PX and log(theirs) - log(mine) > TIE


def best(faces: Sequence[Shown | None]) -> list[int]:
    """The places of the faces that no other one is better than; empty where that are all, or fewer
    than two are seen."""
    seen = [(n, face) for n, face in enumerate(faces) if face is not None]
    unbeaten = [n for n, face in seen if not any(other.better(face) for _, other in seen)]
    return unbeaten if len(unbeaten) < len(seen) else []


def shown_by(face: Face, thresholds: Mapping[str, float], blur: float | None = None) -> Shown:
    """What a face shows by the thresholds of a shoot; ``blur``: see ``Shown``."""
    below = eyes.closed_below(thresholds)
    aside, gap = expression.looks_aside(face, below), expression.mouth_gap(face)
    return Shown(
        are_closed(face, below),
        None if aside is None else 100 * aside >= thresholds[gaze.KIND.name],
        None if gap is None else 100 * gap >= thresholds[speech.KIND.name],
        blur,
        smiles=expression.smiles(face),
    )


def rank_so_far(mark: Mark, shown: Shown, *, usable: bool) -> tuple[object, ...]:
    """The better a frame is of somebody so far, the smaller: what is rejected or can't be used
    comes last, then what the face shows, then what is picked, then stars."""
    rejected, picked = mark.decision is Decision.REJECT, mark.decision is Decision.PICK
    return rejected, not usable, shown.signs(), not picked, -mark.stars
