"""The wire format between the workshop and an instrument, and what an instrument in trouble does to a recording."""

from __future__ import annotations

import itertools
import socket
import struct
import threading
from collections.abc import Iterator

import pytest

from phasko.bench.instruments import serve_instruments
from phasko.core.errors import DeviceError
from phasko.devices import Link, RemoteScanTool, RemoteScope, ScopeChannel, ScopeSetup, connect, listen
from tests.builders import FOUR, pool_engine

TOKEN = "moss kettle"


@pytest.fixture
def port() -> Iterator[int]:
    door = listen()
    threading.Thread(target=serve_instruments, args=(door, TOKEN), daemon=True).start()
    yield int(door.getsockname()[1])
    door.close()


def car(**changed: object) -> dict[str, object]:
    engine = pool_engine(FOUR).model_dump(mode="json", by_alias=True, exclude_none=True)
    return {"engine": engine, "turns": "bench", **changed}


def setup(most_s: float = 0.4, rate_hz: float = 10_000.0) -> ScopeSetup:
    channels = [ScopeChannel(number=1, range_v=20.0, signal="crank@sensor")]
    channels.append(ScopeChannel(number=2, range_v=20.0, signal="beside:crank@sensor"))
    return ScopeSetup(channels=channels, rate_hz=rate_hz, most_s=most_s)


def armed(port: int, most_s: float = 0.4, **changed: object) -> RemoteScope:
    scope = RemoteScope(connect(port, TOKEN, "scope"))
    scope.put_on(car(**changed))
    scope.arm(setup(most_s))
    return scope


def test_a_scope_says_what_it_is_and_streams_every_sample_once(port: int) -> None:
    scope = armed(port)
    assert scope.about().channels == 8
    blocks = list(scope.blocks())
    assert [block.volts.shape[0] for block in blocks] == [2] * len(blocks)
    assert blocks[0].first == 0
    assert all(b.first == a.first + a.count for a, b in itertools.pairwise(blocks))
    assert sum(block.count for block in blocks) == 4000
    assert max(float(block.volts.max()) for block in blocks) > 4.0
    scope.close()


def test_a_stranger_without_the_token_is_refused(port: int) -> None:
    with pytest.raises(DeviceError, match="another workshop"):
        connect(port, "guessed", "scope")


def test_what_the_instrument_refuses_is_said_in_its_words(port: int) -> None:
    scope = RemoteScope(connect(port, TOKEN, "scope"))
    with pytest.raises(DeviceError, match="on no car"):
        scope.arm(setup())
    scope.put_on(car())
    with pytest.raises(DeviceError, match="no faster than 200 kS/s"):
        scope.arm(setup(rate_hz=1e6))
    scope.put_on(car(turns="cranking", length_s=1.0))
    wrong = ScopeSetup(channels=[ScopeChannel(number=1, range_v=5.0, signal="cam:B9")], rate_hz=10_000.0)
    with pytest.raises(DeviceError, match="nothing to clip"):
        scope.arm(wrong)
    scope.close()


def test_stop_ends_the_stream(port: int) -> None:
    scope = armed(port, most_s=60.0)
    count = 0
    for block in scope.blocks():
        count += block.count
        scope.stop()
    assert 0 < count < 10_000
    scope.close()


def test_lost_blocks_leave_a_hole_in_the_numbers(port: int) -> None:
    scope = armed(port, most_s=0.8, trouble={"lose_every": 3})
    blocks = list(scope.blocks())
    holes = [b.first - a.first - a.count for a, b in itertools.pairwise(blocks)]
    assert max(holes) > 0
    scope.close()


def test_a_pulled_cable_is_an_error_that_says_what_to_do(port: int) -> None:
    scope = armed(port, most_s=10.0, trouble={"unplugged_at_s": 0.3})
    received = 0
    with pytest.raises(DeviceError, match="unplugged") as caught:
        for block in scope.blocks():
            received += block.count
    scope.close()
    assert received > 1000
    assert "was kept" in caught.value.kept and caught.value.remedy


def test_a_scan_tool_reads_codes_with_frames_live_data_and_clears(port: int) -> None:
    tool = RemoteScanTool(connect(port, TOKEN, "scan_tool"))
    tool.put_on(car(turns="idle", length_s=1.5, faults={"drive": {"jumped_at_crank": 1}}))
    codes = tool.codes()
    assert {one.code for one in codes} == {"P0016", "P0017"}
    assert codes[0].freeze_frame is not None and codes[0].freeze_frame.coolant_c == 88.0
    assert tool.live().cam_deg["B1I"] == pytest.approx(17.1, abs=1.5)
    tool.drive("B1I", 0.5)
    with pytest.raises(DeviceError, match="no phaser"):
        tool.drive("B1E", 0.5)
    tool.clear()
    assert tool.codes() == []
    tool.close()


@pytest.mark.parametrize(
    "sent",
    [
        struct.pack("<II", 1 << 30, 0),
        struct.pack("<II", 3, 0) + b"tea",
        struct.pack("<II", 2, 0) + b"[]",
        struct.pack("<II", 2, 0) + b"\xff\xfe",
    ],
)
def test_what_is_no_frame_is_refused(sent: bytes) -> None:
    here, there = socket.socketpair()
    there.sendall(sent)
    link = Link(here)
    with pytest.raises(DeviceError, match="no frame"):
        link.receive(1.0)
    link.close()
    there.close()


def test_silence_and_a_hang_up_are_told_apart() -> None:
    here, there = socket.socketpair()
    link = Link(here)
    with pytest.raises(DeviceError, match="gone silent"):
        link.receive(0.05)
    there.close()
    with pytest.raises(DeviceError, match="unplugged"):
        link.receive(1.0)
    link.close()
