"""Cars made by hand: every fault of every engine, within what can be turned, and what is refused."""

import pytest

from phasko.bench.blind import NUISANCES, ByHand, Nuisances, Sized, car_by_hand, sliders_of
from phasko.bench.blind.sliders import FaultSliders
from phasko.bench.instruments.car import CarSheet
from phasko.bench.pool import pool_engine, pool_engines
from phasko.core.errors import DocumentError, NotFoundError


def usual(one: FaultSliders, way: int = 0) -> Sized:
    """The fault as its sliders begin, at the first place it can have."""
    turned = one.ways[way]
    return Sized(
        size=0.0 if turned.slider is None else turned.slider.usual,
        leak=turned.leak or "rings",
        cams=one.cams[:1],
        cylinder=one.cylinders[0] if one.cylinders else None,
        signal=one.signals[0] if one.signals else "lost",
        present=one.presents[0],
    )


@pytest.mark.parametrize("engine", sorted(pool_engines()))
def test_every_fault_of_every_engine_can_be_made_and_put_before_the_instruments(engine: str) -> None:
    profile = pool_engine(engine)
    for one in sliders_of(profile):
        for way in range(len(one.ways)):
            car = car_by_hand(ByHand(engine=engine, fault=one.fault, sized=usual(one, way), seed=4))
            assert car.hidden.fault == one.fault
            assert car.told.complaint is not None
            sheet = {key: value for key, value in car.simulated().items() if key != "as_said"}
            CarSheet.model_validate({**sheet, "engine": profile})


def test_sizes_and_nuisances_arrive_where_they_belong() -> None:
    nuisances = Nuisances(noise_v=0.2, hum_v=0.5, spark_spike_v=2.0, cylinder_percent=4.0, battery_weak_percent=50.0)
    wish = ByHand(
        engine="brimholt-3.2-six",
        fault="weak_cylinder",
        sized=Sized(size=6.0, leak="rings", cylinder=3),
        nuisances=nuisances,
    )
    car = car_by_hand(wish)
    assert car.hidden.faults.cylinders[3].ring_leak_mm2 == 6.0
    assert car.hidden.faults.battery_weak_share == 0.5
    assert car.spread.cylinder_share == 0.04
    assert (car.noise_v, car.hum_v, car.spark_spike_v) == (0.2, 0.5, 2.0)
    assert car == car_by_hand(wish), "a seed makes the same car again"


@pytest.mark.parametrize(
    ("changed", "place"),
    [
        ({"fault": "sync_misadjusted"}, "fault"),
        ({"fault": "cam_slipped", "sized": Sized(size=12.0)}, "sized.cams"),
        ({"fault": "cam_slipped", "sized": Sized(size=12.0, cams=("B9I",))}, "sized.cams"),
        ({"fault": "cam_slipped", "sized": Sized(size=90.0, cams=("B1I",))}, "sized.size"),
        ({"fault": "cam_slipped", "sized": Sized(size=9.0, cams=("B1I", "B2I"))}, "sized.cams"),
        ({"fault": "weak_cylinder", "sized": Sized(size=5.0, cylinder=9)}, "sized.cylinder"),
        ({"fault": "cam_sensor_fault", "sized": Sized(cams=("B1I",), signal="extra")}, "sized.signal"),
        ({"fault": "chain_jumped", "sized": Sized(size=1, present="hot")}, "sized.present"),
        ({"nuisances": Nuisances(noise_v=3.0)}, "nuisances.noise_v"),
    ],
)
def test_what_cannot_be_is_refused_at_its_place(changed: dict[str, object], place: str) -> None:
    wish = ByHand(engine="brimholt-3.2-six").model_copy(update=changed)
    with pytest.raises(DocumentError) as refused:
        car_by_hand(wish)
    assert refused.value.place == place


def test_an_engine_that_the_pool_does_not_have_is_not_found() -> None:
    with pytest.raises(NotFoundError):
        car_by_hand(ByHand(engine="none-such"))


def test_every_slider_begins_within_its_range() -> None:
    for engine in pool_engines():
        for one in sliders_of(pool_engine(engine)):
            for way in one.ways:
                if way.slider is not None:
                    assert way.slider.least <= way.slider.usual <= way.slider.most
                    assert way.slider.words and way.slider.unit
    assert all(one.least <= one.usual <= one.most for one in NUISANCES.values())
