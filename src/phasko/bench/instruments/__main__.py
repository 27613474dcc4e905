"""Runs the simulated instruments until the one that started them is gone."""

from __future__ import annotations

import json
import os
import sys
import threading

from phasko.bench.instruments.server import serve_instruments
from phasko.devices import listen


def _ends_with_its_parent() -> None:
    """The other end of standard input is held by whoever started this; it closes when that is gone, killed or not."""
    sys.stdin.read()
    os._exit(0)


def main() -> None:
    """Reads the token from standard input's first line, and writes the port to standard output."""
    token = sys.stdin.readline().strip()
    door = listen()
    print(json.dumps({"port": door.getsockname()[1]}), flush=True)
    threading.Thread(target=_ends_with_its_parent, daemon=True).start()
    serve_instruments(door, token)


if __name__ == "__main__":
    main()
