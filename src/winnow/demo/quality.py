"""How well Winnow's figures agree with what is true of the demo.

``python -m winnow.demo.quality FOLDER`` measures the demo shoot in a folder (it is made there if it
is missing) and prints the figures; a test holds them."""

from __future__ import annotations

import sys
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from multiprocessing import get_context
from pathlib import Path
from typing import Any, Final

import numpy as np

from winnow.core.draft.draft import Candidate, draft
from winnow.core.groups import runs
from winnow.core.measure import faces, focus_map, likeness, softness, subject_lock
from winnow.core.verdict import hints, judge
from winnow.core.verdict.hints import KINDS, Looked
from winnow.core.verdict.what_matters import Seen
from winnow.demo import evening, shoot, truth
from winnow.demo.measured import Measured, of_picture
from winnow.demo.quality_of_faces import of_faces, of_heads, of_people, of_signs
from winnow.demo.scores import b_cubed_f1, pairwise_f1

_SCENE_RADIUS_PX: Final = 180.0


# A frame this many stops under its group is dark; nobody judges its focus.
_DARK_EV: Final = 1.5


_TO_KEEP: Final = 60


@dataclass(frozen=True, slots=True)
class Quality:
    """Shares, 0…1.

    Groups: pairwise and B-cubed F1. Soft frames (missed focus, shake, motion of the subject) at the
    true subject: precision and recall. Subject lock on the true subject, of each group's first
    frame in its others: the share that is said to be found, and of those the share within 8 px at
    100 % of the truth; the median distance in px. As a person sees them, without anything from the
    truth: faces found, and closed eyes among them (half closed ones are left out, as people
    differ over them): precision and recall; frames that are named half closed, of which so many
    are, and frames with half closed eyes, of which so many are named that or closed; then of
    faces that look past the camera, and of mouths open in speech; by how many degrees the turn
    of heads is off, the median, and precision and recall of those that are called turned.
    Frames that hints call soft or focused elsewhere: precision, recall of missed focus and
    shake, and recall of subjects that moved. Of the soft ones that are called moved, the share
    that was; of those called focused elsewhere, the share that was; the median error of the
    direction of motion, degrees, and of its length, as a share. Untold: precision and recall
    where the camera doesn't say where it focused.

    Of the frames that are called best, those without a fault, where some frame of the group has
    none; and the same of those that the draft proposes up to 60 (or as many of so few groups):
    sharp, still, lit as the others, everybody's eyes open.
    """

    best_right: float
    drafted_right: float
    pair_f1: float
    b_cubed_f1: float
    soft_precision: float
    soft_recall: float
    lock_found: float
    lock_within_8_px: float
    lock_median_px: float
    face_precision: float
    face_recall: float
    closed_precision: float
    closed_recall: float
    half_precision: float
    half_recall: float
    away_precision: float
    away_recall: float
    speech_precision: float
    speech_recall: float
    head_off_deg: float
    turned_precision: float
    turned_recall: float
    people_b_cubed: float
    people_told: float
    hint_precision: float
    hint_recall: float
    moved_recall: float
    motion_precision: float
    elsewhere_precision: float
    motion_off_deg: float
    motion_off_length: float
    untold_precision: float
    untold_recall: float


def measure(folder: Path, every: int = 1) -> Quality:
    """Measure the demo shoot in a folder, or every so many groups of it, in as many processes as
    there are cores."""
    groups = range(1 if every > 1 else 0, len(evening.groups()), every)
    for maker in shoot.make_behind(folder, groups):
        maker.join()
    true = [frame for frame in truth.all_frames() if frame["group"] in groups]
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        paths = [folder / f"{frame['name']}.jpg" for frame in true]
        measured = list(pool.map(of_picture, paths, chunksize=8))
    pair_f1, b_cubed = _grouping(true, measured)
    precision, recall = _softness(true, measured)
    looked = _looked(true, measured)
    return Quality(
        *_verdicts(true, measured, looked),
        pair_f1,
        b_cubed,
        precision,
        recall,
        *_lock(true, measured),
        *of_faces(true, measured),
        *_half_closed(true, looked),
        *of_signs(true, measured),
        *of_heads(true, measured),
        *of_people(true, measured),
        *_hints(true, measured),
        *_hints(true, [replace(frame, focus_point=None) for frame in measured])[:2],
    )


def _lock(true: list[dict[str, Any]], measured: list[Measured]) -> tuple[float, float, float]:
    """Of each group, where the first frame's true subject is found in up to four others of its
    proportions."""
    by_group: dict[int, list[int]] = defaultdict(list)
    for n, frame in enumerate(true):
        if not frame["damaged"]:
            by_group[frame["group"]].append(n)
    asked, off = 0, []
    for members in by_group.values():
        first = measured[members[0]]
        scale = first.gray.shape[1] / first.width
        x, y = (value * scale for value in _place(true[members[0]]))
        for n in members[1:5]:
            if measured[n].gray.shape != first.gray.shape:
                continue
            asked += 1
            place = subject_lock.locate(first.gray, (x, y), measured[n].gray)
            if place.confidence >= subject_lock.SURE:
                true_x, true_y = _place(true[n])
                off.append(np.hypot(place.x / scale - true_x, place.y / scale - true_y))
    distances = np.array(off)
    return len(off) / asked, float((distances < 8).mean()), float(np.median(distances))


def _hints(true: list[dict[str, Any]], measured: list[Measured]) -> tuple[float, ...]:
    """What hints call soft, and by which kind, group by group as they truly are."""
    by_group: dict[int, list[int]] = defaultdict(list)
    for n, frame in enumerate(true):
        if not frame["damaged"]:
            by_group[frame["group"]].append(n)
    looked = []
    for members in by_group.values():
        judged = judge.judge([_seen(measured[n]) for n in members])
        looked += [
            Looked(n, true[n]["group"], true[n]["name"], judged_frame, [], 0)
            for n, judged_frame in zip(members, judged, strict=True)
        ]
    noticed = hints.notice(looked, {})
    named = {
        kind: {
            notice.frame: notice
            for notice in noticed[kind]
            if KINDS[kind].names(notice.figure, KINDS[kind].limit.usual)
        }
        for kind in ("soft", "elsewhere", "motion")
    }
    usual = {
        n: float(np.median([measured[m].brightness_ev for m in members]))
        for members in by_group.values()
        for n in members
    }
    bright = {n for n in usual if measured[n].brightness_ev > usual[n] - _DARK_EV}
    soft = (set(named["soft"]) | set(named["elsewhere"])) & bright
    bad = {n for n in bright if _is_soft(true[n]) and len(by_group[true[n]["group"]]) > 1}
    moved = {n for n in bad if true[n]["motion_px"]}
    shaken = {n for n in bad if true[n]["shake_px"]}
    missed = bad - moved - shaken
    called_moved, called_missed = set(named["motion"]) & bright, set(named["elsewhere"]) & bright
    off_deg, off_length = [], []
    for n in called_moved & (moved | shaken):
        judged_n = next(look.judged for look in looked if look.id == n)
        kind = "shake" if n in shaken else "motion"
        assert judged_n is not None
        assert judged_n.angle is not None
        assert judged_n.length is not None
        off_deg.append(abs((judged_n.angle - true[n][f"{kind}_deg"] + 90) % 180 - 90))
        off_length.append(abs(judged_n.length / true[n][f"{kind}_px"] - 1))
    return (
        len(soft & bad) / len(soft),
        len(soft & (missed | shaken)) / len(missed | shaken),
        len(soft & moved) / len(moved),
        len(called_moved & (moved | shaken)) / len(called_moved),
        len(called_missed & missed) / len(called_missed),
        float(np.median(off_deg)),
        float(np.median(off_length)),
    )


def _by_group(true: list[dict[str, Any]]) -> dict[int, list[int]]:
    by_group: dict[int, list[int]] = defaultdict(list)
    for n, frame in enumerate(true):
        by_group[frame["group"]].append(n)
    return by_group


def _looked(true: list[dict[str, Any]], measured: list[Measured]) -> list[Looked]:
    """What hints and verdicts are made from, group by group as they truly are."""
    looked = []
    for members in _by_group(true).values():
        judged = judge.judge([_seen(measured[n]) for n in members])
        for n, verdict in zip(members, judged, strict=True):
            seen = measured[n]
            ratio = seen.width / seen.height
            counting = [seen.faces[k] for k in faces.counting(seen.faces, ratio)]
            looked.append(
                Looked(
                    n, true[n]["group"], true[n]["name"], verdict, counting, len(seen.faces),
                    brightness_ev=seen.brightness_ev, flash=seen.flash, levels=seen.levels,
                    damaged=true[n]["damaged"], ratio=ratio,
                )
            )  # fmt: skip
    return looked


def _half_closed(true: list[dict[str, Any]], looked: list[Looked]) -> tuple[float, float]:
    """See ``Quality``: of frames; 1 where none is named, or none is there."""
    noticed = hints.notice(looked, {})
    half, closed = (
        {n.frame for n in noticed[kind] if KINDS[kind].names(n.figure, KINDS[kind].limit.usual)}
        for kind in ("half_closed", "eyes_closed")
    )
    there = {
        n
        for n, frame in enumerate(true)
        if not _is_soft(frame) and any(face["eyes"] == "half" for face in frame["faces"])
    }
    precision = len(half & there) / len(half) if half else 1.0
    return precision, len((half | closed) & there) / len(there) if there else 1.0


def _verdicts(
    true: list[dict[str, Any]], measured: list[Measured], looked: list[Looked]
) -> tuple[float, float]:
    """How right the frames are that are called best, and that a draft proposes, group by group as
    they truly are."""
    by_group = _by_group(true)
    verdicts = {verdict.frame: verdict for verdict in hints.verdicts(looked, {})}
    good = {n for n in range(len(true)) if _is_good(true[n])}
    some = {g for g, members in by_group.items() if len(members) > 1 and good & set(members)}
    best = [n for n, verdict in verdicts.items() if verdict.best and true[n]["group"] in some]
    candidates = [
        Candidate(
            n, g, place=verdicts[n].place if n in verdicts else 0,
            best=n in verdicts and verdicts[n].best, usable=n not in verdicts or verdicts[n].usable,
            signature=measured[n].likeness,
        )
        for g, members in by_group.items()
        for n in members
    ]  # fmt: skip
    number = min(_TO_KEEP, round(_TO_KEEP * len(by_group) / len(evening.groups())))
    drafted = draft(sorted(candidates, key=lambda candidate: candidate.group), number)
    kept = [n for proposal in drafted.proposals for n in proposal.keep if proposal.group in some]
    return len(good & set(best)) / len(best), len(good & set(kept)) / len(kept)


def _is_good(frame: dict[str, Any]) -> bool:
    """Sharp, still, whole, lit as it should be, and everybody's eyes open."""
    lit = abs(frame["ev"]) < 0.5 and not frame["damaged"]
    return lit and not _is_soft(frame) and all(face["eyes"] == "open" for face in frame["faces"])


def _seen(measured: Measured) -> Seen:
    counting = faces.counting(measured.faces, measured.width / measured.height)
    return Seen(
        measured.width, measured.height, focus_map.unpack(measured.map_),
        [measured.faces[n] for n in counting], measured.focus_point, lambda: measured.gray,
        measured.close,
    )  # fmt: skip


def _grouping(true: list[dict[str, Any]], measured: list[Measured]) -> tuple[float, float]:
    times = np.array(
        [
            measured_frame.taken_at - frame["clock_ahead_s"]
            for frame, measured_frame in zip(true, measured, strict=True)
        ]
    )
    order = np.argsort(times, kind="stable")
    table = likeness.as_table([measured[n].likeness for n in order])
    distances = likeness.distances_back(table, runs.LOOKS_BACK)
    upright = np.array([true[n]["upright"] for n in order])
    ours = runs.group_numbers(times[order], distances, upright)
    theirs = np.array([true[n]["group"] for n in order])
    return pairwise_f1(ours, theirs), b_cubed_f1(ours, theirs)


def _softness(true: list[dict[str, Any]], measured: list[Measured]) -> tuple[float, float]:
    by_group: dict[int, list[int]] = defaultdict(list)
    for n, frame in enumerate(true):
        if not frame["damaged"]:
            by_group[frame["group"]].append(n)
    named = right = there = 0
    for members in by_group.values():
        if len(members) < 2:
            continue
        usual = float(np.median([measured[n].brightness_ev for n in members]))
        judged = [n for n in members if measured[n].brightness_ev > usual - _DARK_EV]
        places = [_place(true[n]) for n in judged]
        soft = softness.compared(
            [focus_map.unpack(measured[n].map_) for n in judged], places, _radius(true[judged[0]])
        )
        for n, figure in zip(judged, soft, strict=True):
            bad = _is_soft(true[n])
            named += figure > softness.SOFT
            right += bad and figure > softness.SOFT
            there += bad
    return right / named, right / there


def _is_soft(frame: dict[str, Any]) -> bool:
    return bool(frame["blur_px"] > 2 or frame["shake_px"] or frame["motion_px"])


def _place(frame: dict[str, Any]) -> tuple[float, float]:
    x, y = frame["subject"]
    if frame["faces"]:
        top, bottom = frame["faces"][0]["box"][1::2]
        y = (top + bottom) / 2
    return x, y


def _radius(frame: dict[str, Any]) -> float:
    if not frame["faces"]:
        return _SCENE_RADIUS_PX
    left, _, right, _ = frame["faces"][0]["box"]
    return float(right - left)


if __name__ == "__main__":
    measured = measure(Path(sys.argv[1]))
    for field in Quality.__slots__:
        print(f"{field.replace('_', ' '):20} {getattr(measured, field):.3f}")
