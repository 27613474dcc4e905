"""Every explanation the call chooses between; a new one is one file and one line here."""

from phasko.core.faults.cam_signal_shifted import CamSignalShifted
from phasko.core.faults.cam_slipped import CamSlipped
from phasko.core.faults.chain_jumped import ChainJumped
from phasko.core.faults.chain_stretched import ChainStretched
from phasko.core.faults.crank_signal_shifted import CrankSignalShifted
from phasko.core.faults.none import NoFault
from phasko.core.faults.phaser_off_park import PhaserOffPark
from phasko.core.faults.reference_wrong import ReferenceWrong
from phasko.core.faults.sensor_faults import CamSensorFault, CrankSensorFault, InducedPulses
from phasko.core.faults.something_else import SomethingElse
from phasko.core.faults.state import Branch, EngineState, Explanation, Place
from phasko.core.faults.weak_cylinder import SEVERAL, WeakCylinder

__all__ = ["EXPLANATIONS", "SEVERAL", "SIGNAL_FAULTS", "Branch", "EngineState", "Explanation", "Place"]

EXPLANATIONS: tuple[Explanation, ...] = (
    NoFault(),
    ChainJumped(),
    ChainStretched(),
    CamSlipped(),
    PhaserOffPark(),
    CamSignalShifted(),
    CrankSignalShifted(),
    ReferenceWrong(),
    SomethingElse(),
)

SIGNAL_FAULTS: tuple[Explanation, ...] = (CamSensorFault(), CrankSensorFault(), InducedPulses(), WeakCylinder())
"""Considered as soon as a signal is disturbed or a cylinder is weak; they leave the timing as it should be."""
