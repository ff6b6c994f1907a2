"""Hints: each kind names what it should, says why, and nothing else."""

import math
from dataclasses import replace

import numpy as np
import pytest

from tests.core.test_faces import face
from winnow.core.measure import likeness
from winnow.core.verdict import hints
from winnow.core.verdict.hints import KINDS, Looked, Noticed, half_closed
from winnow.core.verdict.hints.motion import direction_words
from winnow.core.verdict.judge import Judged

SHARP = Judged(0.5, 0.5, "eyes", 100, True, blur=1.0, softer=0.0, of=3, lean=0.05, angle=10,
               length=0.5, elsewhere=0.01, sharpest=0.8, apart=0.0)  # fmt: skip
PORTRAIT = [face(0.5, 0.5, 0.3)]


def signature(seed: int, change: int = 0) -> bytes:
    rng = np.random.default_rng(seed)
    small = rng.integers(0, 255, (6, 9, 3)).astype(np.uint8)
    picture = np.kron(small, np.ones((40, 40, 1), np.uint8))
    picture[:change] = 0
    return likeness.signature(picture)


def looked(id: int, group: int = 0, judged: Judged | None = SHARP, **known: object) -> Looked:
    plain = Looked(
        id, group, f"QH_{id:04d}", judged, faces=PORTRAIT, number_of_faces=1, clipped_high=0.0,
        brightness_ev=0.0, taken_at=id + 0.25, camera="Quillon H2", content_hash=str(id),
        signature=signature(group),
    )  # fmt: skip
    return replace(plain, **known)  # type: ignore[arg-type]


def named(kind: str, *frames: Looked) -> dict[int, Noticed]:
    found = hints.notice(frames, {})[kind]
    return {
        notice.frame: notice
        for notice in found
        if KINDS[kind].names(notice.figure, KINDS[kind].limit.usual)
    }


def test_each_kind_says_what_it_means_and_where_its_threshold_can_be() -> None:
    for kind in KINDS.values():
        assert kind.limit.least <= kind.limit.usual <= kind.limit.most
        assert kind.meaning.endswith(".")


def test_a_good_group_has_no_fault() -> None:
    found = hints.notice([looked(1), looked(2), looked(3)], {})
    for name, noticed in found.items():
        kind = KINDS[name]
        assert not kind.fault or not any(
            kind.names(notice.figure, kind.limit.usual) for notice in noticed
        ), name


def test_soft_says_how_much_softer_and_where() -> None:
    soft = replace(SHARP, softer=float(np.log(2)), blur=2.0)
    found = named("soft", looked(1), looked(2, judged=soft), looked(3))
    assert list(found) == [2]
    assert found[2].figure == pytest.approx(100)
    assert found[2].words == "1.0 px softer at the eyes than the sharpest of 3"
    # A third more of very little is seen by nobody.
    fine = replace(SHARP, softer=float(np.log(1.35)), blur=0.5)
    assert not hints.notice([looked(1), looked(2, judged=fine)], {})["soft"]
    gone = replace(SHARP, softer=float("inf"), blur=None)
    assert "too soft at the eyes" in named("soft", looked(1), looked(2, judged=gone))[2].words


def test_motion_and_focus_elsewhere_exclude_each_other() -> None:
    shaken = replace(SHARP, softer=0.8, lean=0.6, angle=30, length=12.0)
    missed = replace(SHARP, softer=0.8, lean=0.5, angle=0, length=9.0, elsewhere=0.3)
    frames = (
        looked(1, shutter_s=1 / 15, focal_mm=85), looked(2, judged=shaken, shutter_s=1 / 15,
        focal_mm=85),
        looked(3, judged=missed),
    )  # fmt: skip
    moved = named("motion", *frames)
    assert list(moved) == [2]
    assert moved[2].words == (
        "moved about 12 px falling to the right; 1/15 s is long for 85 mm by hand"
    )
    assert list(named("elsewhere", *frames)) == [3]


def test_directions_in_words() -> None:
    assert [direction_words(a) for a in (0, 45, 90, 135, 170, 180)] == [
        "sideways", "falling to the right", "up and down", "rising to the right", "sideways",
        "sideways",
    ]  # fmt: skip


def test_soft_all_over_is_absolute() -> None:
    frames = looked(1), looked(2, judged=replace(SHARP, sharpest=4.0)), looked(3, judged=None)
    assert list(named("blurred", *frames)) == [2]


def test_closed_and_soft_eyes() -> None:
    blinking = [face(0.3, 0.5, 0.3), face(0.7, 0.5, 0.3, gap=0.08)]
    found = named("eyes_closed", looked(1), looked(2, faces=blinking), looked(3, faces=[]))
    assert {frame: n.words for frame, n in found.items()} == {
        2: "1 of 2 faces; lids 8 % of the eye’s width apart"
    }


def test_soft_eyes_are_those_of_the_verdict() -> None:
    at_face = PORTRAIT[0].between_eyes
    sharp = replace(SHARP, x=at_face[0], y=at_face[1], blur=1.0)
    soft = replace(sharp, blur=2.4)
    found = named("soft_eyes", looked(1, judged=sharp), looked(2, judged=soft))
    assert {frame: noticed.words for frame, noticed in found.items()} == {
        2: "the sharpest eye has 2.4 px"
    }
    # One pair of sharp eyes is enough: this one is a third as blurred as the judged one.
    beside = face(0.2, 0.5, 0.3, blur=(PORTRAIT[0].blur or 1) / 3)
    assert not named("soft_eyes", looked(1, judged=soft, faces=[*PORTRAIT, beside]))
    # Of what was judged elsewhere nothing is said.
    elsewhere = replace(soft, at="sharpest part")
    assert not hints.notice([looked(1, judged=elsewhere)], {})["soft_eyes"]
    assert not hints.notice([looked(1, judged=replace(soft, x=0.05))], {})["soft_eyes"]


def test_exposure() -> None:
    assert list(named("clipped", looked(1), looked(2, clipped_high=0.08))) == [2]
    flashed = [looked(n, flash=True, brightness_ev=0.1) for n in (1, 2, 3)]
    found = named("dark", *flashed, looked(4, flash=False, brightness_ev=-3.0))
    assert found[4].words == "3.1 EV darker than its group; the others had a flash"
    assert list(found) == [4]


def test_no_face_in_a_group_of_people() -> None:
    walked_through = looked(3, faces=[], number_of_faces=0)
    found = named("no_face", looked(1), looked(2), walked_through, looked(4))
    assert found[3].words == "no face found; 3 of the other 3 of its group show one"
    # Not in a group of things, and not before faces were looked for.
    things = [looked(n, faces=[], number_of_faces=0) for n in (1, 2, 3)]
    assert not named("no_face", *things)
    assert not named("no_face", looked(1), replace(walked_through, faces=None))


def test_alone() -> None:
    frames = [looked(1, 0), looked(2, 0), looked(3, 1), looked(4, 2, signature=signature(1, 8))]
    found = named("alone", *frames, looked(5, 3, signature=signature(7)))
    assert list(found) == [5]


def test_copies_by_content_and_by_moment() -> None:
    original = looked(1, content_hash="same", taken_at=5.0)
    copied = looked(2, content_hash="same", taken_at=5.0, name="QH_0001 (copy)")
    saved_again = looked(3, taken_at=9.5, signature=signature(0))
    first = looked(4, taken_at=9.5, signature=signature(0))
    found = named("copy", copied, original, first, saved_again)
    assert found[2].words == "the same file content as QH_0001"
    assert found[3].words == "the same exposure as QH_0004"
    assert set(found) == {2, 3}
    # A burst whose clock tells whole seconds is no set of copies.
    burst = [looked(n, taken_at=7.0, signature=signature(0, 4 * n)) for n in range(5, 9)]
    assert not named("copy", *burst)


def test_the_best_of_a_group_with_its_reasons() -> None:
    closed = looked(1, faces=[face(0.5, 0.5, 0.3, gap=0.05)])
    soft = looked(2, judged=replace(SHARP, softer=0.5, blur=1.7))
    best = looked(3)
    found = named("best", closed, soft, best)
    assert found[3].words == "best of 3: eyes open, among the sharpest"
    assert list(found) == [3]
    softer = looked(4, judged=replace(SHARP, softer=0.6, blur=1.9))
    assert named("best", soft, best, softer)[3].words == "best of 3: sharper by 0.7 px"
    assert hints.in_order([closed, softer, soft, best], hints.Shoot()) == [3, 2, 4, 1]


def test_what_is_counted_follows_the_threshold_that_was_moved() -> None:
    narrow = [face(0.3, 0.5, 0.3, gap=0.19), face(0.7, 0.5, 0.3, gap=0.4)]
    moved = {"eyes_closed": 20.0}
    group = [looked(1, faces=narrow), looked(2), looked(3)]
    found = {
        kind: {notice.frame: notice.words for notice in all_}
        for kind, all_ in hints.notice(group, moved).items()
    }
    assert found["eyes_closed"][1].startswith("1 of 2 faces")
    assert found["best"][2].startswith("best of 3: eyes open")
    assert hints.notice(group, {})["best"][0].words == "best of 3: eyes open, tied with 1 other"
    assert hints.notice(group[1:], {})["best"][0].words == "as good as the other one"


def test_ties_are_said_to_be_ties() -> None:
    also = looked(2, judged=replace(SHARP, softer=0.03, blur=1.03))
    soft = looked(3, judged=replace(SHARP, softer=0.5, blur=1.7))
    found = named("best", looked(1), also, soft)
    assert found[1].words == "best of 3: sharper by 0.7 px, tied with 1 other"
    assert found[1].figure == found[2].figure == 2
    # Where nobody can tell them apart, that is said.
    assert named("best", looked(1), also)[2].words == "as good as the other one"
    # A difference of less than anybody sees on the screen is none, whatever share of the blur it
    # is.
    hair = looked(2, judged=replace(SHARP, softer=0.2, blur=0.3), group=1)
    thin = looked(1, judged=replace(SHARP, softer=0.0, blur=0.25), group=1)
    assert set(named("best", thin, hair)) == {1, 2}


def test_what_cannot_be_used_is_never_the_best() -> None:
    good = looked(1, judged=replace(SHARP, softer=0.4, blur=1.5))
    no_edge = looked(2, judged=replace(SHARP, softer=None, blur=None, state="no edge"))
    smear = looked(3, judged=replace(SHARP, sharpest=4.0))
    damaged = looked(4, damaged=True)
    assert named("best", good, no_edge, smear, damaged)[1].words == (
        "best of 4: the others can’t be used"
    )
    # Without one that can be used there is no best.
    assert not named("best", no_edge, smear, damaged)


def test_a_flash_that_did_not_fire_is_not_made_up_for_by_open_eyes() -> None:
    closed = [looked(n, flash=True, faces=[face(0.5, 0.5, 0.3, gap=0.05)]) for n in (1, 2, 3)]
    lit = [replace(look, brightness_ev=0.0) for look in closed]
    unlit = looked(4, flash=False, brightness_ev=-1.2)
    assert set(named("dark", *lit, unlit)) == {4}
    assert 4 not in named("best", *lit, unlit)


def test_eyes_that_are_less_open_than_usual_come_after_open_ones() -> None:
    def person(n: int, gap: float) -> Looked:
        return looked(n, faces=[face(0.5, 0.5, 0.3, gap=gap)])

    group = [person(1, 0.3), person(2, 0.31), person(3, 0.21), person(4, 0.28)]
    found = {verdict.frame: verdict for verdict in hints.verdicts(group, {})}
    assert found[3].words == "not the best: eyes less open"
    assert [n for n, verdict in found.items() if verdict.best] == [1, 2, 4]
    # The same is a hint of its own, with what is usual of the person.
    assert named("half_closed", *group)[3].words == "eyes 69 % as open as usual"
    assert len(named("half_closed", *group)) == 1
    # Of somebody whose eyes are narrow in all frames nothing is said.
    narrow = [person(n, gap) for n, gap in ((1, 0.2), (2, 0.21), (3, 0.19))]
    assert all(verdict.best for verdict in hints.verdicts(narrow, {}))
    assert not named("half_closed", *narrow)


def test_eyes_that_cannot_be_seen_well_are_never_half_closed() -> None:
    def person(n: int, gap: float, judged: Judged = SHARP) -> Looked:
        return looked(n, judged=judged, faces=[face(0.5, 0.5, 0.3, gap=gap)])

    others = [person(1, 0.3), person(2, 0.31), person(3, 0.3)]
    assert named("half_closed", *others, person(4, 0.21)).keys() == {4}
    # Closed ones are another kind; a smear over the lids looks like a narrow eye.
    assert not named("half_closed", *others, person(4, 0.1))
    assert not named("half_closed", *others, person(4, 0.21, replace(SHARP, moved=True)))
    soft = replace(SHARP, at="eyes", x=0.5, y=0.5, blur=4.0)
    assert not named("half_closed", *others, person(4, 0.21, soft))
    # Two faces don't say what is usual.
    assert not named("half_closed", person(1, 0.31), person(4, 0.21))


def test_how_open_eyes_are_is_by_what_three_quarters_of_the_faces_are_below() -> None:
    shares = half_closed.shares_in([0.2, 0.4, None, 0.4, 0.1, 0.4], [None] * 6, 0.175)
    assert shares == [0.5, 1.0, None, 1.0, None, 1.0]
    blurred = half_closed.shares_in([0.2, 0.4, 0.4, 0.4], [1.6, 1.0, 1.5, math.inf], 0.175)
    assert blurred == [None, 1.0, 1.0, None]


def test_who_looks_away_or_speaks_comes_after_who_does_not_and_before_sharpness() -> None:
    def person(n: int, blur: float, lips: float = 0.02, gaze: float = 0.01) -> Looked:
        at = replace(SHARP, blur=blur, softer=float(np.log(blur)))
        seen = replace(face(0.5, 0.5, 0.3), mouth=(lips, 0.6), gaze=gaze)
        return looked(n, judged=at, faces=[seen])

    group = [person(1, 1.0, gaze=-0.2), person(2, 1.4), person(3, 1.0, lips=0.2)]
    found = {verdict.frame: verdict for verdict in hints.verdicts(group, {})}
    assert (found[2].best, found[2].place) == (True, 1)
    assert "looks at the camera" in found[2].words
    assert "mouth closed" in found[2].words
    assert "looking away" in found[1].words
    assert "mid-speech" in found[3].words
    assert all(verdict.usable for verdict in found.values())
    assert named("gaze", *group)[1].words == "looks 20 % of the eye’s width beside the camera"
    assert named("speech", *group)[3].words == "lips 20 % of the mouth’s width apart"
    # Closed eyes come before: a frame with them is never preferred for its mouth.
    shut = replace(group[1], faces=[face(0.5, 0.5, 0.3, gap=0.05)])
    found = {verdict.frame: verdict for verdict in hints.verdicts([group[0], shut], {})}
    assert found[1].best


def test_of_frames_that_are_as_good_the_one_that_smiles_is_best() -> None:
    def person(n: int, smile: tuple[float, float], blur: float = 1.0) -> Looked:
        at = replace(SHARP, blur=blur, softer=float(np.log(blur)))
        return looked(n, judged=at, faces=[replace(face(0.5, 0.5, 0.3), smile=smile)])

    group = [person(1, (0.0, 0.5)), person(2, (1.0, 0.8)), person(3, (1.0, 0.8), blur=1.5)]
    found = {verdict.frame: verdict for verdict in hints.verdicts(group, {})}
    assert [found[n].best for n in (1, 2, 3)] == [False, True, False]
    assert found[2].words == "best of 3: smiles, among the sharpest"
    assert found[1].words == "not the best: smiles less"
    # Where it can't be told, nobody is put behind for it.
    between = [person(1, (1.0, 0.5)), person(2, (1.0, 0.8))]
    assert all(verdict.best for verdict in hints.verdicts(between, {}))


def test_a_brighter_frame_is_named_and_comes_after_what_is_as_sharp() -> None:
    usual = [looked(n, levels=(-3.0, -2.0, -1.0, 0.0, 1.0), brightness_ev=0.0) for n in (1, 2, 3)]
    # What the upper end clips says nothing: the rest is 1.5 EV brighter.
    over = looked(4, levels=(-1.5, -0.5, 0.5, 1.5, 2.45), brightness_ev=0.9)
    found = named("bright", *usual, over)
    assert found[4].words == "1.5 EV brighter than its group"
    assert list(found) == [4]
    assert hints.in_order([*usual, over], hints.Shoot())[-1] == 4


def test_a_series_of_exposures_is_no_fault() -> None:
    levels = (-3.0, -2.0, -1.0, 0.0, 1.0)
    series = [
        looked(
            n, taken_at=float(n), shutter_s=shutter, aperture=5.6, iso=200, brightness_ev=ev,
            levels=tuple(level + ev for level in levels),
        )
        for n, shutter, ev in ((1, 1 / 400, 0.0), (2, 1 / 1300, -1.7), (3, 1 / 123, 1.7))
    ]  # fmt: skip
    assert not named("bright", *series)
    assert not named("dark", *series)
    # The one in the middle is the best of them.
    assert list(named("best", *series)) == [1]
    # A long pause parts it, and other settings without even steps are no series.
    late = replace(series[2], taken_at=20.0)
    assert set(named("bright", *series[:2], late)) == {3}
    uneven = replace(series[2], shutter_s=1 / 200)
    assert set(named("bright", *series[:2], uneven)) == {3}


def test_what_no_threshold_could_name_is_left_out() -> None:
    found = hints.notice([looked(1), looked(2, judged=replace(SHARP, softer=0.05)), looked(3)], {})
    assert found["soft"] == []
    assert found["eyes_closed"] == []
    assert KINDS["eyes_closed"].can_name(25)
    assert not KINDS["eyes_closed"].can_name(26)


def test_moving_a_threshold_names_more_or_fewer() -> None:
    kind = KINDS["eyes_closed"]
    assert kind.names(10, 16.5)
    assert kind.names(16.5, 16.5)
    assert not kind.names(17, 16.5)
    assert KINDS["soft"].names(30, 30)
    assert not KINDS["soft"].names(29.9, 30)


def test_another_picture_under_a_marked_name_is_told_from_an_edited_one() -> None:
    was = signature(7)
    edited = looked(1, before=(1.25, signature(3)))
    assert named("replaced", edited) == {}, "taken at the same moment"
    clock_set = looked(2, group=7, before=(99.0, was))
    assert named("replaced", clock_set) == {}, "the same picture with another time"
    other = looked(3, group=8, before=(99.0, was))
    (found,) = named("replaced", other).values()
    assert found.words.startswith("another picture had this name")
    undated = looked(4, group=8, taken_at=None, before=(None, was))
    assert list(named("replaced", undated)) == [4]
    assert named("replaced", looked(5)) == {}
