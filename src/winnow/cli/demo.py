"""The demo, and what stands in for cards, cameras, editors and clients."""

from __future__ import annotations

import argparse
import threading
from dataclasses import replace

from winnow.cli.serving import Simulated, run
from winnow.core.labels import STANDARD_SET
from winnow.say import say
from winnow.store import labels, settings, shoots
from winnow.terminal import tell
from winnow.work.runtime import Places, Runtime


def demo_shoot(arguments: argparse.Namespace) -> int:
    """Open the demo shoot, made where it is not there, with a card that is put in when it is
    whole."""
    from winnow.demo import devices, evening, shoot

    places = _demo_places()
    folder = places.data / evening.FOLDER_NAME
    makers = shoot.make_behind(folder)
    if makers:
        tell(
            say("Making the demo shoot: its frames appear one by one, in less than a minute."),
        )
    cards = places.data / "cards"

    def put_card_in() -> None:
        for maker in makers:
            maker.join()
        devices.fill_card(cards / "QUILLON", folder)

    threading.Thread(target=put_card_in, name="demo card", daemon=True).start()
    return run(
        arguments,
        places,
        [folder],
        evening.SHOOT_NAME,
        _for_the_evening,
        Simulated(
            devices.SimulatedCard, (cards,), lambda: any(maker.is_alive() for maker in makers)
        ),
    )


def _demo_places() -> Places:
    usual = Places.usual()
    return Places(usual.data / "demo", usual.cache / "demo")


def demo_card(arguments: argparse.Namespace) -> int:
    """Fill a folder as a memory card, with the faults that were asked for."""
    from winnow.demo import devices, evening

    count = devices.fill_card(arguments.folder, _demo_places().data / evening.FOLDER_NAME)
    faults = devices.Faults(arguments.mb_per_s, tuple(arguments.fail), arguments.end_after)
    devices.set_faults(arguments.folder, faults)
    tell(say("{count} files put on the card in {folder}.", count=count, folder=arguments.folder))
    return 0


def demo_editor(arguments: argparse.Namespace) -> int:
    """Stand in for an editor: make files of files."""
    from winnow.demo import stand_ins

    for made in stand_ins.edit(arguments.files, arguments.into):
        tell(made)
    return 0


def demo_client(arguments: argparse.Namespace) -> int:
    """Stand in for a client who answers to a gallery."""
    from winnow.demo import stand_ins

    try:
        data = stand_ins.answer(arguments.gallery, arguments.name)
    except ValueError as error:
        tell(f"winnow: {error}", wrong=True)
        return 1
    with arguments.into.open("xb") as out:
        out.write(data)
    tell(arguments.into)
    return 0


def demo_camera(arguments: argparse.Namespace) -> int:
    """Stand in for a camera that shoots into a folder."""
    from winnow.demo import devices, evening

    tell(say("The camera shoots until its last frame; Ctrl+C ends it."))
    made = _demo_places().data / evening.FOLDER_NAME
    for path in devices.keep_shooting(arguments.folder, made, arguments.every):
        tell(path)
    return 0


def _for_the_evening(runtime: Runtime, shoot: int) -> None:
    """What the photographer set before the demo shoot: labels with their meanings, a target."""
    from winnow.demo import evening

    shoots.aim(runtime.db, shoot, evening.KEEP_TARGET)
    named = [(label, *evening.LABELS[label.letter]) for label in STANDARD_SET]
    labels.save_labels(
        runtime.db, [replace(label, name=name, meaning=meaning) for label, name, meaning in named]
    )
    editor = {"command": "winnow demo-editor", "which": "ready"}
    settings.save_set(runtime.db, "programs", say("Stand-in editor"), editor)
