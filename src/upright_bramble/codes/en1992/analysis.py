"""Section 5: arrangements, effective flanges, support widths, redistribution, limits of beam theory. N, mm,
MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Flange, Steel
from upright_bramble.codes.en1992.symbols import EN, clause
from upright_bramble.codes.parts import (
    AnalysisPart,
    Deep,
    Reaches,
    ShortSpan,
    Surroundings,
)
from upright_bramble.codes.patterns import Arrangement, alternate_and_adjacent
from upright_bramble.section.arrays import Array, Floats


@clause(EN, "5.3.2.1(3)", "b_eff,i", "min(0.2 b_i + 0.1 l_0; 0.2 l_0; b_i)", "mm")
def effective_overhang(b_i: Floats, l_0: Floats) -> Array:
    """What works of a flange at one side of the web, mm; `b_i` what there is of it, `l_0` between points of
    no moment.

    b_i : number or array, mm; 0 or more
    l_0 : number or array, mm; above 0

    >>> round(float(effective_overhang(1550.0, 5000.0)), 2)
    810.0
    """
    b_i, l_0 = np.asarray(b_i, dtype=float), np.asarray(l_0, dtype=float)
    return np.minimum(np.minimum(0.2 * b_i + 0.1 * l_0, 0.2 * l_0), b_i)


@clause(EN, "9.2.1.2(1)", "M_Ed,end", "beta_1 M_span", "N mm")
def partial_fixity_moment(m_span: Floats, beta_1: float) -> Array:
    """Hogging moment to design an end for that was taken as simple.

    m_span : number or array, N mm (M_span); 0 or more
    beta_1 : number; 0 to 1

    >>> round(float(partial_fixity_moment(460000000.0, 0.25)), 2)
    115000000.0
    """
    return np.asarray(beta_1 * np.asarray(m_span))


@clause(EN, "5.3.2.2(4)", "dM_Ed", "max(F_Ed,sup; 0) t/8", "N mm")
def peak_reduction(reaction: Floats, width: Floats) -> Array:
    """Reduction of the peak over a support that does not restrain rotation; no reduction under uplift.

    reaction : number or array, N (F_Ed,sup); 0 or more
    width : number or array, mm (t); 0 or more

    >>> round(float(peak_reduction(440000.0, 300.0)), 2)
    16500000.0
    """
    return np.asarray(np.maximum(np.asarray(reaction), 0.0) * width / 8.0)


@clause(EN, "5.3.2.2(3)", "M_Ed", "max(M_face; 0.65 M_fixed)", "N mm")
def face_moment(m_face: Floats, m_fixed: Floats) -> Array:
    """Magnitude of the design moment at the face of a monolithic support.

    m_face : number or array, N mm (M_face); 0 or more
    m_fixed : number or array, N mm (M_fixed); 0 or more

    >>> round(float(face_moment(460000000.0, 460000000.0)), 2)
    460000000.0
    """
    return np.asarray(np.maximum(np.asarray(m_face), 0.65 * np.asarray(m_fixed)))


DEEP_MESH, DEEP_MESH_LEAST, DEEP_MESH_APART = 0.001, 0.15, 300.0  # 9.7(1): share of the section, mm2/mm, mm


@clause(EN, "5.9(3)", "l_0t", (("h/b <= 2.5", "50 b/cbrt(h/b)"), ("", "0")), "mm")
def unbraced_length(b: Floats, h: Floats) -> Array:
    """Distance of torsional restraints up to which lateral instability may be left out, mm: 0 where h/b
    exceeds 2.5.

    b : number or array, mm; above 0
    h : number or array, mm; above 0

    >>> round(float(unbraced_length(300.0, 600.0)), 2)
    11905.51
    """
    ratio = np.asarray(h, dtype=float) / b
    return np.asarray(np.where(ratio <= 2.5 + 1e-9, 50.0 * np.asarray(b) / np.cbrt(ratio), 0.0))


def zero_moment_distances(around: Surroundings) -> tuple[float, float, float]:
    """l_0 of Figure 5.2 over the left support, in the span, over the right support, mm."""
    length, held = around.length, [around.left, around.right]
    if "free" in held:
        behind = around.before if around.left != "free" else around.after
        l_0 = 0.15 * (behind or 0.0) + length
        return l_0, l_0, l_0
    ends = sum(kind != "simple" for kind in held)
    inside = (1.0, 0.85, 0.7)[ends] * length

    def over(kind: str, beyond: float | None) -> float:
        return inside if kind == "simple" else 0.15 * (length + (beyond or 0.0))

    return over(around.left, around.before), inside, over(around.right, around.after)


@dataclass(frozen=True)
class AnalysisClauses(AnalysisPart):
    """Answers on structural analysis (section 5)."""

    v: Mapping[str, float]

    def deep_span(self, span: ShortSpan) -> Deep | None:
        """5.3.1(3): a beam is at least three times as long as deep; 9.7(1) the mesh of those that are not. A
        cantilever counts as half a span; with its force within the depth from the face it is a corbel
        (J.3)."""
        mesh = max(DEEP_MESH * span.b, DEEP_MESH_LEAST)
        apart = min(2.0 * span.b, DEEP_MESH_APART)
        if not span.cantilever and span.length < 3.0 * span.h * (1.0 - 1e-9):
            return Deep(
                f"deep beam: {span.length / span.h:.2f} times as long as deep, less than 3",
                "5.3.1(3), 9.7",
                mesh,
                apart,
            )
        if span.cantilever and span.clear < span.h * (1.0 + 1e-9):
            return Deep("deep and short cantilever: no longer than deep", "5.3.1(3), J.3", mesh, apart)
        if span.cantilever and span.near <= span.h * (1.0 + 1e-9):
            return Deep(
                "corbel: most of its shear comes from a force within the depth from its face",
                "J.3",
                mesh,
                apart,
            )
        return None

    def bracing_limit(self, b: float, h: float) -> float:
        """5.9(3), persistent situations."""
        return float(unbraced_length(b, h))

    def arrangements(self, spans: int) -> list[Arrangement]:
        """Load arrangements of 5.1.3(1)."""
        return alternate_and_adjacent(spans)

    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """5.3.2.1(3): each side by itself, for the distance between points of no moment (Figure 5.2)."""
        left, span, right = (
            (float(effective_overhang(flange.left, l_0)), float(effective_overhang(flange.right, l_0)))
            for l_0 in zero_moment_distances(around)
        )
        return left, span, right

    def peak_reduction(self, reaction: Array, width: float) -> Array:
        return peak_reduction(reaction, width)

    def face_moment(self, at_face: Array, full_fixity: Array) -> Array:
        return face_moment(at_face, full_fixity)

    def end_hogging(self, span_moment: Array) -> Array:
        return partial_fixity_moment(span_moment, self.v["beta_1"])

    def minimum_delta(self, steel: Steel) -> float:
        """k_5 for ductility classes B and C, k_6 for A (5.5(4))."""
        return self.v["k_6" if steel.ductility == "A" else "k_5"]

    def maximum_span_ratio(self) -> float:
        """5.5(4): adjacent spans in the range 0.5 to 2."""
        return 2.0
