"""Lists of frames, out and in: rows from the database, and a list that came back applied."""

from __future__ import annotations

import os
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from winnow.core.counts import counted
from winnow.core.files import lists
from winnow.core.files.lists import Form, Known, ListPlan, Value
from winnow.core.files.merge import Said
from winnow.core.marks import Change
from winnow.core.verdict.hints import KINDS
from winnow.say import say, within_sentence
from winnow.store import frame_files, frames, hints, labels, marks, shoots
from winnow.store.db import Database
from winnow.work.files.read import change_to, said_of


def write(
    db: Database, shoot_id: int, frame_ids: Sequence[int], form: Form, parts: Iterable[str]
) -> str:
    """A list of frames, in their order, with the wanted parts."""
    columns = lists.columns_of(parts)
    names = labels.label_names(db)
    said = said_of(db, shoot_id, frame_ids)
    facts = frames.get_all(db, shoot_id, frame_ids)
    stated = frames.stated(db, facts)
    named = _hints_of(db, shoot_id) if "hints" in columns else {}
    verdicts = hints.verdicts_of_shoot(db, shoot_id) if "verdict" in columns else {}
    beside = (
        {files.id: files.companions for files in frame_files.files_of(db, list(facts))}
        if "companions" in columns
        else {}
    )
    rows: list[dict[str, Value]] = []
    for frame, row in facts.items():
        path = os.fsencode(os.fsdecode(row.path)).decode("utf-8", "replace")
        folder, _, file = path.rpartition("/")
        taken = row.shot_at if row.dated else None
        rows.append(
            {
                "file": file,
                "folder": folder,
                "hash": row.content_hash,
                **lists.values_of(said[frame], names),
                "taken": None if taken is None else _iso(taken),
                **stated[frame],
                "width": row.width,
                "height": row.height,
                "type": row.kind,
                "group": row.group_no + 1,
                "companions": [_text(path.name) for path in beside.get(frame, ())],
                "hints": named.get(frame, []),
                "verdict": verdicts[frame].words if frame in verdicts else "",
            }
        )  # fmt: skip
    if form == "csv":
        return lists.to_csv(columns, rows)
    shoot = shoots.get(db, shoot_id)
    return lists.to_json(shoot.name if shoot else "", columns, rows)


def _iso(seconds: float) -> str:
    """By the shoot's common clock, which has no offset (ISO 8601)."""
    return datetime.fromtimestamp(seconds, UTC).strftime("%Y-%m-%dT%H:%M:%S")


def _hints_of(db: Database, shoot_id: int) -> dict[int, list[str]]:
    thresholds = hints.thresholds(db, shoot_id)
    titles: dict[int, list[str]] = {}
    for name, figures in hints.figures(db, shoot_id).items():
        kind = KINDS[name]
        for frame, figure in figures:
            if kind.names(figure, thresholds[name]):
                titles.setdefault(frame, []).append(within_sentence(kind.title))
    return titles


@dataclass(frozen=True, slots=True)
class Came:
    """A list that came back, and what it would do.

    ``here``: what is said of the frames that it changes.
    """

    plan: ListPlan
    here: dict[int, Said]
    rows: int
    unknown: tuple[str, ...]


def plan(db: Database, shoot_id: int, data: bytes) -> Came:
    """What a list would do; nothing is changed. Raises ListError."""
    listed = lists.read(data)
    planned = lists.plan(listed, _known(db, shoot_id), labels.label_names(db))
    here = said_of(db, shoot_id, planned.after)
    return Came(planned, here, len(listed.entries), listed.unknown)


def apply(db: Database, shoot_id: int, data: bytes, name: str) -> Change | None:
    """Apply a list, as one step of the history. Raises ListError."""
    listed = lists.read(data)
    names = labels.label_names(db)

    def planned() -> Change | None:
        after = lists.plan(listed, _known(db, shoot_id), names).after
        here = said_of(db, shoot_id, after)
        said = counted(len(after), "frame")
        return change_to(
            here,
            after,
            say("list “{name}” on {said}", name=name, said=said)
            if name
            else say("list on {said}", said=said),
        )

    return marks.apply(db, shoot_id, planned)


def _known(db: Database, shoot_id: int) -> list[Known]:
    ids = [row.id for row in frames.rows(db, shoot_id)]
    said = said_of(db, shoot_id, ids)
    hashes = frames.content_hashes(db, shoot_id)
    return [
        Known(
            files.id,
            tuple(_text(path.name) for path in files.all),
            _text(str(files.shown.parent.relative_to(files.root))).removeprefix("."),
            hashes.get(files.id),
            said[files.id],
        )
        for files in frame_files.files_of(db, ids)
        if files.id in said
    ]


def _text(path: Path | str) -> str:
    return os.fsencode(path).decode("utf-8", "replace")
