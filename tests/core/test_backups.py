"""Which backups stay."""

from hypothesis import given
from hypothesis import strategies as st

from winnow.core.backups import DAY_S, HOUR_S, to_keep

NOW = 1_800_000_000.0


def test_hours_then_days_then_weeks() -> None:
    every_quarter = [NOW - n * HOUR_S / 4 for n in range(4 * 24 * 60)]
    kept = sorted(NOW - time for time in to_keep(every_quarter, NOW))
    assert kept[0] == 0
    assert sum(age <= 6 * HOUR_S for age in kept) in (6, 7, 8)
    assert sum(6 * HOUR_S < age <= 7 * DAY_S for age in kept) in (6, 7, 8)
    assert sum(age > 7 * DAY_S for age in kept) in (4, 5)
    assert max(kept) <= 35 * DAY_S


def test_a_backup_that_is_kept_stays_until_it_is_too_old() -> None:
    """Made every hour and thinned each time, for two months: none of a later part is lost on the
    way."""
    have: set[float] = set()
    for hour in range(24 * 60):
        now = NOW + hour * HOUR_S
        have = to_keep({*have, now}, now)
        assert now in have
    assert 14 <= len(have) <= 21
    ages = sorted(now - time for time in have)
    assert ages[-1] >= 28 * DAY_S


@given(st.lists(st.floats(0, 4e9)), st.floats(0, 4e9))
def test_the_newest_is_always_kept(times: list[float], now: float) -> None:
    kept = to_keep(times, now)
    assert kept <= set(times)
    assert not times or max(times) in kept
    # A clock that was set back loses nothing.
    assert {time for time in times if time > now} <= kept
