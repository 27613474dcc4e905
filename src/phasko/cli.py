"""The command line: the same use cases as the web, as text or as the public documents."""

from __future__ import annotations

import argparse
import json
import os
import sys
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from phasko import __version__
from phasko.core.errors import DataError, NotFoundError, PhaskoError, RefusedError

if TYPE_CHECKING:
    from phasko.fleet.running import Progress
    from phasko.store import Database

__all__ = ["main"]

EXIT_UNREADABLE = 2
EXIT_FAULTS = 1
DEFAULT_DATA = Path("phasko-data")


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

    analyze = commands.add_parser("analyze", help="measure the captures of one job and make the call")
    analyze.add_argument("captures", nargs="*", type=Path, metavar="CAPTURE.capture.json")
    analyze.add_argument("--engine", required=True, type=Path, metavar="ENGINE.json")
    analyze.add_argument(
        "--reference", nargs="+", action="extend", default=[], type=Path, metavar="CAPTURE.capture.json"
    )
    analyze.add_argument("--job", type=Path, metavar="JOB.json", help="what a person knows beside the captures")
    analyze.add_argument("--json", action="store_true", help="the result document and nothing else")
    analyze.set_defaults(run=_analyze)

    serve = commands.add_parser("serve", help="start the web application")
    serve.add_argument("--demo", action="store_true", help="begin with the sample data")
    serve.add_argument("--host", default="127.0.0.1")
    serve.add_argument("--port", type=int, default=8765)
    serve.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    serve.add_argument("--tls-certificate", type=Path, metavar="FILE")
    serve.add_argument("--tls-key", type=Path, metavar="FILE")
    serve.add_argument(
        "--name", action="append", default=[], metavar="HOST", help="a name by which other machines call this one"
    )
    serve.add_argument(
        "--watch", action="append", default=[], type=Path, metavar="FOLDER", help="captures there come into the inbox"
    )
    serve.add_argument(
        "--fleet", action="append", default=[], type=Path, metavar="FOLDER|WORKSHOP", help="belongs to the fleet, too"
    )
    serve.add_argument("--log", type=Path, metavar="FILE", help="note every request and event there, one line each")
    serve.set_defaults(run=_serve)

    bench = commands.add_parser("bench", help="record a capture from the simulated engine, with its truth beside it")
    bench.add_argument("sheet", nargs="?", type=Path, metavar="SHEET.json", help="engine, faults, scenario, probes")
    bench.add_argument("--engine", metavar="NAME", help="a pool engine, healthy, instead of a sheet")
    bench.add_argument("--engines", action="store_true", help="list the pool engines")
    bench.add_argument("--out", type=Path, default=Path(), metavar="DIR")
    bench.add_argument("--name", default="capture")
    bench.set_defaults(run=_bench)

    _add_hand_over(commands)
    _add_user(commands)
    _add_fleet(commands)

    passphrase = commands.add_parser("passphrase", help="set the passphrase that other machines must give")
    passphrase.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    passphrase.set_defaults(run=_passphrase)

    backup = commands.add_parser(
        "backup", help="write a checked copy of the workshop's file; the server may be running"
    )
    backup.add_argument("file", type=Path, metavar="FILE")
    backup.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    backup.set_defaults(run=_backup)

    restore = commands.add_parser("restore", help="put a copy back, with the server stopped")
    restore.add_argument("file", type=Path, metavar="FILE")
    restore.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    restore.set_defaults(run=_restore)

    check = commands.add_parser("check", help="whether the workshop's file is whole: structure, originals, samples")
    check.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    check.set_defaults(run=_check)

    schema = commands.add_parser("schema", help="print the JSON Schema of a document")
    schema.add_argument("document", choices=("engine", "capture", "analysis", "job"))
    schema.set_defaults(run=_schema)
    return parser


def _add_hand_over(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    report = commands.add_parser(
        "report", help="the hand-over of a job as pages: PDF, HTML, or a picture of the first word"
    )
    report.add_argument("job", type=int, metavar="JOB")
    report.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    report.add_argument("--out", type=Path, required=True, metavar="FILE.pdf|FILE.html|FILE.png|FILE.json")
    report.add_argument("--owner", action="store_true", help="the owner's page instead")
    report.add_argument("--letter", action="store_true", help="on Letter instead of A4")
    report.set_defaults(run=_report)

    jobs = commands.add_parser("jobs", help="list the jobs of a workshop, or those that hold some words")
    jobs.add_argument("words", nargs="*", metavar="WORD")
    jobs.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    jobs.add_argument("--json", action="store_true", help="as JSON and nothing else")
    jobs.set_defaults(run=_jobs)

    export = commands.add_parser("export", help="write jobs with all that belongs to them as open files in one zip")
    export.add_argument("file", type=Path, metavar="FILE.zip")
    export.add_argument("--job", type=int, action="append", metavar="JOB", help="only this one; may be repeated")
    export.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    export.set_defaults(run=_export)

    taken = commands.add_parser("import", help="take the jobs of such a zip in; none twice")
    taken.add_argument("file", type=Path, metavar="FILE.zip")
    taken.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")
    taken.set_defaults(run=_import)


def _add_user(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    user = commands.add_parser("user", help="who may sign in: add, list, remove, reset")
    user.set_defaults(run=_user)
    deeds = user.add_subparsers(required=True, metavar="ACTION", dest="action")
    words = {
        "add": "somebody who may sign in; asks for the passphrase",
        "list": "everybody, with their roles",
        "remove": "nobody of that name gets in any more",
        "reset": "another passphrase, another role with --role",
    }
    for action, said in words.items():
        deed = deeds.add_parser(action, help=said)
        if action != "list":
            deed.add_argument("name", metavar="NAME")
        if action in ("add", "reset"):
            deed.add_argument("--role", choices=("lead", "technician", "reader"), required=action == "add")
        deed.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")

    _add_token(commands)


def _add_token(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    token = commands.add_parser("token", help="with which programs come in: add, list, remove")
    token.set_defaults(run=_token)
    deeds = token.add_subparsers(required=True, metavar="ACTION", dest="action")
    words = {"add": "a new one; it is shown once", "list": "all of them", "remove": "nobody gets in with it any more"}
    for action, said in words.items():
        deed = deeds.add_parser(action, help=said)
        if action != "list":
            deed.add_argument("name", metavar="NAME")
        if action == "add":
            deed.add_argument("--role", choices=("lead", "technician", "reader"), required=True)
            deed.add_argument("--days", type=int, metavar="N", help="good for so long; else until it is removed")
        deed.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR")


def _add_fleet(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
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


def _fleet_analyse(parsed: argparse.Namespace) -> int:
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


def _fleet_teach(parsed: argparse.Namespace) -> int:
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


def _report(parsed: argparse.Namespace) -> int:
    from phasko.jobs.handing_over import FORMS, made_hand_over

    form = next((one for one in FORMS if parsed.out.suffix.lower() == f".{one}"), None)
    if form is None:
        raise RefusedError(
            f"{parsed.out.name} names no kind of page", remedy=f"End it in .{', .'.join(FORMS[:-1])} or .{FORMS[-1]}."
        )
    page: Literal["full", "owner", "first"] = "owner" if parsed.owner else "first" if form == "png" else "full"
    with _stored(parsed.data) as database:
        paper: Literal["A4", "letter"] = "letter" if parsed.letter else "A4"
        _, content = made_hand_over(database, parsed.job, form, page, paper=paper)
    _write(parsed.out, content)
    print(f"{parsed.out}: written, {len(content)} bytes")
    return 0


def _jobs(parsed: argparse.Namespace) -> int:
    from phasko.jobs.board import find_in_logbook
    from phasko.store.logbook import Asked

    with _stored(parsed.data) as database:
        found = find_in_logbook(database, Asked(text=" ".join(parsed.words)))
    if parsed.json:
        print(found.model_dump_json(indent=1))
        return 0
    for row in found.rows:
        call = row.leader or "no call yet"
        state = row.status.replace("_", " ")
        print(f"{row.job.id:>5}  {row.job.created_at[:10]}  {row.job.vehicle:<28.28}  {state:<10}  {call}")
    return 0


def _export(parsed: argparse.Namespace) -> int:
    from phasko.jobs.carrying import export_jobs

    with _stored(parsed.data) as database:
        count = export_jobs(database, parsed.file, parsed.job)
    print(f"{parsed.file}: {count} {'job' if count == 1 else 'jobs'} written")
    return 0


def _import(parsed: argparse.Namespace) -> int:
    import mmap
    from contextlib import closing

    from phasko.jobs.carrying import import_jobs
    from phasko.store import Database

    try:
        with (
            parsed.file.open("rb") as file,
            mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ) as data,
            closing(Database(parsed.data)) as database,
        ):
            found = import_jobs(database, parsed.file.name, data)
    except (OSError, ValueError) as error:
        raise DataError(f"cannot be opened: {error}", place=str(parsed.file)) from error
    print(f"{len(found.job_ids)} taken in, {found.already} were here already")
    for line in found.refused:
        print(f"left out: {line}")
    return EXIT_FAULTS if found.refused else 0


@contextmanager
def _stored(folder: Path) -> Iterator[Database]:
    """A workshop that is there already. Raises NotFoundError where there is none: nothing is made by looking."""
    from contextlib import closing

    from phasko.store import Database
    from phasko.store.database import FILE_NAME

    if not (folder / FILE_NAME).is_file():
        raise NotFoundError("There is no workshop in this folder", place=str(folder), remedy="Give it with --data.")
    with closing(Database(folder)) as database:
        yield database


def _write(path: Path, content: bytes) -> None:
    try:
        path.write_bytes(content)
    except OSError as error:
        raise DataError(f"cannot be written: {error.strerror}", place=str(path)) from error


def _user(parsed: argparse.Namespace) -> int:
    from contextlib import closing

    from phasko.keeping import people
    from phasko.store import Database

    with closing(Database(parsed.data)) as database:
        match parsed.action:
            case "add":
                people.add_person(database, parsed.name, parsed.role, _asked_twice())
            case "remove":
                people.remove_person(database, parsed.name)
            case "reset" if parsed.role:
                people.change_role(database, parsed.name, parsed.role)
            case "reset":
                people.reset_passphrase(database, parsed.name, _asked_twice())
        for person in people.list_people(database):
            print(f"{person.name:<24} {person.role:<12} since {person.created_at[:10]}")
    return 0


def _token(parsed: argparse.Namespace) -> int:
    from contextlib import closing

    from phasko.keeping import tokens
    from phasko.store import Database

    with closing(Database(parsed.data)) as database:
        match parsed.action:
            case "add":
                print(tokens.add_token(database, parsed.name, parsed.role, parsed.days).token)
                print("It is not shown again.", file=sys.stderr)
            case "remove":
                tokens.remove_token(database, parsed.name)
        if parsed.action != "add":
            for row in tokens.list_tokens(database):
                until = f"until {row.ends_at[:10]}" if row.ends_at else ""
                print(f"{row.name:<24} {row.role:<12} since {row.created_at[:10]} {until}".rstrip())
    return 0


def _asked_twice() -> str:
    """A passphrase from the terminal, or one line where there is none. Raises RefusedError where the two differ."""
    if not sys.stdin.isatty():
        return sys.stdin.readline().rstrip("\n")
    from getpass import getpass

    first = getpass("Passphrase: ")
    if getpass("Once more: ") != first:
        raise RefusedError("The two differ", kept="The passphrase is as it was")
    return first


def _analyze(parsed: argparse.Namespace) -> int:
    from phasko.jobs.from_files import analyse_files

    analysis = analyse_files(parsed.captures, parsed.engine, parsed.reference, parsed.job)
    if parsed.json:
        print(analysis.model_dump_json(by_alias=True, indent=1))
    else:
        from phasko.report import plain_text

        print(plain_text(analysis), end="")
    return 0


def _serve(parsed: argparse.Namespace) -> int:
    from phasko.web.serving import Serving, serve

    how = Serving(
        host=parsed.host,
        port=parsed.port,
        data=parsed.data,
        demo=parsed.demo,
        certificate=parsed.tls_certificate,
        key=parsed.tls_key,
        names=tuple(parsed.name),
        watched=tuple(parsed.watch),
        fleet=tuple(parsed.fleet),
        log=parsed.log,
    )
    serve(how)
    return 0


def _bench(parsed: argparse.Namespace) -> int:
    from phasko.jobs.bench_recording import bench_engines, record_to_folder

    if parsed.engines:
        print("\n".join(bench_engines()))
        return 0
    for path in record_to_folder(parsed.sheet, parsed.engine, parsed.out, parsed.name):
        print(path)
    return 0


def _passphrase(parsed: argparse.Namespace) -> int:
    from phasko.web.serving import store_passphrase

    store_passphrase(parsed.data, _asked_twice())
    return 0


def _backup(parsed: argparse.Namespace) -> int:
    from phasko.keeping import back_up

    print(f"{back_up(parsed.data, parsed.file)}: written and checked")
    return 0


def _restore(parsed: argparse.Namespace) -> int:
    from phasko.keeping import restore

    kept = restore(parsed.data, parsed.file)
    print("Restored and checked." if kept is None else f"Restored and checked. What stood there before: {kept}")
    return 0


def _check(parsed: argparse.Namespace) -> int:
    from phasko.keeping import check_workshop

    found = check_workshop(parsed.data)
    for one in found:
        print(one.words if one.capture_id is None else f"Capture {one.capture_id}: {one.words}")
    print(f"{len(found)} faults found." if found else "The workshop's file is whole.")
    return EXIT_FAULTS if found else 0


def _schema(parsed: argparse.Namespace) -> int:
    from phasko.core.documents import json_schema

    print(json.dumps(json_schema(parsed.document), indent=2))
    return 0


if __name__ == "__main__":
    sys.exit(main())
