"""CSA A23.3 9.2, 9.3, 10.3, 10.7: arrangements, effective flanges, redistribution, limits of beam theory. N,
mm."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Flange, Steel
from upright_bramble.codes.csa_a23.symbols import clause
from upright_bramble.codes.parts import AnalysisPart, Deep, Reaches, ShortSpan, Surroundings
from upright_bramble.codes.patterns import Arrangement, alternate_and_adjacent
from upright_bramble.section.arrays import Array, Floats


@clause("9.2.4", "change", "min(max(30 - 50 k_c; 0); 20)", names={"ratio": ("k_c", "")})
def permitted_redistribution(ratio: Floats) -> Array:
    """Percentage of a negative moment that may be redistributed.

    ratio : number or array (k_c = c/d); 0 or more

    >>> round(float(permitted_redistribution(0.3)), 2)
    15.0
    """
    return np.asarray(np.clip(30.0 - 50.0 * np.asarray(ratio, dtype=float), 0.0, 20.0))


@clause(
    "10.3.3, 10.3.4",
    "overhang",
    (
        ("both < 1", "min(min(l/12; 6 h_f); half_gap)"),
        ("continuous >= 1", "min(min(l/10; 12 h_f); half_gap)"),
        ("", "min(min(l/5; 12 h_f); half_gap)"),
    ),
    "mm",
    names={"h_f": ("h_f", "mm"), "length": ("l", "mm"), "half_gap": ("half_gap", "mm")},
)
def effective_overhang(h_f: float, half_gap: Floats, length: float, both: bool, continuous: bool) -> Array:
    """What works of a slab at one side of the web, mm.

    h_f : number, mm; 0 or more
    half_gap : number or array, mm; 0 or more
    length : number, mm; above 0
    both : true or false
    continuous : true or false

    >>> round(float(effective_overhang(100.0, 1500.0, 6000.0, True, False)), 2)
    1200.0
    """
    share, k = (10.0 if continuous else 5.0, 12.0) if both else (12.0, 6.0)
    return np.asarray(np.minimum(np.minimum(length / share, k * h_f), np.asarray(half_gap)))


@clause("9.2.5.1", "l_b", "min(50 b; 200 b^2/d)", "mm", names={"b": ("b", "mm"), "d": ("d", "mm")})
def bracing_distance(b: float, d: float) -> float:
    """Longest distance of lateral supports, mm, of simple and continuous beams.

    b : number, mm; above 0
    d : number, mm; above 0

    >>> round(float(bracing_distance(300.0, 540.0)), 2)
    15000.0
    """
    return min(50.0 * b, 200.0 * b**2 / d)


def span_length(clear: float, h: float, centres: float, integral: bool) -> float:
    """9.2.2: to the centres of integral supports; else clear span and depth, no more than that, mm.

    clear, h, centres : numbers, mm; above 0
    integral : true or false

    >>> span_length(6000.0, 500.0, 6300.0, False)
    6300.0
    """
    return centres if integral else min(clear + h, centres)


def moment_at_face(centre: float, shear: float, line: float, width: float) -> float:
    """Magnitude of a negative moment at the face of a support from that at its centre (9.2.2.3).

    centre : number of one set of units; either sign
    shear, line, width : numbers of one set of units; 0 or more

    >>> round(moment_at_face(300.0, 180.0, 45.0, 0.4), 1)
    264.9
    """
    return centre - shear * width / 2.0 + line * (width / 2.0) ** 2 / 2.0


APPROXIMATE = {  # Table 9.1, of w_f l_n²
    "pos_end_unrestrained": 1.0 / 11.0, "pos_end_integral": 1.0 / 14.0, "pos_interior": 1.0 / 16.0,
    "neg_first_two": 1.0 / 9.0,
    "neg_first_more": 1.0 / 10.0, "neg_other": 1.0 / 11.0, "neg_ext_spandrel": 1.0 / 24.0,
    "neg_ext_column": 1.0 / 16.0,
}  # fmt: skip


def approximate_moment(where: str, load: float, clear: float) -> float:
    """Moment of Table 9.1.

    where : text
    load : number, N/mm; 0 or more
    clear : number, mm; above 0

    >>> approximate_moment("pos_interior", 50.0, 6000.0)
    112500000.0
    """
    return APPROXIMATE[where] * load * clear**2


def approximate_shear(load: float, clear: float, first_interior: bool = False) -> float:
    """Shear of Table 9.1; at the first interior support of an end span 15 % more.

    load : number, N/mm; 0 or more
    clear : number, mm; above 0
    first_interior : true or false

    >>> round(approximate_shear(50.0, 6000.0, True))
    172500
    """
    return (1.15 if first_interior else 1.0) * load * clear / 2.0


def approximate_permitted(spans: Sequence[float], dead: float, live: float) -> bool:
    """9.3.3: two spans or more, adjacent ones within 20 %, factored live load no more than twice the dead
    load.

    spans : number; above 0
    dead : number, N/mm; above 0
    live : number, N/mm; 0 or more

    >>> approximate_permitted([6.0, 7.2, 6.0], 10.0, 20.0)
    True
    """
    ratio = max(max(a, b) / min(a, b) for a, b in itertools.pairwise(spans)) if len(spans) > 1 else 9.0
    return len(spans) >= 2 and live <= 2.0 * dead and ratio <= 1.2 * (1.0 + 1e-9)


@dataclass(frozen=True)
class AnalysisClauses(AnalysisPart):
    """Answers on structural analysis (9.2, 10.3, 10.7)."""

    v: Mapping[str, float]

    def deep_span(self, span: ShortSpan) -> Deep | None:
        """10.7.1: clear spans of less than two depths; brackets and corbels (11.6.8). The mesh of 10.6.3: 0.2
        % each way."""
        mesh = 0.002 * span.b * 0.5
        if not span.cantilever and span.clear < 2.0 * span.h * (1.0 - 1e-9):
            return Deep(
                f"deep flexural member: clear span {span.clear / span.h:.2f} depths, less than 2",
                "10.7.1",
                mesh,
                300.0,
            )
        if span.cantilever and (span.clear <= span.h * (1.0 + 1e-9) or span.near <= span.h * (1.0 + 1e-9)):
            return Deep(
                "bracket or corbel: most of its shear comes from within the depth from its face",
                "11.6.8",
                mesh,
                300.0,
            )
        return None

    def bracing_limit(self, b: float, h: float) -> float:
        """9.2.5.1, with the whole depth for d."""
        return bracing_distance(b, h)

    def arrangements(self, spans: int) -> list[Arrangement]:
        """9.2.3.1: alternate spans, two adjacent spans, all."""
        return alternate_and_adjacent(spans)

    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """10.3.3, 10.3.4: the same over the whole span."""
        both = flange.left > 0.0 and flange.right > 0.0
        continuous = bool({around.left, around.right} & {"continuous", "fixed", "free"})
        one = [
            float(effective_overhang(flange.thickness, out, around.length, both, continuous))
            if out > 0.0
            else 0.0
            for out in (flange.left, flange.right)
        ]
        reach = one[0], one[1]
        return reach, reach, reach

    def face_moment(self, at_face: Array, full_fixity: Array) -> Array:
        """9.2.2.3: the moment at the face."""
        return np.maximum(at_face, 0.0)

    def minimum_delta(self, steel: Steel) -> float:
        """9.2.4: no more than 20 %."""
        return 1.0 - self.v["redistribution_most"]
