"""A plan as somebody set the instrument by hand."""

import pytest

from phasko.bench.pool import pool_engine
from phasko.core.documents.job import HookUp, JobDocument
from phasko.core.hookup import HookUpPlan, as_chosen, hook_up_plan, hook_up_question, ranges_of

TOLD = JobDocument.model_validate({"schema": "phasko.job/1"})


def plan(question: str = "timing") -> HookUpPlan:
    asked = hook_up_question(question)
    assert asked is not None
    return hook_up_plan(pool_engine("corvane-2.1-four"), asked, 4, TOLD)


def test_what_was_not_chosen_stays_as_planned() -> None:
    assert as_chosen(plan(), HookUp()) == plan()


def test_a_range_that_was_set_is_that_leads_alone() -> None:
    planned = plan()
    chosen = as_chosen(planned, HookUp(ranges_v={"crank@sensor": 2.0}))
    ranges = {lead.key: lead.range_v for lead in chosen.leads}
    assert ranges["crank@sensor"] == 2.0
    others = {lead.key: lead.range_v for lead in planned.leads if lead.key != "crank@sensor"}
    assert {key: ranges[key] for key in others} == others


def test_another_rate_says_what_one_sample_is_then() -> None:
    planned = plan()
    chosen = as_chosen(planned, HookUp(rate_hz=10_000.0)).recording
    assert planned.recording.rpm is not None
    # Six degrees a second for each turn a minute.
    assert chosen.sample_deg == pytest.approx(6.0 * planned.recording.rpm / 10_000.0)
    assert "by hand" in chosen.why


def test_ranges_are_told_at_the_wire() -> None:
    coil = next(lead for lead in plan("spark").leads if lead.role == "coil")
    assert coil.attenuator > 1.0
    assert ranges_of(coil)[0] == pytest.approx(0.05 * coil.attenuator)
