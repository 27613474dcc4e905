"""Analysing one job from files, without a store."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from pathlib import Path

from phasko.core.analyse import HashedCapture, analyse_job
from phasko.core.documents import Analysis, EngineProfile, parse_document
from phasko.core.errors import DataError
from phasko.formats import read_capture, read_capture_files

__all__ = ["analyse_files"]


def analyse_files(capture_paths: Sequence[Path], engine_path: Path, reference_paths: Sequence[Path] = ()) -> Analysis:
    """The result of one job from files. Raises DocumentError, DataError for an input that cannot be read at all."""
    try:
        engine = engine_path.read_bytes()
    except OSError as error:
        raise DataError(f"cannot be opened: {error.strerror}", place=engine_path.name) from error
    profile = parse_document(engine, EngineProfile, engine_path.name).moved_with_index()
    hashed = []
    for path in capture_paths:
        files = read_capture_files(path)
        hashed.append(HashedCapture(read_capture(files), files.sha256))
    references = [read_capture(read_capture_files(path)) for path in reference_paths]
    return analyse_job(hashed, profile, hashlib.sha256(engine).hexdigest(), references)
