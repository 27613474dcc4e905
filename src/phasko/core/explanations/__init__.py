"""Every explanation the call chooses between; a new one is one file and one line here."""

from phasko.core.engine.state import Branch, EngineState, Explanation, Place
from phasko.core.explanations.cam_sensor_fault import CamSensorFault
from phasko.core.explanations.cam_signal_shifted import CamSignalShifted
from phasko.core.explanations.cam_slipped import CamSlipped
from phasko.core.explanations.chain_jumped import ChainJumped
from phasko.core.explanations.chain_stretched import ChainStretched
from phasko.core.explanations.crank_signal_shifted import CrankSignalShifted
from phasko.core.explanations.none import NoFault
from phasko.core.explanations.one_place import (
    CRANK_SENSOR,
    EXHAUST_RESTRICTED,
    IGNITION_MISTIMED,
    INDUCED_PULSES,
    INTAKE_RESTRICTED,
)
from phasko.core.explanations.phaser_off_park import PhaserOffPark
from phasko.core.explanations.reference_wrong import ReferenceWrong
from phasko.core.explanations.something_else import SomethingElse
from phasko.core.explanations.valve_train import ValveTrain
from phasko.core.explanations.weak_cylinder import SEVERAL, WeakCylinder

__all__ = ["EXPLANATIONS", "FAULTS_IN_TIME", "SEVERAL", "Branch", "EngineState", "Explanation", "Place"]

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

FAULTS_IN_TIME: tuple[Explanation, ...] = (
    CamSensorFault(),
    CRANK_SENSOR,
    INDUCED_PULSES,
    WeakCylinder(),
    ValveTrain(),
    EXHAUST_RESTRICTED,
    INTAKE_RESTRICTED,
    IGNITION_MISTIMED,
)
"""Faults that leave the timing as it should be. They are considered as soon as something other than the timing is not
as in a sound engine."""

SENSOR_FAULTS = ("cam_sensor_fault", "crank_sensor_fault", "induced_pulses")
"""Those of them after which nothing else can be said: a signal that is not there measures nothing."""
