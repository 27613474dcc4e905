"""Open file formats in and out, one module each, behind one registry."""

from phasko.formats.capture_files import CaptureFiles, read_capture, read_capture_files
from phasko.formats.registry import FORMATS, DataFormat, Table, format_of, supported_formats

__all__ = [
    "FORMATS",
    "CaptureFiles",
    "DataFormat",
    "Table",
    "format_of",
    "read_capture",
    "read_capture_files",
    "supported_formats",
]
