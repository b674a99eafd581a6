"""The modules of QR codes: those that segno makes, with the data mask found at once for all eight masks.

Which mask suits a code best is most of the work (ISO/IEC 18004:2015, 7.8.3), and a merge makes a code for every record.
segno encodes the content with the first mask; the penalties of all eight are then computed on arrays. The result is
segno's own, module for module, which a test compares.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

Rows = tuple[tuple[bool, ...], ...]
_PATTERN = b"\x01\x00\x01\x01\x01\x00\x01"
"""Dark and light in the ratio 1 : 1 : 3 : 1 : 1, as in the finder patterns."""


def qr_rows(text: str, level: str) -> Rows:
    """Return the modules of a QR code without its quiet zone, True for dark ones. Raises ValueError, or the error of
    segno for content that no code can hold."""
    import numpy as np
    import segno

    first = np.array(segno.make_qr(text, error=level, boost_error=False, mask=0).matrix, dtype=np.uint8)
    size = len(first)
    region, masks = _encoding_region(size), _masks(size)
    unmasked = first ^ masks[0]
    candidates = np.where(_reserved(size), 0, unmasked)[None] ^ masks
    penalties = _penalties(candidates)
    best = penalties.index(min(penalties))
    rows = np.where(region, unmasked ^ masks[best], _any_code(size, level, best))
    return tuple(tuple(map(bool, row)) for row in rows.tolist())


def _penalties(modules: Any) -> list[int]:
    """The penalties of masked symbols without their format and version information (ISO/IEC 18004:2015, table 11)."""
    size = modules.shape[-1]
    scores = (abs(modules.sum((1, 2)) / size**2 * 100 - 50) / 5).astype(int) * 10
    for lines in (modules, modules.transpose(0, 2, 1)):
        same = lines[..., 1:] == lines[..., :-1]
        five = same[..., 3:] & same[..., 2:-1] & same[..., 1:-2] & same[..., :-3]
        begin = five.copy()
        begin[..., 1:] &= ~five[..., :-1]
        # A run of n modules of one colour counts n - 2, from five on.
        scores += five.sum((1, 2)) + 2 * begin.sum((1, 2))
        _add_finder_like(scores, lines)
    across = modules[..., 1:] == modules[..., :-1]
    down = modules[:, 1:] == modules[:, :-1]
    scores += 3 * (across[:, 1:] & across[:, :-1] & down[..., 1:]).sum((1, 2))
    return [int(score) for score in scores]


def _add_finder_like(scores: Any, lines: Any) -> None:
    """Add the penalty for what looks like a finder pattern in a line, with four light modules before or after it."""
    import numpy as np

    places = lines.shape[-1] - 6
    padded = np.pad(lines, ((0, 0), (0, 0), (4, 4)))
    like = np.ones((*lines.shape[:-1], places), dtype=bool)
    for at, dark in enumerate(_PATTERN):
        like &= lines[..., at : places + at] == dark
    before = np.logical_or.reduce([padded[..., at : places + at] for at in range(4)])
    after = np.logical_or.reduce([padded[..., at : places + at] for at in range(11, 15)])
    symbols, rows, columns = (one.tolist() for one in np.nonzero(like & ~(before & after)))
    line, free = (-1, -1), 0
    for symbol, row, at in zip(symbols, rows, columns, strict=True):
        if (symbol, row) != line:
            line, free = (symbol, row), 0
        if at >= free:  # else it overlaps one that counts
            scores[symbol] += 40
            free = at + 7


@lru_cache(16)
def _masks(size: int) -> Any:
    """The eight data masks (ISO/IEC 18004:2015, table 10) in the encoding region: 1 where a module is inverted."""
    import numpy as np

    i, j = np.indices((size, size))
    patterns = (
        (i + j) % 2,
        i % 2,
        j % 3,
        (i + j) % 3,
        (i // 2 + j // 3) % 2,
        (i * j) % 2 + (i * j) % 3,
        ((i * j) % 2 + (i * j) % 3) % 2,
        ((i + j) % 2 + (i * j) % 3) % 2,
    )
    return np.stack([((one == 0) & _encoding_region(size)).astype(np.uint8) for one in patterns])


@lru_cache(16)
def _encoding_region(size: int) -> Any:
    """Where a symbol has data, and not patterns or information about itself (ISO/IEC 18004:2015, 6.3)."""
    import numpy as np

    region = np.ones((size, size), dtype=bool)
    region[6, :] = region[:, 6] = False
    region[:9, :9] = region[:9, -8:] = region[-8:, :9] = False
    if size > 41:
        region[:6, -11:-8] = region[-11:-8, :6] = False
    for row, column in _alignment_centres(size):
        region[row - 2 : row + 3, column - 2 : column + 3] = False
    return region


@lru_cache(16)
def _reserved(size: int) -> Any:
    """Where format and version information will be."""
    import numpy as np

    reserved = np.zeros((size, size), dtype=bool)
    reserved[8, :9] = reserved[:9, 8] = reserved[8, -8:] = reserved[-8:, 8] = True
    reserved[8, 6] = reserved[6, 8] = False  # of the timing patterns
    if size > 41:
        reserved[:6, -11:-8] = reserved[-11:-8, :6] = True
    return reserved


def _alignment_centres(size: int) -> list[tuple[int, int]]:
    """The centres of the alignment patterns of a symbol (ISO/IEC 18004:2015, annex E, as a formula; from memory, tested
    for all versions)."""
    version = (size - 17) // 4
    if version == 1:
        return []
    count = version // 7 + 2
    step = 26 if version == 32 else (version * 4 + count * 2 + 1) // (count * 2 - 2) * 2
    places = [6, *sorted(size - 7 - step * number for number in range(count - 1))]
    corners = ((6, 6), (6, size - 7), (size - 7, 6))  # finder patterns are there
    return [(row, column) for row in places for column in places if (row, column) not in corners]


@lru_cache(128)
def _any_code(size: int, level: str, mask: int) -> Any:
    """A symbol of a size: what is not data in it is the same in all of its size, level and mask."""
    import numpy as np
    import segno

    version = (size - 17) // 4
    code = segno.make_qr("1", version=version, error=level, boost_error=False, mask=mask)
    return np.array(code.matrix, dtype=np.uint8)
