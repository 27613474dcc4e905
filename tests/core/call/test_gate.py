"""The gate with a second kind of evidence: what opens it, and each single thing that keeps it shut."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import pytest

from phasko.bench import Shift
from phasko.core.call import gate as gate_module
from phasko.core.call import posterior
from phasko.core.call.gate import Gate, decide_gate, teardown_probability
from phasko.core.call.posterior import Weighed, judge
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.documents import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence import EVIDENCE, Observable, Prediction
from tests.builders import FOUR, bench_recording, pool_engine

PITCH = 360.0 / 21


@dataclass(frozen=True)
class ValveCorner:
    """A stand-in for valve corners felt in the cylinder pressure: it sees the valves and no signal wheel."""

    name: str = "valve_corner"
    opens_covers: bool = True

    def observe(self, captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> tuple[Observable, ...]:
        return ()

    def predict(self, observable: Observable, state: EngineState) -> Prediction:
        return Prediction(state.valves_deg.get(observable.cam or "", 0.0), {})


@pytest.fixture(autouse=True)
def corner_kind(monkeypatch: pytest.MonkeyPatch) -> None:
    """The judgement knows one more kind of evidence for the time of a test."""
    kinds = (*EVIDENCE, ValveCorner())
    monkeypatch.setattr(gate_module, "EVIDENCE", kinds)
    monkeypatch.setattr(posterior, "_KINDS", {kind.name: kind for kind in kinds})


def corner(cam: str, late_deg: float, sd_deg: float = 1.5) -> Observable:
    return Observable("valve_corner", cam, late_deg, sd_deg, {}, f"valves of {cam} {late_deg}° late", cam)


def judged(shift: Shift, *corners: Observable) -> tuple[Gate, tuple[Weighed, ...]]:
    known = pool_engine(FOUR)
    capture = measure_capture(bench_recording(FOUR, 120, shift), known)
    observed = (*(o for kind in EVIDENCE for o in kind.observe([capture], known)), *corners)
    weighed = judge(known, observed)
    return decide_gate(known, weighed, observed, None), weighed


JUMPED = Shift({"B1I": PITCH, "B1E": PITCH})


def test_signals_and_valves_together_open_it() -> None:
    gate, weighed = judged(JUMPED, corner("B1I", PITCH), corner("B1E", PITCH))
    assert weighed[0].explanation.fault == "chain_jumped"
    assert weighed[0].probability > 0.95
    assert gate.teardown == "go"


def test_signals_alone_do_not() -> None:
    gate, _ = judged(JUMPED)
    assert gate.teardown == "confirm_first"
    assert "Only the cam signals" in gate.because


def test_valves_in_place_speak_for_the_wheel() -> None:
    gate, weighed = judged(JUMPED, corner("B1I", 0.0), corner("B1E", 0.0))
    assert weighed[0].explanation.fault == "crank_signal_shifted"
    assert gate.teardown == "no"


def test_a_coarse_second_kind_is_not_enough() -> None:
    """Corners known to twenty degrees only say next to nothing against a moved wheel."""
    gate, _ = judged(JUMPED, corner("B1I", PITCH, 20.0))
    assert gate.teardown == "confirm_first"


def test_a_contradiction_keeps_it_shut() -> None:
    gate, weighed = judged(JUMPED, corner("B1I", PITCH), corner("B1E", PITCH + 15.0))
    assert weighed[0].explanation.needs_covers_off
    assert gate.teardown == "confirm_first"
    assert "contradicts" in gate.because or "not sure enough" in gate.because


def test_a_cheap_test_that_could_flip_it_keeps_it_shut() -> None:
    from phasko.core.documents.analysis import NextTest

    known = pool_engine(FOUR)
    capture = measure_capture(bench_recording(FOUR, 120, JUMPED), known)
    corners = (corner("B1I", PITCH), corner("B1E", PITCH))
    observed = (*(o for kind in EVIDENCE for o in kind.observe([capture], known)), *corners)
    test = NextTest(test="marks", title="A look at the marks", how="", minutes=6, cranks=False, why="")
    gate = decide_gate(known, judge(known, observed), observed, test)
    assert gate.teardown == "confirm_first"
    assert "a look at the marks" in gate.because


def test_one_cam_whose_valves_follow_is_no_moved_wheel() -> None:
    _, weighed = judged(Shift({"B1E": 12.0}), corner("B1E", 12.0))
    chances = {w.explanation.fault: w.probability for w in weighed}
    assert chances["cam_slipped"] > 10 * chances["cam_signal_shifted"]


def test_one_cam_whose_valves_stay_is_a_moved_wheel() -> None:
    gate, weighed = judged(Shift({"B1E": 12.0}), corner("B1E", 0.0))
    assert weighed[0].explanation.fault == "cam_signal_shifted"
    assert gate.teardown == "no"


def test_nothing_measured_leaves_them_on() -> None:
    known = pool_engine(FOUR)
    gate = decide_gate(known, judge(known, ()), (), None)
    assert (gate.teardown, gate.because) == ("no", "Nothing has been measured yet.")


def test_the_chance_behind_the_covers_is_the_sum_of_its_explanations() -> None:
    _, weighed = judged(JUMPED)
    behind = sum(
        w.probability for w in weighed if w.explanation.fault in ("chain_jumped", "chain_stretched", "cam_slipped")
    )
    assert teardown_probability(weighed) == pytest.approx(behind)
