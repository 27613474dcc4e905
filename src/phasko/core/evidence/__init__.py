"""Every kind of evidence the call rests on; a new one is one file and one line here."""

from phasko.core.evidence.cam_phase import CamPhase
from phasko.core.evidence.compression_size import CompressionSize, compression_change
from phasko.core.evidence.edge_spacing import EdgeSpacing
from phasko.core.evidence.observable import EvidenceKind, Observable, Prediction

__all__ = ["EVIDENCE", "EvidenceKind", "Observable", "Prediction", "compression_change"]

EVIDENCE: tuple[EvidenceKind, ...] = (CamPhase(), EdgeSpacing(), CompressionSize())
