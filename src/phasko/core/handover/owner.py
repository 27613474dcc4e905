"""The owner's page: what was found, how sure that is, what it costs and what to do, without a word of the trade that an
owner would have to look up."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from phasko.core.documents.analysis import Amount, FaultResult, Verdict, Where
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.repair import Seen
from phasko.core.handover.document import Line, OwnerPage
from phasko.core.handover.facts import Facts
from phasko.core.handover.parts import PART_WORDS, needed_parts
from phasko.core.words import chance_words, count_words, drive_word, lower_first

__all__ = ["owner_page"]

Plain = Callable[[FaultResult, EngineProfile], str]
# To an owner a plain statement is a promise; below this it is said with its doubt.
_SURE = 0.95
_LIKELY = 0.8


def owner_page(facts: Facts) -> OwnerPage:
    """One page of plain questions and answers."""
    verdict = facts.verdict
    return OwnerPage(headline=_headline(verdict, facts), parts=list(_parts(verdict, facts)))


def _headline(verdict: Verdict, facts: Facts) -> str:
    leader = _leader(verdict)
    if facts.repaired and facts.told.repair is not None:
        return "Repaired, and measured again"
    if leader is None:
        return "Nothing is known for certain yet"
    if verdict.undecided:
        return "Not decided yet: one more check is needed"
    title = _PLAIN_TITLE[leader.fault](leader, facts.profile)
    if leader.probability >= _SURE:
        return title
    return f"{'Most likely' if leader.probability >= _LIKELY else 'Possibly'}: {lower_first(title)}"


def _parts(verdict: Verdict, facts: Facts) -> Iterator[Line]:
    head, told = facts.head, facts.told
    if head.complaint:
        yield Line(title="What you told us", text=head.complaint)
    yield Line(title="What we did", text=_did(facts))
    leader = _leader(verdict)
    if leader is not None and not verdict.undecided:
        past = facts.repaired
        yield Line(
            title="What we had found" if past else "What we found", text=_PLAIN[leader.fault](leader, facts.profile)
        )
        for one in verdict.faults:
            if one.besides:
                yield Line(title="And besides", text=_PLAIN[one.fault](one, facts.profile))
        yield Line(title="How sure we were" if past else "How sure we are", text=_sure(leader))
    if verdict.measured and "stop_cranking" in verdict.cautions and not facts.repaired:
        text = "Please do not start the engine, not even to move the car: parts inside could hit each other and break."
        yield Line(title="Until then", text=text)
    if facts.repaired:
        yield from _repaired(facts)
    else:
        yield Line(title="What happens next", text=_next(verdict))
        yield from _costs(verdict, facts)
    unneeded = [one for one in told.ordered if one.part not in needed_parts(verdict)]
    if unneeded and leader is not None and not verdict.undecided and not facts.repaired:
        names = ", ".join(one.text or PART_WORDS[one.part] for one in unneeded)
        yield Line(title="You can save", text=f"These parts are on order and are not needed for this: {names}.")
    noticed = [line.strip() for line in told.for_owner.splitlines() if line.strip()]
    if noticed:
        yield Line(title="We also noticed", text=" ".join(noticed))


def _leader(verdict: Verdict) -> FaultResult | None:
    return verdict.faults[0] if verdict.measured and verdict.faults else None


def _did(facts: Facts) -> str:
    count = len(facts.captures)
    if not count:
        return "So far we have only looked and listened; the engine was not opened."
    times = "once" if count == 1 else f"{count_words(count)} times"
    return (
        f"We recorded the engine's own signals {times}, with the covers on, and compared them with how a sound engine "
        "of this kind behaves. Nothing was taken apart for that."
    )


def _sure(leader: FaultResult) -> str:
    chance = chance_words(leader.probability).replace(" in ", " of ")
    said = f"Of engines that measure like yours, {chance} have this fault."
    if leader.fault == "none":
        said = f"Of engines that measure like yours, {chance} are in order."
    if leader.probability < 0.9:
        return f"{said} That is not certain; other causes remain possible."
    return said


def _next(verdict: Verdict) -> str:
    leader = _leader(verdict)
    if leader is None:
        return "We measure the engine first; only then can anything be said."
    if verdict.teardown == "go":
        hours = f", about {verdict.opening.hours:g} hours of work" if verdict.opening is not None else ""
        return f"The engine has to be opened to repair it{hours}. Only what is seen then settles the bill."
    if verdict.teardown == "confirm_first" or verdict.undecided:
        minutes = verdict.next_test.minutes if verdict.next_test is not None else None
        check = f"one more check of about {minutes:.0f} minutes" if minutes is not None else "one more check"
        return f"Before anything is opened we make {check}. It decides whether opening is worth its price."
    if leader.fault == "none":
        return "Nothing has to be opened. If the trouble comes back, bring the car while it shows."
    return "The engine does not have to be opened for this."


def _costs(verdict: Verdict, facts: Facts) -> Iterator[Line]:
    costs, opening = facts.told.costs, verdict.opening
    if opening is None or verdict.teardown == "no":
        return
    if costs is not None and costs.labour_per_hour:
        money = opening.hours * costs.labour_per_hour
        text = f"Opening is about {opening.hours:g} hours: {money:.0f} {costs.currency}".rstrip() + ", without parts."
    else:
        text = f"Opening is about {opening.hours:g} hours of work, without parts."
    if "inspect_valves" in verdict.cautions:
        text += " Inside, further damage may show that nobody can see from outside; we ask you before we go on."
    yield Line(title="What it costs", text=text)


def _repaired(facts: Facts) -> Iterator[Line]:
    repair, closing = facts.told.repair, facts.told.closing
    now = _leader(facts.analysis.verdict)
    if repair is not None:
        done = [one.text or PART_WORDS[one.part] for one in repair.replaced]
        seen = [_seen(one, facts.profile) for one in repair.found]
        text = " ".join(
            part
            for part in (
                f"On opening we saw: {'; '.join(seen)}." if seen else "",
                f"We replaced: {', '.join(done)}." if done else "",
                f"That took {repair.hours:g} hours." if repair.hours is not None else "",
            )
            if part
        )
        if text:
            yield Line(title="What was done", text=text)
    if now is not None:
        sound = now.fault == "none" and not facts.analysis.verdict.undecided
        text = (
            "We recorded the same signals again after the repair. They are as they should be."
            if sound
            else "We recorded the same signals again after the repair. Something is still not as it should be; ask us."
        )
        yield Line(title="Is it right now", text=text)
    if closing is not None and closing.cause == "refuted":
        yield Line(
            title="We were wrong",
            text="What we expected was not what was found. The first call was wrong; this is on record.",
        )
    if repair is not None and repair.driven_km:
        back = "; a stored message came back" if repair.returned else "; no stored message came back"
        yield Line(title="Test drive", text=f"{repair.driven_km:g} km since the repair{back}.")


def _seen(one: Seen, profile: EngineProfile) -> str:
    """What was found in plain words; what was only written stands as it was written."""
    if one.fault is None:
        return one.text
    where = Where(cams=one.cams, cylinders=one.cylinders)
    fault = FaultResult(fault=one.fault, probability=1.0, where=where, amount=Amount())
    return lower_first(_PLAIN_TITLE[one.fault](fault, profile))


def _cylinder(one: FaultResult) -> str:
    numbers_ = one.where.cylinders
    return f"cylinder {numbers_[0]}" if len(numbers_) == 1 else "one of the cylinders"


def _same(text: str) -> Plain:
    return lambda one, profile: text  # noqa: ARG005


def _drive(text: str) -> Plain:
    return lambda one, profile: text.format(drive=drive_word(profile))  # noqa: ARG005


_PLAIN_TITLE: Mapping[str, Plain] = {
    "none": _same("The engine's timing is as it should be"),
    "chain_jumped": _drive("The timing {drive} has jumped"),
    "chain_stretched": _drive("The timing {drive} is worn long"),
    "cam_slipped": _same("A camshaft has turned on its wheel"),
    "phaser_off_park": _same("A part that adjusts a camshaft does not do its work"),
    "cam_signal_shifted": _same("A sensor's wheel sits wrong; the engine itself is right"),
    "crank_signal_shifted": _same("A sensor's wheel sits wrong; the engine itself is right"),
    "crank_sprocket_slipped": _drive("The wheel that drives the timing {drive} has turned"),
    "crank_hub_slipped": _same("The hub on the crankshaft has turned"),
    "drive_broken": _drive("The timing {drive} is broken"),
    "tensioner_slack": _drive("The timing {drive} is not held tight"),
    "sync_misadjusted": _same("The distributor is set wrong"),
    "cam_sensor_fault": _same("A sensor or its wire is bad; the engine itself is right"),
    "crank_sensor_fault": _same("The crank sensor or its wire is bad; the engine itself is right"),
    "induced_pulses": _same("A sensor's wire picks up disturbances"),
    "weak_cylinder": lambda one, profile: f"{_cylinder(one).capitalize()} does not hold its pressure",  # noqa: ARG005
    "valve_train": lambda one, profile: f"A valve of {_cylinder(one)} does not move as it should",  # noqa: ARG005
    "exhaust_restricted": _same("The exhaust is blocked"),
    "intake_restricted": _same("The engine gets too little air"),
    "ignition_mistimed": _same("The spark comes at the wrong time"),
    "reference_wrong": _same("Our data of this engine may be wrong; nothing is called yet"),
    "something_else": _same("It is something else than what we measured"),
}
_PLAIN: Mapping[str, Plain] = {
    "none": _same("Valves and pistons move in step, as they should. We found no fault there."),
    "chain_jumped": _drive(
        "The timing {drive} keeps the valves in step with the pistons. It has jumped on its wheel, so the valves open "
        "and close at the wrong time."
    ),
    "chain_stretched": _drive(
        "The timing {drive} keeps the valves in step with the pistons. It has become longer with use, so the valves "
        "open and close too late."
    ),
    "cam_slipped": _same(
        "A camshaft opens the valves. It has turned on the wheel that drives it, so its valves open and close at the "
        "wrong time."
    ),
    "phaser_off_park": _same(
        "A part that shifts the valves' timing while driving does not stay where it should, or does not move. The "
        "timing drive itself is not the reason."
    ),
    "cam_signal_shifted": _same(
        "A small wheel on the camshaft, or its sensor, sits in the wrong place and tells the engine's computer a wrong "
        "time. The valves themselves are right."
    ),
    "crank_signal_shifted": _same(
        "A small wheel on the crankshaft, or its sensor, sits in the wrong place and tells the engine's computer a "
        "wrong time. Valves and pistons themselves are right."
    ),
    "crank_sprocket_slipped": _drive(
        "The small wheel on the crankshaft that drives the timing {drive} has turned. All valves open and close at the "
        "wrong time."
    ),
    "crank_hub_slipped": _same(
        "The hub on the crankshaft has turned, and with it what drives the valves. All valves open and close at the "
        "wrong time."
    ),
    "drive_broken": _drive("The timing {drive}, which moves the valves, is broken. The engine cannot run."),
    "tensioner_slack": _drive(
        "The part that keeps the timing {drive} tight lets go at times, so the valves come late now and then."
    ),
    "sync_misadjusted": _same("The distributor was set wrong. It can be set right without opening the engine."),
    "cam_sensor_fault": _same("A sensor at a camshaft or its wire loses its signal. The engine itself is right."),
    "crank_sensor_fault": _same("The sensor at the crankshaft or its wire loses its signal. The engine is right."),
    "induced_pulses": _same("The wire of a sensor picks up disturbances from the ignition. The engine is right."),
    "weak_cylinder": lambda one, profile: (  # noqa: ARG005
        f"{_cylinder(one).capitalize()} lets its pressure out. A valve, the piston's rings or a gasket may be the "
        "reason; a further check tells which."
    ),
    "valve_train": lambda one, profile: (  # noqa: ARG005
        f"A valve of {_cylinder(one)} does not open or close as it should."
    ),
    "exhaust_restricted": _same("The exhaust lets too little gas out, most often at a clogged catalyst."),
    "intake_restricted": _same("Too little air gets into the engine, most often through a clogged filter or hose."),
    "ignition_mistimed": _same("The spark comes at the wrong moment. Valves and pistons themselves are right."),
    "reference_wrong": _same("What we compare with does not fit this engine. We check our data first."),
    "something_else": _same("None of the causes that such measurements can show fits. We look further."),
}
