"""Commands over tens of thousands of captures."""

from __future__ import annotations

import json
import os
import sys
import time
from argparse import Namespace
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING

from phasko.cli.parts import EXIT_FAULTS, Commands

if TYPE_CHECKING:
    from phasko.fleet.progress import Progress

__all__ = ["add"]


def add(commands: Commands) -> None:
    """The commands of this room."""
    fleet = commands.add_parser("fleet", help="tens of thousands of captures at once")
    asked = fleet.add_subparsers(required=True, metavar="WHAT")
    analyse = asked.add_parser("analyse", help="measure and judge all captures of folders and workshops into tables")
    analyse.add_argument("sources", nargs="+", type=Path, metavar="FOLDER|WORKSHOP")
    analyse.add_argument("--out", required=True, type=Path, metavar="DIR", help="goes on where it was stopped")
    analyse.add_argument("--workers", type=int, default=0, metavar="N", help="on this machine; else one a core")
    analyse.add_argument("--scheduler", default="", metavar="ADDRESS", help="of a Dask cluster that is there already")
    for name in ("ca", "certificate", "key"):
        analyse.add_argument(f"--tls-{name}", type=Path, metavar="FILE", help="for a tls:// scheduler")
    analyse.add_argument("--gently", action="store_true", help="others on this machine go first")
    analyse.add_argument("--json", action="store_true", help="tell how far it is as JSON, one line each")
    analyse.set_defaults(run=_fleet_analyse)
    teach = asked.add_parser("teach", help="what such tables teach of every kind of engine in them")
    teach.add_argument("out", type=Path, metavar="DIR")
    teach.add_argument("--json", action="store_true", help="as JSON and nothing else")
    teach.set_defaults(run=_fleet_teach)


def _fleet_analyse(parsed: Namespace) -> int:
    from phasko.fleet.running import Cluster, analyse_fleet
    from phasko.fleet.units import found_units
    from phasko.fleet.view import keep_view

    if parsed.gently and hasattr(os, "nice"):
        os.nice(10)
    found = found_units(parsed.sources)
    print(f"{len(found.units)} to measure and judge, {len(found.bad)} that cannot be", file=sys.stderr)
    cluster = Cluster(parsed.scheduler, parsed.workers, parsed.tls_ca, parsed.tls_certificate, parsed.tls_key)
    counts = analyse_fleet(found, parsed.out, cluster, _SaidNowAndThen(as_json=parsed.json))
    keep_view(parsed.out)
    if parsed.json:
        return EXIT_FAULTS if counts["bad"] else 0
    for name, count in counts.items():
        print(f"{count} rows in {name}.parquet")
    if counts["bad"]:
        print(f"what could not be read stands in {parsed.out / 'bad.parquet'}, each with its reason", file=sys.stderr)
    return EXIT_FAULTS if counts["bad"] else 0


def _fleet_teach(parsed: Namespace) -> int:
    from phasko.fleet.teaching import taught_by, taught_json, taught_lines

    taught = taught_by(parsed.out)
    print(taught_json(taught) if parsed.json else "\n".join(taught_lines(taught)))
    return 0


class _SaidNowAndThen:
    """Says how far it is, once a second at most, and always at the end."""

    def __init__(self, *, as_json: bool) -> None:
        self._said_at = 0.0
        self._as_json = as_json

    def __call__(self, progress: Progress) -> None:
        now = time.monotonic()
        if now - self._said_at >= 1.0 or progress.done == progress.every:
            self._said_at = now
            if self._as_json:
                print(json.dumps(asdict(progress)), flush=True)
            else:
                print(progress.words, file=sys.stderr, flush=True)
