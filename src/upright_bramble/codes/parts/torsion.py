"""What torsion requires. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.parts.shear import Web
from upright_bramble.section.arrays import Array, Floats


@dataclass(frozen=True)
class Tube:
    """The web as it resists torque: `b`, `h`; distances from its faces to the axis of the closed stirrup
    (`tie_axis`) and of the bars in its corners (`bar_axis`); thickness of its flange and what stands out of
    it at each side (`left`, `right`), (n,) each."""

    b: Array
    h: Array
    tie_axis: Array
    bar_axis: Array
    flange: Array
    left: Array
    right: Array


@dataclass(frozen=True)
class Twist:
    """What torque asks for at each station: one leg of the closed stirrups `leg` (mm2/mm), longitudinal bars
    `bars` (mm2) around a perimeter `around` whose sides are `side` high, stirrups no further apart than
    `spacing`, bars than `bar_spacing`.

    `crushing` is the share of the section used up by shear and torque together. All 0 where torque may be
    neglected.
    """

    leg: Array
    bars: Array
    around: Array
    side: Array
    crushing: Array
    spacing: Array
    bar_spacing: float
    moment: Array | None = None
    """Moment that torque adds to the bending of both faces, N mm; None: it asks for the `bars` of each face
    instead."""


class TorsionPart(Protocol):
    """What torsion requires. An answer given here is that of a code without such a rule."""

    @property
    def develops_bars(self) -> bool:
        """Whether bars for torsion are developed in full wherever they are required, whatever their
        stress."""
        return False

    @property
    def compatibility_left_out(self) -> str:
        """The clause by which torsion from compatibility alone needs no design; empty where it does."""
        return ""

    def extension(self, b_t: Floats, d: Floats) -> Array:
        """How far reinforcement for torsion goes on beyond where it is required, mm."""
        return np.asarray(0.0 * np.asarray(b_t) * d)

    def equivalent_shear(self, tube: Tube, d: Array, torque: Array) -> Array:
        """Shear that uses the struts up as much as a torque does, N."""
        return np.zeros_like(torque)

    def shear_for_strain(self, tube: Tube, torque: Array) -> Array:
        """Shear that stands for a torque in the strain of the web, N; 0: no such rule."""
        return np.zeros_like(torque)

    @abstractmethod
    def required(
        self,
        concrete: Concrete,
        steels: tuple[Steel, Steel],
        web: Web,
        tube: Tube,
        shear: Array,
        torque: Array,
        cot: Array,
        compatible: bool,
    ) -> Twist:
        """What torque (n,) beside `shear` asks for, of bars and stirrups of `steels`; `compatible`: it comes
        from compatibility alone and may fall as the code lets it."""
        ...
