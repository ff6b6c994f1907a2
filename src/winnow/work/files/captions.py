"""Texts of frames: what several have in common, and edits as one step of the history."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from winnow.core.files.texts import (
    FIELDS,
    NO_TEXTS,
    TextEdit,
    Texts,
    TextStep,
    filled_edit,
    sentence_for,
)
from winnow.core.marks import Change
from winnow.store import frames, marks, shoots, texts
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class Common:
    """What frames have in common.

    ``several``: fields that differ, which are empty in ``texts``; keywords there are those that all
    have, and ``some`` counts the frames of each other one.
    """

    texts: Texts
    several: tuple[str, ...]
    some: dict[str, int]


def common(db: Database, shoot_id: int, frame_ids: Sequence[int]) -> Common:
    """What is written about some frames. Raises KeyError when one is not in the shoot."""
    texts_of = texts.texts_of(db, shoot_id, frame_ids)
    if len(texts_of) < len(set(frame_ids)):
        raise KeyError("frame")
    every = list(texts_of.values())
    counts = Counter(word for texts in every for word in texts.keywords)
    shared: dict[str, object] = {}
    several = []
    for name, field in FIELDS.items():
        values = {getattr(texts, name) for texts in every}
        if name == "keywords":
            first = every[0].keywords if every else ()
            shared[name] = tuple(word for word in first if counts[word] == len(every))
        elif len(values) == 1:
            shared[name] = values.pop()
        else:
            shared[name] = () if field.listed else ""
            several.append(name)
    some = {word: n for word, n in counts.most_common() if n < len(every)}
    return Common(Texts(**shared), tuple(several), some)  # type: ignore[arg-type]


def edit(
    db: Database,
    shoot_id: int,
    frame_ids: Sequence[int],
    wanted: TextEdit,
    *,
    fill: bool,
    by: str = "",
) -> Change | None:
    """Change what is written about frames, as one step of the history; None when nothing changes.

    ``fill``: fields in braces are replaced by each frame's own values; ``by``: the guest who
    writes. Raises KeyError when a frame is not in the shoot, FillError for a field that there
    isn't.
    """

    def plan() -> Change | None:
        present = texts.texts_of(db, shoot_id, frame_ids)
        if len(present) < len(set(frame_ids)):
            raise KeyError("frame")
        values = _values(db, shoot_id, present) if fill else {}
        steps = tuple(
            TextStep(frame, before, after)
            for frame, before in present.items()
            if (
                after := (filled_edit(wanted, values[frame]) if fill else wanted).applied_to(before)
            )
            != before
        )
        if not steps:
            return None
        names = frames.names(db, [step.frame for step in steps])
        return Change(sentence_for(steps, names), texts=steps)

    return marks.apply(db, shoot_id, plan, by)


def _values(db: Database, shoot_id: int, present: dict[int, Texts]) -> dict[int, dict[str, str]]:
    """What the fields in braces stand for, by frame."""
    shoot = shoots.get(db, shoot_id)
    values = {}
    for frame, row in frames.get_all(db, shoot_id, present).items():
        taken = row.shot_at
        when = None if taken is None else datetime.fromtimestamp(taken, UTC)
        here = present.get(frame, NO_TEXTS)
        values[frame] = {
            "name": row.name,
            "shoot": shoot.name if shoot else "",
            "camera": row.camera or "",
            "lens": row.lens or "",
            **{
                field: when.strftime(form) if when else ""
                for field, form in (
                    ("date", "%Y-%m-%d"), ("year", "%Y"), ("month", "%m"), ("day", "%d"), ("time",
                    "%H:%M"),
                )
            },
            **{
                name: ", ".join(getattr(here, name)) if field.listed else getattr(here, name)
                for name, field in FIELDS.items()
            },
        }  # fmt: skip
    return values
