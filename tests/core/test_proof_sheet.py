"""Where pictures stand on paper."""

from itertools import combinations, pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.deliver.proof_sheet import (
    FOOTER_MM,
    HEADER_MM,
    MARGIN_MM,
    PAPERS,
    UNDER,
    LayoutError,
    SheetLayout,
    lines_under,
    pages,
    row_height,
)


def test_paper_sizes_are_those_of_the_standards() -> None:
    """ISO 216:2007 for the A series: sides in the ratio of the square root of 2, each size half of
    the one before; ANSI/ASME Y14.1: Letter is 8.5 x 11 in (size A), Tabloid 11 x 17 in (size B).
    Legal, 8.5 x 14 in, is common practice."""
    assert PAPERS["A4"] == (210, 297)
    assert PAPERS["A3"] == (297, 420)
    assert PAPERS["A5"] == (148, 210)
    for name in ("A3", "A4", "A5"):
        width, height = PAPERS[name]
        assert height / width == pytest.approx(2**0.5, rel=0.005)
    for name, (width, height) in {
        "Letter": (8.5, 11),
        "Legal": (8.5, 14),
        "Tabloid": (11, 17),
    }.items():
        assert PAPERS[name] == pytest.approx((width * 25.4, height * 25.4))  # type: ignore[index]


def test_frames_fill_pages_row_by_row() -> None:
    made = pages(SheetLayout(rows=5), [(3, 2)] * 17)
    assert [len(page) for page in made] == [15, 2]
    first = made[0]
    assert [placed.index for placed in first] == list(range(15))
    assert first[0].picture.y == first[2].picture.y < first[3].picture.y
    assert first[0].picture.x < first[1].picture.x < first[2].picture.x
    # A full row reaches from margin to margin; one that is not full keeps its height.
    assert first[2].picture.x + first[2].picture.width == pytest.approx(210 - MARGIN_MM)
    assert made[1][1].picture.height == pytest.approx(row_height(SheetLayout(rows=5)))


def test_more_rows_make_smaller_pictures() -> None:
    heights = [row_height(SheetLayout(rows=rows)) for rows in range(1, 10)]
    assert heights == sorted(heights, reverse=True)
    assert len(pages(SheetLayout(rows=8), [(3, 2)] * 40)[0]) == 40


@given(
    st.sampled_from(sorted(PAPERS)),
    st.booleans(),
    st.integers(1, 10),
    st.lists(st.tuples(st.integers(1, 9000), st.integers(1, 9000)), min_size=1, max_size=40),
    st.sets(st.sampled_from(sorted(UNDER))),
)
def test_nothing_leaves_the_page_or_meets_another(
    paper: str,
    landscape: bool,
    rows: int,
    sizes: list[tuple[int, int]],
    under: set[str],
) -> None:
    layout = SheetLayout(paper, landscape, rows, tuple(under))  # type: ignore[arg-type]
    try:
        made = pages(layout, sizes)
    except LayoutError:
        assert rows > 4
        return
    width, height = layout.size
    assert sum(len(page) for page in made) == len(sizes)
    for page in made:
        boxes = []
        for placed in page:
            box, words = placed.picture, placed.words
            assert box.x >= MARGIN_MM - 1e-9
            assert box.x + box.width <= width - MARGIN_MM + 1e-9
            assert box.y >= MARGIN_MM + HEADER_MM - 1e-9
            assert words.y + words.height <= height - MARGIN_MM - FOOTER_MM + 1
            assert box.y + box.height <= words.y + 1e-9
            own = sizes[placed.index]
            assert box.width / box.height == pytest.approx(own[0] / own[1], rel=1e-6)
            boxes.append((box.x, box.y, box.x + box.width, box.y + box.height))
        for one, other in combinations(boxes, 2):
            apart = one[2] <= other[0] + 1e-9 or other[2] <= one[0] + 1e-9
            assert apart or one[3] <= other[1] + 1e-9 or other[3] <= one[1] + 1e-9
    tops = [page[0].picture.y for page in made]
    assert len(made) < 2 or all(b >= MARGIN_MM for _, b in pairwise(tops))


def test_too_many_are_refused_in_words() -> None:
    with pytest.raises(LayoutError, match="smaller than 8 mm"):
        pages(SheetLayout("A5", rows=16), [(3, 2)])
    with pytest.raises(LayoutError, match="1 to 16 rows"):
        pages(SheetLayout(rows=0), [(3, 2)])


def test_the_lines_under_a_picture() -> None:
    values = {
        "number": "7",
        "name": "QH_0007",
        "marks": "3★ print",
        "date": "2026-10-03  18:42",
        "title": "",
        "caption": "At\nthe quay",
    }
    layout = SheetLayout(under=("caption", "name", "number", "title"))
    assert lines_under(layout, values) == ["7  QH_0007", "", "At the quay"]
    assert layout.lines == 3
    assert lines_under(SheetLayout(under=()), values) == []
    assert lines_under(SheetLayout(under=("date",)), values) == ["2026-10-03 18:42"]
