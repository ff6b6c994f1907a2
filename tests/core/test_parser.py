"""The written form of filters: read, said in words, and refused with the place."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.holding import holds
from winnow.core.filters.condition_words import in_words
from winnow.core.filters.conditions import All, Any_, Between, Compare, Condition, Flag, Not
from winnow.core.filters.parser import WrittenError, parse

LABELS = {"R": "Retouch", "A": "Album"}
FACTS = {
    "title": "", "caption": "Dusk at the quay", "keywords": "quay\nblue hour", "creators": "",
    "rights": "",
    "place": "", "instructions": "", "delivered": False, "held": False,
    "stars": 3, "decision": "pick", "label": "A", "iso": 1600, "aperture": 2.8, "focal_mm": 85.0,
    "shutter_s": 1 / 250, "blur_px": 0.8, "time_s": 19 * 3600 + 30 * 60 + 12, "name": "QH2_0412",
    "camera": "Quillon H2", "lens": None, "kind": "raw + JPEG", "flash": None, "width": 3,
    "height": 2,
}  # fmt: skip


@pytest.mark.parametrize(
    ("text", "condition", "words"),
    [
        ("pick", Flag("pick"), "picks"),
        ("stars>=2", Compare("stars", ">=", 2), "from 2 stars"),
        ("ISO 800..3200", Between("iso", 800, 3200), "ISO 800 to 3200"),
        ("iso 3200..800", Between("iso", 800, 3200), "ISO 800 to 3200"),
        ("f < 2.8", Compare("f", "<", 2.8), "aperture under f/2.8"),
        ("shutter<1/250", Compare("shutter", "<", 1 / 250), "shutter under 1/250 s"),
        ("time 19:00..20:30", Between("time", 68400, 73800), "taken 19:00 to 20:30"),
        ("label album", Compare("label", "=", "A"), "label Album"),
        ("label none", Compare("label", "=", ""), "no label"),
        ("camera Quillon", Compare("camera", "~", "Quillon"), "camera with “Quillon”"),
        ('camera = "Quillon H2"', Compare("camera", "=", "Quillon H2"), "camera “Quillon H2”"),
        ("QH2_04", Compare("text", "~", "QH2_04"), "any text with “QH2_04”"),
        ('name "5"" frame"', Compare("name", "~", '5" frame'), 'name with “5" frame”'),
        ('"not"', Compare("text", "~", "not"), "any text with “not”"),
        (
            "pick, not flash",
            All((Flag("pick"), Not(Flag("flash")))),
            "picks, not with flash",
        ),
        (
            "(upright or wide) and mm≥85",
            All((Any_((Flag("upright"), Flag("wide"))), Compare("mm", ">=", 85))),
            "(upright or wider than high), focal length from 85 mm",
        ),
    ],
)
def test_what_is_typed_is_read_and_said(text: str, condition: Condition, words: str) -> None:
    assert parse(text, LABELS) == condition
    assert in_words(condition, LABELS) == words


@pytest.mark.parametrize(
    ("text", "words", "at"),
    [
        ("pick isoo>800", "Did you mean “iso”", 5),
        ("pick (flash", "not closed", 5),
        ("pick)", "no bracket", 4),
        ("iso", "What should iso be", 0),
        ("iso>", "What should iso be", 0),
        ("iso fast", "no number", 4),
        ("time 25:00", "no time of day", 5),
        ("pick or", "missing at the end", 7),
        ("or pick", "missing before", 0),
        ("label alpum", "no label “alpum”", 6),
        ("label>A", "says nothing about label", 5),
        ("camera<x", "says nothing about camera", 6),
        ("iso 800..", "Up to what iso", 7),
        ("iso>800..900", "A range needs no", 7),
        ('name "QH', "quotes are not closed", 5),
        ("shutter 1/0", "no number", 8),
        ("(" * 40 + "pick", "nested too deeply", 21),
        ("a" * 501, "too long", 500),
        ("caption>a", "says nothing about caption", 7),
        ("stars>2 rejected", "Write “reject”", 8),
        ("picks", "Write “pick”", 0),
    ],
)
def test_mistakes_are_shown_where_they_are(text: str, words: str, at: int) -> None:
    with pytest.raises(WrittenError, match=words) as caught:
        parse(text, LABELS)
    assert caught.value.at == at
    assert caught.value.until > at or not text[at:]


@pytest.mark.parametrize(
    ("text", "passes"),
    [
        ("", None),
        ("stars 3 iso 1600 mm 85 f 2.8 shutter 1/250 label A", True),
        ("stars>3 or iso>1600", False),
        ("f<2.8", False),
        ("time 19:30", True),
        ("time 19:00..19:30", False),
        ("time 22:00..20:00", True),
        ("lens prime", False),
        ("not lens prime", True),
        ("type raw not flash wide", True),
        ("qh2 camera quillon", True),
        ("undecided", False),
        ('keyword="Blue hour" QUAY not title=quay', True),
        ("keyword=blue", False),
        ("title none caption dusk", True),
        ("delivered or keyword none", False),
        ('"rejected"', False),
        ("rejection", False),
    ],
)
def test_what_passes(text: str, passes: bool | None) -> None:
    condition = parse(text, LABELS)
    assert (condition and holds(condition, FACTS)) == passes


@given(st.text(st.sampled_from(list('pickiso flash"()<>=~.,not or 1/8:')), max_size=30))
def test_anything_typed_is_read_or_refused_in_words(text: str) -> None:
    wrong = None
    try:
        condition = parse(text, LABELS)
    except WrittenError as error:
        wrong = error
    if wrong is None:
        assert condition is None or in_words(condition, LABELS)
    else:
        assert str(wrong).endswith((".", "?"))
        assert 0 <= wrong.at <= len(text)
