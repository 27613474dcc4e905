"""Giving a capture away: in another open format, or as a bundle with all that belongs to it."""

from __future__ import annotations

import json
from pathlib import Path

from sqlalchemy.orm import Session

from phasko.core.documents import Analysis, CaptureDescription, parse_document
from phasko.core.errors import DataError, NotFoundError, PhaskoError
from phasko.core.signals.recording import Samples
from phasko.formats import WRITTEN, CaptureFiles, FileBytes, Table, read_raw_capture
from phasko.formats.bundle import Bundle, BundleAbout, is_bundle, plain_name, read_bundle, write_bundle
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.captures import import_capture
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.handing_over import made_hand_over
from phasko.jobs.opening import JobSummary, open_job
from phasko.store import Database, captures, jobs
from phasko.store.models import Capture

__all__ = ["export_bundle", "export_capture", "import_bundle", "original_data", "original_file"]

_ANONYMOUS = "capture"


def export_capture(database: Database, capture_id: int, format_name: str) -> tuple[str, bytes]:
    """(file name, content) of a capture in one of the formats that are written; raw samples with the description that
    scales them inside. Raises NotFoundError."""
    form = next((form for form in WRITTEN if form.name.lower() == format_name.lower()), None)
    if form is None:
        known = ", ".join(form.name for form in WRITTEN)
        raise NotFoundError(f"{format_name} is not written", remedy=f"Choose {known}.")
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        name = f"{capture.name.removesuffix('.capture.json')}{form.suffixes[0]}"
        table = _table(captures.load_raw(session, capture), capture.start_s, capture.interval_s, name)
    return name, form.write(table)


def _table(raw: tuple[CaptureDescription, dict[str, Samples]], start_s: float, interval_s: float, name: str) -> Table:
    description, columns = raw
    described = description.model_copy(update={"data": name})
    units = {channel.column: channel.unit for channel in described.channels}
    text = described.model_dump_json(by_alias=True, exclude_none=True)
    return Table(start_s, interval_s, columns, units, text)


def original_file(database: Database, capture_id: int, role: str) -> tuple[str, bytes]:
    """Name and bytes of a capture's ``description`` or ``data`` file as they came; a description that never came is
    the one as it stands now. Raises NotFoundError."""
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        files = captures.original_files(session, capture_id)
        if role == "data":
            return original_data(session, capture, files)
        return files[role] if role in files else (capture.name, capture.description.encode())


def original_data(session: Session, capture: Capture, files: dict[str, tuple[str, bytes]]) -> tuple[str, bytes]:
    """Name and bytes of a capture's data file as it came, from its original ``files`` by role; one that was recorded
    here never had a file: then its samples as Parquet, without loss."""
    if "data" in files:
        return files["data"]
    name = f"{capture.name.removesuffix('.capture.json')}.parquet"
    form = next(form for form in WRITTEN if form.name == "Parquet")
    table = _table(captures.load_raw(session, capture), capture.start_s, capture.interval_s, name)
    return name, form.write(table)


def export_bundle(database: Database, capture_id: int, *, with_vehicle: bool) -> tuple[str, bytes]:
    """(file name, zip) with data, description, engine, the job's result for this capture and its hand-over.

    Without the vehicle, everything that could name it stays away: vehicle, complaint and codes, what a scope wrote
    above its numbers, file names, and words beside marks. Raises NotFoundError.
    """
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        job = jobs.get_job(session, capture.job_id)
        engine, job_id = job.engine_version.document, job.id
        description, columns = captures.load_raw(session, capture)
        about = BundleAbout(
            data=plain_name(description.data),
            description=plain_name(capture.name),
            vehicle=job.vehicle.name,
            make_model=job.vehicle.make_model,
            complaint=job.complaint,
            codes=job.codes.split(),
        )
        name = capture.name.removesuffix(".capture.json")
        data_name, data = original_data(session, capture, captures.original_files(session, capture_id))
        # One that was recorded here has no file of its own: what is written for it names itself.
        description = description.model_copy(update={"data": plain_name(data_name)})
        about = about.model_copy(update={"data": plain_name(data_name)})
        start_s, interval_s = capture.start_s, capture.interval_s
    result = _result(database, job_id, capture_id)
    if not with_vehicle:
        parquet = next(form for form in WRITTEN if form.name == "Parquet")
        about = BundleAbout(data=f"{_ANONYMOUS}.parquet", description=f"{_ANONYMOUS}.capture.json")
        description = _bare(description, about.data)
        data, name = parquet.write(Table(start_s, interval_s, columns, {}, None)), _ANONYMOUS
        result = _renamed(result, about.description)
    described = description.model_dump_json(by_alias=True, exclude_none=True).encode()
    papers = _papers(database, job_id) if with_vehicle else {}
    return f"{name}.bundle.zip", write_bundle(Bundle(about, data, described, engine.encode(), result, papers))


def _papers(database: Database, job_id: int) -> dict[str, bytes]:
    """The job's hand-over as a page and as a document; none where something of the job cannot be read."""
    try:
        made = [(f"hand-over.{form}", made_hand_over(database, job_id, form)[1]) for form in ("json", "html")]
    except PhaskoError:
        return {}
    return dict(made)


def _bare(description: CaptureDescription, data_name: str) -> CaptureDescription:
    """Without keys that nobody here knows and without anybody's words: of marks, and beside how it is known good."""
    known = set(CaptureDescription.model_fields)
    kept = {
        key: value for key, value in description.model_dump(by_alias=False, exclude_none=True).items() if key in known
    }
    kept |= {"data": data_name, "marks": [{"t_s": mark.t_s} for mark in description.marks]}
    if description.known_good is not None:
        kept["known_good"] = {"how": description.known_good.how}
    return CaptureDescription.model_validate(kept)


def _result(database: Database, job_id: int, capture_id: int) -> bytes | None:
    analysed = analyse_stored_job(database, job_id)
    if analysed is None or capture_id not in analysed.capture_ids:
        return None
    return analysed.analysis.model_dump_json(by_alias=True).encode()


def _renamed(result: bytes | None, name: str) -> bytes | None:
    """Every capture's file under one name that tells nothing."""
    if result is None:
        return None
    analysis = Analysis.model_validate_json(result).model_dump(by_alias=True, mode="json")
    for number, capture in enumerate(analysis["captures"]):
        capture["file"] = name if len(analysis["captures"]) == 1 else f"{number + 1}-{name}"
    for number, source in enumerate((analysis.get("provenance") or {}).get("captures", [])):
        source["file"] = name if number == 0 else f"{number + 1}-{name}"
    return json.dumps(analysis).encode()


def import_bundle(database: Database, name: str, data: FileBytes) -> JobSummary:
    """Opens a job of its own with what a bundle holds; whatever cannot be read of it leaves no job. Raises DataError,
    DocumentError."""
    if not is_bundle(data):
        raise DataError(
            "is no exported capture", place=name, kept="Nothing was opened", remedy="Captures are added inside a job."
        )
    try:
        bundle = read_bundle(data, name)
        described = parse_document(bundle.description, CaptureDescription, bundle.about.description)
        files = CaptureFiles(Path(bundle.about.description).name, bundle.description, described.data, bundle.data)
        read_raw_capture(files)  # before anything is opened for it
    except PhaskoError as error:
        error.kept = error.kept or "Nothing was opened"
        raise
    engine = save_engine(database, bundle.engine, bundle.about.engine)
    about = bundle.about
    job = open_job(
        database,
        vehicle=about.vehicle or "From a colleague",
        make_model=about.make_model,
        complaint=about.complaint,
        codes=about.codes,
        engine_id=engine.id,
    )
    try:
        import_capture(database, job.id, files)
    except PhaskoError:
        with database.transaction() as session:
            jobs.forget_job(session, job.id)
        raise
    return job
