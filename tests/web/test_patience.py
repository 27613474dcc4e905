"""A real server under connections that say nothing."""

from __future__ import annotations

import contextlib
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator

import pytest

HALF = b"GET /api/session HTTP/1.1\r\nhost: 127.0.0.1\r\nx-slow: "


@pytest.fixture(scope="module")
def port(tmp_path_factory: pytest.TempPathFactory) -> Iterator[int]:
    """Where a server runs over an empty workshop."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        chosen = int(probe.getsockname()[1])
    command = [sys.executable, "-m", "phasko", "serve", "--port", str(chosen)]
    command += ["--data", str(tmp_path_factory.mktemp("workshop"))]
    with subprocess.Popen(command, stdout=subprocess.DEVNULL) as running:
        for _ in range(300):
            try:
                answer(chosen)
                break
            except (urllib.error.URLError, ConnectionError):
                time.sleep(0.1)
        yield chosen
        running.terminate()


def answer(port: int) -> int:
    with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session", timeout=5) as got:
        return int(got.status)


def closed_within(connection: socket.socket, patience_s: float) -> bool:
    connection.settimeout(patience_s)
    try:
        return connection.recv(100) == b""
    except ConnectionError:
        return True
    except TimeoutError:
        return False


def test_hundreds_of_half_open_connections_stop_nobody(port: int) -> None:
    """More than one address may hold: those beyond are closed, and all of them once the request does not come."""
    held = []
    for _ in range(300):
        one = socket.create_connection(("127.0.0.1", port), timeout=5)
        with contextlib.suppress(ConnectionError):  # closed already
            one.sendall(HALF)
        held.append(one)
    time.sleep(0.5)
    assert sum(closed_within(one, 0.01) for one in held[-100:]) == 100
    for one in held[5:60]:
        one.close()
    time.sleep(0.3)
    assert answer(port) == 200
    assert closed_within(held[0], 15.0)
    for one in held:
        one.close()


def test_a_whole_request_is_answered_however_slowly_it_is_typed(port: int) -> None:
    with socket.create_connection(("127.0.0.1", port), timeout=5) as one:
        for piece in (b"GET /api/session HTTP/1.1\r\n", b"host: 127.0.0.1\r\n", b"connection: close\r\n\r\n"):
            one.sendall(piece)
            time.sleep(0.2)
        assert one.recv(100).startswith(b"HTTP/1.1 200")
