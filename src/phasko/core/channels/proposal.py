"""Proposes a role for every column, with the reason, and whether it is certain or only likely."""

from __future__ import annotations

from collections.abc import Mapping

from phasko.core.channels.analogue import CycleFrame, coil_proposal, humps_proposal, level_proposal
from phasko.core.channels.proposed import RoleProposal
from phasko.core.channels.rhythm import cam_proposals, find_crank
from phasko.core.channels.shape import Shape, shape_of
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.recording import Samples

__all__ = ["RoleProposal", "propose_roles"]


def propose_roles(
    columns: Mapping[str, Samples], units: Mapping[str, str], start_s: float, interval_s: float, profile: EngineProfile
) -> list[RoleProposal]:
    """One proposal per column, in their order.

    The crank by its teeth, cams and further wheels by what comes round with it, the rest by its shape over the cycle.
    Columns are raw, in the unit that the file names (``units``), so that only shapes count, and levels where they are
    volts. Without a crank the rest is proposed from shape alone, and nothing that needs a cycle is certain. Each column
    is (samples,).
    """
    shapes = [shape_of(name, units.get(name, ""), samples, start_s, interval_s) for name, samples in columns.items()]
    crank = find_crank(shapes, profile)
    found: dict[str, RoleProposal] = {}
    frame = None
    if crank is not None:
        found, turn = cam_proposals(shapes, crank, profile)
        found[crank.shape.name] = crank.proposal
        frame = CycleFrame(crank.piece, turn, profile)
    else:
        busiest = _busiest(shapes)
        if busiest is not None:
            text = "Switches more often than any other, but its teeth make no wheel that is known."
            found[busiest.name] = RoleProposal(busiest.name, "crank", False, text)
    return [found.get(shape.name) or _by_shape(shape, frame) for shape in shapes]


def _by_shape(shape: Shape, frame: CycleFrame | None) -> RoleProposal:
    proposal = coil_proposal(shape, frame)
    if proposal is None and shape.kind in ("analogue", "waves", "spikes"):
        proposal = humps_proposal(shape, frame)
    return proposal or level_proposal(shape)


def _busiest(shapes: list[Shape]) -> Shape | None:
    edged = [(train.times_s.size, shape) for shape in shapes if (train := shape.edges or shape.waves) is not None]
    most = max(edged, key=lambda one: one[0], default=None)
    return most[1] if most is not None and most[0] > 40 else None
