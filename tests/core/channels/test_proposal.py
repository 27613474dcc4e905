"""What each column is, proposed from its signal: right nearly always, and never wrong where it is called certain."""

import numpy as np
import pytest

from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.scenario import clear_flood_cranking, idling
from phasko.core.channels import RoleProposal, propose_roles
from phasko.core.documents.capture import ChannelDescription
from tests.builders import FOUR, profile
from trials import channel_roles
from trials.cache import cached_on_disk
from trials.channel_roles import proposals, right
from trials.recordings import run_engine

pytestmark = pytest.mark.exhaustive

proposals_for = cached_on_disk(channel_roles.proposals_for)


@pytest.fixture(scope="module")
def everything() -> list[tuple[ChannelDescription, RoleProposal]]:
    """A capture of every engine of the pool, three of them idling."""
    found = []
    for k, name in enumerate(pool_engines()):
        scenario = idling(1.6) if k % 4 == 3 else clear_flood_cranking(3.4)
        found += proposals_for(name, scenario, 5000 + k)
    return found


def test_nearly_all_are_right(everything: list[tuple[ChannelDescription, RoleProposal]]) -> None:
    wrong = [(channel.role, proposal) for channel, proposal in everything if not right(channel, proposal)]
    assert len(everything) > 80
    assert len(wrong) <= 0.05 * len(everything), wrong


def test_nothing_certain_is_wrong(everything: list[tuple[ChannelDescription, RoleProposal]]) -> None:
    assert not [p for channel, p in everything if p.certain and not right(channel, p)]
    assert sum(p.certain for _, p in everything) > 0.4 * len(everything)


def test_every_proposal_gives_its_reason(everything: list[tuple[ChannelDescription, RoleProposal]]) -> None:
    assert all(len(proposal.reason) > 10 and proposal.reason.endswith(".") for _, proposal in everything)


def test_a_flat_and_an_empty_column() -> None:
    columns = {"a": np.full(5000, 0.01, dtype=np.float32), "b": np.full(5000, np.nan, dtype=np.float32)}
    found = propose_roles(columns, {}, 0.0, 1e-4, profile())
    assert [(p.role, p.certain) for p in found] == [("other", False), ("other", False)]
    assert "Flat" in found[0].reason


def test_without_a_crank_nothing_that_needs_the_cycle_is_certain() -> None:
    run = run_engine(pool_engine(FOUR), clear_flood_cranking(3.0), 5100)
    known = list(proposals(run, 5100))
    assert any(p.role == "crank" for _, p in known)
    rng = np.random.default_rng(1)
    noise = {f"n{k}": rng.standard_normal(20_000).astype(np.float32) for k in range(3)}
    assert not any(p.certain for p in propose_roles(noise, {}, 0.0, 1e-4, pool_engine(FOUR)))
