"""One cross-section and what is asked of it. x to the right and y upwards from the middle of its top, mm; N,
N mm, MPa.

Moments are about the centroid of the gross concrete: M_x > 0 compresses the top, M_y > 0 the right. Axial
force compression positive."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from upright_bramble.beam import Concrete, Cover, Profile, Service, Steel
from upright_bramble.section.arrays import Array
from upright_bramble.section.shape import Shape

MIRRORED = 1.0  # mm that a bar may be off its mirror


@dataclass(frozen=True)
class BarAt:
    """One bar; `row` numbers the item of the file that it belongs to."""

    x: float
    y: float
    size: str
    diameter: float
    area: float
    row: int


@dataclass(frozen=True)
class ClosedStirrups:
    """Closed stirrups: `legs` upright, two of them at the sides; `area` of one leg."""

    size: str
    diameter: float
    area: float
    legs: int
    spacing: float


@dataclass(frozen=True)
class ForceSet:
    """Factored forces that act together. `greatest_moment` near the section (magnitude; None: not known)
    bounds the pull of shear; `greatest_other` likewise that of the other sense."""

    name: str
    moment: float = 0.0
    moment_y: float = 0.0
    axial: float = 0.0
    shear: float = 0.0
    shear_y: float = 0.0
    torque: float = 0.0
    greatest_moment: float | None = None
    greatest_other: float | None = None

    @property
    def about_both(self) -> bool:
        return abs(self.moment_y) > 0.0


@dataclass(frozen=True)
class ServiceSet:
    """Forces in service that act together, at a `level` of the code ('': at all of them)."""

    name: str
    level: str = ""
    moment: float = 0.0
    moment_y: float = 0.0
    axial: float = 0.0


@dataclass(frozen=True)
class Choice:
    """Bars and stirrups that would do are wanted: sizes to choose from; `keep`: the bars given stay; `size`
    'depth' or 'width': the least with which the bars given would do."""

    main_bars: tuple[str, ...] = ()
    stirrup_bars: tuple[str, ...] = ()
    keep: bool = True
    size: str = ""


@dataclass(frozen=True, eq=False)
class CrossSection:
    """`profile` is the shape as beams know it; `axis` 'free' or 'level'; `delta` the ratio of redistributed
    to elastic moments; `displaced` whether concrete that compressed bars displace is deducted; `laws` of
    one's own instead of the code's."""

    title: str
    shape: Shape
    profile: Profile
    concrete: Concrete
    bars_steel: Steel
    stirrups_steel: Steel
    cover: Cover
    axis: str
    bars: tuple[BarAt, ...] = ()
    stirrups: ClosedStirrups | None = None
    tie: float = 8.0
    forces: tuple[ForceSet, ...] = ()
    service: tuple[ServiceSet, ...] = ()
    wanted: Service = field(default_factory=Service)
    choice: Choice | None = None
    delta: float = 1.0
    displaced: bool = True
    ultimate_strain: float | None = None
    hardening: tuple[float, float] | None = None
    """Of bars of one's own: stress at the ultimate strain over that at yield, and that strain."""
    round: bool = False
    about: Mapping[str, str] = field(default_factory=dict)
    waive: Mapping[str, str] = field(default_factory=dict)

    @property
    def depth(self) -> float:
        return self.profile.depth

    @cached_property
    def points(self) -> tuple[Array, Array, Array, Array]:
        """x, y, area and diameter of the bars, (g,)."""
        return tuple(
            np.array([getattr(b, k) for b in self.bars], dtype=float) for k in ("x", "y", "area", "diameter")
        )  # type: ignore[return-value]

    @cached_property
    def symmetric(self) -> bool:
        """About the vertical, bars too."""
        x, y, area, _ = self.points
        if not self.shape.symmetric:
            return False
        if not len(x):
            return True
        middle = 0.5 * float(self.shape.corners[:, 0].min() + self.shape.corners[:, 0].max())
        mirrored = np.hypot(x[:, None] + x - 2.0 * middle, y[:, None] - y)
        partner = mirrored.argmin(axis=1)
        near = mirrored[np.arange(len(x)), partner] < MIRRORED
        return bool(near.all() and np.allclose(area, area[partner]) and len(set(partner.tolist())) == len(x))

    @property
    def tied(self) -> float:
        """Diameter of the stirrups that are there, mm."""
        return self.stirrups.diameter if self.stirrups is not None else 0.0
