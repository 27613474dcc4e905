"""Arrow's columns as numpy arrays, without the detour through pandas that Arrow's own conversion loads for nothing."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

__all__ = ["numbers_of"]

_KINDS = {"halffloat": np.float16, "float": np.float32, "double": np.float64}


def numbers_of(column: pa.ChunkedArray) -> NDArray[Any]:
    """The numbers of a column of floats or integers, of shape (rows,), in its own unit. Missing ones are NaN, for
    which integers become float64. Layout of the buffers: Arrow columnar format 1.0, fixed-size primitive layout."""
    chunks = [_chunk(chunk) for chunk in column.chunks]
    if not chunks:
        return np.empty(0, dtype=_kind(column.type))
    return chunks[0] if len(chunks) == 1 else np.concatenate(chunks)


def _kind(told: pa.DataType) -> np.dtype[Any]:
    name = str(told)
    return np.dtype(_KINDS.get(name, name))


def _chunk(chunk: pa.Array) -> NDArray[Any]:
    present, data = chunk.buffers()
    if data is None:
        return np.full(len(chunk), np.nan)
    values = np.frombuffer(data, dtype=_kind(chunk.type), count=chunk.offset + len(chunk))[chunk.offset :]
    if chunk.null_count == 0 or present is None:
        return values
    bits = np.unpackbits(np.frombuffer(present, dtype=np.uint8), bitorder="little")[chunk.offset :][: len(chunk)]
    known = values if values.dtype.kind == "f" else values.astype(np.float64)
    return np.where(bits.astype(bool), known, known.dtype.type(np.nan))
