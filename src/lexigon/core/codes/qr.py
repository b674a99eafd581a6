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
    best = min(range(8), key=lambda mask: _penalty(candidates[mask]))
    rows = np.where(region, unmasked ^ masks[best], _any_code(size, level, best))
    return tuple(tuple(map(bool, row)) for row in rows.tolist())


def _penalty(modules: Any) -> int:
    """The penalty of a masked symbol without its format and version information (ISO/IEC 18004:2015, table 11)."""
    size = len(modules)
    score = 0
    for lines in (modules, modules.T.copy()):
        same = lines[:, 1:] == lines[:, :-1]
        five = same[:, 3:] & same[:, 2:-1] & same[:, 1:-2] & same[:, :-3]
        begin = five.copy()
        begin[:, 1:] &= ~five[:, :-1]
        score += int(five.sum()) + 2 * int(begin.sum())  # a run of n modules of one colour: n - 2, from five on
        whole = lines.tobytes()
        if _PATTERN in whole:
            score += sum(_finder_like(whole[at : at + size], size) for at in range(0, size * size, size))
    across = modules[:, 1:] == modules[:, :-1]
    down = modules[1:] == modules[:-1]
    score += 3 * int((across[1:] & across[:-1] & down[:, 1:]).sum())
    return score + 10 * int(abs(float(modules.sum()) / size**2 * 100 - 50) / 5)


def _finder_like(line: bytes, size: int) -> int:
    """The penalty for what looks like a finder pattern in a line, with four light modules before or after it."""
    score = 0
    at = line.find(_PATTERN)
    while at != -1:
        after = at + 7
        if at in (0, size - 7) or not any(line[max(at - 4, 0) : at]) or not any(line[after : after + 4]):
            score += 40
        else:
            after = at + 4
        at = line.find(_PATTERN, after)
    return score


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
