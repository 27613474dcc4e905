"""A real server as a process of its own, started as a user starts it."""

from __future__ import annotations

import socket
import ssl
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

PATIENCE_S = 900.0


@dataclass(frozen=True)
class Served:
    """Where it answers, and the process that does."""

    address: str
    port: int
    process: subprocess.Popen[bytes]


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def answers(address: str) -> dict[str, str]:
    """The heads of a first answer, whatever the certificate. Raises URLError, ConnectionError without one."""
    trusting = ssl.create_default_context()
    trusting.check_hostname, trusting.verify_mode = False, ssl.CERT_NONE
    with urllib.request.urlopen(f"{address}/api/session", timeout=5, context=trusting) as got:
        return {name.lower(): value for name, value in got.headers.items()}


@contextmanager
def served(data: Path, *arguments: str) -> Iterator[Served]:
    """``phasko serve`` over that folder until the block ends; with further arguments."""
    port = free_port()
    scheme = "https" if "--tls-certificate" in arguments else "http"
    address = f"{scheme}://127.0.0.1:{port}"
    command = [sys.executable, "-m", "phasko", "serve", "--port", str(port), "--data", str(data), *arguments]
    with subprocess.Popen(command, stdout=subprocess.DEVNULL) as process:
        try:
            _wait(address, process)
            yield Served(address, port, process)
        finally:
            process.terminate()
            try:
                process.wait(20)
            except subprocess.TimeoutExpired:
                process.kill()


def _wait(address: str, process: subprocess.Popen[bytes]) -> None:
    patient_until = time.monotonic() + PATIENCE_S
    while True:
        try:
            answers(address)
            return
        except (urllib.error.URLError, ConnectionError):
            assert process.poll() is None, "the server ended at once"
            assert time.monotonic() < patient_until, "the server does not answer"
            time.sleep(0.1)
