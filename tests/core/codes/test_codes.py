"""What codes really say: meaning, order, misfires as a pattern, pasted text."""

from __future__ import annotations

import pytest

from phasko.core.codes import cam_of, code_meaning, explain_codes, misfire_pattern, pasted_codes
from phasko.core.codes.lamp import lamp_words
from phasko.core.documents.job import Code
from tests.builders import pool_engine

EIGHT = pool_engine("quayle-5.0-eight")
FOUR = pool_engine("corvane-2.1-four")
MAKERS_OWN = "P1" + "000"
"""Any code of a maker: its second character says that nobody else knows what it means."""


def misfires(*cylinders: int) -> list[Code]:
    return [Code(code=f"P03{c:02d}") for c in cylinders]


def test_a_code_names_the_cam_of_this_engine() -> None:
    meaning = code_meaning("p0019")
    assert meaning is not None and (meaning.about, meaning.bank, meaning.shaft) == ("correlation", 2, "exhaust")
    cam = cam_of(meaning, EIGHT)
    assert cam is not None and cam.id == "B2E"
    assert cam_of(meaning, FOUR) is None
    assert "no exhaust cam in bank 2" in explain_codes([Code(code="P0019")], FOUR)[0].says


def test_an_electrical_code_of_a_solenoid_says_nothing_of_timing() -> None:
    assert [getattr(code_meaning(code), "about", None) for code in ("P0010", "P0011", "P0012")] == [
        "solenoid",
        "phaser",
        "phaser",
    ]


@pytest.mark.parametrize(
    ("cylinders", "pattern"),
    [
        ((3,), "one"),
        (tuple(EIGHT.banks[1].cylinders), "bank"),
        (tuple(EIGHT.firing_order[::2]), "every_second"),
        (tuple(EIGHT.firing_order), "all"),
        (tuple(EIGHT.banks[0].cylinders[:2]), "neighbours"),
        ((EIGHT.banks[0].cylinders[0], EIGHT.banks[0].cylinders[2], EIGHT.banks[1].cylinders[1]), "some"),
    ],
)
def test_misfire_codes_are_read_as_a_pattern(cylinders: tuple[int, ...], pattern: str) -> None:
    found = misfire_pattern(misfires(*cylinders), EIGHT)
    assert found is not None and found.pattern == pattern
    assert found.cylinders == tuple(sorted(cylinders))


def test_a_misfire_without_a_cylinder_is_said_so_and_none_is_none() -> None:
    found = misfire_pattern([Code(code="P0300")], FOUR)
    assert found is not None and found.pattern == "random"
    assert misfire_pattern([Code(code="P0016")], FOUR) is None


def test_a_code_of_a_cylinder_that_is_not_there_asks_for_the_right_car() -> None:
    explained = explain_codes(misfires(7), FOUR)[0]
    assert "no such cylinder" in explained.says
    assert misfire_pattern(misfires(7), FOUR) is None


def test_codes_are_sorted_into_cause_consequence_and_the_owners() -> None:
    codes = [Code(code="P0016"), Code(code="P0299"), Code(code="P0442"), Code(code=MAKERS_OWN)]
    assert [one.sort for one in explain_codes(codes, FOUR)] == ["cause", "consequence", "unrelated", "unrelated"]
    alone = explain_codes([Code(code="P0299")], FOUR)[0]
    assert alone.sort == "unrelated"
    by_hand = explain_codes([Code(code="P0442", sort="cause")], FOUR)[0]
    assert (by_hand.sort, by_hand.sorted_by_hand) == ("cause", True)


def test_a_correlation_code_is_one_piece_of_evidence_with_its_signals() -> None:
    assert explain_codes([Code(code="P0016")], FOUR)[0].one_with == "the crank and cam signals"
    assert explain_codes([Code(code=MAKERS_OWN)], FOUR)[0].one_with is None


def test_the_status_says_what_it_means_and_whether_it_came_back() -> None:
    pending = explain_codes([Code(code="P0016", status="pending")], FOUR)[0]
    assert "two drives in a row" in pending.status
    assert "came back" in explain_codes([Code(code="P0016", returned=True)], FOUR)[0].status
    assert "catalyst" in (lamp_words("flashing") or "")
    assert lamp_words(None) is None


PASTED = f"""\
Stored codes
MIL: on
P0016-00 Crankshaft Position - Camshaft Position Correlation
   Engine speed: 812 rpm
   Coolant temperature  91 °C
   Load 23,5 %
   Distance 92981 km
P0300 pending
Pending codes:
P0341
{MAKERS_OWN} not present 14.2 V battery
odometer 93012 km
Thank you for choosing us
"""


def test_codes_are_read_out_of_pasted_text_with_status_and_freeze_frame() -> None:
    found = pasted_codes(PASTED)
    assert [(c.code, c.status) for c in found.codes] == [
        ("P0016-00", "stored"),
        ("P0300", "pending"),
        ("P0341", "pending"),
        (MAKERS_OWN, "history"),
    ]
    frame = found.codes[0].freeze_frame
    assert frame is not None
    assert (frame.rpm, frame.coolant_c, frame.load_percent, frame.distance_km) == (812.0, 91.0, 23.5, 92981.0)
    assert (found.lamp, found.distance_km, found.left) == ("on", 93012.0, ("Thank you for choosing us",))


def test_an_impossible_value_is_left_out_and_a_code_counts_once() -> None:
    found = pasted_codes("P0301 pending\ncoolant 900\nP0301 stored 1200 rpm")
    assert len(found.codes) == 1
    assert found.codes[0].status == "stored"
    frame = found.codes[0].freeze_frame
    assert frame is not None and frame.coolant_c is None and frame.rpm == 1200.0


def test_words_that_only_look_like_codes_are_none() -> None:
    assert pasted_codes("Call P016 or XP0016X, part 0P0016").codes == ()
