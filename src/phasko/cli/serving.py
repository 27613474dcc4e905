"""The command that starts the web application."""

from __future__ import annotations

from argparse import Namespace
from pathlib import Path

from phasko.cli.parts import Commands, add_data
from phasko.loading import collector_paused

__all__ = ["add"]


def add(commands: Commands) -> None:
    """The commands of this room."""
    serve = commands.add_parser("serve", help="start the web application")
    serve.add_argument("--demo", action="store_true", help="begin with the sample data")
    serve.add_argument("--host", default="127.0.0.1")
    serve.add_argument("--port", type=int, default=8765)
    add_data(serve)
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


def _serve(parsed: Namespace) -> int:
    with collector_paused():
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
