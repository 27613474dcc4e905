"""Commands that keep a workshop's file: a copy, putting one back, whether it is whole."""

from __future__ import annotations

from argparse import Namespace
from pathlib import Path

from phasko.cli.parts import EXIT_FAULTS, Commands, add_data

__all__ = ["add"]


def add(commands: Commands) -> None:
    """The commands of this room."""
    backup = commands.add_parser(
        "backup", help="write a checked copy of the workshop's file; the server may be running"
    )
    backup.add_argument("file", type=Path, metavar="FILE")
    add_data(backup)
    backup.set_defaults(run=_backup)

    restore = commands.add_parser("restore", help="put a copy back, with the server stopped")
    restore.add_argument("file", type=Path, metavar="FILE")
    add_data(restore)
    restore.set_defaults(run=_restore)

    check = commands.add_parser("check", help="whether the workshop's file is whole: structure, originals, samples")
    add_data(check)
    check.set_defaults(run=_check)


def _backup(parsed: Namespace) -> int:
    from phasko.keeping import back_up

    print(f"{back_up(parsed.data, parsed.file)}: written and checked")
    return 0


def _restore(parsed: Namespace) -> int:
    from phasko.keeping import restore

    kept = restore(parsed.data, parsed.file)
    print("Restored and checked." if kept is None else f"Restored and checked. What stood there before: {kept}")
    return 0


def _check(parsed: Namespace) -> int:
    from phasko.keeping import check_workshop

    found = check_workshop(parsed.data)
    for one in found:
        print(one.words if one.capture_id is None else f"Capture {one.capture_id}: {one.words}")
    print(f"{len(found)} faults found." if found else "The workshop's file is whole.")
    return EXIT_FAULTS if found else 0
