"""What the API takes and gives of folders on this computer."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from winnow.web.models import FileName, Model, Whole


class CompletionsOut(Model):
    """Folders that a typed path may mean."""

    folders: list[FileName]
    exists: bool


class InsideOut(Model):
    """A folder in another one. ``pictures``: how many lie in it directly, None where that was not
    counted; ``folders``: whether others are in it; ``shoot``: the shoot that it is open as."""

    name: FileName
    path: FileName
    pictures: int | None
    folders: bool
    shoot: str | None


class WithinOut(Model):
    """What lies in a folder. ``parent`` is None for the top; ``pictures``: those directly in it;
    ``wide``: whether it holds far more than a shoot; ``more``: whether more folders are in it."""

    path: FileName
    parent: FileName | None
    pictures: int
    wide: bool
    folders: list[InsideOut]
    more: bool


class DiskOut(Model):
    """A disk that is connected, by its mount point. Sizes in bytes."""

    path: FileName
    name: FileName
    free: int
    size: int


class PlacesOut(Model):
    """Where to begin. ``recent``: folders that hold those of shoots, the last opened first."""

    home: FileName
    pictures: FileName | None
    recent: list[FileName]
    disks: list[DiskOut]


Name = Annotated[str, Field(max_length=255)]
Size = Annotated[Whole, Field(ge=0, le=2**53)]


class DroppedIn(Model):
    """A folder of which a browser tells only the name and what is in it, or files without one."""

    name: Name = ""
    files: dict[Name, Size] = Field(max_length=50, description="sizes in bytes, by name")


class DroppedOut(Model):
    """The folders that this may be."""

    folders: list[FileName]
