"""All standards side by side, the drive's own arithmetic, and what moved together."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from phasko.bench.faults import DriveFaults, EngineFaults, PhaserFault
from phasko.bench.probe import Probe
from phasko.bench.scenario import PhaserCommand, Scenario, clear_flood_cranking, idling, starting
from phasko.core.analyse import Beside, HashedCapture
from phasko.core.documents import Analysis
from phasko.core.documents.analysis import CaptureResult
from phasko.core.documents.capture import Mark
from phasko.core.documents.job import JobDocument
from phasko.core.documents.standards_results import ElongationResult, StandardResult
from phasko.core.signals.recording import Recording
from tests.builders import FOUR, pool_engine, run_recording
from trials.analyses import analyse_job

SIX = "brimholt-3.2-six"


def recorded(
    engine: str = SIX, scenario: Scenario | None = None, seed: int = 5, *, name: str = "capture", **drive: Any
) -> Recording:
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in pool_engine(engine).cams)]
    scenario = scenario or clear_flood_cranking(4.0)
    recording, _ = run_recording(engine, probes, seed, scenario, EngineFaults(DriveFaults(**drive)))
    return replace(recording, file=f"{name}.capture.json")


def said(*recordings: Recording, engine: str = SIX, good: tuple[Recording, ...] = (), **told: Any) -> Analysis:
    document = JobDocument.model_validate({"schema": "phasko.job/1", **told})
    hashed = [HashedCapture(recording, "0" * 64) for recording in recordings]
    return analyse_job(hashed, pool_engine(engine), "0" * 64, good, Beside(told=document))


def rows(capture: CaptureResult, kind: str, cam: str = "B1I") -> list[StandardResult]:
    return [row for row in capture.standards if row.kind == kind and row.cam == cam]


def test_every_standard_reads_the_same_pitch() -> None:
    """Bank 2's chain is one pitch late (360/23 degrees); the figure and the picture are those of a healthy engine."""
    first = pool_engine(SIX).cam("B2I")
    index = pool_engine(SIX).crank.index_deg
    assert first is not None and index is not None
    after = (first.edges[0].deg - index) % 360.0
    figures = [
        {"cam": "B2I", "form": "degrees", "value": after, "u95": 0.5, "source": "workshop note"},
        {"cam": "B2I", "form": "picture", "value": after / 3.6, "from_mark": 0, "to_mark": 100, "reading": 0.3},
    ]
    earlier = recorded(name="spring")
    found = said(earlier, recorded(name="now", jumped_at_idler={2: 1}), figures=figures)
    capture = found.captures[1]
    pitch = 360.0 / 23.0
    for kind in ("profile", "figure", "picture", "other_bank", "earlier"):
        (row,) = rows(capture, kind, "B2I")
        assert abs(row.offset_deg - pitch) <= row.total_u95_deg, kind
        assert row.assumes
    (shaft,) = rows(capture, "other_shaft", "B2I")
    assert shaft.offset_deg == pytest.approx(0.0, abs=shaft.total_u95_deg)
    assert shaft.disagrees
    assert rows(capture, "profile", "B2I")[0].used
    assert capture.together is not None
    assert capture.together.text == "Both cams of bank 2 alike: that chain, or its sprocket."
    assert capture.together.points_to == [["crank", "B2I", "B2E"]]
    assert any("It has moved since." in text for text in capture.standards_said)


def test_known_good_engines_come_first_and_the_profile_beside_them_is_said_to_disagree() -> None:
    """The book's exhaust cam stands 4 degrees wrong; five sound engines agree with this one."""
    good = tuple(recorded(name=f"good-{i}", cam_wheel_deg={"B1E": 4.0 + 0.1 * i}) for i in range(5))
    capture = said(recorded(cam_wheel_deg={"B1E": 4.1}), good=good).captures[0]
    (known,) = rows(capture, "known_good", "B1E")
    (book,) = rows(capture, "profile", "B1E")
    assert known.used and not book.used
    assert abs(known.offset_deg) < known.total_u95_deg < 1.0
    assert book.offset_deg == pytest.approx(4.1, abs=0.1)
    assert book.disagrees
    assert capture.standards_said[0].startswith("The headline compares with the known good engines")


def test_a_known_good_of_another_state_is_refused_unless_a_person_allows_it() -> None:
    """Cams need not stand alike cold and hot; where they are compared all the same, the range is wider."""
    cold = replace(clear_flood_cranking(4.0), temperature="cold")
    good = recorded(name="good", scenario=cold)
    refused = said(recorded(), good=(good,)).captures[0]
    assert {cam.reference for cam in refused.cams} == {"profile"}
    (problem,) = [p for p in refused.problems if p.code == "reference_refused"]
    assert "good was recorded cold, not hot" in problem.text
    allowed = said(recorded(), good=(good,), compare={"allowed": ["good.capture.json"]}).captures[0]
    alike = said(recorded(), good=(recorded(name="good"),)).captures[0]
    assert {cam.reference for cam in allowed.cams} == {"reference"}
    assert "reference_of_another_state" in {p.code for p in allowed.problems}
    wide, usual = rows(allowed, "known_good")[0].total_u95_deg, rows(alike, "known_good")[0].total_u95_deg
    assert wide > 1.3 * usual
    left = said(recorded(), good=(recorded(name="good"),), compare={"left_out": ["good.capture.json"]}).captures[0]
    assert {cam.reference for cam in left.cams} == {"profile"}


@pytest.mark.parametrize(("percent", "seen"), [(0.0, False), (0.6, True), (1.0, True)])
def test_elongation_is_read_from_the_pattern_along_the_strands(percent: float, seen: bool) -> None:
    """The contract: e/100 * links * pitch late. On the longest strand, 52 links of 8 mm, 0.6 % are 2.5 mm."""
    found = said(recorded(elongation_percent=percent)).elongation
    assert found is not None
    assert abs(found.percent - percent) <= found.u95_percent
    assert found.mm == pytest.approx(found.percent / 100.0 * 52 * 8.0)
    assert found.furthest_cam == "B2E"
    assert found.furthest_deg == pytest.approx(found.percent / 100.0 * 52 * 360.0 / 23.0)
    assert (found.percent > found.u95_percent) == seen
    assert found.fits


def test_what_comes_and_goes_is_no_elongation() -> None:
    """A tensioner that has filled a second after the start is late on the first turns only; a worn chain always."""
    worn = [recorded(scenario=s, elongation_percent=0.6, name=n) for n, s in (("a", None), ("b", idling(2.0)))]
    slack = [recorded(name="a", elongation_percent=0.6), recorded(scenario=idling(2.0), name="b")]
    stays, goes = (said(*captures).elongation for captures in (worn, slack))
    assert isinstance(stays, ElongationResult) and isinstance(goes, ElongationResult)
    assert stays.stays is True
    assert "It stays in every condition" in stays.words
    assert goes.stays is False
    assert goes.percent < goes.u95_percent


def test_a_jump_is_no_elongation() -> None:
    found = said(recorded(jumped_at_idler={1: 1})).elongation
    assert found is not None
    assert not found.fits


@pytest.mark.parametrize(
    ("drive", "sentence"),
    [
        ({}, "All cams stand where they should."),
        ({"jumped_at_crank": 1}, "All cams alike, all banks: the crank sprocket or its chain, or the crank's signal"),
        ({"slipped_deg": {"B1E": 9.0}}, "Only the bank 1 exhaust cam: its bolt, a tooth at its own sprocket"),
        ({"slipped_deg": {"B1I": -9.0}}, "Only the bank 1 intake cam: its phaser, its bolt"),
        ({"elongation_percent": 0.9}, "Later the further along the strand: a longer chain."),
        ({"slipped_deg": {"B1E": 9.0, "B2I": -20.0}}, "Each by its own amount"),
    ],
)
def test_what_moved_together_in_one_sentence(drive: dict[str, Any], sentence: str) -> None:
    together = said(recorded(**drive)).captures[0].together
    assert together is not None
    assert together.text.startswith(sentence)


def test_pitches_are_counted_only_where_they_are_whole() -> None:
    one, most = (
        said(recorded(slipped_deg={"B1E": deg})).captures[0].chain for deg in (360.0 / 23.0, 0.9 * 360.0 / 23.0)
    )
    (counted,) = next(c for c in one if c.cam == "B1E").pitches
    (uncounted,) = next(c for c in most if c.cam == "B1E").pitches
    assert (counted.whole, uncounted.whole) == (1, None)
    assert uncounted.pitches == pytest.approx(0.9, abs=0.01)
    assert "not a whole number" in next(c for c in most if c.cam == "B1E").words


def test_margins_are_told_in_degrees_and_in_millimetres_of_chain() -> None:
    """One tooth takes up one pitch: 8 mm of chain are 360/23 degrees, so a degree is 0.511 mm."""
    cam = next(c for c in said(recorded(slipped_deg={"B1E": 3.0})).captures[0].chain if c.cam == "B1E")
    maker = next(m for m in cam.margins if m.school == "maker")
    assert maker.margin_deg == pytest.approx(2.0, abs=0.1)
    assert maker.margin_mm == pytest.approx(2.0 * 8.0 * 23 / 360.0, abs=0.06)
    named = said(recorded(slipped_deg={"B1E": 3.0}), limit={"school": "maker", "cam_deg": 8.0}).captures[0].chain
    margins = next(c for c in named if c.cam == "B1E").margins
    assert next(m for m in margins if m.school == "maker").limit_deg == 8.0


def test_active_phasers_conclude_nothing_about_the_drive() -> None:
    active = replace(idling(2.0), phasers_connected=True)
    recording = recorded(FOUR, active, phasers={"B1I": PhaserFault(park_deg=-8.0)})
    together = said(recording, engine=FOUR).captures[0].together
    assert together is not None
    assert "Phasers were active" in together.text


def test_conditions_are_compared_and_what_changes_is_said() -> None:
    hot, cold = (replace(clear_flood_cranking(4.0), temperature=t) for t in ("hot", "cold"))
    found = said(
        recorded(scenario=hot, name="hot", slipped_deg={"B1I": -12.0}), recorded(scenario=cold, name="cold")
    ).conditions
    assert found is not None
    assert len(found.rows) == 8
    (text,) = found.said
    assert text.startswith("Bank 1 intake cam: 12.0° early hot, 0.0° cold. What comes and goes is no elongation")


def test_one_start_against_running_in_the_same_capture() -> None:
    found = said(recorded(scenario=starting(5.0), tensioner_deg=9.0)).captures[0]
    stretches = [row for row in found.standards if row.kind == "stretch" and row.segment == "running"]
    assert stretches
    assert all(row.name == "Cranking, in this capture" for row in stretches)
    assert stretches[0].offset_deg < -2.0


def test_a_step_is_linked_to_what_else_happened() -> None:
    """A phaser that lets go while cranking, with the driver's mark beside it."""
    by_itself = {"B1I": (PhaserCommand(2.6, 9.0, share=0.3),)}
    lets_go = Scenario(5.0, throttle=1.0, phaser_commands=by_itself, phasers_by_hand=True)
    recording = recorded(scenario=lets_go)
    told = {"phasers": "unplugged", "marks": [Mark(t_s=2.8, text="rattle")]}
    marked = replace(recording, description=recording.description.model_copy(update=told))
    (step,) = [cam.step for cam in said(marked).captures[0].cams if cam.step is not None]
    assert step.happened == ["the mark “rattle” was set"]
