"""Contact sheets and galleries as files: read by other programs, and without metadata."""

import io
import re

import numpy as np
import pypdf
import pypdfium2
import pytest
from PIL import Image

from tests.pictures import jpeg
from winnow.core.deliver.proof_sheet import SheetLayout, lines_under, pages
from winnow.photos import proof_gallery, proof_pdf
from winnow.photos.proof_gallery import ProofFrame

SIZES = [(1200, 800), (800, 1200), (1200, 800), (1200, 500)] * 6
PICTURES = [jpeg(n, *size) for n, size in enumerate(SIZES)]
TITLE = "Evening at the quay: Žofia & Παύλος"


def sheet(layout: SheetLayout, count: int = 23) -> bytes:
    def lines(index: int) -> list[str]:
        return lines_under(
            layout,
            {"number": str(index + 1), "name": f"QH_{index:04d}", "marks": "3★",
            "caption": "A long caption " * 9},
        )  # fmt: skip

    return proof_pdf.make(
        layout, pages(layout, SIZES[:count]), TITLE, lambda index: PICTURES[index], lines
    )


def test_an_independent_reader_finds_pages_texts_and_pictures() -> None:
    layout = SheetLayout("A4", False, 5, ("number", "name", "marks", "caption"))
    data = sheet(layout)
    pdf = pypdfium2.PdfDocument(data)
    wanted = [len(page) for page in pages(layout, SIZES[:23])]
    assert len(pdf) == len(wanted) == 2
    assert pdf[0].get_size() == pytest.approx((210 / 25.4 * 72, 297 / 25.4 * 72), abs=0.5)
    texts = [page.get_textpage().get_text_bounded() for page in pdf]
    assert TITLE in texts[0]
    assert "page 1 of 2" in texts[0]
    assert "page 2 of 2" in texts[1]
    for index in range(23):
        assert f"{index + 1} QH_{index:04d}" in texts[index >= wanted[0]]
    assert "3★" in texts[0]
    assert "…" in texts[0], "a long caption is cut"
    kinds = [sum(o.type == pypdfium2.raw.FPDF_PAGEOBJ_IMAGE for o in p.get_objects()) for p in pdf]
    assert kinds == wanted


def test_the_fonts_are_embedded() -> None:
    reader = pypdf.PdfReader(io.BytesIO(sheet(SheetLayout())))
    fonts = reader.pages[0]["/Resources"]["/Font"].values()  # type: ignore[index]
    for font in fonts:
        (descendant,) = font.get_object()["/DescendantFonts"]
        assert "/FontFile2" in descendant.get_object()["/FontDescriptor"].get_object()
    assert reader.metadata is not None
    assert reader.metadata.title == TITLE


@pytest.mark.parametrize("layout", [SheetLayout(), SheetLayout("Letter", True, 2, ())])
def test_each_picture_is_printed_in_its_place(layout: SheetLayout) -> None:
    """The rendered page shows each picture's colours where the layout says, and white paper beside
    it."""
    page = pypdfium2.PdfDocument(sheet(layout))[0]
    scale = 4.0  # px per mm
    drawn = np.asarray(page.render(scale=scale * 25.4 / 72).to_pil().convert("RGB")).astype(float)
    for placed in pages(layout, SIZES[:23])[0]:
        box = placed.picture
        cut = drawn[
            round(box.y * scale) + 2 : round((box.y + box.height) * scale) - 2,
            round(box.x * scale) + 2 : round((box.x + box.width) * scale) - 2,
        ]
        with Image.open(io.BytesIO(PICTURES[placed.index])) as opened:
            wanted = np.asarray(opened.convert("RGB").resize(cut.shape[1::-1])).astype(float)
        assert np.abs(cut - wanted).mean() < 12, placed.index
        left = drawn[round((box.y + box.height / 2) * scale), round((box.x - 1.5) * scale)]
        assert left.min() > 250, "paper beside the picture"


def test_pictures_are_as_fine_as_print_needs_and_no_finer() -> None:
    image = Image.open(io.BytesIO(proof_pdf.sized(PICTURES[0], 300.0, 88)))
    assert image.size == (300, 200)
    assert proof_pdf.sized(PICTURES[0], 9000.0, 88)
    assert Image.open(io.BytesIO(proof_pdf.sized(PICTURES[0], 9000.0, 88))).size == (1200, 800)


def test_what_can_not_be_printed_is_known() -> None:
    assert proof_pdf.unprintable(["Žofia Παύλος Ж ★ —", "plain\n"]) == ""
    assert proof_pdf.unprintable(["灯 and 灯", "a🙂"]) == "灯🙂"


def test_a_sheet_can_be_stopped() -> None:
    layout = SheetLayout()
    done: list[int] = []
    with pytest.raises(proof_pdf.Stopped):
        proof_pdf.make(
            layout, pages(layout, SIZES), TITLE, lambda i: PICTURES[i], lambda i: (), done.append,
            lambda: len(done) >= 3,
        )  # fmt: skip
    assert done == [1, 2, 3]


def test_turned_pictures() -> None:
    upright = Image.open(io.BytesIO(proof_pdf.turned(PICTURES[0], 1)))
    assert upright.size == (800, 1200)
    first = np.asarray(Image.open(io.BytesIO(PICTURES[0])).convert("L")).astype(float)
    assert np.abs(np.rot90(first, -1) - np.asarray(upright.convert("L")).astype(float)).mean() < 3
    assert proof_pdf.turned(PICTURES[0], 4) is PICTURES[0]


def with_metadata() -> bytes:
    exif = Image.Exif()
    exif[0x010F] = "Maker"
    exif.get_ifd(0x8825)[2] = (52.0, 31.0, 12.0)
    out = io.BytesIO()
    with Image.open(io.BytesIO(PICTURES[0])) as opened:
        opened.save(out, "JPEG", exif=exif, comment=b"a secret place")
    return out.getvalue()


def test_gallery_pictures_have_no_metadata_at_all() -> None:
    source = with_metadata()
    assert b"secret" in source
    for watermark in ("", "PROOF"):
        data, size = proof_gallery.picture(source, 600, watermark)
        assert size == (600, 400)
        with Image.open(io.BytesIO(data)) as made:
            assert not made.getexif()
            assert {"exif", "comment", "xmp", "photoshop"}.isdisjoint(made.info)
        assert b"secret" not in data
        # Only what decoding needs: no APP1 to APP13, no comment (JPEG, ITU-T T.81, table B.1).
        assert not re.search(rb"\xff[\xe1-\xed\xfe]..(Exif|http|Photoshop)", data, re.DOTALL)


def test_the_watermark_is_seen_on_dark_and_light() -> None:
    for shade in (0, 128, 255):
        flat = io.BytesIO()
        Image.new("RGB", (900, 600), (shade,) * 3).save(flat, "JPEG")
        plain, _ = proof_gallery.picture(flat.getvalue(), 900, "")
        marked, _ = proof_gallery.picture(flat.getvalue(), 900, "PROOF © Ann")
        one, other = (
            np.asarray(Image.open(io.BytesIO(data)).convert("L")).astype(int)
            for data in (plain, marked)
        )
        apart = np.abs(one - other) > 20
        assert 0.003 < apart.mean() < 0.3
        rows, columns = np.nonzero(apart)
        assert np.ptp(columns) > 450, "it spans the picture"
        assert np.ptp(rows) > 200


def test_the_page_needs_nothing_else_and_no_text_leaves_its_place() -> None:
    nasty = "</script><script>alert(1)</script>"
    page = proof_gallery.page(
        "abc", nasty, f"Hello <b> {nasty}", 3, [ProofFrame(1, nasty, 600, 400)]
    ).decode()
    assert page.count("<script") == 2
    assert "alert(1)</script>" not in page
    assert not re.search(r"(src|href)\s*=\s*[\"']?(https?:)?//", page)
    assert "http" not in page.replace("http-equiv", "").replace("http://www.w3.org/", "")
    listed = proof_gallery.listed_in(page)
    assert listed["title"] == nasty
    assert listed["frames"] == [{"number": 1, "name": nasty, "width": 600, "height": 400}]
    with pytest.raises(ValueError, match="not the page"):
        proof_gallery.listed_in("<html>")
