"""What windows are told of marks."""

from pathlib import Path
from typing import Any

import pytest

from tests.pictures import write_shoot
from tests.ready import ready
from winnow.core.marks import Change, Decision, Edit, plan_edit
from winnow.store import frames, marks
from winnow.work import change_events
from winnow.work.runtime import Runtime


def test_whoever_tells_last_tells_what_is_stored(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Two mark one frame at the same moment: stored in one order, and told in the other."""
    write_shoot(tmp_path / "shoot", [1])
    shoot = ready(runtime, tmp_path / "shoot")
    frame = frames.rows(runtime.db, shoot)[0].id

    def mark(decision: Decision) -> Change:
        def plan() -> Change | None:
            now = marks.marks_of(runtime.db, shoot, [frame])
            return plan_edit(Edit(decision), now, str, {})

        change = marks.apply(runtime.db, shoot, plan)
        assert change is not None
        return change

    first, second = mark(Decision.PICK), mark(Decision.REJECT)
    heard: list[Any] = []
    monkeypatch.setattr(runtime.events, "tell", lambda shoot, name, **data: heard.append(data))
    change_events.tell(runtime.db, runtime.events, shoot, second)
    change_events.tell(runtime.db, runtime.events, shoot, first)
    assert [event["marks"][0]["decision"] for event in heard] == ["reject", "reject"]
