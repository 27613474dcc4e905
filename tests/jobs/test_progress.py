"""Imports wait in the order in which they came, and say so."""

from __future__ import annotations

import threading
import time

import pytest

from phasko.core.errors import RefusedError
from phasko.jobs.progress import Line, Progress


def until(holds: object, patience_s: float = 5.0) -> bool:
    end = time.monotonic() + patience_s
    while time.monotonic() < end:
        if holds():  # type: ignore[operator]
            return True
        time.sleep(0.005)
    return False


class Going:
    """Some imports that each hold their turn until they are let go."""

    def __init__(self, line: Line, count: int) -> None:
        self.told = [Progress() for _ in range(count)]
        self.served: list[int] = []
        self.failed: list[int] = []
        self.release = [threading.Event() for _ in range(count)]
        self.threads = []
        for k in range(count):
            thread = threading.Thread(target=self._go, args=(line, k))
            thread.start()
            self.threads.append(thread)
            until(lambda k=k: k in self.served or k in self.failed or self.told[k].stage == "waiting")

    def _go(self, line: Line, k: int) -> None:
        try:
            with line.turn(self.told[k]):
                self.served.append(k)
                self.release[k].wait(10.0)
        except RefusedError:
            self.failed.append(k)

    def end(self) -> None:
        for event in self.release:
            event.set()
        for thread in self.threads:
            thread.join(10.0)


def test_two_at_once_the_others_in_their_order() -> None:
    going = Going(Line(2, 8), 5)
    assert going.served == [0, 1]
    assert [one.stage for one in going.told[2:]] == ["waiting"] * 3
    going.release[1].set()
    assert until(lambda: going.served == [0, 1, 2])
    going.release[0].set()
    assert until(lambda: going.served == [0, 1, 2, 3])
    going.end()
    assert going.served == [0, 1, 2, 3, 4]


def test_one_that_waits_can_be_cancelled_and_leaves_the_line() -> None:
    going = Going(Line(1, 8), 3)
    assert going.told[1].stop()
    assert until(lambda: going.failed == [1])
    going.release[0].set()
    assert until(lambda: going.served == [0, 2])
    going.end()


def test_the_line_has_an_end() -> None:
    going = Going(Line(1, 2), 4)
    assert going.failed == [3]
    going.end()
    assert sorted(going.served) == [0, 1, 2]


def test_one_that_fails_lets_the_next_in() -> None:
    line = Line(1, 1)
    with pytest.raises(ValueError, match="broken"), line.turn(Progress()):
        raise ValueError("broken")
    with line.turn(Progress()):
        pass


def test_what_is_kept_is_not_stopped_any_more() -> None:
    progress = Progress()
    progress.step("storing")
    progress.keep()
    assert not progress.stop()
    progress.step("done", 1.0)


def test_what_was_stopped_is_not_kept() -> None:
    progress = Progress()
    assert progress.stop()
    with pytest.raises(RefusedError, match="cancelled"):
        progress.keep()
