"""What is said on the Seal station: span, cylinder taken out, known good, firing order."""

from __future__ import annotations

from functools import cache

import pytest

from phasko.bench.faults import CylinderFault, EngineFaults, Spread
from phasko.bench.job_sheet import BenchSheet, recorded_files
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.documents.capture import KnownGoodOf
from phasko.core.errors import DocumentError, NotFoundError, RefusedError
from phasko.formats import CaptureFiles
from phasko.jobs.analysing import analyse_stored_job, seal_picture
from phasko.jobs.captures import ImportedCapture, change_description, import_capture, list_captures
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.library import keep_as_known_good
from phasko.jobs.opening import JobSummary, open_job, show_job
from phasko.jobs.seal_station import firing_order, save_firing_order, set_span, set_taken_out
from phasko.store import Database
from tests.builders import FOUR, pool_engine


@cache
def files(seed: int, out: int = 0) -> CaptureFiles:
    """Crank, a cam and the clamp, cranked for four seconds, that plug out."""
    sheet = BenchSheet(
        engine=FOUR,
        seed=seed,
        faults=EngineFaults(cylinders={out: CylinderFault(plug="out")} if out else {}),
        spread=Spread(),
        scenario=clear_flood_cranking(4.4),
        probes=[Probe("crank"), Probe("cam", cam="B1I"), Probe("starter_current")],
        scope=ScopeSettings(rate_hz=20_000.0),
    )
    made = recorded_files(sheet, f"seal-{seed}")
    described, data = f"seal-{seed}.capture.json", f"seal-{seed}.csv"
    return CaptureFiles(described, made[described], data, made[data])


@pytest.fixture
def capture(database: Database, job: JobSummary) -> ImportedCapture:
    return import_capture(database, job.id, files(301))


def test_the_span_is_adjusted_and_given_back(database: Database, job: JobSummary, capture: ImportedCapture) -> None:
    whole = seal_picture(database, capture.id)
    assert whole is not None
    assert not whole.seal.chosen
    set_span(database, capture.id, 1.5, 3.2)
    part = seal_picture(database, capture.id)
    assert part is not None
    assert part.seal.chosen
    assert len(part.seal.cycles) < len(whole.seal.cycles)
    assert all(c.from_s >= 1.5 and c.to_s <= 3.2 for c in part.seal.cycles)
    assert list_captures(database, job.id)[0].seal_from_s == 1.5
    set_span(database, capture.id, None, None)
    assert seal_picture(database, capture.id) == whole


def test_a_span_that_ends_before_it_begins_is_refused(database: Database, capture: ImportedCapture) -> None:
    with pytest.raises(DocumentError):
        set_span(database, capture.id, 3.0, 2.0)
    with pytest.raises(NotFoundError):
        set_span(database, 99, 1.0, 2.0)


def test_a_known_good_capture_gives_others_of_its_kind_a_size(database: Database, job: JobSummary) -> None:
    good = import_capture(database, job.id, files(302))
    keep_as_known_good(database, good.id, KnownGoodOf(how="set_up"))
    other = open_job(database, vehicle="Second", make_model="", complaint="", codes=[], engine_id=job.engine.id)
    own = import_capture(database, other.id, files(303))
    picture = seal_picture(database, own.id)
    assert picture is not None
    assert picture.seal.overall is not None
    assert picture.seal.overall.references == 1
    analysed = analyse_stored_job(database, other.id)
    assert analysed is not None
    assert analysed.analysis.captures[0].compression is not None
    assert analysed.analysis.captures[0].compression.overall is not None
    keep_as_known_good(database, good.id, None)
    without = analyse_stored_job(database, other.id)
    assert without is not None
    assert without.analysis.captures[0].compression is not None
    assert without.analysis.captures[0].compression.overall is None


def test_a_job_is_not_compared_with_itself(database: Database, job: JobSummary, capture: ImportedCapture) -> None:
    keep_as_known_good(database, capture.id, KnownGoodOf(how="set_up"))
    picture = seal_picture(database, capture.id)
    assert picture is not None
    assert picture.seal.overall is None


def test_the_firing_order_is_found_and_saved(database: Database) -> None:
    """A profile that has 1-2-3-4, an engine that fires 1-3-4-2, two plugs taken out one after the other."""
    document = pool_engine(FOUR).model_copy(update={"firing_order": [1, 2, 3, 4], "name": "Unknown four"})
    engine = save_engine(database, document.model_dump_json(by_alias=True, exclude_none=True).encode(), "e.json")
    job = open_job(database, vehicle="Winch", make_model="", complaint="", codes=[], engine_id=engine.id)
    assert firing_order(database, job.id).captures == 0
    first = import_capture(database, job.id, files(304, out=3))
    set_taken_out(database, first.id, 3)
    half = firing_order(database, job.id)
    assert half.order == [1, 3, None, None]
    with pytest.raises(RefusedError):
        save_firing_order(database, job.id)
    second = import_capture(database, job.id, files(305, out=2))
    set_taken_out(database, second.id, 2)
    whole = firing_order(database, job.id)
    assert whole.order == [1, 3, 4, 2]
    assert whole.contradicts
    analysed = analyse_stored_job(database, job.id)
    assert analysed is not None
    assert any(p.code == "firing_order_contradicts" for p in analysed.analysis.captures[0].problems)
    saved = save_firing_order(database, job.id)
    assert saved.engine.version == 2
    assert show_job(database, job.id).engine.id == saved.engine.id
    assert not firing_order(database, job.id).contradicts


def test_a_cylinder_the_engine_lacks_is_refused(database: Database, capture: ImportedCapture) -> None:
    with pytest.raises(DocumentError, match="no cylinder 5"):
        set_taken_out(database, capture.id, 5)
    set_taken_out(database, capture.id, None)


@pytest.mark.parametrize(
    ("span", "cycles"), [((1.0, 1.1), "lie no whole"), ((1.5, 2.6), "lies one whole"), ((40.0, 50.0), "lie no whole")]
)
def test_a_stretch_too_short_to_judge_is_refused_and_nothing_vanishes(
    database: Database, job: JobSummary, capture: ImportedCapture, span: tuple[float, float], cycles: str
) -> None:
    before = analyse_stored_job(database, job.id)
    whole = seal_picture(database, capture.id)
    with pytest.raises(RefusedError, match=f"{cycles} cranking cycles?; sealing needs 2") as refused:
        set_span(database, capture.id, *span)
    assert "It is as it was" in refused.value.one_line()
    assert list_captures(database, job.id)[0].seal_from_s is None
    assert seal_picture(database, capture.id) == whole
    assert analyse_stored_job(database, job.id) == before


def test_an_impossible_stretch_stored_earlier_leaves_the_controls_and_the_call(
    database: Database, job: JobSummary
) -> None:
    stored = import_capture(database, job.id, files(303, out=2))
    before = analyse_stored_job(database, job.id)
    change_description(database, stored.id, {"seal_from_s": 1.0, "seal_to_s": 1.1})
    shown = seal_picture(database, stored.id)
    assert shown is not None
    assert shown.seal.chosen
    after = analyse_stored_job(database, job.id)
    assert before is not None
    assert after is not None
    assert after.analysis.verdict.faults[0].fault == before.analysis.verdict.faults[0].fault == "weak_cylinder"


def test_leaving_out_the_cycles_in_which_it_leaks_never_improves_the_call(database: Database, job: JobSummary) -> None:
    """Dead from first to last: whichever stretch is chosen, and whichever other cylinder is said to be taken out."""
    stored = import_capture(database, job.id, files(303, out=2))
    chances = []
    for span, out in (((None, None), None), ((1.5, 3.2), None), ((1.5, 3.2), 3)):
        set_span(database, stored.id, *span)
        set_taken_out(database, stored.id, out)
        found = analyse_stored_job(database, job.id)
        assert found is not None
        chances.append({f.fault: f.probability for f in found.analysis.verdict.faults}["none"])
    assert max(chances) <= chances[0] + 1e-3
    set_taken_out(database, stored.id, 2)
    assert found is not None


def test_the_largest_words_name_the_worst_cylinder_and_the_count_says_how_many_are_sound(
    database: Database, job: JobSummary, capture: ImportedCapture
) -> None:
    sound = seal_picture(database, capture.id)
    assert sound is not None
    assert (sound.seal.worst_where, sound.seal.sound, sound.seal.expected) == (None, 4, 4)
    stored = import_capture(database, job.id, files(303, out=2))
    low = seal_picture(database, stored.id)
    assert low is not None
    assert (low.seal.worst_where, low.seal.sound) == ("Cylinder 2", 3)
    found = analyse_stored_job(database, job.id)
    assert found is not None
    assert found.analysis.sealing == f"cylinder 2 at {low.seal.worst_size}"
    speeds = [curve for curve in sound.seal.curves if curve.source == "crank_speed"]
    assert [curve.unit for curve in speeds] == ["rpm"]
    assert 100 < max(speeds[0].values) < 400
