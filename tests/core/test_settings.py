"""Settings: what was stored counts, what is not known any more does not."""

from winnow.core.settings import AfterMarks, LastBringIn, Settings, from_stored


def test_what_was_stored_is_taken_over_what_is_usual() -> None:
    stored = {
        "row_height": 240,
        "after": {"decision": "next_group", "stars": "next", "gone": 1},
        "bring_in": {"target": "/pictures", "second": "", "template": "{year}"},
        "label_texts": {"Best": "A"},
        "a setting of an older Winnow": True,
    }
    found = from_stored(stored)
    assert found == Settings(
        row_height=240,
        after=AfterMarks("next_group", "next"),
        bring_in=LastBringIn("/pictures", "", "{year}"),
        label_texts={"Best": "A"},
    )
    assert from_stored({}) == Settings()
