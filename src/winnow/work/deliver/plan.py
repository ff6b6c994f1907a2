"""What a delivery would do: which file goes where under which name, before anything is touched."""

from __future__ import annotations

import os
import shutil
import time
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from winnow.core.counts import counted
from winnow.core.deliver import naming
from winnow.core.deliver.naming import ToName, Which
from winnow.core.deliver.ways import WAYS, How, leaves
from winnow.core.files.merge import NOTHING, Said
from winnow.core.files.names import clash_key, free_names
from winnow.core.files.templates import TemplateError
from winnow.core.groups.links import with_parts
from winnow.photos import copies, folders
from winnow.say import say
from winnow.store import frame_files, frames, groups, guests, labels, moved_files, shoots
from winnow.store.db import Database
from winnow.store.deliveries import Item
from winnow.store.frame_files import FrameFiles
from winnow.work.files.read import said_of
from winnow.work.moves.journal import NAMES_CHANGED


class DeliveryError(Exception):
    """A delivery that can't be made, with the reason and what to do next in words."""


@dataclass(frozen=True, slots=True)
class DeliveryPlan:
    """What a delivery would do. Sizes are bytes; ``free`` is what the target's disk has left.

    Names of frames: ``missing`` are not on disk, ``changed`` have other files than Winnow last saw
    (they are delivered as they are), ``elsewhere`` can't be moved, being set aside or moved out
    already, ``unchecked`` get no sidecar, as guests changed them and the owner did not take that
    over; ``linked`` come along as other parts of the pictures of those asked for.
    ``names_changed``: how often names had changed when it was made. ``companions``: how many
    companion files the frames have, delivered or not.
    """

    target: str
    makes_folder: bool
    items: tuple[Item, ...]
    frames: int
    size: int
    free: int
    renamed: tuple[tuple[str, str], ...]
    already_there: int
    missing: tuple[str, ...]
    changed: tuple[str, ...]
    elsewhere: tuple[str, ...]
    unchecked: tuple[str, ...]
    linked: tuple[str, ...]
    companions: int
    how: How
    names_changed: int


def check_target(db: Database, shoot_id: int, typed: str) -> Path:
    """The target folder from what the person typed. Raises DeliveryError."""
    target = folders.typed(typed)
    if not typed.strip() or not target.is_absolute():
        raise DeliveryError(say("Give the whole path of the folder, beginning with “/”."))
    target = target.resolve()
    if target.exists() and not target.is_dir():
        raise DeliveryError(say("“{folder}” is a file. Choose a folder.", folder=target))
    for folder in shoots.folders_of(db, shoot_id):
        if target.is_relative_to(Path(folder.path).resolve()):  # guard: deliveries into the shoot
            raise DeliveryError(
                say(
                    "“{folder}” lies within this shoot: the copies would become frames of it. "
                    "Choose a folder outside.",
                    folder=target,
                )
            )
    parent = _existing(target)
    if not parent.is_dir() or not os.access(parent, os.W_OK | os.X_OK):
        raise DeliveryError(
            say(
                "You have no permission to write in “{folder}”. Choose another folder.",
                folder=parent,
            )
        )
    return target


def _existing(folder: Path) -> Path:
    while not folder.exists():
        folder = folder.parent
    return folder


@dataclass(frozen=True, slots=True)
class Wish:
    """How frames are delivered.

    ``template``: of their names, see ``core.delivering``; ``which``: of their pictures; ``how``:
    copied, moved (the shoot keeps track of them), or as further names of the same files. What is
    moved takes its companions along in any case. ``seq_from``: where names begin to count.
    """

    sidecars: bool = True
    template: str = naming.AS_IT_IS
    which: Which = "all"
    how: How = "copy"
    manifest: bool = False
    companions: bool = False
    seq_from: int = 1


AS_USUAL: Final = Wish()


def plan(
    db: Database, shoot_id: int, typed: str, frame_ids: Sequence[int], wish: Wish = AS_USUAL
) -> DeliveryPlan:
    """Plan which file goes where, without touching anything. Raises DeliveryError.

    A file that is in the target already with equal content is not copied again; one with other
    content makes the new one take a free name.
    """
    target = check_target(db, shoot_id, typed)
    names_changed = NAMES_CHANGED.count
    wanted_ids = set(frame_ids)
    here = said_of(db, shoot_id, with_parts(groups.pairs(db, shoot_id), frame_ids))
    stays = leaves(wish.how)
    known = {} if stays else moved_files.of_frames(db, here)
    missing: list[str] = []
    changed: list[str] = []
    elsewhere: list[str] = []
    waiting = guests.held_back(db, shoot_id) if wish.sidecars else set()
    companions = 0
    wanted: list[tuple[FrameFiles, tuple[Path, ...], bool]] = []
    for frame in frame_files.files_of(db, here):
        if frame.id in known:
            elsewhere.append(frame.name)
            continue
        if not all(path.is_file() for path in frame.all):
            missing.append(frame.name)
            continue
        if frame_files.changed_since(frame):
            changed.append(frame.name)
        which = naming.chosen([path.name for path in frame.all], wish.which)
        files = tuple(frame.all[n] for n in which)
        companions += len(frame.companions)
        if not stays:
            # What stays behind without its picture would be found by nobody.
            files += frame.sidecars
        if wish.companions or not stays:
            files += frame.companions
        says = wish.sidecars and here[frame.id] != NOTHING
        marks = says and frame.id not in waiting  # guard: what guests said, in deliveries
        wanted.append((frame, files, marks))
    values, group_of = values_of(db, shoot_id, here)
    try:
        check_guests(db, shoot_id, here, wish.template)
        names = naming.named(
            [
                ToName(
                    tuple(p.name for p in files),
                    values[frame.id],
                    group_of[frame.id],
                    marks and (stays or not frame.sidecars),
                )
                for frame, files, marks in wanted
            ],
            wish.template,
            wish.seq_from,
        )
    except TemplateError as error:
        raise DeliveryError(str(error)) from None
    present = _present(target, {name.rpartition("/")[0] for of_frame in names for name in of_frame})
    there = [
        stays
        and all(
            _is_there(target, path, name, present)
            for path, name in zip(files, of_frame, strict=False)
        )
        for (_, files, _), of_frame in zip(wanted, names, strict=True)
    ]
    taken = [*present.values()]
    taken += [
        name for of_frame, kept in zip(names, there, strict=True) if kept for name in of_frame
    ]
    placed = iter(free_names([n for n, kept in zip(names, there, strict=True) if not kept], taken))
    items: list[Item] = []
    renamed: list[tuple[str, str]] = []
    for (frame, files, marks), of_frame, kept in zip(wanted, names, there, strict=True):
        final = of_frame if kept else next(placed)
        items += _items(frame, files, final, wish.how, marks)
        renamed += [pair for pair in zip(of_frame, final, strict=True) if pair[0] != pair[1]]
    if wish.manifest and items:
        ((name,),) = free_names([("manifest.b3",)], [*taken, *(item.name for item in items)])
        items.append(Item(0, "manifest", target, name, 0))
    ground = _existing(target)
    return DeliveryPlan(
        target=str(target),
        makes_folder=not target.exists(),
        items=tuple(items),
        frames=len(wanted),
        size=sum(item.size for item in items if _needs_space(item, ground)),
        free=shutil.disk_usage(ground).free,
        renamed=tuple(renamed),
        already_there=sum(there),
        missing=tuple(missing),
        changed=tuple(changed),
        elsewhere=tuple(elsewhere),
        linked=tuple(frame.name for frame, _, _ in wanted if frame.id not in wanted_ids),
        unchecked=tuple(frame.name for frame, _, _ in wanted if frame.id in waiting),
        companions=companions,
        how=wish.how,
        names_changed=names_changed,
    )


def _needs_space(item: Item, ground: Path) -> bool:
    way = WAYS.get(item.kind)
    if way is not None and way.room == "from another disk":
        return item.source.stat().st_dev != ground.stat().st_dev
    return way is not None and way.room == "whole"


def check_guests(db: Database, shoot_id: int, frame_ids: Iterable[int], template: str) -> None:
    """What guests said comes into no name before the owner took it over. Raises TemplateError."""
    waiting = guests.held_back(db, shoot_id).intersection(frame_ids)
    if waiting and naming.names_what_is_said(template):  # guard: what guests said, in names
        raise TemplateError(
            say(
                "Guests changed {frames} of these, and the names would say marks or texts. Take "
                "that over first, or "
                "choose other fields.",
                frames=counted(len(waiting), "frame"),
            ),
            0,
        )


def values_of(
    db: Database, shoot_id: int, here: Mapping[int, Said]
) -> tuple[dict[int, dict[str, str]], dict[int, int]]:
    """What the fields of a template stand for, and the group, by frame."""
    shoot = shoots.get(db, shoot_id)
    names = labels.label_names(db)
    values, group_of = {}, {}
    for frame, row in frames.get_all(db, shoot_id, here).items():
        said = here[frame]
        taken = row.shot_at
        when = time.strftime("%Y-%m-%d %H%M%S", time.gmtime(max(0, taken or 0)))
        group_of[frame] = row.group_no
        values[frame] = {
            "name": row.name,
            "number": naming.number_in(row.name),
            "date": when[:10],
            "year": when[:4],
            "month": when[5:7],
            "day": when[8:10],
            "time": when[11:],
            "shoot": shoot.name if shoot else "",
            "camera": row.camera or "",
            "stars": str(said.mark.stars),
            "label": names.get(said.mark.label or "", ""),
            "group": str(row.group_no + 1),
            "title": said.texts.title,
            "city": said.texts.city,
            "creator": ", ".join(said.texts.creators),
        }
    return values, group_of


def _present(target: Path, below: Iterable[str]) -> dict[str, str]:
    """The names in some folders of the target, relative to it, by what they must not clash with."""
    present = {}
    for folder in below:
        for name in _names_in(target / folder):
            relative = f"{folder}/{name}" if folder else name
            present[clash_key(relative)] = relative
    return present


def _names_in(folder: Path) -> list[str]:
    return os.listdir(folder) if folder.is_dir() else []


def _is_there(target: Path, source: Path, name: str, present: Mapping[str, str]) -> bool:
    """Whether the target holds this very file already, under the name that it would get."""
    if present.get(clash_key(name)) != name:
        return False
    there = target / name
    return (
        there.is_file()
        and there.stat().st_size == source.stat().st_size
        and copies.file_hash(there) == copies.file_hash(source)
    )


def _items(
    frame: FrameFiles, files: Sequence[Path], names: Sequence[str], how: How, marks: bool
) -> list[Item]:
    items = [
        Item(frame.id, how, source, name, source.stat().st_size)
        for source, name in zip(files, names, strict=False)
    ]
    if marks:
        sidecar = frame.sidecars[0] if frame.sidecars else frame.shown
        # A sidecar that moves along takes the marks in.
        name = names[-1] if leaves(how) or not frame.sidecars else names[files.index(sidecar)]
        items.append(Item(frame.id, "sidecar", sidecar, name, 0))
    return items
