"""What Winnow says of a frame and what its files say: a merge against what both said when they last
agreed."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Final, Literal

from winnow.core.files.profiles import UNSTATED, FileMark, Writing, read, to_file
from winnow.core.files.texts import FIELDS, NO_TEXTS, Texts
from winnow.core.files.texts import as_dict as texts_as_dict
from winnow.core.files.texts import from_dict as texts_from_dict
from winnow.core.marks import UNMARKED, Mark

Side = Literal["here", "file"]
MARK_PARTS: Final = ("decision", "stars", "label")
PARTS: Final = (*MARK_PARTS, *FIELDS)


@dataclass(frozen=True, slots=True)
class Said:
    """All that is said of a frame: its mark and its texts."""

    mark: Mark = UNMARKED
    texts: Texts = NO_TEXTS


NOTHING: Final = Said()


@dataclass(frozen=True, slots=True)
class Stated:
    """The same as a file states it; None, "" and () where it doesn't."""

    mark: FileMark = UNSTATED
    texts: Texts = NO_TEXTS


NOTHING_STATED: Final = Stated()


@dataclass(frozen=True, slots=True)
class Agreed:
    """What was said when Winnow and the files last agreed, and what the files stated then.

    ``stated`` is None where that was not kept. ``sidecars``: how many of the files were sidecars.
    """

    said: Said
    stated: Stated | None
    sidecars: int = 0


def over(sidecar: Stated | None, embedded: Stated) -> Stated:
    """What a frame's files state together: the sidecar's word counts, property by property."""
    if sidecar is None:
        return embedded

    def first(upper: Any, below: Any, names: tuple[str, ...]) -> dict[str, Any]:
        return {
            name: getattr(below, name)
            if getattr(upper, name) in (None, "", ())
            else getattr(upper, name)
            for name in names
        }

    return Stated(
        FileMark(**first(sidecar.mark, embedded.mark, ("rating", "label", "good"))),
        Texts(**first(sidecar.texts, embedded.texts, tuple(FIELDS))),
    )


def stated_still(stated: Stated, agreed: Agreed | None, sidecars: int) -> Stated:
    """What files count as stating, of which so many are sidecars now.

    A sidecar that is gone takes back nothing: what was stated when it was there is stated still.
    """
    if agreed is None or sidecars >= agreed.sidecars:
        return stated
    return over(agreed.stated, stated)


def from_files(stated: Stated, agreed: Agreed | None, how: Writing) -> Said:
    """Read what files state.

    What they say as they did when last agreed reads as what was agreed then. So a part that a file
    can't express (the stars of a reject, say) never counts as taken away there.
    """
    base = agreed.said if agreed else NOTHING
    now = read(stated.mark, how).over(base.mark)
    if agreed is None or agreed.stated is None:
        return Said(now, stated.texts)
    then = read(agreed.stated.mark, how).over(base.mark)
    mark = Mark(
        **{
            part: getattr(base.mark if getattr(now, part) == getattr(then, part) else now, part)
            for part in MARK_PARTS
        }
    )
    texts = Texts(
        **{
            name: getattr(
                base.texts
                if getattr(stated.texts, name) == getattr(agreed.stated.texts, name)
                else stated.texts,
                name,
            )
            for name in FIELDS
        }
    )
    return Said(mark, texts)


def to_files(said: Said, present: Stated, how: Writing) -> Stated:
    """What a file that states ``present`` now is to state."""
    return Stated(to_file(said.mark, present.mark, how), said.texts)


@dataclass(frozen=True, slots=True)
class Merged:
    """What came of a merge.

    ``took``: parts taken from the file; ``kept``: parts that only changed here; ``conflicts``:
    parts that changed on both sides and that nobody decided, as they are here in ``said``.
    """

    said: Said
    took: tuple[str, ...]
    kept: tuple[str, ...]
    conflicts: tuple[str, ...]


def merge(
    base: Said,
    here: Said,
    in_file: Said,
    decided: Callable[[str], Side | None] = lambda part: None,
) -> Merged:
    """Merge what is said here with what a file says, part by part, against what both said before.

    A part that changed on one side only is taken from there. Keywords merge one by one, so they
    never conflict. ``decided`` says whose word counts for a part in conflict; None where nobody
    said.
    """
    after: dict[str, Any] = {}
    took, kept, conflicts = [], [], []
    for part in PARTS:
        was, ours, theirs = (_part(said, part) for said in (base, here, in_file))
        value = ours
        if part == "keywords":
            value = _merged_entries(was, ours, theirs)
            if value != ours:
                took.append(part)
            if value != theirs:
                kept.append(part)
        elif ours == theirs:
            pass
        elif ours == was:
            value = theirs
            took.append(part)
        elif theirs == was:
            kept.append(part)
        else:
            whose = decided(part)
            if whose is None:
                conflicts.append(part)
            elif whose == "file":
                value = theirs
                took.append(part)
            else:
                kept.append(part)
        after[part] = value
    return Merged(_said(after), tuple(took), tuple(kept), tuple(conflicts))


def takes_away(here: Said, merged: Merged) -> bool:
    """Whether something that is said here would be gone, or be replaced, by what the file says."""
    for part in merged.took:
        ours, after = _part(here, part), _part(merged.said, part)
        if part == "keywords":
            if not set(ours) <= set(after):
                return True
        elif ours != _part(NOTHING, part):
            return True
    return False


def _merged_entries(
    was: tuple[str, ...], ours: tuple[str, ...], theirs: tuple[str, ...]
) -> tuple[str, ...]:
    gone = set(was) - set(theirs)
    kept = [entry for entry in ours if entry not in gone]
    added = [entry for entry in theirs if entry not in was and entry not in ours]
    return tuple(kept + added)


def _part(said: Said, part: str) -> Any:
    return getattr(said.mark if part in MARK_PARTS else said.texts, part)


def _said(parts: Mapping[str, Any]) -> Said:
    return Said(
        Mark(**{part: parts[part] for part in MARK_PARTS}),
        Texts(**{part: parts[part] for part in FIELDS}),
    )


def parts_of(said: Said) -> dict[str, Any]:
    """Every part with its value, in order."""
    return {part: _part(said, part) for part in PARTS}


def as_dict(stated: Stated) -> dict[str, Any]:
    """What a file states, for JSON; what it doesn't state is left out."""
    mark = stated.mark
    marks = {"rating": mark.rating, "label": mark.label, "good": mark.good}
    said = {name: value for name, value in marks.items() if value is not None}
    return {**said, **texts_as_dict(stated.texts)}


def from_dict(said: Mapping[str, Any]) -> Stated:
    """What ``as_dict`` made."""
    return Stated(
        FileMark(said.get("rating"), said.get("label"), said.get("good")), texts_from_dict(said)
    )


def without_label(agreed: Agreed) -> Agreed:
    """As if the files had stated no label: what they state is then read anew."""
    if agreed.stated is None:
        return agreed
    mark = replace(agreed.stated.mark, label=None)
    return replace(agreed, stated=replace(agreed.stated, mark=mark))
