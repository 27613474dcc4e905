"""Draws one capture of each kind the bench can record, for docs/bench-contact-sheet.png.

.venv/bin/python -m scripts.contact_sheet
"""

from __future__ import annotations

from pathlib import Path

import matplotlib as mpl
import numpy as np

mpl.use("Agg")
import matplotlib.pyplot as plt

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import record_run
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import PhaserCommand, Scenario, clear_flood_cranking, idling, starting
from phasko.bench.sensors.hall import HallFault, HallPickup

FILE = Path(__file__).parents[1] / "docs" / "bench-contact-sheet.png"
FOUR = "corvane-2.1-four"
Panel = tuple[str, Run, Probe, float, float]


def panels() -> list[Panel]:
    """(title, run, lead, from s, to s) of each picture."""
    crank = clear_flood_cranking(3.4)
    healthy = run_engine(pool_engine(FOUR), crank, 1)
    weak = run_engine(pool_engine(FOUR), crank, 1, faults=EngineFaults(cylinders={3: CylinderFault(plug="out")}))
    late = run_engine(pool_engine(FOUR), crank, 1, faults=EngineFaults(DriveFaults(jumped_at_crank=2)))
    six = run_engine(pool_engine("tarrant-3.0-straight-six"), crank, 1)
    eight = run_engine(pool_engine("quayle-5.0-eight"), crank, 1)
    start = run_engine(pool_engine(FOUR), starting(3.0), 1)
    idle = run_engine(pool_engine(FOUR), idling(1.0, motored=(1,)), 1)
    swept = Scenario(3.0, throttle=1.0, phaser_commands={"B1I": PhaserCommand(1.0, 2.0)})
    sweep = run_engine(pool_engine(FOUR), swept, 1)
    dead = HallPickup(fault=HallFault(dead_from_s=1.3, dead_to_s=1.6))
    wasted = run_engine(pool_engine("solan-2.0-flat-four"), crank, 1)
    return [
        ("Crank, Hall 60-2", healthy, Probe("crank"), 1.0, 1.35),
        ("Crank, inductive 60-2", six, Probe("crank"), 0.3, 1.2),
        ("Crank, irregular 24", eight, Probe("crank"), 1.0, 1.5),
        ("Cam, Hall", healthy, Probe("cam", cam="B1I"), 1.0, 2.2),
        ("Cam that dies and comes back", healthy, Probe("cam", cam="B1I", hall=dead), 1.0, 2.2),
        ("Starter current, four", healthy, Probe("starter_current"), 0.0, 3.4),
        ("Starter current, plug of 3 out", weak, Probe("starter_current"), 0.8, 2.4),
        ("Starter current, eight", eight, Probe("starter_current"), 0.8, 2.4),
        ("Battery voltage", healthy, Probe("battery_voltage"), 0.0, 3.4),
        ("Battery voltage, AC", healthy, Probe("battery_voltage", ac=True), 0.8, 2.4),
        ("Cylinder pressure, cranking", healthy, Probe("cylinder_pressure", cylinder=1), 1.0, 2.4),
        ("Cylinder pressure, two pitches late", late, Probe("cylinder_pressure", cylinder=1), 1.0, 2.4),
        ("Cylinder pressure, motored at idle", idle, Probe("cylinder_pressure", cylinder=1), 0.2, 0.7),
        ("Intake pulses", healthy, Probe("intake_pulse"), 1.0, 2.4),
        ("Exhaust pulses", healthy, Probe("exhaust_pulse"), 1.0, 2.4),
        ("Exhaust pulses, plug of 3 out", weak, Probe("exhaust_pulse"), 1.0, 2.4),
        ("Crankcase pulses", healthy, Probe("crankcase_pulse"), 1.0, 2.4),
        ("Coil drive", healthy, Probe("coil", cylinder=1), 1.0, 2.4),
        ("Coil primary", healthy, Probe("coil", cylinder=1, signal="primary"), 1.0, 2.4),
        ("Coil drive, wasted spark", wasted, Probe("coil", cylinder=1), 1.0, 2.4),
        ("Injector", start, Probe("injector", cylinder=1), 0.5, 1.6),
        ("Crank to start to run: current", start, Probe("starter_current"), 0.0, 3.0),
        ("Phaser command", sweep, Probe("phaser_command", cam="B1I"), 0.0, 3.0),
        ("Cam during the sweep", sweep, Probe("cam", cam="B1I"), 0.8, 2.2),
    ]


def main() -> None:
    made = panels()
    figure, axes = plt.subplots(6, 4, figsize=(16, 15), constrained_layout=True)
    for axis, (title, run, probe, from_s, to_s) in zip(axes.flat, made, strict=True):
        capture = record_run(run, [probe])
        samples = capture.columns["c1"] * capture.description.channels[0].scale
        times = np.arange(samples.size) * capture.interval_s
        shown = (times >= from_s) & (times <= to_s)
        axis.plot(times[shown], samples[shown], color="#0C6069", linewidth=0.8)
        axis.set_title(title, fontsize=9)
        axis.tick_params(labelsize=7)
        channel = capture.description.channels[0]
        axis.set_ylabel(channel.scaled_unit or channel.unit, fontsize=7)
    figure.savefig(FILE, dpi=80)


if __name__ == "__main__":
    main()
