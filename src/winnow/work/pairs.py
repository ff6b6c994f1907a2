"""Frames linked as parts of one picture, and taken apart, each as one step of the history."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from winnow.core.files.texts import TextEdit, TextStep
from winnow.core.groups import links
from winnow.core.marks import Change, Decision, GroupStep, MarkStep
from winnow.say import say
from winnow.store import frames, groups, marks, texts
from winnow.store.db import Database


def link(db: Database, shoot_id: int, frame_ids: Sequence[int], keyword: str) -> Change | None:
    """Link frames, with what they are linked with already, pick them, and give each a keyword (""
    for none).

    None when all of that is so already. Raises KeyError when one is not in the shoot.
    """

    def plan() -> Change | None:
        edits = groups.edits_of(db, shoot_id)
        after = links.link(edits, frame_ids)
        parts = next(parts for parts in links.linked(after) if frame_ids[0] in parts)
        present = marks.marks_of(db, shoot_id, parts)
        if not set(frame_ids) <= present.keys():
            raise KeyError("frame")
        steps = tuple(
            MarkStep(frame, mark, replace(mark, decision=Decision.PICK))
            for frame, mark in present.items()
            if mark.decision is not Decision.PICK
        )
        written = _written(db, shoot_id, parts, TextEdit(add=(keyword,) if keyword else ()))
        if after == edits and not steps and not written:
            return None
        sentence = say("linked {names} as one picture", names=_names(db, parts))
        return Change(sentence, steps, GroupStep(after - edits, edits - after), texts=written)

    return marks.apply(db, shoot_id, plan)


def unlink(db: Database, shoot_id: int, frame: int, keyword: str) -> Change | None:
    """Take the picture apart that a frame is a part of, and the keyword from its parts; what is
    decided of them stays. None where it is a part of none."""

    def plan() -> Change | None:
        edits = groups.edits_of(db, shoot_id)
        after = links.unlink(edits, frame)
        if after == edits:
            return None
        parts = next(parts for parts in links.linked(edits) if frame in parts)
        written = _written(db, shoot_id, parts, TextEdit(remove=(keyword,) if keyword else ()))
        sentence = say("took {names} apart", names=_names(db, parts))
        return Change(sentence, groups=GroupStep(after - edits, edits - after), texts=written)

    return marks.apply(db, shoot_id, plan)


def _written(
    db: Database, shoot_id: int, parts: Sequence[int], edit: TextEdit
) -> tuple[TextStep, ...]:
    return tuple(
        TextStep(frame, before, after)
        for frame, before in texts.texts_of(db, shoot_id, parts).items()
        if (after := edit.applied_to(before)) != before
    )


def _names(db: Database, parts: Sequence[int]) -> str:
    names = frames.names(db, parts)
    *others, last = (names[part] for part in parts)
    return say("{names} and {last}", names=", ".join(others), last=last)
