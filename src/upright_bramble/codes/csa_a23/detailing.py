"""CSA A23.1 6.6, CSA A23.3 7.6.5: room between bars, bends, ties along compressed bars. N, mm."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import DetailingPart
from upright_bramble.section.arrays import Array, Floats

BENDS = {
    "10": 60.0,
    "15": 90.0,
    "20": 100.0,
    "25": 150.0,
    "30": 200.0,
    "35": 250.0,
    "45": 400.0,
    "55": 550.0,
}  # of 400W and 500W, mm
BENDS_R = {
    "10": 70.0,
    "15": 100.0,
    "20": 120.0,
    "25": 150.0,
    "30": 250.0,
    "35": 300.0,
    "45": 450.0,
    "55": 600.0,
}  # of 400R
TIES = {"10": 45.0, "15": 65.0, "20": 100.0}  # of stirrups and ties
SIZES = {11.3: "10", 16.0: "15", 19.5: "20", 25.2: "25", 29.9: "30", 35.7: "35", 43.7: "45", 56.4: "55"}


def _size(d_b: float) -> str:
    return SIZES[min(SIZES, key=lambda d: abs(d - d_b))]


@clause("A23.1 6.6.5.2", "s_clear", "max(max(1.4 d_b; 1.4 a_g); 30)", "mm")
def clear_spacing(d_b: Floats, d_agg: float) -> Array:
    """Least clear distance between bars of a row, mm.

    d_b : number or array, mm; 11.3 to 56.4
    d_agg : number, mm (a_g); above 0

    >>> round(float(clear_spacing(25.2, 20.0)), 2)
    35.28
    """
    return np.asarray(np.maximum(np.maximum(1.4 * np.asarray(d_b, dtype=float), 1.4 * d_agg), 30.0))


@clause("A23.1 6.6.2", "D", "by size and grade", "mm")
def bend_diameter(d_b: float, weldable: bool = True) -> float:
    """Least inside diameter of bends of main bars, mm; of grade R more.

    d_b : number, mm; 11.3 to 56.4
    weldable : true or false

    >>> round(float(bend_diameter(25.2)), 2)
    150.0
    """
    return (BENDS if weldable else BENDS_R)[_size(d_b)]


@clause("A23.1 6.6.2", "D_t", "by size", "mm")
def tie_bend_diameter(d_b: float) -> float:
    """Least inside diameter of bends of stirrups, mm.

    d_b : number, mm; 11.3 to 56.4

    >>> round(float(tie_bend_diameter(11.3)), 2)
    45.0
    """
    return TIES.get(_size(d_b), 6.0 * d_b)


@clause(
    "A23.1 6.6.2",
    "l_ext",
    (("stirrup >= 1", "max(6 d_b; 60)"), ("angle < 180", "12 d_b"), ("", "max(4 d_b; 60)")),
    "mm",
)
def hook_extension(d_b: float, angle: float, stirrup: bool = False) -> float:
    """Straight length beyond a bend, mm.

    d_b : number, mm; 11.3 to 56.4
    angle : number; one of 90, 180
    stirrup : true or false

    >>> round(float(hook_extension(25.2, 90.0)), 2)
    302.4
    """
    if stirrup:
        return max(6.0 * d_b, 60.0)
    return 12.0 * d_b if angle < 180.0 else max(4.0 * d_b, 60.0)


@clause(
    "A23.1 6.6.2",
    "leg_min",
    "D/2 + d_b + l_ext",
    "mm",
    names={**NAMES, "diameter": ("D", "mm"), "extension": ("l_ext", "mm")},
)
def minimum_leg(diameter: float, d_b: float, extension: float) -> float:
    """Outer length of the leg beyond a bend, mm.

    diameter : number, mm (D); 0 or more
    d_b : number, mm; 11.3 to 56.4
    extension : number, mm (l_ext); 0 or more

    >>> round(float(minimum_leg(150.0, 25.2, 302.4)), 2)
    402.6
    """
    return 0.5 * diameter + d_b + extension


def hook_cut_length(d_b: float, angle: float) -> float:
    """Length of bar in a hook, mm: the curve and the extension.

    d_b : number, mm; 11.3 to 56.4
    angle : number (degrees); one of 90, 180

    >>> round(hook_cut_length(25.2, 90.0), 2)
    440.0
    """
    return math.radians(angle) * 0.5 * (bend_diameter(d_b) + d_b) + hook_extension(d_b, angle)


@clause(
    "7.6.5.2",
    "s",
    "min(min(16 d_b; 48 d_t); least)",
    "mm",
    names={"d_b": ("d_b", "mm"), "tie": ("d_t", "mm"), "least": ("least", "mm")},
)
def compression_tie_spacing(d_b: Floats, tie: float, least: Floats) -> Array:
    """Largest spacing of ties along bars in compression, mm; `least` dimension of the section.

    d_b : number or array, mm; 11.3 to 56.4
    tie : number, mm (d_t); 0 or more
    least : number or array, mm; 0 or more

    >>> round(float(compression_tie_spacing(25.2, 11.3, 400.0)), 2)
    400.0
    """
    return np.asarray(
        np.minimum(
            np.minimum(16.0 * np.asarray(d_b, dtype=float), 48.0 * tie), np.asarray(least, dtype=float)
        )
    )


@dataclass(frozen=True)
class DetailingClauses(DetailingPart):
    """Answers on room, bends and ties (A23.1 6.6; 7.6.5)."""

    v: Mapping[str, float]

    def compression_stirrup_spacing(self, phi: Floats, tie: float, minimum: Floats) -> Array:
        return compression_tie_spacing(phi, tie, minimum)

    def clear_spacing(self, phi: Floats, aggregate: float) -> Array:
        return clear_spacing(phi, aggregate)

    def bend_radius(self, phi: float) -> float:
        """Of weldable bars, or more: the larger of both grades up to 20M."""
        return 0.5 * float(bend_diameter(phi))

    def stirrup_radius(self, phi: float) -> float:
        return 0.5 * float(tie_bend_diameter(phi))

    def stirrup_tail(self, phi: float) -> float:
        """Bend of 135 degrees and the end beyond it."""
        return hook_extension(phi, 135.0, True) + 0.75 * math.pi * (self.stirrup_radius(phi) + 0.5 * phi)

    def minimum_leg(self, phi: float, kind: str, former: float = 0.0) -> float:
        if kind in ("straight", "lap"):
            return 0.0
        return minimum_leg(
            max(float(bend_diameter(phi)), former),
            phi,
            hook_extension(phi, 90.0 if kind == "bend" else 180.0),
        )
