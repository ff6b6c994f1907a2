"""Writing marks and texts to files: what would be written, and writing it, merged with what is
there."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Final, Literal

from winnow.core.events import FramePatch
from winnow.core.files import merge
from winnow.core.files.merge import NOTHING, Agreed, Merged, Said, Side, Stated
from winnow.core.files.profiles import Writing
from winnow.core.files.texts import FIELDS
from winnow.core.frames import Kind, kind_of, split_name
from winnow.core.marks import Change
from winnow.photos import copies, entries, refusals, whole, xmp
from winnow.photos.cache import PictureCache
from winnow.photos.xmp_check import SidecarError
from winnow.say import say
from winnow.store import file_state, frame_files, guests, marks, settings, shoots
from winnow.store.db import Database
from winnow.store.file_state import SaysMore
from winnow.store.frame_files import FrameFiles
from winnow.work.files import follow_rewrite
from winnow.work.files.read import (
    ONE_AT_A_TIME,
    change_to,
    how_written,
    look_of,
    merged_with,
    read_sidecars,
    said_of,
    taken_from,
    together,
)

Outcome = Literal["new", "change", "same", "take", "conflict", "unreadable"]
Where = Literal["sidecar", "jpeg"]
_BATCH: Final = 50


# By frame: what is said here, and what its files state.
Shown = Mapping[int, tuple[Said, Stated]]


@dataclass(frozen=True, slots=True)
class Order:
    """What is wanted of writing.

    ``frames``: only these. ``kinds``: whose word counts for a part in conflict, in every frame;
    ``single``: for a part of one frame, which counts more. ``shown``: what was said here and stated
    in files when the person looked at the plan. A frame of which a file would take something away
    that was not shown is offered instead; None where all that is there was looked at.
    """

    frames: tuple[int, ...] | None = None
    kinds: Mapping[str, Side] | None = None
    single: Mapping[tuple[int, str], Side] | None = None
    shown: Shown | None = None

    def decided(self, frame: int, part: str) -> Side | None:
        """Whose word counts; None where nobody said."""
        side = (self.single or {}).get((frame, part))
        return side or (self.kinds or {}).get(part)


@dataclass(frozen=True, slots=True)
class Target:
    """A file to be written. ``present``: what it states now; None for a new sidecar."""

    path: Path
    embeds: bool
    present: Stated | None


@dataclass(frozen=True, slots=True)
class Planned:
    """What writing would do to one frame's files, and here.

    ``writes``: (file, property, before, after). ``outcome``: "take" where only something here
    changes.
    """

    frame: int
    name: str
    files: FrameFiles
    outcome: Outcome
    targets: tuple[Target, ...]
    here: Said
    in_file: Said
    merged: Merged
    stated: Stated
    writes: tuple[tuple[str, str, str, str], ...] = ()
    notice: str = ""


@dataclass(frozen=True, slots=True)
class Written:
    """What writing did: numbers of files and of frames, and what was left alone, each with why."""

    written: int = 0
    same: int = 0
    taken: int = 0
    problems: tuple[tuple[int, str], ...] = ()


def where_set(db: Database) -> Where:
    """Where marks are written: sidecars, unless the person asked for JPEGs."""
    return "jpeg" if settings.load(db).embed else "sidecar"


def new_sidecars(db: Database, shoot_id: int, listed: Iterable[FrameFiles]) -> dict[int, Path]:
    """Where each frame's new sidecar would be.

    ``stem.xmp`` beside the picture, as most programs do; ``name.ext.xmp`` where two frames share a
    stem, or where the person wants that for all.
    """
    files = list(listed)
    full = settings.load(db).sidecar_names == "full"
    stems = frame_files.stems_like(db, shoot_id, {f.name for f in files})
    result = {}
    for frame in files:
        stem = split_name(frame.shown.name)[0]
        alone = not full and stems[frame.shown.parent, stem] == 1
        # A raw file's sidecar is named after the raw file.
        named = next((f for f in frame.all if kind_of(f.name) is Kind.RAW), frame.shown)
        result[frame.id] = frame.shown.parent / (f"{stem}.xmp" if alone else f"{named.name}.xmp")
    return result


def plan(db: Database, shoot_id: int, order: Order = Order()) -> list[Planned]:  # noqa: C901
    """What writing would do to each frame's files.

    Frames with nothing to say are left out, and those that guests changed, until the owner takes
    that over.
    """
    waiting = guests.held_back(db, shoot_id)
    # guard: what guests said
    ids = [id for id in frame_files.there(db, shoot_id) if id not in waiting]
    if order.frames is not None:
        wanted = set(order.frames)
        ids = [id for id in ids if id in wanted]
    listed = frame_files.files_of(db, ids)
    new = new_sidecars(db, shoot_id, listed)
    agreed = file_state.agreed(db, ids)
    last = file_state.last_read(db, ids)
    here = said_of(db, shoot_id, ids)
    how, where = how_written(db), where_set(db)
    result = []
    for frame in listed:
        if frame.id not in here:
            continue
        said = here[frame.id]
        files = frame
        if not frame.sidecars and new[frame.id].exists():
            # One that appeared since the last look must not be overlooked.
            files = replace(frame, sidecars=(new[frame.id],))
        sidecars = read_sidecars(files, last[frame.id])
        notice = next((sidecar.notice for sidecar in sidecars if sidecar.notice), "")
        stated = together(sidecars, last[frame.id].embedded)
        before = agreed.get(frame.id)
        still = merge.stated_still(stated, before, len(sidecars))
        merged, in_file = merged_with(before, said, still, how, partial(order.decided, frame.id))
        targets = [Target(sidecar.path, False, sidecar.stated) for sidecar in sidecars]
        jpegs = [f for f in frame.all if kind_of(f.name) is Kind.JPEG] if where == "jpeg" else []
        targets += [Target(path, True, last[frame.id].embedded) for path in jpegs]
        needs_sidecar = not sidecars and len(jpegs) < len(frame.all)
        unsaid = merge.to_files(merged.said, stated, how) != stated
        if needs_sidecar and unsaid:
            targets.append(Target(new[frame.id], False, None))
        writes = tuple(_writes(targets, merged.said, last[frame.id].embedded, how))
        if not targets and not merged.took:
            continue
        outcome: Outcome = "same"
        if notice:
            outcome = "unreadable"
        elif merged.conflicts:
            outcome = "conflict"
        elif writes:
            outcome = "new" if all(t.present is None for t in targets) else "change"
        elif merged.took:
            outcome = "take"
        result.append(
            Planned(frame.id, frame.name, files, outcome, tuple(targets), said, in_file, merged,
                    still, writes, notice)
        )  # fmt: skip
    return result


def shown(planned: Iterable[Planned]) -> Shown:
    """What a person who looks at a plan sees of each frame."""
    return {p.frame: (p.here, p.stated) for p in planned}


def _wanted(target: Target, said: Said, embedded: Stated, how: Writing) -> Stated:
    """What a file is to state. A sidecar need not repeat what the picture file says already."""
    present = target.present or Stated()
    wanted = merge.to_files(said, present, how)
    if target.embeds or target.present is None:
        return wanted
    texts = {
        name: () if field.listed else ""
        for name, field in FIELDS.items()
        if not getattr(present.texts, name)
        and getattr(wanted.texts, name) == getattr(embedded.texts, name)
    }
    marks_left = {
        name: None
        for name in ("rating", "label")
        if getattr(present.mark, name) is None
        and getattr(wanted.mark, name) == getattr(embedded.mark, name)
    }
    return Stated(replace(wanted.mark, **marks_left), replace(wanted.texts, **texts))  # type: ignore[arg-type]


def _writes(
    targets: Sequence[Target], said: Said, embedded: Stated, how: Writing
) -> Iterable[tuple[str, str, str, str]]:
    """Each property that would change: (file, property, before, after)."""
    for target in targets:
        before = target.present or Stated()
        after = _wanted(target, said, embedded, how)
        for prop, was, now in (
            ("xmp:Rating", before.mark.rating, after.mark.rating),
            ("xmp:Label", before.mark.label, after.mark.label),
            ("xmpDM:good", before.mark.good, after.mark.good),
            *(
                (field.prop, getattr(before.texts, name), getattr(after.texts, name))
                for name, field in FIELDS.items()
            ),
        ):
            if was != now:
                yield target.path.name, prop, _shown(was), _shown(now)


def _shown(value: object) -> str:
    if isinstance(value, tuple):
        return ", ".join(value)
    return "" if value is None else str(value)


def write(
    db: Database,
    cache: PictureCache,
    shoot_id: int,
    order: Order = Order(),
    tick: Callable[[int, int, list[FramePatch]], None] = lambda done, total, patches: None,
    stopping: Callable[[], bool] = lambda: False,
) -> tuple[Written, Change | None]:
    """Write what is said of a shoot's frames to their files.

    What only the files changed is taken over here first. A frame with a part in conflict that
    nobody decided is left alone. ``tick`` is told the frames done, of how many, and what changed
    for the page.
    """
    with ONE_AT_A_TIME:
        return _write(db, cache, shoot_id, order, tick, stopping)


def _write(
    db: Database,
    cache: PictureCache,
    shoot_id: int,
    order: Order,
    tick: Callable[[int, int, list[FramePatch]], None],
    stopping: Callable[[], bool],
) -> tuple[Written, Change | None]:
    planned = plan(db, shoot_id, order)
    how = how_written(db)
    agreed = file_state.agreed(db, [p.frame for p in planned])
    problems = [
        (p.frame, p.notice or say("Winnow and the file say different things."))
        for p in planned
        if p.outcome in ("unreadable", "conflict")
    ]
    through = [p for p in planned if p.outcome not in ("unreadable", "conflict")]
    if order.shown is not None:
        offered = {
            p.frame
            for p in through
            if merge.takes_away(p.here, p.merged) and order.shown.get(p.frame) != (p.here, p.stated)
        }
        file_state.note_read(db, offered, SaysMore.OFFERED)
        through = [p for p in through if p.frame not in offered]
    by_id = {p.frame: p for p in through}

    def take() -> Change | None:
        taking = [p.frame for p in through if p.merged.took]
        here = said_of(db, shoot_id, taking)
        after = {}
        for frame, said in here.items():
            merged, _ = merged_with(
                agreed.get(frame), said, by_id[frame].stated, how,
                partial(order.decided, frame),
            )  # fmt: skip
            if not merged.conflicts:
                after[frame] = merged.said
        return change_to(here, after, taken_from(sum(after[f] != here[f] for f in after)))

    change = marks.apply(db, shoot_id, take)
    for folder in {target.path.parent for p in through for target in p.targets}:
        copies.remove_parts(folder, whole.WRITE_PREFIX, shoots.roots(db))
    written = same = done = 0
    for at in range(0, len(through), _BATCH):
        if stopping():
            break
        batch = through[at : at + _BATCH]
        now = said_of(db, shoot_id, [p.frame for p in batch])
        # A guest may have changed one since it was planned.
        waiting = guests.held_back(db, shoot_id)
        batch = [p for p in batch if p.frame not in waiting]
        settled: list[tuple[int, Agreed]] = []
        noted: list[Noted] = []
        patches: list[FramePatch] = []
        for p in batch:
            said = now.get(p.frame, NOTHING)
            try:
                count, stated, notes, patch = _write_frame(db, cache, p, said, how)
            except (SidecarError, refusals.CopyError, OSError) as error:
                words = refusals.reason(error, p.name)
                problems.append((p.frame, words.rstrip(".") + "."))
                continue
            finally:
                done += 1
            written += count
            same += not count
            beside = sum(not target.embeds for target in p.targets)
            settled.append((p.frame, Agreed(said, stated, beside)))
            patches += patch
            noted += notes
        file_state.note_stated(db, noted)
        file_state.keep_agreed(db, settled)
        file_state.note_read(db, [frame for frame, _ in settled])
        tick(done, len(through), patches)
    taken = sum(bool(p.merged.took) for p in through)
    return Written(written, same, taken, tuple(problems)), change


Noted = tuple[int, Path, Path, str, Stated | None]


def _write_frame(
    db: Database, cache: PictureCache, p: Planned, said: Said, how: Writing
) -> tuple[int, Stated, list[Noted], list[FramePatch]]:
    """Write one frame's files; returns how many, what they state together, each sidecar's part in
    that, and patches for the page."""
    embedded = file_state.embedded(db, p.frame)
    count = 0
    sidecars: list[Stated] = []
    noted: list[Noted] = []
    patches: list[FramePatch] = []
    for target in p.targets:
        wanted = _wanted(target, said, embedded, how)
        if wanted != (target.present or Stated()):
            data, now = _still_as_planned(target, wanted, p.files.root)
            if target.embeds:
                assert data is not None
                if now != wanted:
                    whole.write_whole(
                        target.path, xmp.with_embedded(data, wanted), data, (p.files.root,)
                    )
                patches += follow_rewrite.follow(db, cache, p.files, wanted)
            elif now != wanted or data is None:
                whole.write_whole(target.path, xmp.with_stated(data, wanted), data, (p.files.root,))
            count += 1
        if target.embeds:
            embedded = wanted
        else:
            sidecars.append(wanted)
            if target.path.exists():
                look = look_of(target.path)
                noted.append((p.frame, p.files.root, target.path, look, wanted))
    stated = embedded
    for sidecar in reversed(sidecars):
        stated = merge.over(sidecar, stated)
    return count, stated, noted, patches


def _still_as_planned(
    target: Target, wanted: Stated, root: Path
) -> tuple[bytes | None, Stated | None]:
    """A file's content, None for a new one, and what it states: what it stated when this was
    planned, or what is wanted already, as where Winnow was killed before it noted that. Raises
    CopyError."""
    if target.present is None:
        return None, None
    data = entries.read_file(target.path, root)
    now = xmp.embedded(data) if target.embeds else xmp.read_sidecar(data)
    if now not in (target.present, wanted):
        raise refusals.CopyError(
            say(
                "{name} was changed by another program just now. Look at what it says first.",
                name=target.path.name,
            )
        )
    return data, now
