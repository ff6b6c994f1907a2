"""What a person set, and what holds until they do."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields
from typing import Any, Literal, TypeVar

from winnow.core.deliver.ways import How

T = TypeVar("T")
AfterMark = Literal["stay", "next", "next_undecided", "next_group"]
Surround = Literal["dark", "middle", "light"]
Theme = Literal["light", "dark"]
Sort = Literal["time", "name", "focus", "stars", "decision"]
SidecarNames = Literal["stem", "full"]


@dataclass(frozen=True, slots=True)
class AfterMarks:
    """What happens after a mark, for each kind of mark."""

    decision: AfterMark = "next"
    stars: AfterMark = "stay"
    label: AfterMark = "stay"


@dataclass(frozen=True, slots=True)
class Keys:
    """Keys that differ from the standard ones: for a command, all of its keys."""

    name: str = "My keys"
    keys: Mapping[str, Sequence[str]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class LastBringIn:
    """Where the last bringing-in went, by which template of folders; "" where there was none."""

    target: str = ""
    second: str = ""
    template: str = ""


@dataclass(frozen=True, slots=True)
class Settings:
    """The person's settings.

    ``row_height``: px at 100 %; ``cache_gb``: 10^9 bytes; ``backup_place``: a folder to which every
    backup is copied as well, "" for none; ``write_by_itself``: files are written after each mark;
    ``embed``: into JPEGs themselves, not beside them; ``toured``: the first steps were shown, or
    not wanted; ``label_texts``: what label texts found in files mean; ``faces_share``: of the
    height, what the faces panel takes at most, 0…1; ``parts_keyword``: what frames get that are
    linked as parts of one picture, "" for none; ``tiles``: how many frames stand side by side at
    most; ``names_shown``: under the frames of the sheet; ``last_target``, ``last_how``,
    ``last_program``: where frames went last from where they are looked at.
    """

    after: AfterMarks = AfterMarks()
    row_height: int = 180
    surround: Surround = "middle"
    theme: Theme = "light"
    facts_shown: bool = True
    cache_gb: int = 20
    backup_place: str = ""
    follow_newest: bool = False
    keys: Keys = field(default_factory=Keys)
    sort: Sort = "time"
    magnifier: Literal[1, 2] = 1
    write_by_itself: bool = False
    embed: bool = False
    faces_share: float = 0.42
    parts_keyword: str = "composite"
    tiles: Literal[2, 4, 6, 9, 12] = 12
    names_shown: bool = False
    last_target: str = ""
    last_how: How = "copy"
    last_program: str = ""
    sidecar_names: SidecarNames = "stem"
    profile: str = ""
    toured: bool = False
    label_texts: Mapping[str, str] = field(default_factory=dict)
    bring_in: LastBringIn = LastBringIn()


# Those that have parts.
_PARTS = {"after": AfterMarks, "keys": Keys, "bring_in": LastBringIn}


def from_stored(values: Mapping[str, Any]) -> Settings:
    """Settings from what was stored of them, name by name.

    What is not known any more is passed over.
    """
    parts: dict[str, Any] = {
        name: _known(kind, values[name]) for name, kind in _PARTS.items() if values.get(name)
    }
    return _known(Settings, {**values, **parts})


def _known(kind: type[T], values: Mapping[str, Any]) -> T:
    names = {field.name for field in fields(kind)}  # type: ignore[arg-type]
    return kind(**{name: value for name, value in values.items() if name in names})
