"""Open file formats in and out, one module each, behind one registry."""

from phasko.formats.capture_files import CaptureFiles, RawCapture, read_capture, read_capture_files, read_raw_capture
from phasko.formats.csv.memory import memory_given_back
from phasko.formats.registry import FORMATS, WRITTEN, DataFormat, Table, format_of, formats_page, supported_formats
from phasko.formats.scan_log import read_scan_log
from phasko.formats.table import FileBytes

__all__ = [
    "FORMATS",
    "WRITTEN",
    "CaptureFiles",
    "DataFormat",
    "FileBytes",
    "RawCapture",
    "Table",
    "format_of",
    "formats_page",
    "memory_given_back",
    "read_capture",
    "read_capture_files",
    "read_raw_capture",
    "read_scan_log",
    "supported_formats",
]
