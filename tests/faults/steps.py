"""The steps by which Winnow changes files or its database, each broken anywhere, and gone on with.

A folder that a step lies in: "shoot" with pictures, "winnow.db", and what the step makes.
"""

from __future__ import annotations

from functools import partial
from typing import Final

from tests.faults.databases import (
    acknowledged_is_stored,
    all_marked,
    back_up,
    backups_are_sound,
    database_damaged,
    database_missing,
    filled,
    has_forty,
    mark_often,
    of_an_older_winnow,
    open_database,
    opens_new,
)
from tests.faults.ground import Step, make_shoot, nothing, nothing_lost
from tests.faults.handing_on import (
    bring_in,
    deliver,
    delivered,
    is_brought,
    is_delivered,
    is_taken_back,
    is_written,
    make_card,
    more_stars,
    never_safe_too_soon,
    pictures_stand,
    take_back,
    write_files,
)
from tests.faults.moves import (
    all_aside,
    delete_for_good,
    is_aside,
    is_deleted,
    is_home,
    is_named_as_before,
    is_renamed,
    move_aside,
    others_stand,
    rename_files,
    renamed,
    some_aside,
)

STEPS: Final = (
    Step("set aside", make_shoot, partial(move_aside, back=False), is_aside, nothing_lost),
    Step("bring back", all_aside, partial(move_aside, back=True), is_home, nothing_lost),
    Step("rename", make_shoot, rename_files, is_renamed, nothing_lost),
    Step(
        "shift names",
        make_shoot,
        partial(rename_files, template="QH_{seq}"),
        partial(is_renamed, stem="QH_"),
        nothing_lost,
    ),
    Step(
        "undo renaming", renamed, partial(rename_files, back=True), is_named_as_before, nothing_lost
    ),
    *(
        Step(
            f"deliver, {how}",
            make_shoot,
            partial(deliver, how=how),
            partial(is_delivered, how=how),
            nothing_lost,
        )
        for how in ("copy", "move", "link")
    ),
    *(
        Step(
            f"take back, {how}", partial(delivered, how=how), take_back, is_taken_back, nothing_lost
        )
        for how in ("copy", "move", "link")
    ),
    Step("bring in", make_card, bring_in, is_brought, never_safe_too_soon),
    Step(
        "write sidecars",
        partial(more_stars, embed=False),
        write_files,
        partial(is_written, embed=False),
        pictures_stand,
    ),
    Step(
        "embed",
        partial(more_stars, embed=True),
        write_files,
        partial(is_written, embed=True),
        pictures_stand,
    ),
    Step(
        "delete",
        some_aside,
        partial(delete_for_good, trash=False),
        is_deleted,
        partial(others_stand, trash=False),
    ),
    Step(
        "trash",
        some_aside,
        partial(delete_for_good, trash=True),
        is_deleted,
        partial(others_stand, trash=True),
    ),
    Step("mark", make_shoot, mark_often, all_marked, acknowledged_is_stored),
    Step("open", nothing, open_database, opens_new, nothing),
    Step("restore what is damaged", database_damaged, open_database, has_forty, has_forty),
    Step("restore what is gone", database_missing, open_database, has_forty, has_forty),
    Step("migrate", of_an_older_winnow, open_database, has_forty, has_forty),
    Step("back up", filled, back_up, backups_are_sound, backups_are_sound),
)


# Where the failing disk is, by step; elsewhere what is below "shoot", and its holding folder.
FAILING: Final = {
    **{f"deliver, {how}": ("out", "shoot") for how in ("copy", "move", "link")},
    **{f"take back, {how}": ("out", "shoot") for how in ("copy", "move", "link")},
    "bring in": ("card", "disk", "second"),
    **dict.fromkeys(("open", "migrate", "back up", "restore what is gone"), ("",)),
    "restore what is damaged": ("",),
    "mark": (),
}
