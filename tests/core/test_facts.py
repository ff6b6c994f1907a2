"""Facts in words: one way to tell a value, wherever it stands."""

from __future__ import annotations

import pytest

from winnow.core.facts import STATED, TABLE, Value, told, told_alone


@pytest.mark.parametrize(
    ("fact", "value", "words"),
    [
        ("shutter", 1 / 250, "1/250 s"),
        ("shutter", 0.5, "0.5 s"),
        ("shutter", 30, "30 s"),
        ("f", 2.8, "f/2.8"),
        ("f", 1.75, "f/1.75"),
        ("f", 8, "f/8"),
        ("mm", 84.93, "84.9 mm"),
        ("iso", 12800, "12800"),
        ("bias", -2 / 3, "−0.67 EV"),
        ("bias", 1.0, "+1 EV"),
        ("bias", 0.0, "0 EV"),
        ("flash", True, "flash fired"),
        ("flash", False, "no flash"),
        ("camera", "Quillon H2", "Quillon H2"),
    ],
)
def test_a_value_is_told(fact: str, value: Value, words: str) -> None:
    assert told(fact, value) == words


def test_the_line_of_the_exposure_names_what_its_unit_does_not() -> None:
    values: dict[str, Value] = {"shutter": 1 / 60, "f": 4, "iso": 800, "mm": 85, "flash": True}
    line = [told_alone(fact.name, values[fact.name]) for fact in STATED if fact.alone]
    assert line == ["1/60 s", "f/4", "ISO 800", "85 mm", "flash fired"]


def test_each_fact_stands_once() -> None:
    words = [fact.name for fact in TABLE] + [flag for fact in TABLE for flag in fact.flags]
    # A fact of one flag is asked for by that flag.
    alone = {fact.name for fact in TABLE if list(fact.flags) == [fact.name]}
    assert sorted(words) == sorted([*set(words), *alone])


def test_what_serial_numbers_say_is_not_for_guests() -> None:
    assert {fact.name for fact in TABLE if fact.private} == {"serial", "lensserial"}
