"""Steps that hand on and bring in: deliveries, cards, and marks in files."""

from __future__ import annotations

import os
from pathlib import Path

from tests.faults.ground import (
    ALL,
    CONTENTS,
    FRAMES,
    SHOOT,
    TEXTS,
    NoIndexer,
    database,
    frame_ids,
    is_at,
    make_shoot,
    no_parts,
    set_mark,
)
from winnow.core.deliver.ways import How
from winnow.core.marks import Edit
from winnow.photos import copies, xmp
from winnow.photos.cache import PictureCache
from winnow.store import (
    card_imports,
    deliveries,
    frames,
    settings,
)
from winnow.store.db import Database
from winnow.work.deliver import plan as delivery_plan
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.card_plan import Wish
from winnow.work.deliver.run import Deliveries
from winnow.work.events import Events
from winnow.work.files.auto_write import FileWriter
from winnow.work.files.write import Order


def deliver(at: Path, how: How) -> list[str]:
    opened = database(at)
    jobs = Deliveries(opened, Events())
    made = deliveries.of_shoot(opened, SHOOT)
    if made:
        delivery = made[0].id
        jobs.resume(delivery)
    else:
        wish = delivery_plan.Wish(how=how, template="{seq}/{name}", sidecars=True, manifest=True)
        try:
            planned = delivery_plan.plan(opened, SHOOT, str(at / "out"), frame_ids(opened), wish)
            delivery = jobs.start(SHOOT, planned)
        except delivery_plan.DeliveryError as error:
            return [str(error)]
    jobs.wait(delivery)
    return delivery_said(opened, delivery)


def delivery_said(opened: Database, delivery: int) -> list[str]:
    found = deliveries.get(opened, delivery)
    assert found
    assert found.state in ("done", "stopped", "returned"), found.state
    words = [found.notice] if found.notice else []
    words += [item.notice for item in deliveries.items(opened, delivery) if item.notice]
    opened.close()
    return words


def take_back(at: Path) -> list[str]:
    opened = database(at)
    jobs = Deliveries(opened, Events())
    delivery = deliveries.of_shoot(opened, SHOOT)[0].id
    jobs.take_back(delivery)
    jobs.wait(delivery)
    return delivery_said(opened, delivery)


def is_delivered(at: Path, how: How) -> None:
    opened = database(at)
    (delivery,) = deliveries.of_shoot(opened, SHOOT)
    assert (delivery.state, delivery.failed) == ("done", 0), delivery
    opened.close()
    for n in range(FRAMES):
        for ending in ("jpg", "dng"):
            copy = at / "out" / str(n + 1) / f"QH_{n}.{ending}"
            assert copy.read_bytes() == CONTENTS[copy.name]
    assert len(list((at / "out").glob("*/*.xmp"))) == FRAMES
    listed = [path.read_text() for path in (at / "out").iterdir() if path.is_file()]
    assert [text.count("\n") for text in listed] == [3 * FRAMES]
    for line in listed[0].splitlines():
        digest, name = line.split("  ")
        assert copies.file_hash(at / "out" / name) == digest, f"{name}: a wrong sum"
    is_at(at / "shoot", [] if how == "move" else ALL)
    no_parts(at)


def is_taken_back(at: Path) -> None:
    opened = database(at)
    assert deliveries.of_shoot(opened, SHOOT)[0].state == "returned"
    opened.close()
    is_at(at / "shoot", ALL)
    is_at(at / "out", [])
    no_parts(at)


def delivered(at: Path, how: How) -> None:
    make_shoot(at)
    assert deliver(at, how) == []


# Bringing in


def make_card(at: Path) -> None:
    for number, (name, data) in enumerate(CONTENTS.items()):
        path = at / "card" / "DCIM" / "100QUILL" / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
        os.utime(path, (1781524800 + number, 1781524800 + number))
    (at / "card" / "DCIM" / "100QUILL" / "QH_0.mov").write_bytes(b"film" * 400)
    database(at).close()


def bring_in(at: Path) -> list[str]:
    opened = database(at)
    jobs = BringIns(opened, Events(), NoIndexer(), at_once=1)  # type: ignore[arg-type]
    made = card_imports.latest(opened, 1)
    try:
        if made:
            card_import = made[0].id
            jobs.resume(card_import)
        else:
            places = str(at / "disk"), str(at / "second")
            card_import = jobs.start(Wish(str(at / "card"), places[0], "{date}", "Quay", places[1]))
    except Exception as error:
        from winnow.work.deliver.card_plan import BringInError

        if not isinstance(error, BringInError):
            raise
        return [str(error)]
    jobs.wait(card_import)
    found = card_imports.get(opened, card_import)
    assert found
    assert found.state in ("done", "stopped"), found.state
    words = [found.notice] if found.notice else []
    words += [item.notice for item in card_imports.items(opened, card_import) if item.notice]
    opened.close()
    return words


def all_brought(at: Path) -> list[Path]:
    on_card = {path.name: path.read_bytes() for path in (at / "card" / "DCIM").rglob("*.*")}
    return [
        at / place / name
        for place in ("disk", "second")
        for name, data in on_card.items()
        if data not in [path.read_bytes() for path in (at / place).rglob("*") if path.is_file()]
    ]


def says_safe(at: Path) -> bool:
    opened = database(at)
    jobs = BringIns(opened, Events(), NoIndexer(), at_once=1)  # type: ignore[arg-type]
    made = card_imports.latest(opened, 1)
    safe = bool(made) and jobs.report(made[0])[0]
    opened.close()
    return safe


def never_safe_too_soon(at: Path) -> None:
    if says_safe(at):
        assert all_brought(at) == [], "the card is called safe"


def is_brought(at: Path) -> None:
    assert all_brought(at) == []
    assert says_safe(at)
    for place in ("disk", "second"):
        assert len(list((at / place).rglob("QH*.*"))) == len(CONTENTS) + 1
        assert len(list((at / place).glob("checksums*"))) == 1
    no_parts(at)


# Writing to files


def more_stars(at: Path, *, embed: bool) -> None:
    make_shoot(at, sidecars=not embed)
    opened = database(at)
    settings.save(opened, {"embed": embed})
    ids = frame_ids(opened)
    for id in ids:
        set_mark(opened, Edit(stars=int(frames.name_of(opened, id)[3]) + 1), [id])
    opened.close()
    if not embed:
        (at / "shoot" / "QH_1.xmp").unlink()


def write_files(at: Path) -> list[str]:
    opened = database(at)
    job = FileWriter(opened, PictureCache(at / "cache"), Events())
    job.start(SHOOT, Order())
    job.wait(SHOOT)
    status = job.status(SHOOT)
    assert not status.running
    words = [status.notice] if status.notice else []
    words += [why for _, why in (status.result.problems if status.result else ())]
    opened.close()
    return words


def is_written(at: Path, *, embed: bool) -> None:
    for n in range(FRAMES):
        path = at / "shoot" / f"QH_{n}.{'jpg' if embed else 'xmp'}"
        data = path.read_bytes()
        stated = xmp.embedded(data) if embed else xmp.read_sidecar(data)
        assert stated.mark.rating == n + 1, path
        if not embed and n != 1:
            assert stated.texts == TEXTS, path
    no_parts(at)


def pictures_stand(at: Path) -> None:
    """Raw files are as they were; JPEGs show the same picture, and sidecars are whole."""
    for name, data in CONTENTS.items():
        found = (at / "shoot" / name).read_bytes()
        assert found == data or (name.endswith("jpg") and found.endswith(data[-500:])), name
    for path in (at / "shoot").glob("*.xmp"):
        xmp.read_sidecar(path.read_bytes())
