"""Samples in chunks come back to the bit; levels bound them."""

import hashlib

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from phasko.store import chunks
from phasko.store.chunks import (
    CHUNK_SAMPLES,
    LEVEL_BLOCK,
    decode_levels,
    decode_samples,
    encode_chunks,
    pack_file,
    unpack_file,
)


def round_trip(samples: np.ndarray) -> tuple[np.ndarray, set[str]]:
    chunks = list(encode_chunks(samples))
    return decode_samples([(c.encoding, c.scale, c.data) for c in chunks]), {c.encoding for c in chunks}


@settings(max_examples=60)
@given(arrays(np.float32, st.integers(0, 700), elements=st.floats(width=32)))
def test_any_column_comes_back_to_the_bit(samples: np.ndarray) -> None:
    again, _ = round_trip(samples)
    np.testing.assert_array_equal(again, samples)


@pytest.mark.parametrize("bits", [8, 12, 14])
def test_a_converters_steps_are_stored_as_whole_numbers(bits: int) -> None:
    step = np.float32(20.0 / 2**bits)
    samples = np.random.default_rng(1).integers(-(2 ** (bits - 1)), 2 ** (bits - 1), 5000).astype(np.float32) * step
    again, encodings = round_trip(samples)
    assert encodings == {"int16"}
    np.testing.assert_array_equal(again, samples)


def test_a_long_column_is_cut() -> None:
    samples = np.random.default_rng(2).normal(size=CHUNK_SAMPLES + 17).astype(np.float32)
    chunks = list(encode_chunks(samples))
    assert [c.sample_count for c in chunks] == [CHUNK_SAMPLES, 17]
    assert [c.first_sample for c in chunks] == [0, CHUNK_SAMPLES]


def test_levels_bound_every_block() -> None:
    samples = np.random.default_rng(3).normal(size=5 * LEVEL_BLOCK + 3).astype(np.float32)
    levels = decode_levels([c.levels for c in encode_chunks(samples)])
    assert len(levels) == 6
    for i, (low, high) in enumerate(levels):
        block = samples[i * LEVEL_BLOCK : (i + 1) * LEVEL_BLOCK]
        assert (low, high) == (block.min(), block.max())


@given(st.binary(max_size=2000))
def test_a_file_comes_back_byte_for_byte(data: bytes) -> None:
    packed = pack_file(data)
    assert b"".join(unpack_file(piece) for piece in packed.pieces()) == data
    assert packed.sha256 == hashlib.sha256(data).hexdigest()


def test_a_large_file_is_kept_as_it_is_piece_by_piece(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(chunks, "_AS_IT_IS_FROM", 1000)
    monkeypatch.setattr(chunks, "_FILE_PIECE", 700)
    data = np.random.default_rng(1).bytes(2500)
    pieces = list(pack_file(data).pieces())
    assert [len(piece) for piece in pieces] == [708, 708, 708, 408]
    assert b"".join(unpack_file(piece) for piece in pieces) == data
    assert unpack_file(b"".join(pieces)) == data
