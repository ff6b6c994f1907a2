"""Work on many things, a few at once, with the results in their order."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Generator, Iterable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from typing import TypeVar

Item = TypeVar("Item")
Result = TypeVar("Result")


def in_order(
    work: Callable[[Item], Result],
    items: Iterable[Item],
    *,
    at_once: int,
    going: Callable[[], bool] = lambda: True,
    alone: Callable[[Item], bool] = lambda item: False,
) -> Generator[Result, None, None]:
    """Do some work on each item in ``at_once`` threads; yields the results in the items' order.

    Once ``going`` says no, or the work raises, nothing more is begun; what is being done is
    finished and yielded, and then the first error raised. An item that is to be done ``alone``
    waits for those before it, and those after it wait. Closed early, it waits for what is being
    done.
    """
    begun: deque[Future[Result]] = deque()
    errors: list[BaseException] = []

    def taken(most: int) -> Iterator[Result]:
        """Results from the first on, until at most so many are still being made."""
        while len(begun) > most:
            future = begun.popleft()
            if (error := future.exception()) is not None:
                errors.append(error)
            else:
                yield future.result()

    with ThreadPoolExecutor(at_once) as pool:
        for item in items:
            if alone(item):
                yield from taken(0)
            if errors or not going():
                break
            begun.append(pool.submit(work, item))
            yield from taken(0 if alone(item) else at_once - 1)
        yield from taken(0)
    if errors:
        raise errors[0]
