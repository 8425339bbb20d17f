"""Crack control. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from dataclasses import dataclass, fields
from typing import Protocol

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.parts.service import Stage
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.section.cracked import Elastic


@dataclass(frozen=True)
class TensionZone:
    """Concrete in tension just before it cracks, (n,): area of the `web` and of a `flange` in tension (mm2),
    and the mean stress of the flange over that of its outer face."""

    web: Array
    flange: Array
    share: Array


@dataclass(frozen=True)
class Face:
    """Bars of a tension face at each station: widths and depths of the section, area, mean depth, equivalent
    diameter, cover to their surface, distance of their centres, depth of the outermost row; area and depth of
    each group (n, g); strength of the bars."""

    b: Array
    h: Array
    area: Array
    depth: Array
    phi: Array
    cover: Array
    spacing: Array
    outer: Array
    areas: Array
    depths: Array
    strength: Array

    def at(self, rows: slice) -> Face:
        """At some stations."""
        return Face(*(np.asarray(getattr(self, f.name)[rows]) for f in fields(self)))


@dataclass(frozen=True)
class CrackState:
    """What cracking is judged by: demand and limit (n,) of a quantity, crack widths (0 where none is found),
    the service stress of the bars, and the depth of the bars that it is found at."""

    demand: Array
    limit: Array
    quantity: str
    width: Array
    stress: Array
    depth: Array


@dataclass(frozen=True)
class CrackPoints:
    """Points (p,) on the perimeter of a cracked section of any outline: tension of the nearest bar and, at
    its strain, of steel at the face itself (MPa); distance to that bar, its cover and diameter (mm). Of the
    section, along the gradient of strain: its `height`, depth of the neutral `axis` (not above 0: all in
    tension) and of the bars in tension from the compressed fibre (mm); mean strain over the greatest where
    all is in tension (`even`); `effective`: areas of concrete and of bars in tension within a depth of the
    tensioned fibre, mm2."""

    stress: Array
    at_face: Array
    away: Array
    cover: Array
    phi: Array
    height: float
    axis: float
    depth: float
    even: float
    effective: Callable[[float], tuple[float, float]]


@dataclass(frozen=True)
class TableControl:
    """Cracks controlled without calculation, (n,): bar diameter and distance, each with what the service
    stress allows; either will do."""

    phi: Array
    most_phi: Array
    spacing: Array
    most_spacing: Array


class CrackingPart(Protocol):
    """Crack control. An answer given here is that of a code without such a rule."""

    @property
    def limits_width(self) -> bool:
        """Whether a width of cracks given by the user decides."""
        return False

    def minimum_steel(self, concrete: Concrete, steel: Steel, zone: TensionZone, h: Array) -> Array:
        """Minimum steel of a tension zone for the sake of its cracks, mm2; 0: no such rule."""
        return np.zeros_like(h)

    def skin(
        self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service
    ) -> tuple[float, float]:
        """Side bars of a deep web: widest distance (mm; endless where the web is not deep) and area of both
        sides' bars in the tension half (mm2)."""
        return float("inf"), 0.0

    @property
    @abstractmethod
    def level(self) -> str:
        """Level and stage that cracking is judged at."""
        ...

    @property
    @abstractmethod
    def stage(self) -> str: ...

    @abstractmethod
    def judge(
        self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service
    ) -> CrackState: ...

    def around(self, points: CrackPoints, stage: Stage, wanted: Service) -> CrackState | None:
        """Cracks at points of the perimeter of sections bent about two axes; None: no rule for these."""
        return None

    def uncracked_under(self, moment: Array, uncracked: Elastic, h: Array, concrete: Concrete) -> Mask:
        """Where a section stays uncracked, so that nothing is required of its cracks."""
        return np.zeros(np.shape(moment), dtype=bool)
