"""The blocks of an MDF4 file: whether all of them are whole, and a file that was cut off made readable again.

ASAM MDF 4.1 (block layout from memory): every block begins with "##" and two letters, four reserved bytes, its length
and its number of links as 64 bit integers, then the links, each the place of another block or 0.
"""

from __future__ import annotations

import struct
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

__all__ = ["Mended", "mend_cut_file"]

_HEAD = struct.Struct("<2s2s4xQQ")
_FIRST = 64
_MOST_BLOCKS = 200_000
_MOST_LINKS = 1 << 20
_DZ = struct.Struct("<2sBxIQQ")
"""Of a compressed block: kind of the original, how it was packed, parameter, length unpacked, length packed."""
_DATA = (b"DT", b"SD", b"RD", b"DV")


@dataclass(frozen=True, slots=True)
class _Block:
    at: int
    kind: bytes
    length: int
    links: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Mended:
    """What was missing of a file: ``words`` name the block, ``lost_bytes`` are those of samples that were filled with
    zeros at the end of its data."""

    words: str
    lost_bytes: int


def mend_cut_file(path: Path) -> Mended | None:
    """Fills up a file that ends inside a block, so that a reader finds its way; ``None`` where all blocks are whole.
    A compressed block is unpacked as far as it goes. Raises ValueError where what is missing is no data and no mere end
    of a block."""
    with path.open("r+b") as file:
        size = path.stat().st_size
        content = file.read()
        cut = [block for block in _walk(content) if block.at + block.length > size]
        if not cut:
            return None
        first = min(cut, key=lambda block: block.at)
        short = first.at + first.length - size
        words = f"{short} bytes before the end of block {first.kind.decode('ascii', 'replace')} at byte {first.at}"
        if any(block.at >= size for block in cut) or len(cut) > 1:
            raise ValueError(f"it was cut off {words}, and what follows is missing")
        file.seek(size)
        file.write(bytes(short))
        if first.kind == b"DZ":
            return Mended(words, _unpacked(file, content, first))
        return Mended(words, short if first.kind in _DATA else 0)


def _walk(content: bytes) -> Iterator[_Block]:
    waiting, seen = [_FIRST], {0}
    while waiting and len(seen) < _MOST_BLOCKS:
        at = waiting.pop()
        if at in seen:
            continue
        seen.add(at)
        block = _block(content, at)
        if block is not None:
            yield block
            waiting += [link for link in block.links if link not in seen]


def _block(content: bytes, at: int) -> _Block | None:
    """The block at a place; one whose very head is missing ends where the head would."""
    if at < 0 or at % 8:
        return None
    if at + _HEAD.size > len(content):
        return _Block(at, b"??", _HEAD.size, ())
    mark, kind, length, count = _HEAD.unpack_from(content, at)
    if mark != b"##" or length < _HEAD.size:
        return None
    held = min(count, _MOST_LINKS, (len(content) - at - _HEAD.size) // 8)
    return _Block(at, kind, length, struct.unpack_from(f"<{held}Q", content, at + _HEAD.size))


def _unpacked(file: BinaryIO, content: bytes, block: _Block) -> int:
    """Puts what the packed block still holds, filled up with zeros, behind the file as a plain one, and leads whoever
    pointed to the packed block there; how many bytes are lost."""
    kind, packing, _, whole, _ = _DZ.unpack_from(content, block.at + _HEAD.size)
    got = zlib.decompressobj().decompress(content[block.at + _HEAD.size + _DZ.size :])
    if packing != 0:
        got = b""  # turned bytes: the first of them belong to all records, and none is whole
    end = file.seek(0, 2)
    at = -(-end // 8) * 8
    file.write(bytes(at - end))
    file.write(_HEAD.pack(b"##", kind, _HEAD.size + whole, 0) + got[:whole].ljust(whole, b"\0"))
    for parent in _walk(content):
        for k, link in enumerate(parent.links):
            if link == block.at:
                file.seek(parent.at + _HEAD.size + 8 * k)
                file.write(struct.pack("<Q", at))
    return int(whole) - len(got[:whole])
