"""Whatever breaks, and wherever: no mark and no byte is lost, it is said, and the step can be gone
on with."""

from pathlib import Path

import pytest

from tests import soak
from tests.faults.disks import KINDS
from tests.faults.steps import FAILING, STEPS

RUN = Path(__file__).with_name("run.py")
# At how many boundaries a step is broken, and on how many disks; 0: at every one, which takes days.
MOST = 0 if soak.TIMES >= 50 else soak.rounds(1)
# The steps are shared out, so that the hours of every boundary keep all cores busy.
PARTS = 1 if MOST else 6


@pytest.mark.soak
@pytest.mark.parametrize("part", range(PARTS))
@pytest.mark.parametrize("kind", ["kills", "errors", "power"])
def test_a_step_that_is_broken_anywhere_loses_nothing_and_is_gone_on_with(
    kind: str, part: int, tmp_path: Path
) -> None:
    """See run.py: a kill before, or an error in place of, each change of a disk; for errors each
    reading, too."""
    names = [step.name for step in STEPS[part::PARTS]]
    (tries,) = soak.run(RUN, tmp_path, kind, MOST, *names)
    # So many a step where every boundary is broken; few are begun in `make test`.
    assert tries >= len(names) * (1 if MOST else {"kills": 20, "errors": 200, "power": 2}[kind])


@pytest.mark.soak
def test_disks_that_fail_as_long_as_a_step_goes_on_lose_nothing(tmp_path: Path) -> None:
    places = sum(len(FAILING.get(step.name, ("shoot",))) for step in STEPS)
    kinds = min(MOST or len(KINDS), len(KINDS))
    assert soak.run(RUN, tmp_path, "disks", kinds) == [kinds * places]
