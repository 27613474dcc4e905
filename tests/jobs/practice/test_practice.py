"""A practice car from its beginning to the truth, and that nothing tells its call too early."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from phasko.bench.blind import drawn_car
from phasko.bench.pool import pool_engine
from phasko.core.errors import DocumentError, RefusedError
from phasko.jobs import practice
from phasko.jobs.looking import look_and_listen
from phasko.jobs.practice import Begin, CallAsked, LookAsked
from phasko.jobs.practice.attempt import open_attempt, seed_of
from phasko.jobs.practice.blinded import blinded_analysis, check_called
from phasko.store import Database
from phasko.store.models import Attempt


@pytest.fixture
def workshop(tmp_path: Path) -> Iterator[Database]:
    made = Database(tmp_path / "practice")
    yield made
    made.close()


def begun(workshop: Database, fault: str, seed: int = 5) -> int:
    car = drawn_car(seed, engine="corvane-2.1-four", fault=fault)  # type: ignore[arg-type]
    return open_attempt(workshop, Attempt(kind="made", person="Ada", topic=""), car).job_id


def test_a_class_gets_the_same_cars_whoever_takes_them() -> None:
    assert seed_of("Autumn course", 3) == seed_of(" autumn course ", 3)
    assert len({seed_of("Autumn course", n) for n in range(1, 200)}) == 199
    assert seed_of("Autumn course", 3) != seed_of("Spring course", 3)


def test_going_on_with_a_car_that_was_begun(workshop: Database) -> None:
    asked = Begin(person="Ada", class_name="Autumn", number=1)
    first = practice.begin_blind(workshop, asked)
    assert practice.begin_blind(workshop, asked).job_id == first.job_id
    other = practice.begin_blind(workshop, Begin(person="Ben", class_name="Autumn", number=1))
    assert other.job_id != first.job_id
    assert practice.practice_home(workshop, "Ada", "Autumn").next_number == 2


def test_a_look_is_answered_by_the_car_noted_and_put_on_the_clock(workshop: Database) -> None:
    job = begun(workshop, "chain_jumped")
    view = practice.look(workshop, job, LookAsked(question="marks"))
    assert (view.minutes, view.steps[0].shown) == (6.0, "Out")
    assert view.money == pytest.approx(7.0)
    assert [one.question for one in look_and_listen(workshop, job).noted] == ["marks"]
    with pytest.raises(RefusedError, match="already"):
        practice.look(workshop, job, LookAsked(question="marks"))
    assert practice.attempt_view(workshop, job).minutes == 6.0


def test_nothing_tells_the_call_before_the_learners(workshop: Database) -> None:
    job = begun(workshop, "chain_jumped")
    practice.look(workshop, job, LookAsked(question="marks"))
    blind = blinded_analysis(workshop, job)
    assert blind is not None
    assert blind.analysis.verdict.undecided
    assert blind.analysis.verdict.teardown != "go"
    assert max(fault.probability for fault in blind.analysis.verdict.faults if fault.fault == "chain_jumped") < 0.3
    with pytest.raises(RefusedError):
        check_called(workshop, job)
    with pytest.raises(RefusedError):
        practice.truth(workshop, job)
    assert "chain_jumped" not in practice.attempt_view(workshop, job).model_dump_json(exclude={"choices"})


def test_the_call_is_scored_and_the_truth_told_with_the_machines_beside_it(workshop: Database) -> None:
    job = begun(workshop, "chain_jumped")
    practice.look(workshop, job, LookAsked(question="marks"))
    told = practice.make_call(workshop, job, CallAsked(fault="chain_jumped", sure=0.9, covers="off"))
    assert told.fault == "chain_jumped"
    assert told.outcome.right and told.outcome.decision == "right"
    assert told.outcome.points > 60.0
    assert [one.after for one in told.machine] == ["Timing marks"]
    assert told.outcome.cheapest_minutes > 0.0
    with pytest.raises(RefusedError):
        practice.make_call(workshop, job, CallAsked(fault="none", sure=0.9, covers="on"))
    with pytest.raises(RefusedError):
        practice.look(workshop, job, LookAsked(question="oil"))
    sheet = practice.class_sheet(workshop, "").decode().splitlines()
    assert len(sheet) == 2 and "drive jumped" in sheet[1]


def test_wrong_and_torn_down_ends_below_nought(workshop: Database) -> None:
    job = begun(workshop, "cam_sensor_fault")
    told = practice.make_call(workshop, job, CallAsked(fault="chain_jumped", sure=1.0, covers="off"))
    assert (told.outcome.decision, told.outcome.right) == ("torn_down", False)
    assert told.outcome.points < -100.0


def test_what_the_engine_cannot_have_is_no_call(workshop: Database) -> None:
    job = begun(workshop, "none")
    with pytest.raises(DocumentError):
        practice.make_call(workshop, job, CallAsked(fault="sync_misadjusted", sure=0.5, covers="on"))
    assert practice.attempt_view(workshop, job).ended_at is None


def test_a_drive_is_logged_once_and_a_car_that_does_not_run_is_not_driven(workshop: Database) -> None:
    job = begun(workshop, "exhaust_restricted")
    view = practice.drive(workshop, job)
    assert [step.kind for step in view.steps] == ["drive"]
    with pytest.raises(RefusedError, match="already"):
        practice.drive(workshop, job)
    broken = begun(workshop, "drive_broken")
    with pytest.raises(RefusedError, match="does not start"):
        practice.drive(workshop, broken)


def test_names_that_a_spreadsheet_would_run_are_told_as_text(workshop: Database) -> None:
    car = drawn_car(5, engine="corvane-2.1-four", fault="none")
    job = open_attempt(
        workshop, Attempt(kind="blind", person="=1+1", class_name="Autumn", number=1, topic=""), car
    ).job_id
    practice.make_call(workshop, job, CallAsked(fault="none", sure=0.5, covers="on"))
    assert "'=1+1" in practice.class_sheet(workshop, "Autumn").decode()
    assert pool_engine("corvane-2.1-four").cylinders == 4
