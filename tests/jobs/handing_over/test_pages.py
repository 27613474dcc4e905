"""The pages: text and number of pages of the PDF, whatever the job holds; what is missing is said in one line."""

from __future__ import annotations

import contextlib
import io
import re
import sys
import zlib

import numpy as np
import pypdfium2
import pytest
from PIL import Image

from phasko.core.documents.job import JobDocument
from phasko.core.errors import RefusedError
from phasko.jobs.captures import import_capture
from phasko.jobs.handing_over import hand_over_document, hand_over_page, made_hand_over
from phasko.jobs.handing_over.photos import add_photo
from phasko.jobs.handing_over.workshop_name import WorkshopName, name_workshop
from phasko.jobs.opening import JobSummary, rename_job
from phasko.jobs.told import tell
from phasko.store import Database
from tests.builders import bench_files
from tests.jobs.handing_over.test_photos import picture

LATE = {"B1I": 17.14, "B1E": 17.14}
ARABIC, HEBREW = "سيارة الميناء لا تعمل", "מכונית הנמל אינה מתניעה"


def pages_of(pdf: bytes) -> list[str]:
    with pypdfium2.PdfDocument(pdf) as document:
        found = []
        for page in document:
            text = page.get_textpage()
            found.append(text.get_text_range())
            text.close()
            page.close()
        return found


def told(**parts: object) -> JobDocument:
    return JobDocument.model_validate({"schema": "phasko.job/1", **parts})


def fonts_of(pdf: bytes) -> set[str]:
    plain = [pdf]
    for packed in re.findall(rb"stream\r?\n(.*?)endstream", pdf, re.DOTALL):
        with contextlib.suppress(zlib.error):
            plain.append(zlib.decompress(packed))
    names = (re.findall(rb"/BaseFont\s*/(?:[A-Z]{6}\+)?([\w-]+)", one) for one in plain)
    return {name.decode() for found in names for name in found}


def test_a_job_with_a_finding_is_two_to_four_pages_of_text(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files("cranked", **LATE))
    add_photo(database, job.id, "look", "The mark, one tooth late", "mark.jpg", picture(size=(300, 200)))
    name_workshop(database, WorkshopName(name="Ollery Island Motor Pool", address="Slip Lane 3"))
    _, pdf = made_hand_over(database, job.id, "pdf")
    pages = pages_of(pdf)
    text = " ".join(" ".join(pages).split())
    assert 2 <= len(pages) <= 4
    for words in (
        "Ollery Island Motor Pool",
        "Snow plough 1",
        "Stalls on the slipway",
        "Chain jumped one pitch late",
        "Do not crank or start it.",
        "17.1° late",
        "What was excluded, and by what",
        "What you should see on opening",
        "What was assumed",
        "Hours and costs, both ways",
        "Where it was probed",
        "The mark, one tooth late",
        "cranked.capture.json: sha256",
    ):
        assert words in text, words
    assert f"page 1 of {len(pages)}" in text
    assert text.count("Found") and hand_over_document(database, job.id).headline in text


def test_the_owners_page_is_one_page(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files("cranked", **LATE))
    _, pdf = made_hand_over(database, job.id, "pdf", "owner")
    assert len(pages_of(pdf)) == 1
    assert "Please do not start the engine" in " ".join(pages_of(pdf)[0].split())


def test_a_job_without_captures_says_so(database: Database, job: JobSummary) -> None:
    pages = pages_of(made_hand_over(database, job.id, "pdf")[1])
    assert 1 <= len(pages) <= 2
    assert "Nothing was measured" in pages[0] and "No capture was recorded." in " ".join(pages)


def test_twelve_captures_and_a_long_name_stay_on_few_pages(database: Database, job: JobSummary) -> None:
    rename_job(database, job.id, "Harbour" + "pickup" * 18, "Corvane " + "Skiff" * 38)
    for number in range(12):
        import_capture(database, job.id, bench_files(f"capture-{number}", seed=30 + number, cycles=2.2))
    pages = pages_of(made_hand_over(database, job.id, "pdf")[1])
    assert 2 <= len(pages) <= 4
    text = " ".join(pages)
    assert all(f"capture-{number}" in text for number in range(12))
    assert "pickup" * 18 in "".join(text.split())
    assert len(pages_of(made_hand_over(database, job.id, "pdf", "owner")[1])) == 1


def test_text_from_right_to_left_has_letters(database: Database, job: JobSummary) -> None:
    rename_job(database, job.id, HEBREW, "")
    tell(database, job.id, told(complaint={"text": ARABIC}))
    _, pdf = made_hand_over(database, job.id, "pdf")
    assert {"Hand-over-Hebrew", "Hand-over-Arabic"} <= fonts_of(pdf)
    for page in ("full", "owner"):
        html = hand_over_page(database, job.id, page, "A4")  # type: ignore[arg-type]
        assert ARABIC in html and HEBREW in html and 'dir="auto"' in html


def test_fonts_are_inside_and_no_other_is_used(database: Database, job: JobSummary) -> None:
    fonts = fonts_of(made_hand_over(database, job.id, "pdf")[1])
    assert fonts and all(name.startswith("Hand-over") for name in fonts)


def test_on_letter(database: Database, job: JobSummary) -> None:
    sizes = {}
    for paper in ("A4", "letter"):
        with pypdfium2.PdfDocument(made_hand_over(database, job.id, "pdf", paper=paper)[1]) as document:  # type: ignore[arg-type]
            sizes[paper] = [round(side) for side in document.get_page_size(0)]
    assert sizes == {"A4": [595, 842], "letter": [612, 792]}


def test_nothing_is_told_by_colour(database: Database, job: JobSummary) -> None:
    """Black, white and greys only: it loses nothing on a printer or by fax."""
    import_capture(database, job.id, bench_files("cranked", **LATE))
    with pypdfium2.PdfDocument(made_hand_over(database, job.id, "pdf")[1]) as document:
        for page in document:
            pixels = np.asarray(page.render(scale=0.7).to_pil().convert("RGB"), dtype=int)
            page.close()
            assert int((pixels.max(axis=2) - pixels.min(axis=2)).max()) <= 2


def test_the_first_word_is_a_picture(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files("cranked", **LATE))
    name, png = made_hand_over(database, job.id, "png", "first")
    assert name.endswith(".png") and png.startswith(b"\x89PNG")
    picture_ = Image.open(io.BytesIO(png))
    assert picture_.width == 1500 and len(png) < 1 << 20
    assert len(pages_of(made_hand_over(database, job.id, "pdf", "first")[1])) == 1


def test_what_somebody_wrote_is_text_and_never_markup(database: Database, job: JobSummary) -> None:
    nasty = "<script>alert(1)</script><img src=x onerror=alert(1)>"
    rename_job(database, job.id, nasty, nasty)
    tell(database, job.id, told(complaint={"text": nasty}, notes=[{"text": nasty}], for_owner=nasty))
    for page in ("full", "owner", "first"):
        html = hand_over_page(database, job.id, page, "A4")  # type: ignore[arg-type]
        assert "<script>" not in html and "<img src=x" not in html and "&lt;script&gt;" in html


def test_it_fetches_nothing(database: Database, job: JobSummary) -> None:
    html = hand_over_page(database, job.id, "full", "A4")
    assert re.findall(r"(?:src|href)=\"(?!data:)[^\"]*\"|url\((?!data:)", html) == []


def test_without_the_systems_library_html_still_comes(
    database: Database, job: JobSummary, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setitem(sys.modules, "weasyprint", None)
    assert made_hand_over(database, job.id, "html")[1].startswith(b"<!doctype html>")
    with pytest.raises(RefusedError, match="Pango") as refused:
        made_hand_over(database, job.id, "pdf")
    assert "apt install libpango" in refused.value.one_line() and "\n" not in refused.value.one_line()


def test_the_json_carries_the_same(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files("cranked", **LATE))
    _, content = made_hand_over(database, job.id, "json")
    assert b'"phasko.handover/1"' in content and b"Chain jumped one pitch late" in content
