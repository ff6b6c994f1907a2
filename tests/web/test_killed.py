"""A server that is killed in the middle of a cull loses nothing that it answered."""

from pathlib import Path

import pytest

from tests import soak


@pytest.mark.soak
def test_killed_again_and_again_in_the_middle_of_a_cull(tmp_path: Path) -> None:
    """Server and workers, with SIGKILL at random moments; see kill_server.py."""
    kills, answered = soak.run(
        Path(__file__).with_name("kill_server.py"), tmp_path, soak.rounds(2), 5
    )
    assert kills == soak.rounds(2)
    assert answered >= 3 * kills
