"""Open file formats in and out, one module each, behind one registry."""

from phasko.formats.capture_files import CaptureFiles, read_capture, read_capture_files
from phasko.formats.registry import FORMATS, WRITTEN, DataFormat, Table, format_of, formats_page, supported_formats

__all__ = [
    "FORMATS",
    "WRITTEN",
    "CaptureFiles",
    "DataFormat",
    "Table",
    "format_of",
    "formats_page",
    "read_capture",
    "read_capture_files",
    "supported_formats",
]
