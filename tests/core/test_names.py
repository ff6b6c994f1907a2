"""Names for copies never clash."""

import unicodedata

from hypothesis import given
from hypothesis import strategies as st

from winnow.core.files.names import clash_key, free_names


def test_files_of_one_frame_keep_a_common_stem() -> None:
    assert free_names([("a.jpg", "a.dng", "a.xmp")], ["A.DNG"]) == [
        ("a-2.jpg", "a-2.dng", "a-2.xmp")
    ]


def test_a_sidecar_named_after_its_file_follows_it() -> None:
    assert free_names([("a.jpg", "a.jpg.xmp")], ["a.jpg"]) == [("a-2.jpg", "a-2.jpg.xmp")]


def test_two_frames_of_one_name_and_one_without_ending() -> None:
    assert free_names([("a.jpg",), ("a.jpg",), ("b",), ("b",)], []) == [
        ("a.jpg",), ("a-2.jpg",), ("b",), ("b-2",),
    ]  # fmt: skip


def test_unicode_forms_of_one_name_clash() -> None:
    composed, decomposed = (unicodedata.normalize(form, "É.jpg") for form in ("NFC", "NFD"))
    assert free_names([(composed,), (decomposed,)], []) != [(composed,), (decomposed,)]


names = st.text(st.sampled_from("aAäÄß.2-"), min_size=1, max_size=5)


@given(st.lists(names.map(lambda n: (f"{n}.jpg", f"{n}.dng"))), st.lists(names))
def test_no_two_names_clash(wanted: list[tuple[str, ...]], taken: list[str]) -> None:
    given_names = [name for frame in free_names(wanted, taken) for name in frame]
    keys = [clash_key(name) for name in given_names]
    assert len(set(keys)) == len(keys)
    assert not set(keys) & {clash_key(name) for name in taken}
