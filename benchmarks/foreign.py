"""Winnow on files of other programs and cameras: `python -m benchmarks.foreign FOLDER`.

Needs exiftool. The folder is indexed as a shoot; every fact is compared with what exiftool finds.
Copies of JPEGs get texts embedded, and copies of sidecars are changed: all else that exiftool finds
in them, every other byte of a JPEG, its pixels, and the RDF graph of a sidecar are compared before
and after. Prints counts, and each disagreement.
"""

from __future__ import annotations

import calendar
import io
import json
import math
import re
import subprocess
import sys
import tempfile
import time
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from time import strptime
from typing import Any

import rdflib
from PIL import Image
from rdflib.compare import isomorphic

from winnow.core.facts import Facts
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.frames import Kind, kind_of
from winnow.photos import jpeg_segments, xmp
from winnow.photos.metadata import read_facts_at
from winnow.photos.xmp_check import SidecarError
from winnow.photos.xmp_packet import PROPERTIES
from winnow.store import frames, shoots
from winnow.work.runtime import Places, Runtime


def wish(present: Stated) -> Stated:
    """What a file is to say: marks, title, caption and one more keyword than it has; all else as it
    is."""
    texts = replace(
        present.texts,
        title="Dusk",
        caption="At the quay",
        keywords=(*present.texts.keywords, "quay at dusk"),
    )
    return Stated(FileMark(4, "Retouch", True), texts)


# What Winnow writes, and what follows from it or from the file being another one.
OURS = {
    "XMP-xmp:Rating", "XMP-xmp:Label", "XMP-xmpDM:Good", "XMP-dc:Title", "XMP-dc:Description",
    "XMP-dc:Subject", "XMP-x:XMPToolkit",
    # Where in the file these lie.
    "IFD1:ThumbnailOffset", "IFD1:StripOffsets",
}  # fmt: skip
# Texts that the first XMP of a file takes along from older IPTC.
CARRIED = {
    "XMP-dc:Creator", "XMP-dc:Rights", "XMP-iptcCore:Location", "XMP-photoshop:City",
    "XMP-photoshop:State",
    "XMP-photoshop:Country", "XMP-photoshop:Instructions",
}  # fmt: skip
MOST_PIXELS = 200_000_000
LEFT_OUT = (
    "System:",
    "ExifTool:",
    "File:",
    "Composite:",
    "SourceFile",
    "MPF0:",
    "XMP-xmpNote:",
    "MPImage",
)


def exiftool(*arguments: object) -> list[dict[str, Any]]:
    """What exiftool finds, one dict for each file."""
    done = subprocess.run(
        ["exiftool", "-json", "-q", "-q", *map(str, arguments)], capture_output=True, check=False
    )
    found: list[dict[str, Any]] = json.loads(done.stdout or b"[]")
    return found


def near(ours: Any, theirs: Any) -> bool:
    """Whether two numbers are the same but for how they are rounded: 3.5 stands for 3.564, and
    1/15 s for what the maker's notes state of it in 32nds of an EV."""
    try:
        return math.isclose(float(ours), float(theirs), rel_tol=0.025, abs_tol=1e-4)
    except (TypeError, ValueError):
        return False


def seconds(text: object) -> float | None:
    """A date of exiftool's as Winnow counts it; None for none."""
    try:
        return float(calendar.timegm(strptime(str(text)[:19], "%Y:%m:%d %H:%M:%S")))
    except ValueError:
        return None


def same_text(ours: Any, theirs: Any) -> bool:
    """Whether one text holds the other, without blanks at their ends."""
    a, b = str(ours or "").strip().casefold(), str(theirs).strip().casefold()
    return bool(a) and (a in b or b in a)


def wanted(  # noqa: C901
    their: dict[str, Any], is_raw: bool
) -> Iterator[tuple[str, Any, Callable[[Facts], bool]]]:
    """Every fact that exiftool finds, with a test of ours."""
    for fact, tag in (("aperture", "FNumber"), ("shutter_s", "ExposureTime"), ("focal_mm",
    "FocalLength"),
                      ("iso", "ISO"), ("exposure_bias_ev", "ExposureCompensation")):  # fmt: skip
        value = their.get(tag)
        if isinstance(value, int | float) and (value > 0 or fact == "exposure_bias_ev"):
            yield fact, value, lambda ours, f=fact, v=value: near(getattr(ours, f), v)  # type: ignore[misc]
    for fact, tag in (("camera", "Model"), ("lens", "LensModel"), ("serial", "SerialNumber")):
        value = their.get(tag)
        if str(value or "").strip(" 0-"):
            yield fact, value, lambda ours, f=fact, v=value: same_text(getattr(ours, f), v)  # type: ignore[misc]
    time = seconds(their.get("DateTimeOriginal"))
    if time is not None:
        yield (
            "taken_at",
            time,
            lambda ours: ours.taken_at is not None and int(ours.taken_at) == time,
        )
    offset = str(their.get("OffsetTimeOriginal") or "")
    if found := re.fullmatch(r"([+-])(\d\d):(\d\d)", offset):
        minutes = (int(found[2]) * 60 + int(found[3])) * (-1 if found[1] == "-" else 1)
        yield "offset", minutes, lambda ours: ours.utc_offset_min == minutes
    size = (their.get("ImageWidth"), their.get("ImageHeight"))
    if all(isinstance(side, int) for side in size) and not is_raw:
        yield "size", size, lambda ours: ours.width is None or (ours.width, ours.height) == size
    if isinstance(value := their.get("Orientation"), int) and 1 <= value <= 8:
        yield "orientation", value, lambda ours: ours.orientation == value
    if isinstance(flash := their.get("Flash"), int):
        yield "flash", flash, lambda ours: ours.flash == bool(flash & 1)
    if isinstance(lat := their.get("GPSLatitude"), float) and lat:
        yield (
            "place",
            lat,
            lambda ours: ours.place is not None and near(abs(ours.place[0]), abs(lat)),
        )


def compare_facts(folder: Path, files: list[Path]) -> None:
    """Compare the facts of all files with exiftool's."""
    theirs = {
        Path(facts["SourceFile"]): facts
        for facts in exiftool("-n", "-r", "-fast2", "-api", "Duplicates=0", folder)
    }
    right, total = Counter[tuple[str, bool]](), Counter[tuple[str, bool]]()
    print("## Facts\n")
    for path in files:
        ours = read_facts_at(path)
        their = theirs.get(path, {})
        sound = "Warning" not in their and "Error" not in their
        for fact, value, holds in wanted(their, kind_of(path.name) is Kind.RAW):
            total[fact, sound] += 1
            if holds(ours):
                right[fact, sound] += 1
            else:
                print(
                    f"- {path.relative_to(folder)}: {fact} {getattr(ours, fact, None)!r}, "
                    f"exiftool {value!r}{'' if sound else ', with a warning'}"
                )
    print("\nin files of which exiftool warns of nothing, and in the others")
    for fact in sorted({fact for fact, _ in total}):
        print(
            f"{fact:18}"
            + "".join(
                f" {right[fact, sound]:5} of {total[fact, sound]:5}"
                f" {100 * right[fact, sound] / max(1, total[fact, sound]):6.1f} %"
                for sound in (True, False)
            )
        )


def index(folder: Path) -> None:
    """Index the folder as a shoot, and say what came of its frames."""
    with tempfile.TemporaryDirectory() as place:
        runtime = Runtime(Places(Path(place) / "data", Path(place) / "cache"))
        try:
            shoot = shoots.make(runtime.db, "Foreign", [str(folder)])
            runtime.indexer.start(shoot)
            while runtime.indexer.status(shoot).running:
                time.sleep(0.2)
            rows = frames.rows(runtime.db, shoot)
            (source,) = shoots.folders_of(runtime.db, shoot)
        finally:
            runtime.close()
    print("## Indexing\n")
    print(
        f"{len(rows)} frames: {sum(r.state is frames.State.DONE for r in rows)} with pictures and "
        f"figures,"
    )
    print(
        f"{sum(bool(r.notice) for r in rows if r.state is frames.State.DONE)} of them with a notice"
    )
    for name, counted in (
        ("companions", source.beside.companions),
        ("others", source.beside.others),
    ):
        print(f"{name}: {sum(counted.values())} {dict(list(counted.items())[:8])}")
    for notice, number in Counter(r.notice for r in rows if r.notice).most_common():
        print(f"{number:5}  {notice}")
    print()


def else_in(folder: Path) -> dict[str, dict[str, Any]]:
    """All that exiftool finds in the files of a folder but what Winnow writes, by their names."""
    return {
        Path(told["SourceFile"]).name: {
            key: value
            for key, value in told.items()
            if key not in OURS and not key.startswith(LEFT_OUT)
        }
        for told in exiftool("-G1", "-a", "-u", "-struct", "-e", folder)
    }


def pixels(data: bytes) -> object:
    """The decoded pixels; None where nothing decodes them, or where they would fill the memory:
    there the bytes must do."""
    try:
        with Image.open(io.BytesIO(data)) as image:
            return image.tobytes() if image.width * image.height <= MOST_PIXELS else None
    except Exception:
        return None


def rest_of_graph(data: bytes) -> rdflib.Graph:
    """The RDF graph of a packet without what Winnow writes. Raises what rdflib raises."""
    start, end = data.find(b"<rdf:RDF"), data.rfind(b"</rdf:RDF>")
    head = data[:start]
    graph = rdflib.Graph()
    # Namespaces may be declared outside.
    spaces = b" ".join(re.findall(rb"xmlns:[\w.-]+=(?:\"[^\"]*\"|'[^']*')", head))
    graph.parse(
        data=b"<rdf:RDF " + spaces + b" " + data[start + 8 : end] + b"</rdf:RDF>", format="xml"
    )
    for tag in PROPERTIES.values():
        predicate = rdflib.URIRef(tag[1:].replace("}", "", 1))
        for _, _, value in list(graph.triples((None, predicate, None))):
            for triple in list(graph.triples((value, None, None))):
                graph.remove(triple)
        graph.remove((None, predicate, None))
    # A subject's own name says only which file it is about.
    plain = rdflib.Graph()
    for subject, about, value in graph:
        named = isinstance(subject, rdflib.URIRef) and (None, None, subject) not in graph
        plain.add((rdflib.URIRef("about:file") if named else subject, about, value))
    return plain


def same_graph(before: bytes, after: bytes) -> bool | None:
    """Whether two packets say the same but for what Winnow writes; None where rdflib can't read one
    of them."""
    try:
        return bool(isomorphic(rest_of_graph(before), rest_of_graph(after)))
    except Exception:
        return None


def compare_writing(
    folder: Path, files: list[Path], put: Callable[[bytes], bytes], what: str
) -> None:
    """Write into copies, and compare everything else."""
    outcome: dict[str, list[str]] = defaultdict(list)
    with tempfile.TemporaryDirectory() as place:
        before, after = Path(place) / "before", Path(place) / "after"
        before.mkdir()
        after.mkdir()
        written: dict[str, Path] = {}
        for number, path in enumerate(files):
            data = path.read_bytes()
            try:
                new = put(data)
            except SidecarError as error:
                outcome["refused"].append(f"{path.relative_to(folder)}: {error}")
                continue
            name = f"{number}{path.suffix}"
            written[name] = path.relative_to(folder)
            (before / name).write_bytes(data)
            (after / name).write_bytes(new)
        # All at once: exiftool takes longer to start than to read a file.
        was, now = else_in(before), else_in(after)
        for name, path in written.items():
            how = compared((before / name).read_bytes(), (after / name).read_bytes(), what)
            words = ""
            lost = lost_in(was.get(name, {}), now.get(name, {}))
            if lost:
                how, words = "something else differs", f": {', '.join(sorted(lost)[:8])}"
            outcome[how].append(f"{path}{words}")
    print(f"\n## Writing: {what}\n")
    for how, names in sorted(outcome.items()):
        print(f"{how:24} {len(names):5}")
        if how != "kept":
            for name in names:
                print(f"  - {name}")


def lost_in(was: dict[str, Any], now: dict[str, Any]) -> set[str]:
    """What differs, but for texts that a first XMP takes along from older IPTC."""
    return {
        key
        for key in {*was, *now}
        if was.get(key) != now.get(key) and not (key in CARRIED and key not in was)
    }


def compared(before: bytes, after: bytes, what: str) -> str:
    """In what two versions of a file differ that should not; "kept" for nothing."""
    if what == "sidecar":
        return "graph differs" if same_graph(before, after) is False else "kept"
    if not jpeg_segments.same_but_for_xmp(before, after):
        return "bytes differ"
    return "pixels differ" if pixels(before) != pixels(after) else "kept"


def main(folder: Path) -> None:
    """Compare everything below a folder."""
    every = sorted(path for path in folder.rglob("*") if path.is_file())
    pictures = [path for path in every if kind_of(path.name)]
    print(f"{len(pictures)} pictures, {sum(p.suffix.lower() == '.xmp' for p in every)} sidecars\n")
    index(folder)
    compare_facts(folder, pictures)
    jpegs = [path for path in pictures if kind_of(path.name) is Kind.JPEG]
    compare_writing(
        folder, jpegs, lambda data: xmp.with_embedded(data, wish(xmp.embedded(data))), "JPEG"
    )
    sidecars = [path for path in every if path.suffix.lower() == ".xmp"]
    compare_writing(
        folder,
        sidecars,
        lambda data: xmp.with_stated(data, wish(xmp.read_sidecar(data))),
        "sidecar",
    )


if __name__ == "__main__":
    main(Path(sys.argv[1]).resolve())
