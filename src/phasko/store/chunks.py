"""Samples as compressed chunks, with minimum and maximum levels for drawing."""

from __future__ import annotations

import hashlib
import mmap
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numcodecs.blosc import Blosc

from phasko.core.arrays import Samples

__all__ = [
    "COARSE_BLOCK",
    "LEVEL_BLOCK",
    "Chunk",
    "PackedFile",
    "coarser_levels",
    "decode_levels",
    "decode_samples",
    "encode_chunks",
    "pack_file",
    "unpack_file",
]


CHUNK_SAMPLES = 1 << 18
"""Samples per chunk: a mebibyte as float32."""
LEVEL_BLOCK = 64
"""Samples that share one minimum and one maximum."""
COARSE_BLOCK = 4096
"""The same for a whole capture at a glance; both divide a chunk."""

_CODEC = Blosc(cname="lz4", clevel=5, shuffle=Blosc.BITSHUFFLE)
_FILE_CODEC = Blosc(cname="zstd", clevel=3, shuffle=Blosc.NOSHUFFLE)
_AS_IT_IS_FROM = 1 << 25
_AS_IT_IS = 1 << 62
"""Set in the length of a piece that was not compressed."""
_FILE_PIECE = 1 << 22
_STEPS = 32_000
_GUESSED_FROM = 1 << 16


@dataclass(frozen=True, slots=True)
class Chunk:
    """One chunk ready to be stored; ``scale`` is the step of an int16 encoding."""

    first_sample: int
    sample_count: int
    encoding: str
    scale: float
    data: bytes
    levels: bytes
    coarse_levels: bytes


def encode_chunks(samples: Samples) -> Iterator[Chunk]:
    """Cuts a column into chunks: int16 where the converter's step is found exactly, float32 otherwise."""
    scale = _converter_step(samples)
    for first in range(0, samples.size, CHUNK_SAMPLES):
        part = np.ascontiguousarray(samples[first : first + CHUNK_SAMPLES])
        if scale is None:
            coded, encoding = part, "float32"
        else:
            coded, encoding = np.rint(part / np.float32(scale)).astype(np.int16), "int16"
        levels = _levels(part)
        coarse = coarser_levels(levels)
        yield Chunk(
            first_sample=first,
            sample_count=part.size,
            encoding=encoding,
            scale=scale or 1.0,
            data=_CODEC.encode(coded),
            levels=levels.tobytes(),
            coarse_levels=coarse.tobytes(),
        )


def _converter_step(samples: Samples) -> float | None:
    """The step of the scope's converter if every sample is a whole multiple of it, to the last bit of float32.

    The step is guessed from some samples and then has to hold for all.
    """
    if not samples.size or not np.isfinite(samples).all():
        return None
    values = np.unique(samples[:: max(1, samples.size // _GUESSED_FROM)])
    if values.size < 2:
        values = np.unique(samples[:_GUESSED_FROM])
    if values.size < 2:
        return None
    step = float(np.diff(values).min())
    top = float(np.abs(samples).max())
    if step <= 0 or top / step > _STEPS:
        return None
    step = top / round(top / step) if round(top / step) else step
    for first in range(0, samples.size, CHUNK_SAMPLES):
        part = samples[first : first + CHUNK_SAMPLES]
        exact = np.rint(part / np.float32(step)).astype(np.int16).astype(np.float32) * np.float32(step)
        if not np.array_equal(exact, part):
            return None
    return step


def _levels(part: Samples) -> Samples:
    """(blocks, 2) minimum and maximum of every ``LEVEL_BLOCK`` samples; missing samples do not count."""
    blocks = -(-part.size // LEVEL_BLOCK)
    table = part
    if part.size != blocks * LEVEL_BLOCK:
        table = np.full(blocks * LEVEL_BLOCK, np.nan, dtype=np.float32)
        table[: part.size] = part
    table = table.reshape(blocks, LEVEL_BLOCK)
    return np.column_stack([np.fmin.reduce(table, axis=1), np.fmax.reduce(table, axis=1)]).astype(np.float32)


def coarser_levels(levels: Samples) -> Samples:
    """The levels of every ``COARSE_BLOCK`` samples from those of every ``LEVEL_BLOCK``."""
    starts = np.arange(0, len(levels), COARSE_BLOCK // LEVEL_BLOCK)
    low, high = np.fmin.reduceat(levels[:, 0], starts), np.fmax.reduceat(levels[:, 1], starts)
    return np.column_stack([low, high]).astype(np.float32)


def decode_samples(chunks: Sequence[tuple[str, float, bytes]]) -> Samples:
    """One column from its (encoding, scale, data), in order; exactly the samples that were stored."""
    parts = []
    for encoding, scale, data in chunks:
        raw = np.frombuffer(_CODEC.decode(data), dtype=np.dtype(encoding))
        parts.append(raw if encoding == "float32" else raw.astype(np.float32) * np.float32(scale))
    return np.concatenate(parts) if parts else np.empty(0, dtype=np.float32)


def decode_levels(levels: Sequence[bytes]) -> Samples:
    """(blocks, 2) minimum and maximum of a column, fine or coarse, from those of its chunks."""
    return np.concatenate([np.frombuffer(part, dtype=np.float32).reshape(-1, 2) for part in levels])


@dataclass(frozen=True, slots=True)
class PackedFile:
    """The original bytes of a file, and their SHA-256 in hexadecimal; packed when they are asked for."""

    data: bytes | mmap.mmap
    sha256: str

    def pieces(self) -> Iterator[bytes | memoryview]:
        """Packed pieces, one after the other, so that the file is never in memory twice. Large files are kept as they
        are: an import should not wait for text that hardly shrinks."""
        if len(self.data) >= _AS_IT_IS_FROM:
            yield from _as_it_is(self.data)
            return
        for piece in _pieces(self.data):
            part = _FILE_CODEC.encode(piece) if piece else b""
            yield len(part).to_bytes(8, "little") + part


def _as_it_is(data: bytes | mmap.mmap) -> Iterator[memoryview]:
    """The bytes piece by piece behind their length, each copied once; a mapped file gives its memory back."""
    for first in range(0, len(data), _FILE_PIECE):
        size = min(_FILE_PIECE, len(data) - first)
        piece = np.empty(8 + size, dtype=np.uint8)
        piece[:8] = np.frombuffer((size | _AS_IT_IS).to_bytes(8, "little"), dtype=np.uint8)
        # No view of the file outlives its copy: a mapped file with views cannot be closed.
        piece[8:] = np.frombuffer(data, dtype=np.uint8, count=size, offset=first)
        yield piece.data
        _give_back(data, first, size)


def pack_file(data: bytes | mmap.mmap) -> PackedFile:
    """The file with its hash."""
    digest = hashlib.sha256()
    for first in range(0, len(data), _FILE_PIECE):
        with memoryview(data)[first : first + _FILE_PIECE] as piece:
            digest.update(piece)
            size = len(piece)
        _give_back(data, first, size)
    return PackedFile(data, digest.hexdigest())


def _give_back(data: bytes | mmap.mmap, first: int, size: int) -> None:
    """What was read of a mapped file need not stay in memory."""
    if isinstance(data, mmap.mmap) and size == _FILE_PIECE:
        data.madvise(mmap.MADV_DONTNEED, first, size)


def _pieces(data: bytes | mmap.mmap) -> Iterator[bytes]:
    """The bytes piece by piece, at least one; what was read of a mapped file is given back at once."""
    for first in range(0, max(1, len(data)), _FILE_PIECE):
        piece = data[first : first + _FILE_PIECE]
        yield piece
        _give_back(data, first, len(piece))


def unpack_file(packed: bytes | bytearray) -> bytes:
    """The original bytes again."""
    out, at = [], 0
    while at < len(packed):
        told = int.from_bytes(packed[at : at + 8], "little")
        size = told & ~_AS_IT_IS
        piece = packed[at + 8 : at + 8 + size]
        if piece:
            out.append(bytes(piece if told & _AS_IT_IS else _FILE_CODEC.decode(piece)))
        at += 8 + size
    return b"".join(out)
