"""Array types and the small numerical helpers of the core."""

from __future__ import annotations

from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

Array: TypeAlias = NDArray[np.float64]
Mask: TypeAlias = NDArray[np.bool_]
Index: TypeAlias = NDArray[np.int64]
Floats: TypeAlias = Array | float

APART = 1e7  # mm; stations further apart belong to different spans


def compact(areas: Array, *others: Array) -> tuple[Array, ...]:
    """Columns that are filled at every row: of a table (n, g) whose rows have few entries above zero, and of
    others like it, those entries alone, in their order, (n, k); k is the largest number of entries in a row.
    What is left over is zero.

    >>> compact(np.array([[0.0, 2.0, 0.0], [1.0, 0.0, 3.0]]))[0].tolist()
    [[2.0, 0.0], [1.0, 3.0]]
    """
    rows, columns = np.nonzero(areas > 0.0)
    number = np.bincount(rows, minlength=len(areas))
    place = np.arange(len(rows)) - np.repeat(np.cumsum(number) - number, number)
    result = []
    for table in (areas, *others):
        less = np.zeros((len(areas), int(number.max(initial=0))))
        less[rows, place] = table[rows, columns]
        result.append(less)
    return tuple(result)


def between(x: Array, low: float, high: float) -> slice:
    """The part of x, which must not decrease, from `low` to `high`, both included.

    >>> between(np.array([0.0, 1.0, 1.0, 2.0]), 1.0, 1.5)
    slice(1, 3, None)
    """
    return slice(int(np.searchsorted(x, low, side="left")), int(np.searchsorted(x, high, side="right")))


def nearest(x: Array, places: Array) -> Index:
    """Index of the x nearest to each place, the first of equal ones; x must not decrease.

    >>> nearest(np.array([0.0, 1.0, 1.0, 2.0]), np.array([0.9, 1.6])).tolist()
    [1, 3]
    """
    after = np.clip(np.searchsorted(x, places, side="left"), 1, len(x) - 1)
    best = np.where(places - x[after - 1] <= x[after] - places, x[after - 1], x[after])
    return np.asarray(np.searchsorted(x, best, side="left"), dtype=np.int64)


def window_max(x: Array, values: Array, reach: Floats) -> Array:
    """Largest of `values` within `reach` (mm) on either side of each x, exactly on the broken line through
    them.

    x must not decrease; equal x are the two sides of a jump. O(n log n), whatever the reach.
    """
    reach = np.broadcast_to(np.asarray(reach, dtype=float), x.shape)
    left, right = x - reach, x + reach
    first = np.searchsorted(x, left - 1e-9, side="left")
    last = np.searchsorted(x, right + 1e-9, side="right") - 1
    table = [values]
    while 2 ** len(table) <= len(x):
        half, prev = 2 ** (len(table) - 1), table[-1]
        table.append(np.maximum(prev[: len(prev) - half], prev[half:]))
    power = np.floor(np.log2(np.maximum(last - first + 1, 1))).astype(np.int64)
    flat = np.full((len(table), len(x)), -np.inf)
    for row, level in enumerate(table):
        flat[row, : len(level)] = level
    best = np.maximum(flat[power, first], flat[power, last - 2**power + 1])
    ends = np.maximum(interpolate(left, x, values), interpolate(right, x, values))
    return np.asarray(np.maximum(best, ends))


def greatest_by_group(values: Array, group: Index) -> Array:
    """At every place the greatest of its group, no less than 0 (n,).

    >>> greatest_by_group(np.array([1.0, 3.0, -2.0]), np.array([0, 0, 1]))
    array([3., 3., 0.])
    """
    result = np.zeros(int(group.max()) + 1)
    np.maximum.at(result, group, values)
    return np.asarray(result[group])


def window_max_by_span(x: Array, span: Index, values: Array, reach: Floats) -> Array:
    """`window_max` that does not look past the ends of a span: the two sides of a support are strangers."""
    return window_max(x + 10.0 * APART * span, values, reach)


def interpolate(at: Array, x: Array, values: Array) -> Array:
    """Linear interpolation; outside x the last value holds, at a jump the value to its right. Between two x
    more than `APART` away from each other the nearer value holds."""
    after = np.clip(np.searchsorted(x, at, side="right"), 1, len(x) - 1)
    before = after - 1
    width = x[after] - x[before]
    share = np.clip((at - x[before]) / np.where(width > 1e-9, width, 1.0), 0.0, 1.0)
    share = np.where(width > APART, np.round(share), share)
    return np.asarray(values[before] + share * (values[after] - values[before]))
