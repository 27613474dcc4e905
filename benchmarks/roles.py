"""How often the proposed roles are right, over every engine of the pool, every sensor, several hook-ups.

python -m benchmarks.roles [captures per engine] [first seed]
"""

from __future__ import annotations

import sys
from collections.abc import Iterator

import numpy as np

from benchmarks.table import all_rows
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import clear_flood_cranking, idling
from phasko.bench.sensors.inductive import InductivePickup
from phasko.bench.sensors.transducers import CurrentClamp
from phasko.core.channels import RoleProposal, propose_roles
from phasko.core.documents import EngineProfile
from phasko.core.documents.capture import ChannelDescription

FINAL_SEED = 60_000


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


def _job(job: tuple[str, int]) -> list[tuple[str, str, bool, bool, str]]:
    name, seed = job
    scenario = idling(2.0) if seed % 4 == 3 else clear_flood_cranking(3.4)
    run = run_engine(pool_engine(name), scenario, seed)
    return [
        (
            name,
            channel.role,
            right(channel, found),
            found.certain,
            f"{seed} {found.role} {found.cam or found.wheel or found.cylinder}: {found.reason}",
        )
        for channel, found in proposals(run, seed)
    ]


def line(name: str, rows: list[tuple[str, str, bool, bool, str]]) -> str:
    """One row of the table."""
    share, sure = 100 * sum(r[2] for r in rows) / len(rows), 100 * sum(r[3] for r in rows) / len(rows)
    return f"| {name} | {len(rows)} | {share:.1f} % | {sure:.0f} % | {sum(1 for r in rows if r[3] and not r[2])} |"


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    first = int(sys.argv[2]) if len(sys.argv) > 2 else FINAL_SEED
    jobs = [(name, first + 100 * k + i) for k, name in enumerate(pool_engines()) for i in range(count)]
    rows = all_rows(_job, jobs)
    channels = sorted({r[1] for r in rows})
    print("| channel | proposed | right | certain | certain and wrong |")
    print("|---|---|---|---|---|")
    for role in channels:
        own = [r for r in rows if r[1] == role]
        print(line(role, own))
    print(line("**all**", rows))
    if count < 20:
        for row in [r for r in rows if not r[2]][:30]:
            print(row)


if __name__ == "__main__":
    main()
