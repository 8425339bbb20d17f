"""Resistance to bending, and how much steel there must and may be. Arrays run over stations; N, mm, MPa,
days."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.section.arrays import Array, Floats, Mask


@dataclass(frozen=True)
class TensionFace:
    """Sections with one face in tension (n,): depth `h`, effective depth `d`; width of the web `b_w`, that of
    the web for the minimum steel where a flange is in tension `b_own`, mean width of the tension zone `b_t`,
    width of the compressed face `b_c`; whether a flange in tension stands out at `both` sides of the web;
    modulus of the uncracked section for the face in tension `w_t` where a flange is, elsewhere that of a
    rectangle as wide as `b_t`. mm, mm3."""

    h: Array
    d: Array
    b_w: Array
    b_own: Array
    b_t: Array
    b_c: Array
    both: Mask
    w_t: Array


@dataclass(frozen=True)
class PrintedSection:
    """A section as printed formulas of bending know it: width of the compressed face `b`, of the web `b_w`,
    depth of the flange `h_f` (0: a rectangle), effective depth `d`, bars in tension `a_s`; bars in
    compression `a_s2` at depth `d_2`. mm, mm2."""

    b: float
    b_w: float
    h_f: float
    d: float
    a_s: float
    d_2: float = 0.0
    a_s2: float = 0.0


class BendingPart(Protocol):
    """Resistance to bending, and how much steel there must and may be. An answer given here is that of a code
    without such a rule."""

    def resistance_factor(self, strain: Array, steel: Steel) -> Array:
        """Factor on the moment of resistance for the strain of the extreme tension bars (1 where strengths
        carry it)."""
        return np.ones_like(strain)

    def slab_bars_width(self, flange: Array, clear_span: Array) -> Array:
        """Width of a flange in tension and its web whose bars count, mm: a tenth of the clear span."""
        return np.minimum(flange, 0.1 * clear_span)

    @property
    def usual_factor(self) -> float:
        """The factor that beams are proportioned for."""
        return 1.0

    def printed_moment(self, concrete: Concrete, steel: Steel, section: PrintedSection) -> float | None:
        """Moment of resistance by the code's own closed formulas, N mm; None: it has none, or not for this
        section."""
        return None

    def axial_cap(self, concrete: Concrete, steel: Steel, gross: float, bars: float, least: float) -> float:
        """Greatest axial force of sections in compression, N: `gross` area and that of `bars` (mm2), `least`
        dimension (mm); endless: no such rule."""
        return np.inf

    def minimum_eccentricity(self, h: float) -> float:
        """Of sections in compression whose depth is `h`, mm."""
        return 0.0

    def both_axes(self, axial_share: float, shares: tuple[float, float]) -> float | None:
        """Share of the resistance of a rectangle that moments about both axes use by the code's
        approximation, from their `shares` of the resistances about each axis and that of the axial force;
        None: the code has none."""
        return None

    @abstractmethod
    def neutral_axis_ratio(self, x: Floats, d: Floats, outer: Floats) -> Array:
        """Depth of the neutral axis over what its limit refers to: `d`, or the depth of the outermost
        bars."""
        ...

    @abstractmethod
    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array: ...

    def minimum_steel_width(self, b_w: Array, b_f: Array, determinate: Mask) -> Array:
        """Width of web that the minimum steel of a flange in tension is found with; `determinate` where
        moments cannot go elsewhere."""
        return b_w

    @abstractmethod
    def minimum_steel(self, concrete: Concrete, steel: Steel, face: TensionFace, required: Array) -> Array:
        """Minimum steel of a face in tension, mm2, beside what the moment requires."""
        ...

    def maximum_steel(self, gross_area: Array) -> Array:
        """Of a face, mm2; endless: no such rule."""
        return np.full_like(np.asarray(gross_area), np.inf)
