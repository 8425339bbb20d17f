"""The bars: what `design` proposes, an engineer edits, and `check` judges."""

from __future__ import annotations

from dataclasses import dataclass

FACES = ("bottom", "top")


@dataclass(frozen=True)
class Bar:
    """`count` alike bars of one face and layer.

    `start` and `end` are the outer limits of the bar along the beam; `legs` the length of bar beyond the limit where
    an end is bent (0: the code's least). An end is 'straight', 'bend', 'hook', or 'lap': straight, and carried on by the
    next bar beside it. `size` is the designation in the code's catalogue.
    """

    mark: str
    face: str
    layer: int
    count: int
    size: str
    start: float
    end: float
    ends: tuple[str, str] = ("straight", "straight")
    legs: tuple[float, float] = (0.0, 0.0)
    held: bool = False


@dataclass(frozen=True)
class StirrupZone:
    """Closed stirrups of `legs` legs at `spacing`, the first at `start`, none beyond `end`."""

    mark: str
    size: str
    legs: int
    start: float
    end: float
    spacing: float
    held: bool = False

    @property
    def count(self) -> int:
        return int((self.end - self.start) / self.spacing + 1e-6) + 1


@dataclass(frozen=True)
class SideBars:
    """Bars along both sides of the web: `rows` at each side, evenly between the corner bars."""

    mark: str
    rows: int
    size: str
    start: float
    end: float
    held: bool = False


@dataclass(frozen=True)
class Layout:
    bars: tuple[Bar, ...]
    stirrups: tuple[StirrupZone, ...]
    sides: tuple[SideBars, ...] = ()
