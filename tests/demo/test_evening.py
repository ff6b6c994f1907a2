"""The demo's evening: what a photographer would bring home, and what is true of it."""

import json
from collections import Counter
from pathlib import Path

import pytest

from winnow.core.labels import STANDARD_SET
from winnow.demo import evening, masters, truth

FRAMES = list(evening.frames())
GROUPS = evening.groups()
TRUE = truth.all_frames()
KEPT = Path(__file__).parent / "truth.json"


def test_size_of_the_shoot() -> None:
    assert 230 <= len(FRAMES) <= 280
    assert 43 <= len(GROUPS) <= 50
    sizes = Counter(len(group.takes) for group in GROUPS)
    assert min(sizes) == 1
    assert 10 <= max(sizes) <= 14
    assert sizes[1] >= 3


def test_the_evening_is_in_order_on_each_camera() -> None:
    for camera in (evening.FIRST, evening.SECOND):
        times = [f.taken_at for f in FRAMES if GROUPS[f.group].camera is camera]
        assert times == sorted(times)
        assert len(set(times)) == len(times)


def test_the_second_clock_is_ahead() -> None:
    index = next(i for i, g in enumerate(GROUPS) if g.camera is evening.SECOND)
    first = next(f for f in FRAMES if f.group == index)
    hours, minutes, seconds = map(int, GROUPS[index].clock.split(":"))
    said = first.taken_at % 86400
    assert said - (hours * 3600 + minutes * 60 + seconds) == pytest.approx(47, abs=0.5)


def test_names_go_over_the_turn_and_none_comes_twice() -> None:
    names = [f.name for f in FRAMES]
    assert len(set(names)) == len(names)
    assert names.index("QH2_0001") > names.index("QH2_9999")


def test_scenes_are_many_and_large() -> None:
    scenes = {g.scene for g in GROUPS if not g.people}
    people = {stand.person.removesuffix("_turned") for g in GROUPS for stand in g.people}
    assert len(scenes) + len(people) >= 14
    assert len(people) >= 5
    for name in scenes - {"behind_water"}:
        assert max(masters.facts()[name]["size"]) >= 2400
    assert {len(g.people) for g in GROUPS} >= {1, 2, 3}


def test_every_kind_of_trouble_is_in_it() -> None:
    takes = [take for group in GROUPS for take in group.takes]
    looks = {look for take in takes for look in take.looks}
    assert {"half", "closed", "past", "talking"} <= looks
    assert sum(t.shake[0] > 0 for t in takes) >= 15
    assert len({round(t.shake[1] / 45) for t in takes if t.shake[0]}) >= 4
    assert sum(t.motion[0] > 0 for t in takes) >= 5
    assert sum(t.focus_m is not None for t in takes) >= 30
    assert any(group.upright for group in GROUPS)
    with_flash = [g for g in GROUPS if any(t.flash for t in g.takes)]
    assert with_flash
    assert any(not t.flash for t in with_flash[0].takes)
    brackets = [g for g in GROUPS if sorted(round(t.ev) for t in g.takes) == [-2, 0, 2]]
    assert len(brackets) >= 2


def test_a_longer_exposure_where_there_is_shake() -> None:
    for group in GROUPS:
        for take in group.takes:
            assert (take.longer > 1) == (take.shake[0] > 0)


def test_meanings_fit_the_label_set() -> None:
    assert set(evening.LABELS) == {label.letter for label in STANDARD_SET}


def test_truth_file_is_what_the_plan_says() -> None:
    """Run ``python -m winnow.demo.truth > tests/demo/truth.json`` after changing the plan."""
    assert json.loads(KEPT.read_text()) == TRUE


def test_blur_is_true_to_focus() -> None:
    for frame in TRUE:
        on_subject = abs(frame["focus_m"] - frame["subject_m"]) < 0.02
        assert (frame["blur_px"] < 0.5) == on_subject, frame["name"]


def test_faces_are_inside_their_frames() -> None:
    faces = [(frame, face) for frame in TRUE for face in frame["faces"]]
    assert len(faces) > 100
    for frame, face in faces:
        w, h = (1280, 1920) if frame["upright"] else (1920, 1280)
        left, top, right, bottom = face["box"]
        assert 0 < left < right < w
        assert 0 < top < bottom < h
        assert 110 < right - left < 370
        assert all(left < x < right and top < y < bottom for x, y in face["eye_points"])


def test_masters_are_small_enough_to_ship() -> None:
    total = sum(path.stat().st_size for path in masters.FOLDER.iterdir())
    assert total < 60_000_000
