"""The proof: readings against what, what is excluded by what, before against after, and a wrong call marked as one."""

from __future__ import annotations

from dataclasses import replace

from phasko.core.documents.job import JobDocument
from phasko.core.handover import Facts, PhotoLine, hand_over
from tests.core.handover.facts import facts_of, healthy, jumped, recorded, repaired, told


def test_every_cam_stands_in_the_table_with_its_half_width_its_limit_and_the_result() -> None:
    rows = {row.what: row for row in hand_over(jumped()).measured}
    intake = rows["Intake cam signal"]
    assert intake.reading.startswith("17.1° late") and "pitches" in intake.reading
    assert (intake.against, intake.limit, intake.result) == ("profile", "5°", "over")
    assert intake.half_width.startswith("± 0.")
    assert {row.result for row in hand_over(healthy()).measured if "cam signal" in row.what} == {"within"}


def test_what_is_excluded_names_a_measurement_and_what_is_open_its_chance() -> None:
    excluded = hand_over(jumped()).excluded
    assert [one.open for one in excluded] == sorted(one.open for one in excluded)
    assert all(one.by for one in excluded)
    wrong = next(one for one in excluded if one.short == "all in order")
    assert not wrong.open and "late" in wrong.by
    # The crank wheel moved the other way reads the same to every cam signal: without pistons it stays open.
    assert any(one.open and one.short in ("crank wheel", "crank sprocket turned") for one in excluded)


def test_what_is_assumed_is_said() -> None:
    assert any("pistons are taken to stand" in line for line in hand_over(jumped()).assumed)


def test_before_and_after_stand_side_by_side() -> None:
    proof = hand_over(repaired()).proof
    assert proof is not None
    (pair,) = proof.pairs
    changes = {one.what: one for one in pair.changes}
    assert (pair.before, pair.after, pair.alike) == ("before.capture.json", "after.capture.json", True)
    assert changes["Intake cam"].real and changes["Intake cam"].by is not None
    assert abs(changes["Intake cam"].by + 17.1) < 1.0
    assert proof.now.startswith("Timing as it should be")
    assert proof.codes == "cleared on 2026-11-20; none came back"
    assert proof.found == ["The timing drive had jumped (B1I, B1E): guide broken"]
    assert (proof.cause, proof.wrong) == ("confirmed", [])


def refuted() -> Facts:
    document = told(
        repair={"opened": True, "found": [{"fault": "cam_signal_shifted"}]},
        closing={
            "cause": "refuted",
            "at": "2026-11-21T09:00:00+00:00",
            "why": "The target had been bent by the old tensioner.",
            "called": {
                "faults": [
                    {"fault": "chain_jumped", "title": "Chain jumped one pitch late", "probability": 0.96},
                    {"fault": "cam_signal_shifted", "probability": 0.02},
                ],
                "teardown": "go",
                "undecided": False,
                "software": "phasko 0.2.0",
                "numbers": "2026-11",
            },
        },
    )
    return Facts(jumped().analysis, jumped().profile, document, jumped().described, jumped().head)


def test_a_wrong_call_is_marked_and_says_why() -> None:
    proof = hand_over(refuted()).proof
    assert proof is not None
    told_ = " ".join(proof.wrong)
    assert told_.startswith("The call was wrong. It said chain jumped one pitch late, 96 in 100: open up.")
    assert "a cam's signal wheel or sensor had moved, which it held at 2 in 100" in told_
    assert "What spoke for the wrong one" in told_ and told_.endswith("old tensioner.")


def ordered(*parts: str) -> JobDocument:
    return told(ordered=[{"part": part, "text": ""} for part in parts])


def test_parts_that_nothing_open_asks_for_are_not_needed() -> None:
    facts = Facts(jumped().analysis, jumped().profile, ordered("fuel_pump", "drive"), jumped().described, jumped().head)
    (line,) = hand_over(facts).not_needed
    assert line.startswith("Fuel pump: nothing that is still open asks for it")


def test_nothing_is_sent_back_while_nothing_is_known() -> None:
    assert hand_over(facts_of(document=ordered("fuel_pump"))).not_needed == []


def test_side_findings_begin_with_what_was_written_and_name_unrelated_codes() -> None:
    document = told(for_owner="Hand brake does not hold.", codes=[{"code": "P0442", "sort": "unrelated"}])
    facts = Facts(jumped().analysis, jumped().profile, document, jumped().described, jumped().head)
    found = hand_over(facts).side_findings
    assert found[0] == "Hand brake does not hold."
    assert any("P0442" in line and "nothing to do" in line for line in found)


def test_where_it_was_probed_and_whether_it_was_closed_again() -> None:
    wires = [{"signal": "cam B1I", "at": "sensor", "pin": "2", "colour": "green"}]
    for insulation, words in (("closed", "closed again"), ("open", "still open"), ("unknown", "Not noted")):
        document = told(hook_up={"wires": wires, "insulation": insulation})
        made = hand_over(Facts(jumped().analysis, jumped().profile, document, jumped().described, jumped().head))
        assert words in made.insulation
        assert [(one.signal, one.at, one.pin) for one in made.probed] == [("cam B1I", "at the sensor", "2")]


def test_captures_come_with_their_hash_and_their_title() -> None:
    facts = facts_of(recorded("named", 12, title="Cranked hot, throttle open"))
    (line,) = hand_over(facts).captures
    assert (line.title, line.file, len(line.sha256)) == ("Cranked hot, throttle open", "named.capture.json", 64)


def test_marks_as_they_were_seen_are_drawn_where_no_photo_shows_them() -> None:
    seen = {"question": "marks", "answer": "out", "cam": "B1I", "amount_deg": 17.2}
    document = told(looks=[seen, {"question": "marks", "answer": "true", "cam": "B1E"}])
    facts = Facts(jumped().analysis, jumped().profile, document, jumped().described, jumped().head)
    assert [(one.cam, one.words) for one in hand_over(facts).seen_marks] == [
        ("B1I", "one tooth late"),
        ("B1E", "in line"),
    ]
    photo = PhotoLine(id=1, station="look", caption="", width=3, height=2)
    assert hand_over(replace(facts, photos=(photo,))).seen_marks == []
