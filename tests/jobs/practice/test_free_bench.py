"""The free bench: its pictures, cars made on it for oneself and for a class, and what is refused."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from phasko.bench.blind import ByHand, Sized
from phasko.core.errors import DocumentError
from phasko.jobs import practice
from phasko.jobs.practice import Begin, BenchAsked, CallAsked, ForClass, ForMyself
from phasko.jobs.practice.attempt import car_of
from phasko.store import Database
from phasko.store.attempts import attempt_of

JUMPED = ByHand(engine="corvane-2.1-four", fault="chain_jumped", sized=Sized(size=2.0))


@pytest.fixture
def workshop(tmp_path: Path) -> Iterator[Database]:
    made = Database(tmp_path / "practice")
    yield made
    made.close()


def test_every_engine_can_be_turned_at() -> None:
    engines = practice.bench_engines()
    assert len(engines) == 12
    for engine in engines:
        assert {"none", "weak_cylinder", "crank_signal_shifted"} <= {one.fault for one in engine.faults}
        assert all(one.title and not one.title.startswith(" ") for one in engine.faults)
        assert engine.tooth_deg is None or engine.tooth_deg > 0.0


def test_a_picture_has_a_lane_for_every_lead_and_a_number_for_every_cam() -> None:
    picture = practice.bench_picture(BenchAsked(car=JUMPED))
    assert picture.turns
    assert [lane.title for lane in picture.lanes][:2] == ["Crank sensor", "Intake cam"]
    assert [lane.title for lane in picture.lanes][-3:] == [
        "Starter current",
        "Pressure in cylinder 1",
        "Speed of the crank",
    ]
    assert {len(lane.values) for lane in picture.lanes} == {1201}
    pitch = next(one for one in practice.bench_engines() if one.id == JUMPED.engine).pitch_deg
    assert pitch is not None
    for cam in picture.cams:
        assert cam.valves_deg == pytest.approx(2.0 * pitch, abs=1.5)
    assert [one.cylinder for one in picture.peaks] == [1, 2, 3, 4]


def test_the_pressure_is_that_of_the_cylinder_that_is_asked() -> None:
    weak = ByHand(engine="corvane-2.1-four", fault="weak_cylinder", sized=Sized(size=6.0, cylinder=3))
    shown = practice.bench_picture(BenchAsked(car=weak))
    assert "Pressure in cylinder 3" in [lane.title for lane in shown.lanes]
    other = practice.bench_picture(BenchAsked(car=weak, cylinder=2))
    assert "Pressure in cylinder 2" in [lane.title for lane in other.lanes]
    with pytest.raises(DocumentError, match="no cylinder 9"):
        practice.bench_picture(BenchAsked(car=weak, cylinder=9))


def test_an_engine_that_does_not_run_says_so() -> None:
    far = ByHand(engine="corvane-2.1-four", fault="chain_jumped", sized=Sized(size=4.0))
    picture = practice.bench_picture(BenchAsked(car=far, turning="idle"))
    assert not picture.turns
    assert "does not keep running" in picture.words


def test_a_car_for_oneself_is_practised_on_and_stays_out_of_the_curve(workshop: Database) -> None:
    begun = practice.take_made(workshop, ForMyself(car=JUMPED, person="Ada"))
    assert begun.kind == "made"
    told = practice.make_call(workshop, begun.job_id, CallAsked(fault="chain_jumped", sure=0.9, covers="off"))
    assert told.outcome.right
    home = practice.practice_home(workshop, "Ada", "Autumn")
    assert [one.kind for one in home.attempts] == ["made"]
    assert home.curve == []
    assert all(topic.attempts == 0 for topic in home.topics)


def test_a_class_takes_a_made_car_under_the_next_number_that_nobody_has_begun(workshop: Database) -> None:
    practice.begin_blind(workshop, Begin(person="Ada", class_name="Übung", number=1))
    first = practice.put_in_class(workshop, ForClass(car=JUMPED, person="Kit", class_name="übung"))
    second = practice.put_in_class(workshop, ForClass(car=JUMPED, person="Kit", class_name="Übung"))
    assert (first.number, second.number) == (2, 3)
    for person in ("Ada", "Ben"):
        begun = practice.begin_blind(workshop, Begin(person=person, class_name="Übung", number=2))
        with workshop.reading() as session:
            car = car_of(attempt_of(session, begun.job_id))
        assert begun.kind == "blind"
        assert (car.engine, car.hidden.fault) == ("corvane-2.1-four", "chain_jumped")
        assert "chain_jumped" not in begun.model_dump_json(exclude={"choices"})
    other = practice.begin_blind(workshop, Begin(person="Ada", class_name="Other", number=2))
    with workshop.reading() as session:
        assert car_of(attempt_of(session, other.job_id)).seed != JUMPED.seed


@pytest.mark.parametrize("name", ["", "  "])
def test_nobody_makes_a_car(workshop: Database, name: str) -> None:
    with pytest.raises((DocumentError, ValueError)):
        practice.put_in_class(workshop, ForClass(car=JUMPED, person=name, class_name="Autumn"))
    with workshop.reading() as session:
        from phasko.store.made_cars import next_number

        assert next_number(session, "Autumn") == 1
