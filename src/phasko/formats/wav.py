"""Multi-channel WAV."""

from __future__ import annotations

import io

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from phasko.core.errors import DataError
from phasko.formats.apart import read_apart
from phasko.formats.table import FileBytes, Table

__all__ = ["WavFormat"]

_MOST_CHANNELS = 1024
_CHUNK = b"phsk"
"""The description is a RIFF chunk of its own after the samples; other programs skip it."""


class _About(BaseModel):
    """What WAV itself has no place for."""

    model_config = ConfigDict(frozen=True)
    start_s: float = Field(allow_inf_nan=False)
    interval_s: float = Field(gt=0, allow_inf_nan=False)
    columns: list[str]
    units: dict[str, str]
    description: str | None = None


class WavFormat:
    """WAV."""

    name = "WAV"
    suffixes = (".wav",)
    mapping = (
        "The channels are called c1, c2 ... in their order (ch1, channel 1 or 1 in a description mean the same); whole "
        "numbers are read as shares of full scale, -1 to 1, floating point as it stands. Written as 32 bit floating "
        "point; names, units and the exact interval stand with the description in a RIFF chunk `phsk`, since the "
        "format itself knows whole samples per second only."
    )

    def sniff(self, head: bytes) -> bool:
        return head[:4] in (b"RIFF", b"RF64") and head[8:12] == b"WAVE"

    def read(self, data: FileBytes, place: str) -> Table:
        """The table; raises DataError. A process of its own reads it: the library can crash over a file that lies."""
        found, series = read_apart("phasko.readers.wav", "WAV", data, place)
        rate, count = found["rate"], found["channels"]
        frames = series["samples"].reshape(-1, count)
        channels = [np.ascontiguousarray(frames[:, k]) for k in range(count)]
        if frames.shape[0] < 2 or rate <= 0:
            raise DataError("has fewer than two samples", place=place, remedy="Was the file cut off?")
        about = _about(_chunk(data))
        cut_off = _cut_off(data, frames.shape[0])
        if about is None or len(about.columns) != len(channels):
            columns = {f"c{k + 1}": samples for k, samples in enumerate(channels)}
            return Table(0.0, 1.0 / rate, columns, ordered=True, cut_off=cut_off)
        columns = dict(zip(about.columns, channels, strict=True))
        return Table(about.start_s, about.interval_s, columns, about.units, about.description, cut_off=cut_off)

    def write(self, table: Table) -> bytes:
        """32 bit floating point, the rate rounded to whole samples a second, the exact one beside. Raises DataError for
        more channels than the format holds."""
        import soundfile

        if len(table.columns) > _MOST_CHANNELS:
            raise DataError(
                f"has {len(table.columns)} channels; WAV holds {_MOST_CHANNELS}", remedy="Choose another format."
            )
        sink = io.BytesIO()
        samples = np.column_stack(list(table.columns.values()))
        interval = table.interval_s or 1.0
        soundfile.write(sink, samples, max(1, round(1.0 / interval)), format="WAV", subtype="FLOAT")
        about = _About(
            start_s=table.start_s,
            interval_s=interval,
            columns=list(table.columns),
            units=dict(table.units),
            description=table.description,
        )
        return _with_chunk(sink.getvalue(), about.model_dump_json().encode())


def _about(chunk: bytes) -> _About | None:
    try:
        return _About.model_validate_json(chunk) if chunk else None
    except ValidationError:
        return None


def _cut_off(data: FileBytes, frames: int) -> str | None:
    """Where the file ends before the samples that its header promises; a length of nothing or of all ones means that
    the writer did not know it."""
    at, frame_bytes = 12, 0
    while at + 8 <= len(data):
        name, size = data[at : at + 4], int.from_bytes(data[at + 4 : at + 8], "little")
        if name == b"fmt " and at + 22 <= len(data):
            frame_bytes = int.from_bytes(data[at + 20 : at + 22], "little")
        if name == b"data":
            promised = size // frame_bytes if frame_bytes else 0
            short = 0 < size < 0xFFFFFFFF and at + 8 + size > len(data)
            return f"after sample {frames} of the {promised} that its header promises" if short else None
        at += 8 + size + size % 2
    return None


def _chunk(data: FileBytes) -> bytes:
    """The content of our own RIFF chunk, empty where there is none."""
    at = 12
    while at + 8 <= len(data):
        size = int.from_bytes(data[at + 4 : at + 8], "little")
        if data[at : at + 4] == _CHUNK:
            return bytes(data[at + 8 : at + 8 + size])
        at += 8 + size + size % 2
    return b""


def _with_chunk(riff: bytes, content: bytes) -> bytes:
    whole = riff + _CHUNK + len(content).to_bytes(4, "little") + content + b"\0" * (len(content) % 2)
    return whole[:4] + (len(whole) - 8).to_bytes(4, "little") + whole[8:]
