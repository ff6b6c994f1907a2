"""Label texts that others wrote: what they mean here."""

from __future__ import annotations

from winnow.core.files import merge
from winnow.store import file_state, frame_files, settings
from winnow.store.db import Database


def give_meaning(db: Database, shoot_id: int, text: str, letter: str) -> list[int]:
    """From now on a label text found in files means this label, or none ("").

    Returns the frames of the shoot whose files say it: it is to be read anew.
    """
    known = {
        label_text: label
        for label_text, label in settings.load(db).label_texts.items()
        if label_text.casefold() != text.casefold()
    }
    settings.save(db, {"label_texts": {**known, text: letter}})
    wanted = text.casefold()
    frames = []
    last = file_state.last_read(db, frame_files.there(db, shoot_id))
    for frame, read in last.items():
        stated = [statement for _, statement in read.sidecars.values() if statement] + [
            read.embedded
        ]
        if any((statement.mark.label or "").casefold() == wanted for statement in stated):
            frames.append(frame)
    agreed = file_state.agreed(db, frames)
    file_state.keep_agreed(
        db, [(frame, merge.without_label(state)) for frame, state in agreed.items()]
    )
    return frames
