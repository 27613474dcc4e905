"""Commands over files alone: measuring them, recording new ones, the documents' schemas."""

from __future__ import annotations

import json
from argparse import Namespace
from pathlib import Path

from phasko.cli.parts import Commands
from phasko.loading import collector_paused

__all__ = ["add"]


def add(commands: Commands) -> None:
    """The commands of this room."""
    analyze = commands.add_parser("analyze", help="measure the captures of one job and make the call")
    analyze.add_argument("captures", nargs="*", type=Path, metavar="CAPTURE.capture.json")
    analyze.add_argument("--engine", required=True, type=Path, metavar="ENGINE.json")
    analyze.add_argument(
        "--reference", nargs="+", action="extend", default=[], type=Path, metavar="CAPTURE.capture.json"
    )
    analyze.add_argument("--job", type=Path, metavar="JOB.json", help="what a person knows beside the captures")
    analyze.add_argument("--json", action="store_true", help="the result document and nothing else")
    analyze.set_defaults(run=_analyze)

    bench = commands.add_parser("bench", help="record a capture from the simulated engine, with its truth beside it")
    bench.add_argument("sheet", nargs="?", type=Path, metavar="SHEET.json", help="engine, faults, scenario, probes")
    bench.add_argument("--engine", metavar="NAME", help="a pool engine, healthy, instead of a sheet")
    bench.add_argument("--engines", action="store_true", help="list the pool engines")
    bench.add_argument("--out", type=Path, default=Path(), metavar="DIR")
    bench.add_argument("--name", default="capture")
    bench.set_defaults(run=_bench)

    schema = commands.add_parser("schema", help="print the JSON Schema of a document")
    schema.add_argument("document", choices=("engine", "capture", "analysis", "job"))
    schema.set_defaults(run=_schema)


def _analyze(parsed: Namespace) -> int:
    with collector_paused():
        from phasko.jobs.from_files import analyse_files

    analysis = analyse_files(parsed.captures, parsed.engine, parsed.reference, parsed.job)
    if parsed.json:
        print(analysis.model_dump_json(by_alias=True, indent=1))
    else:
        from phasko.report import plain_text

        print(plain_text(analysis), end="")
    return 0


def _bench(parsed: Namespace) -> int:
    from phasko.jobs.bench_recording import bench_engines, record_to_folder

    if parsed.engines:
        print("\n".join(bench_engines()))
        return 0
    for path in record_to_folder(parsed.sheet, parsed.engine, parsed.out, parsed.name):
        print(path)
    return 0


def _schema(parsed: Namespace) -> int:
    from phasko.core.documents import json_schema

    print(json.dumps(json_schema(parsed.document), indent=2))
    return 0
