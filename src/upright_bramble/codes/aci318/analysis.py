"""ACI 318-19 chapters 6 and 9: arrangements, effective flanges, redistribution, limits of beam theory. N, mm,
MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Flange, Steel
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import (
    AnalysisPart,
    Deep,
    Reaches,
    ShortSpan,
    Surroundings,
)
from upright_bramble.codes.patterns import Arrangement, alternate_and_adjacent
from upright_bramble.section.arrays import Array, Floats


@clause(ACI, "6.6.5.3", "change", (("eps_t >= 0.0075", "min(10 eps_t; maximum)"), ("", "0")))
def permitted_redistribution(eps_t: Floats, maximum: float = 0.2) -> Array:
    """Share of a moment that may be redistributed; eps_t of at least 0.0075 is needed for any (6.6.5.1).

    eps_t : number or array; 0 to 0.1
    maximum : number; 0 to 0.2

    >>> round(float(permitted_redistribution(0.01, 0.2)), 4)
    0.1
    """
    eps_t = np.asarray(eps_t, dtype=float)
    return np.where(eps_t >= 0.0075 - 1e-12, np.minimum(10.0 * eps_t, maximum), 0.0)


@clause(
    ACI, "6.3.2.1", "overhang", "both sides: min(8 h; s_w/2; l_n/8), one side: min(6 h; s_w/2; l_n/12)", "mm"
)
def effective_overhang(h_f: float, half_gap: Floats, l_n: float, both: bool) -> Array:
    """What works of a flange at one side of the web, mm.

    h_f : number, mm; 0 or more
    half_gap : number or array, mm; 0 or more
    l_n : number, mm; above 0
    both : true or false

    >>> round(float(effective_overhang(190.0, 1600.0, 5500.0, True)), 2)
    687.5
    """
    k, share = (8.0, 8.0) if both else (6.0, 12.0)
    return np.asarray(np.minimum(np.minimum(k * h_f, np.asarray(half_gap)), l_n / share))


DEEP_MESH = 0.0025  # 9.9.3.1, of the section, both faces together


@clause(ACI, "9.2.3.1", "l_b", "50 b", "mm")
def bracing_distance(b: Floats) -> Array:
    """Largest distance of lateral bracing, mm; `b` the least width of the compressed face.

    b : number or array, mm; above 0

    >>> round(float(bracing_distance(300.0)), 2)
    15000.0
    """
    return np.asarray(50.0 * np.asarray(b, dtype=float))


@dataclass(frozen=True)
class AnalysisClauses(AnalysisPart):
    """Answers on structural analysis (chapter 6)."""

    v: Mapping[str, float]
    x: Expressions

    def deep_span(self, span: ShortSpan) -> Deep | None:
        """9.9.1.1(a): clear spans of no more than four depths; (b) where most of the shear comes from a force
        within two depths of the face, of a cantilever within one (16.5). 9.9.3.1 and 9.9.4.3 the mesh."""
        mesh, apart = DEEP_MESH * span.b * 0.5, min(0.9 * span.h / 5.0, self.x.maximum_spacing[1])
        if not span.cantilever and span.clear <= 4.0 * span.h * (1.0 + 1e-9):
            return Deep(
                f"deep beam: clear span {span.clear / span.h:.2f} depths, no more than 4",
                "9.9.1.1(a)",
                mesh,
                apart,
            )
        if span.cantilever and span.clear <= span.h * (1.0 + 1e-9):
            return Deep("deep and short cantilever: no longer than deep", "9.9.1.1", mesh, apart)
        if span.cantilever and span.near <= span.h * (1.0 + 1e-9):
            return Deep(
                "bracket or corbel: most of its shear comes from a force within the depth from its face",
                "16.5",
                mesh,
                apart,
            )
        if span.near <= 2.0 * span.h * (1.0 + 1e-9):
            return Deep(
                "deep region: most of the shear comes from a force within two depths of the face",
                "9.9.1.1(b)",
                mesh,
                apart,
            )
        return None

    def bracing_limit(self, b: float, h: float) -> float:
        """9.2.3.1(b)."""
        return float(bracing_distance(b))

    def arrangements(self, spans: int) -> list[Arrangement]:
        """6.4.2: alternate spans, two adjacent spans, all."""
        return alternate_and_adjacent(spans)

    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """6.3.2.1: the same over the whole span."""
        both = flange.left > 0.0 and flange.right > 0.0
        left, right = (
            float(effective_overhang(flange.thickness, out, around.clear, both)) if out > 0.0 else 0.0
            for out in (flange.left, flange.right)
        )
        return (left, right), (left, right), (left, right)

    def face_moment(self, at_face: Array, full_fixity: Array) -> Array:
        """9.4.2.1: beams built with their supports, the moment at the face."""
        return np.maximum(at_face, 0.0)

    def minimum_delta(self, steel: Steel) -> float:
        return 1.0 - self.v["redistribution_most"]
