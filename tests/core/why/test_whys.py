"""Every number that judges says why, and the parts that it names make the number that it explains."""

from __future__ import annotations

import math
import re

import pytest

from phasko.core.documents.analysis import (
    Analysis,
    CamResult,
    CaptureResult,
    CrankResult,
    IgnitionResult,
    PhaserResult,
    Provenance,
    ProvenanceCapture,
)
from phasko.core.documents.cam_results import CycleOffset
from phasko.core.documents.compression_results import CompressionResult, CompressionSourceResult, CylinderRelative
from phasko.core.documents.standards_results import ElongationResult
from phasko.core.documents.verdict_results import Amount, EvidenceWeight, FaultResult, Verdict, Where
from phasko.core.why import Why, whys
from tests.builders import FOUR, pool_engine
from tests.core.handover.facts import jumped

CYCLES = [0.31, 0.27, 0.29]


def analysis(*, measured: bool = True) -> Analysis:
    cam = CamResult(
        cam="B1I",
        segment="cranking",
        reference="profile",
        offset_deg=0.29,
        offset_u95_deg=0.3,
        total_u95_deg=0.5,
        cycle_spread_deg=0.02,
        cycles=3,
        per_cycle=[CycleOffset(time_s=1.0 + k, offset_deg=offset) for k, offset in enumerate(CYCLES)],
    )
    seal = CompressionResult(
        source="starter_current",
        events_per_cycle=4,
        expected_events=4,
        identified_by="cam",
        cylinders=[
            CylinderRelative(cylinder=c, relative=0.6 if c == 3 else 1.0, u95=0.04, state="weak" if c == 3 else "good")
            for c in (1, 3, 4, 2)
        ],
        sources=[
            CompressionSourceResult(
                source="starter_current",
                channel="c4",
                events_per_cycle=4,
                explained=0.97,
                humps_late_deg=0.0,
                turned=False,
                relative=[1.0, 1.0, 0.58, 1.0],
                u95=[0.05, 0.05, 0.05, 0.05],
            )
        ],
        cycles_used=3,
        cycles_left_out=1,
    )
    fault = FaultResult(
        fault="chain_jumped",
        probability=0.95,
        where=Where(),
        amount=Amount(),
        title="Chain jumped one pitch late",
        evidence=[EvidenceWeight(kind="cam", title="Cam signals", bits=math.log2(87.0), text="reads 17.1° late")],
    )
    verdict = Verdict(
        undecided=False,
        undecided_because=None,
        faults=[fault],
        teardown="go",
        teardown_because="Two kinds agree.",
        next_test=None,
        cautions=[],
        measured=measured,
    )
    return Analysis(
        captures=[CaptureResult(file="a.capture.json", usable=True, cams=[cam], compression=seal)],
        verdict=verdict,
        provenance=Provenance(
            software="x", numbers="y", captures=[ProvenanceCapture(file="a", sha256="0")], engine_sha256="0"
        ),
    )


def answers(**how: bool) -> dict[str, Why]:
    found = whys(analysis(**how), pool_engine(FOUR), [7])
    assert len({why.id for why in found}) == len(found)
    return {why.id: why for why in found}


def number(text: str) -> float:
    found = re.search(r"\d+(\.\d+)?", text)
    assert found is not None
    return float(found.group())


def test_an_offset_is_made_of_its_cycles_and_its_half_width_of_its_parts() -> None:
    why = answers()["7/cam/B1I/cranking"]
    assert why.value == "0.3° late ± 0.5°"
    assert number(why.value) == pytest.approx(sum(CYCLES) / 3, abs=0.05)
    assert [c.time_s for c in why.cycles] == [1.0, 2.0, 3.0]
    halves = [number(part.value) for part in why.parts if part.name.startswith("of the ")]
    assert math.hypot(*halves) == pytest.approx(0.5, abs=0.01), "the formula that stands beside it"
    assert why.taken_from == "3 cycles while cranking, of a"
    assert "the engine's profile" in why.source


def test_a_cylinder_is_named_with_its_own_sources_and_limits() -> None:
    why = answers()["7/seal/3"]
    assert why.value == "60 % ± 4 %, weak"
    told = {part.name: part.value for part in why.parts}
    assert told["By starter current"] == "58 % ± 5 %", "sources are in order of cylinder numbers, the engine's is not"
    assert told["Weak below, dead below"] == "90 %, 25 %"
    assert told["Cycles left out, since the speed was not steady"] == "1"


def test_a_chance_names_every_kind_and_the_gate_its_thresholds() -> None:
    found = answers()
    chance = found["chance/chain_jumped"]
    assert chance.value == "95 in 100"
    assert [part.value for part in chance.parts] == ["87 to 1 for"]
    gate = found["gate"]
    assert gate.value == "Open up"
    assert any(part.value == "95 in 100" for part in gate.parts)
    assert gate.parts[-1].value == "Two kinds agree."


def test_before_anything_is_measured_there_are_no_chances_to_explain() -> None:
    assert not [key for key in answers(measured=False) if key.startswith(("chance", "gate"))]


def test_each_says_formula_and_source() -> None:
    for why in answers().values():
        assert why.formula
        assert why.source
        assert why.taken_from


def test_the_edges_of_a_measured_cam_give_its_offset() -> None:
    """What stands in the answer is enough to reckon the number after, to the digits that it shows."""
    facts = jumped()
    found = {why.id: why for why in whys(facts.analysis, facts.profile, [7])}
    why = found["7/cam/B1I/cranking"]
    pairs = [re.findall(r"(\d+\.\d)°", part.value) for part in why.parts if part.name.startswith("Edge")]
    offsets = [(float(measured) - float(belongs) + 360.0) % 720.0 - 360.0 for measured, belongs in pairs]
    assert len(offsets) == 4
    assert sum(offsets) / len(offsets) == pytest.approx(number(why.value), abs=0.1)
    assert len({why.id for why in found.values()}) == len(found)


def test_a_spark_stands_beside_its_window() -> None:
    made = (
        analysis()
        .captures[0]
        .model_copy(
            update={"ignition": [IgnitionResult(cylinder=1, spark_deg=-3.2, spark_u95_deg=0.4, state="in", sparks=8)]}
        )
    )
    whole = analysis().model_copy(update={"captures": [made]})
    engine = pool_engine(FOUR)
    assert engine.ignition is not None
    assert engine.ignition.cranking_spark_deg is not None
    why = {one.id: one for one in whys(whole, engine, [7])}["7/spark/1"]
    assert why.value == "3.2° before TDC ± 0.4°, in"
    window = next(part.value for part in why.parts if part.name == "Window of the profile")
    assert number(window) == abs(engine.ignition.cranking_spark_deg[0])


def test_a_phaser_and_a_longer_chain_name_their_limits_and_parts() -> None:
    swept = PhaserResult(
        cam="B1I",
        swept_deg=-1.2,
        stop_low_deg=None,
        stop_high_deg=None,
        returned_to_deg=0.0,
        state="stuck",
        range_deg=50.0,
        dead_time_s=0.04,
        dead_time_u95_s=0.01,
    )
    longer = ElongationResult(
        percent=0.41,
        u95_percent=0.1,
        mm=4.1,
        u95_mm=1.0,
        furthest_cam="B1E",
        furthest_deg=4.0,
        furthest_u95_deg=1.0,
        fits=True,
    )
    captures = [analysis().captures[0].model_copy(update={"phasers": [swept]})]
    whole = analysis().model_copy(update={"captures": captures, "elongation": longer})
    found = {why.id: why for why in whys(whole, pool_engine(FOUR), [7])}
    phaser = {part.name: part.value for part in found["7/phaser/B1I"].parts}
    assert found["7/phaser/B1I"].value == "1.2° early, stuck"
    assert (phaser["Limits"], phaser["Dead time"]) == (
        "stuck under 3°, slow under 20°/s, off park over 2°",
        "40 ± 10 ms",
    )
    chain = {part.name: part.value for part in found["elongation"].parts}
    assert chain["Exhaust cam, furthest"] == "4.0° late ± 1.0°"
    assert chain["It stays in every condition"] == "seen in one condition only"


@pytest.mark.parametrize("source", ["cylinder_pressure", "speed", "current", "joined"])
def test_the_pistons_are_found_by_something(source: str) -> None:
    crank = CrankResult(
        wheel="60-2",
        matches_profile=True,
        mean_rpm=200.0,
        revolutions=14.0,
        cycles=7,
        missing_edges=0,
        extra_edges=0,
        index_offset_deg=-0.3,
        index_offset_u95_deg=0.6,
        index_offset_source=source,  # type: ignore[arg-type]
    )
    whole = analysis().model_copy(update={"captures": [analysis().captures[0].model_copy(update={"crank": crank})]})
    why = {one.id: one for one in whys(whole, pool_engine(FOUR), [7])}["7/pistons"]
    assert why.value == "0.3° early ± 0.6°"
    assert why.parts[0].value
    assert why.taken_from == "7 cycles, of a"
