"""Every explanation the call chooses between; a new one is one file and one line here."""

from phasko.core.explanations.cam_slipped import CamSlipped
from phasko.core.explanations.chain_jumped import ChainJumped
from phasko.core.explanations.chain_stretched import ChainStretched
from phasko.core.explanations.drive_broken import DriveBroken
from phasko.core.explanations.explanation import Area, Branch, Explanation, Opened, Place
from phasko.core.explanations.none import NoFault
from phasko.core.explanations.one_place import EXHAUST_RESTRICTED, INTAKE_RESTRICTED, IgnitionMistimed
from phasko.core.explanations.phaser_off_park import PhaserOffPark
from phasko.core.explanations.reference_wrong import ReferenceWrong
from phasko.core.explanations.sensor_faults import CamSensorFault, CrankSensorFault, InducedPulses
from phasko.core.explanations.signal_shifted import CamSignalShifted, CrankSignalShifted
from phasko.core.explanations.something_else import SomethingElse
from phasko.core.explanations.sync_misadjusted import SyncMisadjusted
from phasko.core.explanations.tensioner_slack import TensionerSlack
from phasko.core.explanations.turned_on_crank import CrankHubSlipped, CrankSprocketSlipped
from phasko.core.explanations.valve_train import ValveTrain
from phasko.core.explanations.weak_cylinder import WeakCylinder

__all__ = ["EXPLANATIONS", "Area", "Branch", "Explanation", "Opened", "Place"]

EXPLANATIONS: tuple[Explanation, ...] = (
    ChainJumped(),
    CrankSprocketSlipped(),
    CamSlipped(),
    CrankHubSlipped(),
    DriveBroken(),
    ChainStretched(),
    TensionerSlack(),
    PhaserOffPark(),
    SyncMisadjusted(),
    CrankSignalShifted(),
    CamSignalShifted(),
    WeakCylinder(),
    ValveTrain(),
    EXHAUST_RESTRICTED,
    INTAKE_RESTRICTED,
    IgnitionMistimed(),
    CrankSensorFault(),
    CamSensorFault(),
    InducedPulses(),
    ReferenceWrong(),
    SomethingElse(),
    NoFault(),
)
"""Of two that hold together the one that stands first is told first, the other besides."""
