"""What is handed over: for now the result in plain text."""

from phasko.report.plain_text import plain_text

__all__ = ["plain_text"]
