"""The command line: the same use cases as the web, as text or as the public documents.

Each room of commands imports what it runs only once it runs: ``phasko --version`` loads no server and no cluster.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence

from phasko import __version__
from phasko.cli import fleet, jobs, keeping, measuring, people, serving
from phasko.cli.parts import EXIT_UNREADABLE
from phasko.core.errors import PhaskoError

__all__ = ["main"]


def main(arguments: Sequence[str] | None = None) -> int:
    """Runs one command; 0 when it ran, whatever it found, 2 with one line when an input cannot be read."""
    parsed = _parser().parse_args(arguments)
    try:
        return int(parsed.run(parsed))
    except PhaskoError as error:
        print(f"phasko: {error.one_line()}", file=sys.stderr)
        return EXIT_UNREADABLE


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="phasko", description="Cam-to-crank phase with its uncertainty, and a call.")
    parser.add_argument("--version", action="version", version=f"phasko {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    for room in (measuring, serving, jobs, people, fleet, keeping):
        room.add(commands)
    return parser
