"""Texts: as they are kept, edits of many frames, fields in braces."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.files.texts import (
    FIELDS,
    FILLED,
    FillError,
    TextEdit,
    Texts,
    TextStep,
    as_dict,
    cleaned,
    filled,
    filled_edit,
    fold,
    from_dict,
    sentence_for,
)


def test_texts_are_kept_without_what_xml_can_not_hold() -> None:
    kept = cleaned(Texts(" A\x00b\r\nc ", keywords=("quay ", "", "quay", "two\n words", "\x0b")))
    assert kept == Texts("Ab\nc", keywords=("quay", "two words"))


@given(
    st.builds(Texts, title=st.text(), caption=st.text(), keywords=st.lists(st.text()).map(tuple))
)
def test_cleaning_twice_changes_nothing_more(texts: Texts) -> None:
    once = cleaned(texts)
    assert cleaned(once) == once
    assert from_dict(as_dict(once)) == once


def test_the_names_are_those_of_the_iptc_core_schema() -> None:
    """IPTC Photo Metadata Standard 2023.2, IPTC Core: property names and XMP properties."""
    assert {field.iptc: field.prop for field in FIELDS.values()} == {
        "Title": "dc:title",
        "Description": "dc:description",
        "Keywords": "dc:subject",
        "Creator": "dc:creator",
        "Copyright Notice": "dc:rights",
        "Sublocation": "Iptc4xmpCore:Location",
        "City": "photoshop:City",
        "Province or State": "photoshop:State",
        "Country": "photoshop:Country",
        "Instructions": "photoshop:Instructions",
    }


def test_keywords_are_added_and_taken_away_beside_each_frames_own() -> None:
    edit = TextEdit({"city": "Holm"}, add=("Quay", "dusk"), remove=("BOAT",))
    assert edit.applied_to(Texts(keywords=("boat", "quay", "own"))) == Texts(
        keywords=("quay", "own", "dusk"), city="Holm"
    )


@pytest.mark.parametrize(
    ("one", "other"), [("Café", "CAFE"), ("Straße", "STRASSE"), ("ﬁsh", "fish"), ("Ünï", "uni")]
)
def test_texts_are_found_without_case_and_accents(one: str, other: str) -> None:
    assert fold(one) == fold(other)


def test_fields_in_braces() -> None:
    values = {"name": "QH_1", "city": "Holm"}
    assert filled("{name} in {city}, {{so}} {lens}.", values) == "QH_1 in Holm, {so} ."
    edit = filled_edit(TextEdit({"title": "{name}", "creators": ("{city}",)}, ("{name}",)), values)
    assert (edit.put, edit.add) == ({"title": "QH_1", "creators": ("Holm",)}, ("QH_1",))
    with pytest.raises(FillError, match=r"no field \{nmae\}"):
        filled("{nmae}", values)
    with pytest.raises(FillError, match="stands alone"):
        filled("a } b", values)
    assert set(FIELDS) < set(FILLED)


def test_a_change_is_said_in_words() -> None:
    step = TextStep(1, Texts(), Texts(caption="x", keywords=("y",)))
    assert sentence_for([step], {1: "QH_1"}) == "caption and keywords of QH_1"
    many = [step, TextStep(2, Texts("a"), Texts("b"))]
    assert sentence_for(many, {}) == "title, caption and keywords of 2 frames"
