"""Learning from findings: stated chances held against what was found."""

from phasko.core.calibration.calibration import Bin, Calibration, calibration
from phasko.core.calibration.closed_call import ClosedCall, closed_call
from phasko.core.calibration.own_priors import OwnPrior, own_priors

__all__ = ["Bin", "Calibration", "ClosedCall", "OwnPrior", "calibration", "closed_call", "own_priors"]
