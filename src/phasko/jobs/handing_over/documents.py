"""A stored job's hand-over: as a document, as pages of HTML or PDF, and as a picture for a message."""

from __future__ import annotations

import base64
from datetime import UTC, datetime
from typing import Literal

from phasko.core.capture.turn_strip import TurnStrip
from phasko.core.documents import Analysis, CaptureDescription, EngineProfile, parse_document
from phasko.core.documents.analysis import CaptureResult
from phasko.core.documents.job import JobDocument
from phasko.core.errors import PhaskoError
from phasko.core.handover import PART_WORDS, Facts, HandOver, Head, PhotoLine, hand_over
from phasko.core.words import plus_minus
from phasko.jobs.analysing import analyse_stored_job, cylinder_station, phase_strip
from phasko.jobs.handing_over.workshop_name import workshop_name
from phasko.jobs.told import job_document
from phasko.report.marks_picture import marks_svg
from phasko.report.printing import pdf_of, png_of
from phasko.report.setting import Page, Paper, Pictures, hand_over_html
from phasko.report.turn_picture import before_after_svg, turn_svg
from phasko.store import Database, captures, jobs, photos

__all__ = ["FORMS", "Form", "hand_over_document", "hand_over_page", "made_hand_over"]

Form = Literal["html", "pdf", "png", "json"]
FORMS: tuple[Form, ...] = ("html", "pdf", "png", "json")


def hand_over_document(database: Database, job_id: int, by: str = "") -> HandOver:
    """Everything of the job in one document; ``by`` who hands it over. Raises NotFoundError."""
    return hand_over(_facts(database, job_id, by)[0])


def hand_over_page(database: Database, job_id: int, page: Page, paper: Paper, by: str = "") -> str:
    """The hand-over, the owner's page or the first word as HTML that needs nothing else. Raises NotFoundError."""
    facts, ids = _facts(database, job_id, by)
    document = hand_over(facts)
    return hand_over_html(document, _pictures(database, facts, ids, document, page), page, paper)


def made_hand_over(
    database: Database, job_id: int, form: Form, page: Page = "full", *, paper: Paper = "A4", by: str = ""
) -> tuple[str, bytes]:
    """(file name, content) in one of the forms. Raises NotFoundError, and RefusedError for PDF or picture where the
    system's library that sets text is missing."""
    kind = {"full": "hand-over", "owner": "owner", "first": "first-word"}[page]
    name = f"job-{job_id:04d}-{kind}.{form}"
    if form == "json":
        return name, hand_over_document(database, job_id, by).model_dump_json(by_alias=True, indent=1).encode()
    html = hand_over_page(database, job_id, page, paper, by)
    if form == "html":
        return name, html.encode()
    return name, pdf_of(html) if form == "pdf" else png_of(html)


def _facts(database: Database, job_id: int, by: str) -> tuple[Facts, list[int]]:
    """What the document is made from, and the numbers of its captures."""
    analysed = analyse_stored_job(database, job_id)
    told = job_document(database, job_id)
    with database.reading() as session:
        job = jobs.get_job(session, job_id)
        version = job.engine_version
        profile = parse_document(version.document, EngineProfile, version.name)
        ids = analysed.capture_ids if analysed is not None else []
        described = [captures.described(captures.get_capture(session, one)) for one in ids]
        pictured = [
            PhotoLine(id=one.id, station=one.station, caption=one.caption, width=one.width, height=one.height)
            for one in photos.photos_of(session, job_id)
        ]
        shop = workshop_name(session)
        head = Head(
            workshop=shop.name,
            address=shop.address,
            number=job.id,
            made_at=datetime.now(UTC).astimezone().strftime("%d %B %Y").lstrip("0"),
            measured_by=by or job.holder,
            vehicle=job.vehicle.name,
            make_model=job.vehicle.make_model,
            engine=version.name,
            distance_km=told.complaint.distance_km if told.complaint is not None else None,
            complaint=job.complaint,
            codes=[code.code for code in told.codes],
            history=_history(told),
        )
    analysis = analysed.analysis if analysed is not None else _nothing(profile, version.sha256, told)
    return Facts(analysis, profile, told, tuple(described), head, tuple(pictured)), ids


def _nothing(profile: EngineProfile, engine_sha256: str, told: JobDocument) -> Analysis:
    """The result of a job of which nothing was measured or seen."""
    from phasko.core.analyse import Beside, result_document

    return result_document([], profile, [], engine_sha256, Beside(told=told))


def _history(told: JobDocument) -> list[str]:
    """What was replaced before, in a few words."""
    words = {"none": "no change", "changed": "it changed", "cured": "cured for a while"}
    when = {"before_symptom": ", before it began", "after_symptom": ", after it began", "unknown": ""}
    return [
        f"{PART_WORDS[one.part].split(':')[0]} replaced{when[one.when]}"
        f"{f' by {one.by}' if one.by else ''}{f' at {one.at}' if one.at else ''} ({words[one.effect]})"
        for one in told.replaced
    ]


def _pictures(database: Database, facts: Facts, ids: list[int], document: HandOver, page: Page) -> Pictures:
    if page == "owner":
        return Pictures()
    chosen = _chosen(facts)
    turn = caption = ""
    if chosen is not None:
        strip = _strip(database, ids[chosen])
        if strip is not None and (strip.lanes or strip.ruler):
            turn = turn_svg(strip, cylinder_station(database, ids[chosen]))
            caption = _caption(facts.analysis.captures[chosen], facts.described[chosen], strip)
    if page == "first":
        return Pictures(turn=turn, caption=caption)
    return Pictures(
        turn=turn,
        caption=caption,
        marks=marks_svg(document.opening.marks) if document.opening is not None else "",
        seen_marks=marks_svg(document.seen_marks),
        before_after=_before_after(database, facts, ids),
        photos=_photos(database, facts),
    )


def _chosen(facts: Facts) -> int | None:
    """The capture that shows most: cams that were compared, the pressure in a cylinder beside them, the furthest
    off."""
    about = {id(capture) for capture, _ in facts.captures}
    ranked = [
        (
            any(cam.offset_deg is not None for cam in capture.cams),
            bool(capture.cylinder_pressure),
            max((abs(cam.offset_deg or 0.0) for cam in capture.cams), default=0.0),
            number,
        )
        for number, capture in enumerate(facts.analysis.captures)
        if id(capture) in about
    ]
    return max(ranked)[3] if ranked else None


def _strip(database: Database, capture_id: int) -> TurnStrip | None:
    """``None`` where the capture can no longer be drawn."""
    try:
        return phase_strip(database, capture_id)
    except PhaskoError:
        return None


def _caption(capture: CaptureResult, described: CaptureDescription, strip: TurnStrip) -> str:
    said: list[str] = [described.condition or "recorded"]
    if capture.crank is not None and capture.crank.mean_rpm is not None:
        said.append(f"{capture.crank.mean_rpm:.0f} rpm")
    said += [] if described.temperature == "unknown" else [described.temperature]
    said += [] if described.throttle == "unknown" else [f"throttle {described.throttle}"]
    said += [] if described.phasers == "unknown" else [f"phasers {described.phasers}"]
    first = f"{', '.join(said)}; mean of {len(strip.cycles)} cycles."
    half = max((lane.total_u95_deg or 0.0 for lane in strip.lanes), default=0.0)
    legend = "Solid: measured. Hatched and dashed: the reference. Edges in degrees after TDC 1."
    if capture.cylinder_pressure:
        legend = (
            "Solid: measured. Hatched and dashed: the reference. Edges in degrees after TDC 1, corners after their own "
            "TDC, brackets: half width."
        )
    tdc = "" if strip.tdc_confirmed else " TDC as the crank wheel has it (dashed), not proved."
    out = f" Left out: {'; '.join(dict.fromkeys(one.reason for one in strip.left_out))}." if strip.left_out else ""
    within = f" Offsets {plus_minus(half)}." if half else ""
    return f"{first[:1].upper()}{first[1:]} {legend}{within}{tdc}{out}"


def _before_after(database: Database, facts: Facts, ids: list[int]) -> str:
    """The first pair whose cams were read in both, as one picture."""
    before = facts.analysis.before_repair
    numbers = {capture.file: ids[i] for i, capture in enumerate(facts.analysis.captures)}
    for pair in before.pairs if before is not None else []:
        strips = [_strip(database, numbers[file]) for file in (pair.before, pair.after)]
        first, second = strips
        if first is not None and second is not None and first.lanes and second.lanes:
            return before_after_svg(first, second)
    return ""


def _photos(database: Database, facts: Facts) -> dict[int, str]:
    with database.reading() as session:
        return {
            one.id: f"data:image/jpeg;base64,{base64.b64encode(photos.get_photo(session, one.id).data).decode()}"
            for one in facts.photos
        }
