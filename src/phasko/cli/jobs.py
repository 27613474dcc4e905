"""Commands over the jobs of a workshop: papers, lists, open files."""

from __future__ import annotations

from argparse import Namespace
from pathlib import Path
from typing import Literal

from phasko.cli.parts import EXIT_FAULTS, Commands, add_data, stored, write
from phasko.core.errors import DataError, RefusedError

__all__ = ["add"]


def add(commands: Commands) -> None:
    """The commands of this room."""
    report = commands.add_parser(
        "report", help="the hand-over of a job as pages: PDF, HTML, or a picture of the first word"
    )
    report.add_argument("job", type=int, metavar="JOB")
    add_data(report)
    report.add_argument("--out", type=Path, required=True, metavar="FILE.pdf|FILE.html|FILE.png|FILE.json")
    report.add_argument("--owner", action="store_true", help="the owner's page instead")
    report.add_argument("--letter", action="store_true", help="on Letter instead of A4")
    report.set_defaults(run=_report)

    jobs = commands.add_parser("jobs", help="list the jobs of a workshop, or those that hold some words")
    jobs.add_argument("words", nargs="*", metavar="WORD")
    add_data(jobs)
    jobs.add_argument("--json", action="store_true", help="as JSON and nothing else")
    jobs.set_defaults(run=_jobs)

    export = commands.add_parser("export", help="write jobs with all that belongs to them as open files in one zip")
    export.add_argument("file", type=Path, metavar="FILE.zip")
    export.add_argument("--job", type=int, action="append", metavar="JOB", help="only this one; may be repeated")
    add_data(export)
    export.set_defaults(run=_export)

    taken = commands.add_parser("import", help="take the jobs of such a zip in; none twice")
    taken.add_argument("file", type=Path, metavar="FILE.zip")
    add_data(taken)
    taken.set_defaults(run=_import)


def _report(parsed: Namespace) -> int:
    from phasko.jobs.handing_over import FORMS, made_hand_over

    form = next((one for one in FORMS if parsed.out.suffix.lower() == f".{one}"), None)
    if form is None:
        raise RefusedError(
            f"{parsed.out.name} names no kind of page", remedy=f"End it in .{', .'.join(FORMS[:-1])} or .{FORMS[-1]}."
        )
    page: Literal["full", "owner", "first"] = "owner" if parsed.owner else "first" if form == "png" else "full"
    with stored(parsed.data) as database:
        paper: Literal["A4", "letter"] = "letter" if parsed.letter else "A4"
        _, content = made_hand_over(database, parsed.job, form, page, paper=paper)
    write(parsed.out, content)
    print(f"{parsed.out}: written, {len(content)} bytes")
    return 0


def _jobs(parsed: Namespace) -> int:
    from phasko.jobs.board import find_in_logbook
    from phasko.store.logbook import Asked

    with stored(parsed.data) as database:
        found = find_in_logbook(database, Asked(text=" ".join(parsed.words)))
    if parsed.json:
        print(found.model_dump_json(indent=1))
        return 0
    for row in found.rows:
        call = row.leader or "no call yet"
        state = row.status.replace("_", " ")
        print(f"{row.job.id:>5}  {row.job.created_at[:10]}  {row.job.vehicle:<28.28}  {state:<10}  {call}")
    return 0


def _export(parsed: Namespace) -> int:
    from phasko.jobs.carrying import export_jobs

    with stored(parsed.data) as database:
        count = export_jobs(database, parsed.file, parsed.job)
    print(f"{parsed.file}: {count} {'job' if count == 1 else 'jobs'} written")
    return 0


def _import(parsed: Namespace) -> int:
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
