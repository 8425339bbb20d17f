"""What is drawn, before anything draws it: outlines and texts on a sheet, in px, y downwards, colours by
name. Painters do the rest."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from upright_bramble.section.arrays import Array

NAMES = ("ink", "berry", "leaf", "thorn", "straw", "mist", "pale", "faint", "paper", "quiet")
MAXIMUM_POINTS = 1500  # of a line that are drawn as they are


@dataclass(frozen=True)
class Outline:
    """Lines of one look, each (n, 2) in px: stroked in one colour, filled in another, '' for neither. `dash`:
    lengths of line and gap, px."""

    pieces: tuple[Array, ...]
    stroke: str = ""
    fill: str = ""
    width: float = 1.0
    dash: tuple[float, ...] = ()


@dataclass(frozen=True)
class Words:
    """A line of text on its baseline; `anchor` 'start', 'middle' or 'end'; `halo`: on a ground of paper,
    which keeps lines off it."""

    x: float
    y: float
    text: str
    size: float = 12.0
    colour: str = "ink"
    anchor: str = "start"
    bold: bool = False
    halo: bool = False

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, upper, right and lower edge, as wide as the widest of the fonts sets it."""
        wide = text_width(self.text, self.size) * (1.08 if self.bold else 1.0)
        left = self.x - {"start": 0.0, "middle": 0.5, "end": 1.0}[self.anchor] * wide
        return left, self.y - 0.82 * self.size, left + wide, self.y + 0.22 * self.size


@dataclass
class Scene:
    """Items from the ground up, and the size of the sheet."""

    width: float
    height: float = 0.0
    title: str = ""
    items: list[Outline | Words] = field(default_factory=list)

    def line(
        self,
        points: Sequence[tuple[float, float]] | Array,
        colour: str,
        width: float = 1.0,
        dash: tuple[float, ...] = (),
    ) -> None:
        self.items.append(Outline((np.asarray(points, dtype=float),), colour, "", width, dash))

    def lines(self, pieces: Sequence[Sequence[tuple[float, float]]], colour: str, width: float = 1.0) -> None:
        """Many lines of one look as one item."""
        if pieces:
            self.items.append(Outline(tuple(np.asarray(p, dtype=float) for p in pieces), colour, "", width))

    def area(
        self, points: Sequence[tuple[float, float]] | Array, fill: str, stroke: str = "", width: float = 0.8
    ) -> None:
        """A closed area."""
        closed = np.asarray([*points, points[0]], dtype=float)
        self.items.append(Outline((closed,), stroke, fill, width))

    def box(self, left: float, top: float, right: float, bottom: float, fill: str) -> None:
        self.area([(left, top), (right, top), (right, bottom), (left, bottom)], fill)

    def add(self, words: Words) -> None:
        self.items.append(words)

    def has_room(self, words: Words) -> bool:
        """Whether a text is on the sheet and clear of all others."""
        own = words.box
        return (
            own[0] >= 0.0
            and own[2] <= self.width
            and not any(_meet(own, other.box) for other in self.texts())
        )

    def add_clear(self, words: Words) -> bool:
        """A text where it has room; returns whether it was put."""
        room = self.has_room(words)
        if room:
            self.items.append(words)
        return room

    def texts(self) -> Iterator[Words]:
        return (item for item in self.items if isinstance(item, Words))


def _meet(a: tuple[float, ...], b: tuple[float, ...]) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def text_width(text: str, size: float) -> float:
    """About what a wide sans serif takes, px.

    >>> text_width("moment kN·m", 12.0) > text_width("moment", 12.0) > 40.0
    True
    """
    narrow = sum(c in " .,:;|'·ilj" for c in text)
    return (0.64 * (len(text) - narrow) + 0.36 * narrow) * size


def thinned(x: Array, y: Array) -> tuple[Array, Array]:
    """Of a line with more points than can be seen: first, lowest, highest and last of each column, a quarter
    of a px wide."""
    if len(x) <= MAXIMUM_POINTS:
        return x, y
    column = np.floor(4.0 * x).astype(np.int64)
    starts = np.flatnonzero(np.diff(column, prepend=column[0] - 1))
    ends = np.append(starts[1:], len(x))
    kept = {
        int(i)
        for a, b in zip(starts, ends, strict=True)
        for i in (a, a + y[a:b].argmin(), a + y[a:b].argmax(), b - 1)
    }
    order = sorted(kept)
    return x[order], y[order]


def runs(values: Array) -> list[slice]:
    """Where a line is drawn: the stretches without nan.

    >>> runs(np.array([1.0, 2.0, np.nan, 3.0]))
    [slice(0, 2, None), slice(3, 4, None)]
    """
    shown = np.concatenate([[False], np.isfinite(values), [False]])
    edges = np.flatnonzero(shown[1:] != shown[:-1])
    return [slice(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
