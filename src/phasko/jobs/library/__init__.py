"""The library of known good engines: kept, compared with, carried elsewhere, and what it teaches a profile."""

from phasko.jobs.library.carrying import export_library, import_library, is_library
from phasko.jobs.library.known_good import KnownGoodLibrary, keep_as_known_good, library_of_job
from phasko.jobs.library.refining import accept_proposal, proposal_for

__all__ = [
    "KnownGoodLibrary",
    "accept_proposal",
    "export_library",
    "import_library",
    "is_library",
    "keep_as_known_good",
    "library_of_job",
    "proposal_for",
]
