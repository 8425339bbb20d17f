"""BS 8110-1 3.2, 3.4.1: arrangements, effective flanges, slenderness, redistribution. N, mm."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Flange, Steel
from upright_bramble.codes.bs8110.symbols import clause
from upright_bramble.codes.parts import AnalysisPart, Deep, Reaches, ShortSpan, Surroundings
from upright_bramble.codes.patterns import Arrangement, alternate
from upright_bramble.section.arrays import Array

ZERO_MOMENTS = 0.7  # 3.4.1.5: of the effective span of continuous beams
ELASTIC_SHARE = 0.7  # 3.2.2.1(b)


@clause("3.4.1.2, 3.4.1.3", "l_eff", "simple: min(centres; clear + d); continuous: centres", "mm")
def effective_span(kind: str, clear: float, d: float, centres: float = 0.0) -> float:
    """Effective span, mm: of 'simple' and 'continuous' spans, of a 'cantilever' (3.4.1.4).

    kind : text
    clear : number, mm; above 0
    d : number, mm; above 0
    centres : number, mm; above 0

    >>> round(float(effective_span('simple', 5700.0, 250.0, 6000.0)), 2)
    5950.0
    """
    if kind == "cantilever":
        return clear + 0.5 * d
    return centres if kind == "continuous" else min(centres, clear + d)


@clause(
    "3.4.1.5",
    "overhang",
    "min(l_z/10; actual)",
    "mm",
    names={"l_z": ("l_z", "mm"), "actual": ("actual", "mm")},
)
def effective_overhang(l_z: float, actual: float) -> float:
    """What works of a flange at one side of the web, mm: b_w + l_z/5 of T sections, b_w + l_z/10 of L
    sections.

    l_z : number, mm; 0 or more
    actual : number, mm; 0 or more

    >>> round(float(effective_overhang(4200.0, 1000.0)), 2)
    420.0
    """
    return min(l_z / 10.0, actual)


@clause("3.4.1.6", "l_b", "min(60 b_c; 250 b_c^2/d)", "mm", names={"b_c": ("b_c", "mm"), "d": ("d", "mm")})
def restraint_distance(b_c: float, d: float) -> float:
    """Longest clear distance between lateral restraints of simply supported and continuous beams, mm.

    b_c : number, mm; 0 or more
    d : number, mm; above 0

    >>> round(float(restraint_distance(300.0, 550.0)), 2)
    18000.0
    """
    return min(60.0 * b_c, 250.0 * b_c**2 / d)


@clause(
    "3.2.2.1",
    "M_span",
    "w l^2/8 - (M_left + M_right)/2",
    "N mm",
    names={"w": ("w", "N/mm"), "l": ("l", "mm"), "left": ("M_left", "N mm"), "right": ("M_right", "N mm")},
)
def balanced_span_moment(w: float, l: float, left: float, right: float) -> float:  # noqa: E741 - the standard's symbol
    """Moment at the middle of a span in equilibrium with its (redistributed) hogging end moments, N mm.

    w : number, N/mm; 0 or more
    l : number, mm; above 0
    left : number, N mm (M_left); 0 or more
    right : number, N mm (M_right); 0 or more

    >>> round(float(balanced_span_moment(50.0, 6000.0, 160.0e6, 160.0e6)), 2)
    65000000.0
    """
    return w * l**2 / 8.0 - 0.5 * (left + right)


SIMPLE_COEFFICIENTS = {
    "outer_support": 0.0, "end_span": 0.09, "first_interior_support": -0.11, "interior_span": 0.07,
    "interior_support": -0.08,
}  # fmt: skip


@clause("Table 3.5", "M", "coefficient F l", "N mm", names={"force": ("F", "N"), "l": ("l", "mm")})
def simplified_moment(where: str, force: float, l: float) -> float:  # noqa: E741
    """Design moments of beams with substantially equal spans, F the whole design load of a span, N mm.

    where : text
    force : number, N (F); 0 or more
    l : number, mm; above 0

    >>> round(float(simplified_moment('end_span', 300.0e3, 6000.0)), 2)
    162000000.0
    """
    return SIMPLE_COEFFICIENTS[where] * force * l


@clause("3.4.3", "permitted", "Q_k <= G_k, three spans or more, lengths within 15 % of the longest")
def simplified_moments_permitted(spans: Sequence[float], g_k: float, q_k: float) -> bool:
    """Whether Table 3.5 may be used.

    spans : number; above 0
    g_k : number, N/mm; above 0
    q_k : number, N/mm; 0 or more

    >>> simplified_moments_permitted([6.0, 6.0, 5.11], 20.0, 20.0)
    True
    """
    return q_k <= g_k and len(spans) >= 3 and min(spans) >= 0.85 * max(spans) - 1e-9


@dataclass(frozen=True)
class AnalysisClauses(AnalysisPart):
    """Answers on structural analysis (3.2, 3.4.1)."""

    v: Mapping[str, float]

    def deep_span(self, span: ShortSpan) -> Deep | None:
        """3.4.1.1: clear spans of less than twice the effective depth; cantilevers no longer than deep, and
        with most of the shear within the depth, are corbels (5.2.7). The mesh is that of walls, 0.25 % each
        way."""
        mesh = 0.0025 * span.b * 0.5
        if not span.cantilever and span.clear < 2.0 * span.h * (1.0 - 1e-9):
            return Deep(
                f"deep beam: clear span {span.clear / span.h:.2f} depths, less than 2", "3.4.1.1", mesh, 300.0
            )
        if span.cantilever and (span.clear < span.h * (1.0 + 1e-9) or span.near <= span.h * (1.0 + 1e-9)):
            return Deep(
                "corbel: most of its shear comes from within the depth from its face", "5.2.7", mesh, 300.0
            )
        return None

    def bracing_limit(self, b: float, h: float) -> float:
        """3.4.1.6, with the whole depth for d."""
        return restraint_distance(b, h)

    def arrangements(self, spans: int) -> list[Arrangement]:
        """3.2.1.2.2: all spans, and alternate spans."""
        return alternate(spans)

    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """3.4.1.5: l_z is the span of simple ones, 0.7 of it of continuous ones; a cantilever's hogging
        reaches over twice its length."""
        held = {around.left, around.right}
        l_z = (
            2.0 * around.length
            if "free" in held
            else around.length * (ZERO_MOMENTS if held - {"simple"} else 1.0)
        )
        one = effective_overhang(l_z, flange.left), effective_overhang(l_z, flange.right)
        return one, one, one

    def face_moment(self, at_face: Array, full_fixity: Array) -> Array:
        """3.2.1.2: beams built with their supports, the moment at the face."""
        return np.asarray(np.maximum(at_face, 0.0))

    def minimum_delta(self, steel: Steel) -> float:
        """3.2.2.1: no more than 30 % is taken off."""
        return 1.0 - self.v["redistribution_most"]

    @property
    def minimum_elastic_share(self) -> float:
        """3.2.2.1(b): at least 70 % of the elastic envelope everywhere."""
        return ELASTIC_SHARE
