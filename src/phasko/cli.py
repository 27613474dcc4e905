"""The command line: the same use cases as the web, as text or as the public documents."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path

from phasko import __version__
from phasko.core.errors import PhaskoError, RefusedError

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
    serve.add_argument("--log", type=Path, metavar="FILE", help="note every request and event there, one line each")
    serve.set_defaults(run=_serve)

    bench = commands.add_parser("bench", help="record a capture from the simulated engine, with its truth beside it")
    bench.add_argument("sheet", nargs="?", type=Path, metavar="SHEET.json", help="engine, faults, scenario, probes")
    bench.add_argument("--engine", metavar="NAME", help="a pool engine, healthy, instead of a sheet")
    bench.add_argument("--engines", action="store_true", help="list the pool engines")
    bench.add_argument("--out", type=Path, default=Path(), metavar="DIR")
    bench.add_argument("--name", default="capture")
    bench.set_defaults(run=_bench)

    _add_user(commands)

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
