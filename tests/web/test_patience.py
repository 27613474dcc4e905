"""A real server under connections that say nothing."""

from __future__ import annotations

import contextlib
import socket
import ssl
import subprocess
import time
import urllib.error
import urllib.request
import warnings
from collections.abc import Iterator

import pytest

from trials.serving import answers, served

OWN_PLACES = ("src/phasko/web",)

HALF = b"GET /api/session HTTP/1.1\r\nhost: 127.0.0.1\r\nx-slow: "


@pytest.fixture(scope="module")
def port(tmp_path_factory: pytest.TempPathFactory) -> Iterator[int]:
    """Where a server runs over an empty workshop."""
    with served(tmp_path_factory.mktemp("workshop")) as running:
        yield running.port


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


@pytest.mark.exhaustive
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


@pytest.mark.exhaustive
def test_a_whole_request_is_answered_however_slowly_it_is_typed(port: int) -> None:
    with socket.create_connection(("127.0.0.1", port), timeout=5) as one:
        for piece in (b"GET /api/session HTTP/1.1\r\n", b"host: 127.0.0.1\r\n", b"connection: close\r\n\r\n"):
            one.sendall(piece)
            time.sleep(0.2)
        assert one.recv(100).startswith(b"HTTP/1.1 200")


@pytest.fixture(scope="module")
def tls_port(tmp_path_factory: pytest.TempPathFactory) -> Iterator[int]:
    """The same over TLS, with a certificate of its own."""
    folder = tmp_path_factory.mktemp("tls")
    made = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost"]
    subprocess.run(
        [*made, "-keyout", str(folder / "key"), "-out", str(folder / "cert")], check=True, capture_output=True
    )
    certificate = ["--tls-certificate", str(folder / "cert"), "--tls-key", str(folder / "key")]
    with served(folder / "workshop", *certificate) as running:
        yield running.port


@pytest.mark.exhaustive
def test_handshakes_that_never_come_stop_nobody(tls_port: int) -> None:
    held = [socket.create_connection(("127.0.0.1", tls_port), timeout=5) for _ in range(600)]
    assert "strict-transport-security" in answers(f"https://127.0.0.1:{tls_port}")
    assert closed_within(held[0], 20.0)
    assert closed_within(held[-1], 20.0)
    for one in held:
        one.close()


@pytest.mark.parametrize("version", [ssl.TLSVersion.TLSv1, ssl.TLSVersion.TLSv1_1])
def test_old_versions_of_tls_are_not_spoken(tls_port: int, version: ssl.TLSVersion) -> None:
    old = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    old.check_hostname, old.verify_mode = False, ssl.CERT_NONE
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", DeprecationWarning)
        old.minimum_version = old.maximum_version = version
    plain = socket.create_connection(("127.0.0.1", tls_port), timeout=5)
    with contextlib.closing(plain), pytest.raises((ssl.SSLError, ConnectionError)):
        old.wrap_socket(plain)
