"""Hints: what the analysis noticed, each with its reason, figure and threshold.

Reasons, not verdicts. A kind of hint is one module with its ``KIND`` and ``notice``, and one row in
``KINDS``. Nothing is marked by them: a person looks at what they name, and moves their thresholds.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import Final

import numpy as np

from winnow.core.measure import likeness
from winnow.core.verdict.hints import (
    alone,
    best,
    blurred,
    bright,
    clipped,
    copy,
    dark,
    elsewhere,
    eyes,
    gaze,
    half_closed,
    motion,
    no_face,
    replaced,
    soft,
    soft_eyes,
    speech,
)
from winnow.core.verdict.hints.best import Verdict, in_order
from winnow.core.verdict.hints.kind import Kind, Looked, Notice, Noticed, Shoot
from winnow.say import say

__all__ = [
    "KINDS",
    "VERSION",
    "Kind",
    "Looked",
    "Noticed",
    "Shoot",
    "Verdict",
    "groups_of",
    "in_order",
    "notice",
    "of_shoot",
    "verdicts",
]

# Raised when a rule says something else: hints and verdicts are made anew of what is measured.
VERSION: Final = "6"

_MODULES: Final = (
    soft, elsewhere, motion, blurred, eyes, half_closed, gaze, speech, soft_eyes, clipped, dark,
    bright, no_face, replaced, alone, copy, best,
)  # fmt: skip
KINDS: Final[dict[str, Kind]] = {module.KIND.name: module.KIND for module in _MODULES}
_NOTICES: Final[dict[str, Notice]] = {module.KIND.name: module.notice for module in _MODULES}

# A frame alone is compared with so many on either side of it; with all of a shoot that is no
# longer.
_NEIGHBOURS: Final = 2_500
_COPY_AWAY: Final = 0.1
_SAME_SECOND_AWAY: Final = 0.005


def groups_of(frames: Iterable[Looked]) -> list[list[Looked]]:
    """Frames by their groups, in the order given."""
    by_group: dict[int, list[Looked]] = defaultdict(list)
    for frame in frames:
        by_group[frame.group].append(frame)
    return list(by_group.values())


def of_shoot(frames: Sequence[Looked], thresholds: Mapping[str, float]) -> Shoot:
    """What kinds of hint need to know of the whole shoot; its frames in the order of time.

    ``thresholds``: by the names of kinds, where a person moved them.
    """
    looked_for = [frame for frame in frames if frame.faces is not None]
    shown = sum(frame.number_of_faces > 0 for frame in looked_for)
    return Shoot(shown / max(1, len(looked_for)), _nearest(frames), _copies(frames), thresholds)


def notice(frames: Sequence[Looked], thresholds: Mapping[str, float]) -> dict[str, list[Noticed]]:
    """All that is noticed of a shoot's frames, in the order of time, by kind of hint.

    What no threshold could name is left out: of most frames that is most of it.
    """
    shoot = of_shoot(frames, thresholds)
    groups = groups_of(frames)
    return {
        name: [
            noticed
            for group in groups
            for noticed in notice_of(group, shoot)
            if KINDS[name].can_name(noticed.figure)
        ]
        for name, notice_of in _NOTICES.items()
    }


def verdicts(frames: Sequence[Looked], thresholds: Mapping[str, float]) -> list[Verdict]:
    """How each frame stands in its group, group by group, from best to worst."""
    shoot = Shoot(thresholds=thresholds)
    return [verdict for group in groups_of(frames) for verdict in best.verdicts(group, shoot)]


def _nearest(frames: Sequence[Looked]) -> dict[int, float]:
    lone = {group[0].id for group in groups_of(frames) if len(group) == 1}
    table = likeness.as_table([frame.signature for frame in frames])
    out = {}
    for n, frame in enumerate(frames):
        if frame.id not in lone or frame.signature is None:
            continue
        first = max(0, n - _NEIGHBOURS)
        away = likeness.distances(table[n : n + 1], table[first : n + _NEIGHBOURS])
        away[n - first] = np.nan
        if not np.isnan(away).all():
            out[frame.id] = float(np.nanmin(away))
    return out


def _copies(frames: Sequence[Looked]) -> dict[int, tuple[float, str]]:
    by_content: dict[str, Looked] = {}
    by_moment: dict[tuple[float, str], list[Looked]] = defaultdict(list)
    out = {}
    for frame in frames:
        known = by_content.get(frame.content_hash or "")
        if known is not None and len(frame.name) < len(known.name):
            # A copy's name is that of the original and more.
            out[known.id] = (0.0, say("the same file content as {name}", name=frame.name))
            by_content[frame.content_hash or ""] = frame
            continue
        if known is not None:
            out[frame.id] = (0.0, say("the same file content as {name}", name=known.name))
            continue
        if frame.content_hash:
            by_content[frame.content_hash] = frame
        if frame.taken_at is None or frame.signature is None:
            continue
        moment = by_moment[frame.taken_at, frame.camera or ""]
        if moment:
            table = likeness.as_table([frame.signature, *(o.signature for o in moment)])
            away = likeness.distances(table[:1], table[1:])
            # A time without a fraction of a second may be that of a whole burst.
            most = _SAME_SECOND_AWAY if float(frame.taken_at).is_integer() else _COPY_AWAY
            if not np.isnan(away).all() and np.nanmin(away) <= most:
                other = moment[int(np.nanargmin(away))]
                out[frame.id] = (
                    float(np.nanmin(away)),
                    say("the same exposure as {name}", name=other.name),
                )
                continue
        moment.append(frame)
    return out
