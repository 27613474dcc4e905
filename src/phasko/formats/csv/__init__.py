"""Delimited text, in the dialects in which instruments and spreadsheets export it."""

from phasko.formats.csv.reader import CsvFormat

__all__ = ["CsvFormat"]
