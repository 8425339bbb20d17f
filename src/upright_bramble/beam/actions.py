"""Loads, actions and how they are combined; tables of forces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Load:
    """One load on one span, downward (or clockwise) positive; positions from the span's left end.

    shape 'line': `first` to `last` intensity (N/mm) between `start` and `end`; shape 'point': force `first`
    (N) at `start`; shape 'couple': moment `first` (N mm) at `start`; shape 'twist': torque `first` to `last`
    (N mm/mm) between `start` and `end`; 'torque': torque `first` (N mm) at `start`, clockwise positive as
    seen along the beam from its left end. `hung`: a point load that comes in below the top, from a beam that
    this one carries: stirrups hang it up. `side`: -1 or 1 where it stands left or right of the web (or twists
    that way), seen along the beam; 0 over it.
    """

    shape: str
    span: int
    first: float
    last: float
    start: float
    end: float
    hung: bool = False
    side: int = 0


@dataclass(frozen=True, eq=False)
class ForceLine:
    """One moment line with its shear, from elsewhere: by span, places from its left end (mm), N mm and N.

    `torsion` and `axial` force (compression positive) where there are any.

    `together`: moment and shear belong to one set of forces; the two lines of an envelope do not.
    """

    label: str
    x: tuple[Any, ...]
    moment: tuple[Any, ...]
    shear: tuple[Any, ...]
    together: bool
    torsion: tuple[Any, ...] = ()
    axial: tuple[Any, ...] = ()


@dataclass(frozen=True)
class Action:
    """Loads that come and go together. `self_weight` is the density (N/mm3) of profiles that it weighs, 0 for
    none; `web_only` leaves out the flange, whose weight comes with the slab's.

    `psi` (psi_0, psi_1, psi_2) are factors of one's own, for the kind 'other'. A permanent action is there
    from the age `acts_from` of the concrete on (days; 0: from the first). One that acts `either_way` (wind,
    earthquake) is tried with both signs. `tables` that its forces come from, instead of loads, and the
    `lines` in them.
    """

    name: str
    kind: str
    category: str | None
    loads: tuple[Load, ...]
    self_weight: float = 0.0
    web_only: bool = False
    psi: tuple[float, float, float] | None = None
    acts_from: float = 0.0
    either_way: bool = False
    tables: tuple[str, ...] = ()
    lines: tuple[ForceLine, ...] = ()

    @property
    def acts_as_one(self) -> bool:
        """Whether it acts on all spans or on none; the rest may be arranged by span."""
        return self.kind in ("wind", "earthquake", "settlement")


@dataclass(frozen=True)
class UserCombination:
    """A combination of one's own: factors by 'permanent', category, or action name."""

    level: str
    name: str
    factors: Mapping[str, float]


@dataclass(frozen=True)
class Combining:
    """`rule` of the code ('' for its first), combinations `added`, and whether these stand alone for their
    level."""

    rule: str = ""
    added: tuple[UserCombination, ...] = ()
    replace: bool = False
