"""IS 456 22, 23.1, 23.3, 37.1: arrangements, effective flanges, slenderness, redistribution. N, mm."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Flange, Steel
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import AnalysisPart, Deep, Reaches, ShortSpan, Surroundings
from upright_bramble.codes.patterns import Arrangement, alternate_and_adjacent
from upright_bramble.section.arrays import Array

ZERO_MOMENTS = 0.7  # 23.1.2: of the effective span of continuous beams
ELASTIC_SHARE = 0.7  # 37.1.1(b)


@clause("22.2", "l_eff", "by the kind of span and its supports", "mm")
def effective_span(
    kind: str,
    clear: float,
    d: float,
    centres: float = 0.0,
    supports: Sequence[float] = (),
    end: float | None = None,
) -> float:
    """Effective span, mm: 'simple'; 'continuous' with the widths of its `supports` (wide ones: clear span
    between fixed ends; with one free `end`, its width, the lesser of clear + d/2 and clear + half the width);
    'cantilever'.

    kind : text
    clear : number, mm; above 0
    d : number, mm; above 0
    centres : number, mm; above 0
    supports : number; 0 or more
    end : number; 0 or more

    >>> round(float(effective_span('simple', 5700.0, 500.0, 6000.0)), 2)
    6000.0
    """
    if kind == "cantilever":
        return clear + 0.5 * d
    if kind == "continuous" and supports:
        narrow = min(clear / 12.0, 600.0)
        if end is not None:
            return min(clear + 0.5 * d, clear + 0.5 * end)
        if max(supports) > narrow:
            return clear
    return min(centres, clear + d)


@clause(
    "23.1.2", "overhang", "min(l_0/12 + 3 D_f; actual)", "mm", names={**NAMES, "actual": ("actual", "mm")}
)
def effective_overhang(l_0: float, d_f: float, actual: float, both: bool = True) -> float:
    """What works of a slab at one side of the web, mm: b_w + l_0/6 + 6 D_f of T beams (`both` sides), b_w +
    l_0/12 + 3 D_f of L beams.


    l_0 : number, mm; above 0
    d_f : number, mm (D_f); 0 or more
    actual : number, mm; 0 or more
    both : true or false

    >>> round(float(effective_overhang(7000.0, 120.0, 2000.0)), 2)
    943.33
    """
    return min(l_0 / 12.0 + 3.0 * d_f, actual)


@clause(
    "23.1.2(c)",
    "b_f",
    (("both >= 1", "min(l_0/(l_0/b + 4) + b_w; b)"), ("", "min(0.5 l_0/(l_0/b + 4) + b_w; b)")),
    "mm",
    names={**NAMES, "actual": ("b", "mm")},
)
def isolated_flange(l_0: float, b_w: float, actual: float, both: bool = True) -> float:
    """Effective width of an isolated T beam, half of the first term for an isolated L beam, mm.

    l_0 : number, mm; above 0
    b_w : number, mm; above 0
    actual : number, mm (b); above 0
    both : true or false

    >>> round(float(isolated_flange(6000.0, 250.0, 1000.0)), 2)
    850.0
    """
    return min((1.0 if both else 0.5) * l_0 / (l_0 / actual + 4.0) + b_w, actual)


@clause("23.3", "l_b", (("cantilever >= 1", "min(25 b; 100 b^2/d)"), ("", "min(60 b; 250 b^2/d)")), "mm")
def restraint_distance(b: float, d: float, cantilever: bool = False) -> float:
    """Longest clear distance between lateral restraints, mm; of cantilevers 25 b and 100 b²/d.

    b : number, mm; above 0
    d : number, mm; above 0
    cantilever : true or false

    >>> round(float(restraint_distance(200.0, 1000.0)), 2)
    10000.0
    """
    return min(25.0 * b, 100.0 * b**2 / d) if cantilever else min(60.0 * b, 250.0 * b**2 / d)


COEFFICIENTS = {  # Table 12: dead and fixed imposed load, imposed load
    "end_span": (1.0 / 12.0, 1.0 / 10.0), "interior_span": (1.0 / 16.0, 1.0 / 12.0),
    "support_next_to_end": (-1.0 / 10.0, -1.0 / 9.0),
    "other_interior_support": (-1.0 / 12.0, -1.0 / 9.0),
}  # fmt: skip
SHEAR_COEFFICIENTS = {  # Table 13
    "end_support": (0.4, 0.45), "next_to_end_outer": (0.6, 0.6), "next_to_end_inner": (0.55, 0.6),
    "other_interior_support": (0.5, 0.6),
}  # fmt: skip


def coefficient_moment(where: str, dead: float, imposed: float, l: float) -> float:  # noqa: E741 - the standard's symbol
    """Bending moment of Table 12 for uniform loads and about equal spans.

    where : text
    dead, imposed : numbers, N/mm; 0 or more
    l : number, mm; above 0

    >>> coefficient_moment("interior_span", 20.0, 15.0, 6000.0)
    90000000.0
    """
    a, b = COEFFICIENTS[where]
    return (a * dead + b * imposed) * l**2


def coefficient_shear(where: str, dead: float, imposed: float, l: float) -> float:  # noqa: E741
    """Shear force of Table 13.

    where : text
    dead, imposed : numbers, N/mm; 0 or more
    l : number, mm; above 0

    >>> coefficient_shear("other_interior_support", 20.0, 15.0, 6000.0)
    114000.0
    """
    a, b = SHEAR_COEFFICIENTS[where]
    return (a * dead + b * imposed) * l


def coefficients_permitted(spans: Sequence[float]) -> bool:
    """22.5.1: three spans or more that do not differ by more than 15 % of the longest.

    spans : number; above 0

    >>> coefficients_permitted([6.0, 6.0])
    False
    """
    return len(spans) >= 3 and min(spans) >= 0.85 * max(spans) - 1e-9


def patterns_required(imposed: float, dead: float) -> bool:
    """22.4.1(b): imposed load above three quarters of the dead load. The analysis always loads spans by
    patterns, which is safe.

    imposed, dead : numbers, N/mm; 0 or more

    >>> patterns_required(76.0, 100.0)
    True
    """
    return imposed > 0.75 * dead


@dataclass(frozen=True)
class AnalysisClauses(AnalysisPart):
    """Answers on structural analysis (22, 23, 37.1)."""

    v: Mapping[str, float]

    def deep_span(self, span: ShortSpan) -> Deep | None:
        """29.1: less than 2.5 times as long as deep (2.0 where simply supported; the greater is taken). The
        mesh is that of 32.5."""
        mesh = 0.0025 * span.b * 0.5
        if not span.cantilever and span.length < 2.5 * span.h * (1.0 - 1e-9):
            return Deep(
                f"deep beam: {span.length / span.h:.2f} times as long as deep, less than 2.5",
                "29.1",
                mesh,
                300.0,
            )
        if span.cantilever and (span.clear < span.h * (1.0 + 1e-9) or span.near <= span.h * (1.0 + 1e-9)):
            return Deep(
                "corbel: most of its shear comes from within the depth from its face", "28.1", mesh, 300.0
            )
        return None

    def bracing_limit(self, b: float, h: float) -> float:
        """23.3, with the whole depth for d."""
        return restraint_distance(b, h)

    def arrangements(self, spans: int) -> list[Arrangement]:
        """22.4.1: alternate spans, two adjacent spans, all."""
        return alternate_and_adjacent(spans)

    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """23.1.2: l_0 is the span of simple ones, 0.7 of it of continuous ones; a cantilever's hogging
        reaches over twice its length."""
        held = {around.left, around.right}
        l_0 = (
            2.0 * around.length
            if "free" in held
            else around.length * (ZERO_MOMENTS if held - {"simple"} else 1.0)
        )
        both = flange.left > 0.0 and flange.right > 0.0
        one = tuple(
            effective_overhang(l_0, flange.thickness, out, both) if out > 0.0 else 0.0
            for out in (flange.left, flange.right)
        )
        reach = one[0], one[1]
        return reach, reach, reach

    def face_moment(self, at_face: Array, full_fixity: Array) -> Array:
        """22.6.1: beams built with their supports, the moment at the face."""
        return np.maximum(at_face, 0.0)

    def minimum_delta(self, steel: Steel) -> float:
        """37.1.1(c): no more than 30 % is taken off."""
        return 1.0 - self.v["redistribution_most"]

    @property
    def minimum_elastic_share(self) -> float:
        """37.1.1(b): at least 70 % of the elastic envelope everywhere."""
        return ELASTIC_SHARE
