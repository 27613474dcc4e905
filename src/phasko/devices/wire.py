"""The wire format between the workshop and an instrument in its own process: frames over a loopback socket.

A frame is two unsigned 32 bit numbers, least byte first (length of the head, length of the body), then the head, UTF-8
JSON, then the body: raw samples, float32, least byte first, channel after channel. ``docs/devices.md`` tells the whole.
"""

from __future__ import annotations

import contextlib
import json
import socket
import struct
import threading
from typing import Any

from phasko.core.errors import DeviceError

__all__ = ["Link", "connect", "listen"]

_SIZES = struct.Struct("<II")
_MOST_HEAD = 1 << 20
_MOST_BODY = 1 << 28


class Link:
    """One connection. Frames may be sent from one thread while another one reads."""

    def __init__(self, own: socket.socket) -> None:
        self._socket = own
        # Not every kind of socket knows it.
        with contextlib.suppress(OSError):
            self._socket.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        self._sending = threading.Lock()

    def send(self, head: dict[str, Any], body: bytes | memoryview = b"") -> None:
        """Sends a frame. Raises DeviceError where the other side is gone."""
        said = json.dumps(head, allow_nan=False).encode()
        try:
            with self._sending:
                self._socket.sendall(_SIZES.pack(len(said), len(body)) + said)
                if len(body):
                    self._socket.sendall(body)
        except OSError as error:
            raise _gone() from error

    def receive(self, patience_s: float | None = None) -> tuple[dict[str, Any], bytes]:
        """The next frame. Raises DeviceError where none comes within ``patience_s``, the other side is gone, or what
        comes is no frame."""
        self._socket.settimeout(patience_s)
        try:
            head_size, body_size = _SIZES.unpack(self._exactly(_SIZES.size))
            if head_size > _MOST_HEAD or body_size > _MOST_BODY:
                raise DeviceError(
                    "The instrument sends something that is no frame", kept="Nothing of it was taken over"
                )
            head = json.loads(self._exactly(head_size))
            body = self._exactly(body_size)
        except TimeoutError as error:
            raise DeviceError(
                "The instrument has gone silent",
                kept="What it sent before was kept",
                remedy="Look at its cable and supply, then record again.",
            ) from error
        except OSError as error:
            raise _gone() from error
        except (UnicodeDecodeError, json.JSONDecodeError) as error:
            raise DeviceError(
                "The instrument sends something that is no frame", kept="Nothing of it was taken over"
            ) from error
        if not isinstance(head, dict):
            raise DeviceError("The instrument sends something that is no frame", kept="Nothing of it was taken over")
        return head, body

    def _exactly(self, size: int) -> bytes:
        parts = bytearray()
        while len(parts) < size:
            part = self._socket.recv(min(size - len(parts), 1 << 20))
            if not part:
                raise ConnectionError("closed")
            parts += part
        return bytes(parts)

    def ask(self, head: dict[str, Any], patience_s: float = 30.0) -> dict[str, Any]:
        """Sends a request and gives its answer. Raises DeviceError, in the instrument's own words where it refuses."""
        self.send(head)
        answer, _ = self.receive(patience_s)
        refused = answer.get("error")
        if refused is not None:
            raise DeviceError(str(refused), kept="Nothing was changed at the instrument")
        return answer

    def close(self) -> None:
        """Ends the connection; the other side notices."""
        # It may be gone already.
        with contextlib.suppress(OSError):
            self._socket.shutdown(socket.SHUT_RDWR)
        self._socket.close()


def _gone() -> DeviceError:
    return DeviceError(
        "The instrument was unplugged",
        kept="What it sent before was kept",
        remedy="Plug it in again, then record again.",
    )


def connect(port: int, token: str, kind: str) -> Link:
    """A connection to an instrument on this machine; ``kind`` is ``scope`` or ``scan_tool``. Raises DeviceError."""
    try:
        own = socket.create_connection(("127.0.0.1", port), timeout=5.0)
    except OSError as error:
        raise DeviceError(
            "The instrument does not answer", kept="Nothing was recorded", remedy="Look at its cable, then try again."
        ) from error
    link = Link(own)
    try:
        link.ask({"do": "hello", "token": token, "as": kind, "version": 1}, patience_s=10.0)
    except DeviceError:
        link.close()
        raise
    return link


def listen() -> socket.socket:
    """A loopback socket on a free port, for an instrument to be found at."""
    own = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    own.bind(("127.0.0.1", 0))
    own.listen(16)
    return own
