"""Where bars may stop. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from upright_bramble.section.arrays import Array, Floats


@dataclass(frozen=True)
class EndFacts:
    """A simple end, `direct` where its reaction compresses the bars: shear and effective depth at the face, strut inclination, tension
    along the beam and that of the bottom bars for torsion (N); force of the bottom bars as they are anchored there; development of the
    bars in full, moment with all of them at yield, how far they go on beyond the centreline, and whether they are bent there."""

    shear: float
    d: float
    cot: float
    axial_tension: float
    torsion: float
    force: float
    development: float
    nominal_moment: float
    beyond_centre: float
    hooked: bool
    direct: bool = True


class CurtailmentPart(Protocol):
    """Where bars may stop."""

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        """Length at the end of a bar that stops inside a span which may not be counted on, mm."""
        ...

    @property
    def cut_off_share(self) -> float:
        """Share of the shear resistance that may be used where a bar stops in a tension zone; 0: no such rule."""
        ...

    def end_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array: ...

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """Demand, resistance and quantity of the anchorage at a simple end."""
        ...

    def bottom_share(self, simple: bool) -> float:
        """Of a span's bottom steel that goes into a support."""
        ...

    @property
    def perimeter_share(self) -> float:
        """Of the top steel over a support of a perimeter beam that is continuous and anchored at its ends; 0: no such rule."""
        ...

    @property
    def checks_inflection(self) -> bool:
        """Whether bottom bars are limited by their development at points of inflection."""
        ...

    @property
    def integrity(self) -> tuple[float, int]:
        """Share of a span's bottom steel, and number of bars, that go through from end to end; 0: no such rule."""
        ...

    @property
    def top_share(self) -> float:
        """Of the top steel over a support that goes on past the point of inflection; 0: no such rule."""
        ...

    def beyond_inflection(self, phi: float, d: float, clear: float) -> float:
        """By how much, mm."""
        ...

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """How far past a support's face bottom bars go, mm."""
        ...
