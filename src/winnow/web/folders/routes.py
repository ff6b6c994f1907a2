"""Folders on this computer, to choose one."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, HTTPException, Query

from winnow.photos import folders, scan
from winnow.say import say
from winnow.store import shoots
from winnow.web.depends import RESPONSES, RuntimeDep, path_in
from winnow.web.folders.models import (
    CompletionsOut,
    DiskOut,
    DroppedIn,
    DroppedOut,
    InsideOut,
    PlacesOut,
    WithinOut,
)
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api", tags=["folders"], responses=RESPONSES)
_RECENT = 6

PathQuery = Annotated[str, Query(max_length=4096)]


def folder(typed: str) -> Path:
    """A folder that can be read, from what the person typed. Raises HTTPException."""
    meant = folders.typed(path_in(typed))
    if not meant.is_absolute():
        raise HTTPException(
            400, say("Give the whole path, beginning with “/”, not “{typed}”.", typed=typed)
        )
    try:
        scan.check_folder(meant)
    except scan.FolderError as error:
        raise HTTPException(400, str(error)) from None
    except OSError as error:
        raise HTTPException(
            400,
            say("“{typed}” can’t be opened: {why}.", typed=typed, why=error.strerror),
        ) from None
    return meant.resolve()


@router.get("/folders")
def complete_folder(path: PathQuery = "") -> CompletionsOut:
    """Folders that a typed path may mean."""
    path_in(path)
    # As it was typed, but for its beginning: a slash at its end asks what is in a folder.
    typed = str(folders.typed(path)) + "/" * path.rstrip("'\"”").endswith("/") if path else ""
    return CompletionsOut(
        folders=scan.completions(typed or os.path.join(folders.home(), "")),
        exists=os.path.isdir(typed),
    )


@router.get("/folders/within")
def list_folder(runtime: RuntimeDep, path: PathQuery = "") -> WithinOut:
    """The folders in a folder, with how many pictures are in each: in the nearest one that is
    there, or in the person's own where no whole path is given."""
    inside = folder(str(folders.nearest(path_in(path))))
    try:
        listed = folders.within(inside)
    except (scan.FolderError, OSError) as error:
        why = error.strerror if isinstance(error, OSError) else error
        raise HTTPException(
            400, say("“{typed}” can’t be opened: {why}.", typed=path, why=why)
        ) from None
    names = {path: shoot.name for shoot in shoots.all_shoots(runtime.db) for path in _paths(shoot)}
    return WithinOut.of(
        listed,
        wide=folders.is_wide(inside),
        folders=[InsideOut.of(each, shoot=names.get(each.path)) for each in listed.folders],
    )


@router.get("/folders/places")
def list_places(runtime: RuntimeDep) -> PlacesOut:
    """Where somebody may begin to look for a shoot's folder."""
    pictures = folders.pictures()
    return PlacesOut(
        home=folders.home(),
        pictures=pictures if pictures.is_dir() and pictures != folders.home() else None,
        recent=_recent(runtime),
        disks=[DiskOut.model_validate(disk) for disk in folders.disks()],
    )


@router.post("/folders/find")
def find_folder(dropped: DroppedIn, runtime: RuntimeDep) -> DroppedOut:
    """Where a folder is that was dropped: a browser tells its name and what is in it, not where."""
    if not dropped.name and not dropped.files:
        raise HTTPException(400, say("Nothing is in it that a folder could be known by."))
    disks = [Path(disk.path) for disk in folders.disks()]
    places = [*map(Path, _recent(runtime)), folders.pictures(), folders.home(), *disks]
    return DroppedOut(folders=folders.find(dropped.name, dropped.files, places))


def _paths(shoot: shoots.Shoot) -> list[str]:
    return [folder.path for folder in shoot.folders]


def _recent(runtime: Runtime) -> list[str]:
    """The folders in which shoots lie, the last opened first."""
    above = [
        str(Path(path).parent) for shoot in shoots.all_shoots(runtime.db) for path in _paths(shoot)
    ]
    there = (place for place in dict.fromkeys(above) if place != "/" and os.path.isdir(place))
    return [place for _, place in zip(range(_RECENT), there, strict=False)]
