"""Functions of PDF files (ISO 32000-2, 7.10) of one input: sampled, exponential and stitching ones, and arrays of
those.

A calculator function (type 4) is a program, and is not read.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pikepdf

Function = Callable[[float], tuple[float, ...]]
MOST_DEPTH = 12


class FunctionError(Exception):
    """A function that is not read."""


def read_function(obj: Any, depth: int = 0) -> Function:
    """A function of one input as one of Python's. Raises FunctionError."""
    if depth > MOST_DEPTH:
        raise FunctionError("It is nested too deep.")
    if isinstance(obj, pikepdf.Array):
        parts = [read_function(one, depth + 1) for one in obj]
        return lambda t: tuple(value for part in parts for value in part(t))
    low, high = (float(end) for end in obj.Domain)
    if len(obj.Domain) != 2:
        raise FunctionError("It has several inputs.")
    kind = int(obj.FunctionType)
    makers: dict[int, Callable[[Any, int], Function]] = {0: _sampled, 2: _exponential, 3: _stitching}
    if kind not in makers:
        raise FunctionError("It is a program.")
    inner = makers[kind](obj, depth)
    limits = [float(end) for end in obj.get("/Range", ())]

    def limited(t: float) -> tuple[float, ...]:
        values = inner(min(max(t, low), high))
        if limits:
            return tuple(min(max(v, limits[2 * at]), limits[2 * at + 1]) for at, v in enumerate(values))
        return values

    return limited


def _exponential(obj: Any, depth: int) -> Function:
    """Type 2: from C0 to C1, by the input to a power (7.10.3)."""
    first = tuple(float(v) for v in obj.get("/C0", (0,)))
    last = tuple(float(v) for v in obj.get("/C1", (1,)))
    power = float(obj.N)
    return lambda t: tuple(a + t**power * (b - a) for a, b in zip(first, last, strict=True))


def _stitching(obj: Any, depth: int) -> Function:
    """Type 3: functions beside each other (7.10.4)."""
    low, high = (float(end) for end in obj.Domain)
    parts = [read_function(one, depth + 1) for one in obj.Functions]
    bounds = [low, *(float(v) for v in obj.Bounds), high]
    encode = [float(v) for v in obj.Encode]
    if len(bounds) != len(parts) + 1 or len(encode) != 2 * len(parts):
        raise FunctionError("Its parts do not fit together.")

    def stitched(t: float) -> tuple[float, ...]:
        at = next((n for n in range(len(parts) - 1) if t < bounds[n + 1]), len(parts) - 1)
        begin, end = bounds[at], bounds[at + 1]
        a, b = encode[2 * at], encode[2 * at + 1]
        return parts[at](a + (t - begin) / (end - begin) * (b - a) if end > begin else a)

    return stitched


def _sampled(obj: Any, depth: int) -> Function:
    """Type 0: samples, with straight lines between them (7.10.2). Of 8 and 16 bits."""
    low, high = (float(end) for end in obj.Domain)
    (size,), bits = (int(v) for v in obj.Size), int(obj.BitsPerSample)
    limits = [float(v) for v in obj.Range]
    outputs, decode = len(limits) // 2, [float(v) for v in obj.get("/Decode", limits)]
    begin, end = (float(v) for v in obj.get("/Encode", (0, size - 1)))
    if bits not in (8, 16):
        raise FunctionError("Its samples have an unusual size.")
    step, data = bits // 8, obj.read_bytes()
    whole = [int.from_bytes(data[at : at + step]) / (2**bits - 1) for at in range(0, size * outputs * step, step)]

    def between(t: float) -> tuple[float, ...]:
        place = begin + (t - low) / (high - low) * (end - begin) if high > low else begin
        place = min(max(place, 0.0), size - 1.0)
        at = min(int(place), max(size - 2, 0))
        part, follow = place - at, min(at + 1, size - 1)
        values = (whole[at * outputs + n] * (1 - part) + whole[follow * outputs + n] * part for n in range(outputs))
        return tuple(decode[2 * n] + v * (decode[2 * n + 1] - decode[2 * n]) for n, v in enumerate(values))

    return between
