"""Practice cars: alike for one seed everywhere, and answering as the trade says that such cars answer."""

import hashlib
import subprocess
import sys

import pytest

from phasko.bench.blind import ABLE, BlindCar, answer_of, drawn_car, fault_of, is_able
from phasko.bench.pool import pool_engine, pool_engines
from phasko.core.errors import PhaskoError
from phasko.core.looks import QUESTIONS, Look, asked_of, check_look

SEEDS = range(400)


def told(seeds: range) -> str:
    return "\n".join(drawn_car(seed).model_dump_json() for seed in seeds)


def test_a_seed_is_the_same_car_in_another_process_with_another_hash_seed() -> None:
    """Nothing of it rests on the machine, the order of sets, or what was drawn before."""
    script = "from tests.bench.blind.test_blind import told; print(told(range(40)), end='')"
    other = subprocess.run(
        [sys.executable, "-c", script],
        env={"PYTHONHASHSEED": "4711", "PATH": ""},
        capture_output=True,
        text=True,
        check=True,
    )
    assert other.stdout == told(range(40))


def test_a_seed_is_the_same_car_on_every_machine() -> None:
    """Drawn by Python's own generator, which is the same everywhere; this is what another machine made of it."""
    assert hashlib.sha256(told(range(20)).encode()).hexdigest()[:16] == DRAWN


DRAWN = "b6f51ae9b7856df1"


def test_every_fault_of_the_table_is_drawn_and_fits_its_engine() -> None:
    cars = [drawn_car(seed) for seed in SEEDS]
    assert {car.hidden.fault for car in cars} == set(ABLE)
    assert all(is_able(car.hidden.fault, pool_engine(car.engine)) for car in cars)
    assert {car.engine for car in cars} == set(pool_engines())


def test_a_car_says_nothing_of_what_is_hidden_in_it() -> None:
    """Neither the owner's words nor a code name the fault; misleading codes and parts replaced in vain are there."""
    cars = [drawn_car(seed) for seed in SEEDS]
    for car in cars:
        assert car.told.complaint is not None
        assert car.hidden.fault.replace("_", " ") not in car.told.complaint.text.lower()
    assert sum(bool(car.herrings) for car in cars) > 150
    assert any("does not show today" in herring.what for car in cars for herring in car.herrings)


@pytest.mark.parametrize("fault", sorted(ABLE))
def test_every_question_has_an_answer_that_fits_it(fault: str) -> None:
    car = drawn_car(7, fault=fault)  # type: ignore[arg-type]
    profile = pool_engine(car.engine)
    for question in QUESTIONS:
        if not asked_of(question, profile):
            continue
        cylinder = profile.firing_order[0] if question.per_cylinder else None
        shown = answer_of(car, profile, question.id, cylinder)
        assert shown is not None, question.id
        look = Look(question=question.id, answer=shown.answer, value=shown.value, cylinder=cylinder, cam=shown.cam)
        check_look(look, profile)
        assert shown == answer_of(car, profile, question.id, cylinder), "asked twice it shows the same"


def share(cars: list[BlindCar], question: str, answer: str, cylinder: bool = False) -> float:
    found = [
        answer_of(car, pool_engine(car.engine), question, car.hidden.cylinders[0] if cylinder else None) for car in cars
    ]
    return sum(one is not None and one.answer == answer for one in found) / len(found)


def of(fault: str, count: int = 60) -> list[BlindCar]:
    return [drawn_car(seed, fault=fault) for seed in range(count)]  # type: ignore[arg-type]


def test_looks_are_as_reliable_as_the_trade_knows_them() -> None:
    """Common practice, no source: marks tell a jump nearly always, and a rhythm that is even proves nothing."""
    assert share(of("chain_jumped"), "marks", "out") > 0.85
    assert share(of("none"), "marks", "out") < 0.1
    assert share(of("crank_hub_slipped"), "marks", "out") < 0.15, "its mark went with the hub"
    assert share(of("weak_cylinder"), "rhythm", "uneven") > 0.8
    assert share(of("chain_jumped"), "rhythm", "uneven") < 0.15
    assert share(of("valve_train"), "valve_moves", "still", cylinder=True) > 0.9
    assert share(of("something_else"), "fuel_pressure", "low") > 0.85


def test_a_gauge_reads_low_where_the_cylinder_leaks_and_nowhere_else() -> None:
    for car in of("weak_cylinder", 30):
        profile = pool_engine(car.engine)
        own = car.hidden.cylinders[0]
        others = [c for c in profile.firing_order if c != own]
        low = answer_of(car, profile, "gauge", own)
        usual = answer_of(car, profile, "gauge", others[0])
        assert low is not None and usual is not None and low.value is not None and usual.value is not None
        assert low.value < 0.75 * usual.value


def test_a_fault_that_this_engine_cannot_have_is_refused() -> None:
    with pytest.raises(ValueError, match="cannot have"):
        drawn_car(1, engine="ostrin-1.6-distributor", fault="chain_jumped")


def test_sizes_are_those_of_workshops() -> None:
    import random

    for name in pool_engines():
        engine = pool_engine(name)
        for fault in ABLE:
            if is_able(fault, engine):
                hidden = fault_of(fault, engine, random.Random(f"{name} {fault}"))
                assert all(abs(deg) <= 65.0 for deg in hidden.valves_deg.values())
    assert issubclass(PhaskoError, Exception)
