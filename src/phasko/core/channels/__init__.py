"""Which signal each column of a recording is, told from the signals themselves."""

from phasko.core.channels.proposal import RoleProposal, propose_roles

__all__ = ["RoleProposal", "propose_roles"]
