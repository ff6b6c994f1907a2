"""What hints name frames by, and a second look at what was thrown out by them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby

from winnow.core.draft.draft import Candidate, in_order
from winnow.core.marks import Decision
from winnow.core.measure import faces as measured
from winnow.core.verdict import face_places
from winnow.core.verdict.hints import KINDS, eyes
from winnow.say import say, within_sentence
from winnow.store import faces, frame_figures, hints
from winnow.store.db import Database
from winnow.work import draft


@dataclass(frozen=True, slots=True)
class Spot:
    """A part of a frame. ``x``, ``y``: 0…1 of the upright picture."""

    x: float
    y: float


@dataclass(frozen=True, slots=True)
class Evidence:
    """Why a frame is named.

    ``at``: the part that it is about: an eye or a mouth where all that names it is of faces, else
    where it was judged; None where that isn't known. ``beside``: the best other frame of its group;
    ``beside_at``: the same part there.
    """

    frame: int
    words: str
    at: Spot | None
    beside: int | None
    beside_at: Spot | None


def evidence(db: Database, shoot_id: int, kinds: Collection[str]) -> list[Evidence]:
    """The frames that some kinds of hint name, in order, each with its reasons and what to hold it
    against.

    All that are named, also those whose files are away: what is listed is as many as are said to be
    named.
    """
    thresholds = hints.thresholds(db, shoot_id)
    reasons: dict[int, list[str]] = defaultdict(list)
    by_kinds: dict[int, list[str]] = defaultdict(list)
    for frame, kind, figure, words in hints.reasons(db, shoot_id, kinds):
        if KINDS[kind].names(figure, thresholds[kind]):
            reasons[frame].append(words)
            by_kinds[frame].append(kind)
    candidates, _away = draft.candidates(db, shoot_id)
    beside: dict[int, int] = {}
    for _, members in groupby(candidates, lambda candidate: candidate.group):
        # Of the best frame it is the next one, of all others the best.
        ranked = [candidate.frame for candidate in in_order(list(members))]
        beside |= {frame: ranked[frame == ranked[0]] for frame in ranked if len(ranked) > 1}
    named = {frame: beside.get(frame) for frame in reasons}
    asked = {*named, *(other for other in named.values() if other is not None)}
    at = {
        frame: Spot(judged.x, judged.y)
        for frame, judged in hints.judged_of(db, asked).items()
        if judged.sure
    }
    of_faces = {
        frame: kinds[0] for frame, kinds in by_kinds.items() if set(kinds) <= {*face_places.KINDS}
    }
    seen = _at_faces(db, of_faces, named, eyes.closed_below(thresholds))
    out = []
    for frame, other in named.items():
        here, there = seen.get(frame) or (at.get(frame), at.get(other) if other else None)
        out.append(Evidence(frame, "; ".join(reasons[frame]), here, other, there))
    return out


def _at_faces(
    db: Database, kinds: Mapping[int, str], beside: Mapping[int, int | None], below: float
) -> dict[int, tuple[Spot, Spot | None]]:
    """Where frames show what hints about faces name, and the same in the frame beside each."""
    asked = {*kinds, *(other for frame in kinds if (other := beside[frame]) is not None)}
    ratios = frame_figures.ratios_of(db, sorted(asked))
    counting = {
        frame: [those[n] for n in measured.counting(those, ratios[frame])]
        for frame, those in faces.of_frames(db, asked).items()
    }
    out = {}
    for frame, kind in kinds.items():
        other = beside[frame]
        there = counting.get(other, []) if other is not None else []
        found = face_places.places(kind, counting.get(frame, []), there, ratios[frame], below)
        if found:
            out[frame] = Spot(*found[0]), Spot(*found[1]) if found[1] else None
    return out


@dataclass(frozen=True, slots=True)
class SecondLook:
    """A group that lost all that was usable: its rejected frames from best to worst, with a reason
    each, and how many of them hints threw out."""

    group: int
    frames: list[tuple[int, str]]
    by_hints: int


def second_look(db: Database, shoot_id: int, *, all_rejects: bool) -> list[SecondLook]:
    """Groups of which nothing usable is left though something was, by hints (or any way), the best
    of it first."""
    by_hints = hints.decided_by_hints(db, shoot_id)
    thresholds = hints.thresholds(db, shoot_id)
    candidates, _away = draft.candidates(db, shoot_id)
    out = []
    for number, members in groupby(candidates, lambda candidate: candidate.group):
        thrown = _lost(list(members))
        through = sum(frame.frame in by_hints for frame in thrown)
        if thrown and (through or all_rejects):
            against = {
                frame.frame: _against(hints.of_frame(db, frame.frame), thresholds)
                for frame in thrown
            }
            out.append(SecondLook(number, list(against.items()), through))
    return out


def _lost(group: Sequence[Candidate]) -> list[Candidate]:
    """What a group lost, from best to worst; nothing where something usable is left in it, or never
    was."""
    thrown = [candidate for candidate in in_order(group) if candidate.decision is Decision.REJECT]
    left = [frame for frame in group if frame.decision is not Decision.REJECT]
    picked = any(candidate.decision is Decision.PICK for candidate in left)
    lost = (
        thrown
        and thrown[0].usable
        and not picked
        and not any(candidate.usable for candidate in left)
    )
    return thrown if lost else []


def _against(said: Sequence[tuple[str, float, str]], thresholds: dict[str, float]) -> str:
    """What speaks against a frame, in a few words. ``said``: what was noticed of it, with
    figures."""
    figures = {name: figure for name, figure, _ in said}
    named = [
        within_sentence(kind.title)
        for name, kind in KINDS.items()
        if kind.fault and name in figures and kind.names(figures[name], thresholds[name])
    ]
    return ", ".join(named) or say("nothing speaks against it")
