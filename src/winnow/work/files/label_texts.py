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
        one: label
        for one, label in settings.load(db).label_texts.items()
        if one.casefold() != text.casefold()
    }
    settings.save(db, {"label_texts": {**known, text: letter}})
    wanted = text.casefold()
    frames = []
    last = file_state.last_read(db, frame_files.there(db, shoot_id))
    for frame, read in last.items():
        stated = [one for _, one in read.sidecars.values() if one] + [read.embedded]
        if any((one.mark.label or "").casefold() == wanted for one in stated):
            frames.append(frame)
    agreed = file_state.agreed(db, frames)
    file_state.keep_agreed(db, [(frame, merge.without_label(one)) for frame, one in agreed.items()])
    return frames
