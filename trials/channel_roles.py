"""Roles proposed for the channels of seeded recordings, beside the true ones."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from phasko.bench.pool import pool_engine
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import Scenario
from phasko.bench.sensors.inductive import InductivePickup
from phasko.bench.sensors.transducers import CurrentClamp
from phasko.core.channels import RoleProposal, propose_roles
from phasko.core.documents import EngineProfile
from phasko.core.documents.capture import ChannelDescription


def probes_of(engine: EngineProfile, seed: int, cranking: bool) -> list[Probe]:
    """What a technician may clip on: crank, cams, current, battery, coils, a pressure transducer, a pulse sensor."""
    rng = np.random.default_rng([seed, 9])
    noise = Disturbance(noise_v=float(rng.uniform(0.005, 0.05)))
    cylinder = int(rng.integers(1, engine.cylinders + 1))
    made = [Probe("crank", inductive=InductivePickup(mirrored=bool(rng.random() < 0.3)), disturbance=noise)]
    made += [Probe("cam", cam=cam.id, disturbance=noise) for cam in engine.cams]
    made += [Probe("aux", wheel=wheel.id, disturbance=noise) for wheel in engine.aux_wheels]
    clamp = CurrentClamp(turned=bool(rng.random() < 0.3), zero_a=float(rng.uniform(-4, 4)))
    made += [
        Probe("starter_current", clamp=clamp),
        Probe("battery_voltage"),
        Probe("cylinder_pressure", cylinder=cylinder),
    ]
    if engine.ignition is not None and engine.ignition.type != "none":
        signal = "drive" if rng.random() < 0.5 else "primary"
        made.append(Probe("coil", cylinder=cylinder, signal=signal, attenuator=10.0 if signal == "primary" else 1.0))
    made.append(Probe("intake_pulse"))
    if not cranking:
        made = [probe for probe in made if probe.role != "starter_current"]
    others = [made[1 + k] for k in rng.permutation(len(made) - 1)[:7]]
    return [others[k - 1] if k else made[0] for k in rng.permutation(len(others) + 1)]


def proposals(
    run: Run, seed: int, settings: ScopeSettings | None = None
) -> Iterator[tuple[ChannelDescription, RoleProposal]]:
    """(what the channel is, what was proposed) of one capture."""
    capture = record_run(run, probes_of(run.engine, seed, not run.scenario.fuel), settings)
    described = {channel.column: channel for channel in capture.description.channels}
    units = {name: channel.unit for name, channel in described.items()}
    found = propose_roles(dict(capture.columns), units, 0.0, capture.interval_s, run.engine)
    for proposal in found:
        yield described[proposal.column], proposal


def right(channel: ChannelDescription, proposal: RoleProposal) -> bool:
    """Whether role and what completes it agree; a cylinder that was left open is no error."""
    cylinder = proposal.cylinder is None or proposal.cylinder == channel.cylinder
    return (proposal.role, proposal.cam, proposal.wheel) == (channel.role, channel.cam, channel.wheel) and cylinder


def proposals_for(engine: str, scenario: Scenario, seed: int) -> list[tuple[ChannelDescription, RoleProposal]]:
    """Every channel of one recording of a pool engine, with its proposal."""
    return list(proposals(run_engine(pool_engine(engine), scenario, seed), seed))
