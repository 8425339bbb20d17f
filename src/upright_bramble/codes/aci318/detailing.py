"""ACI 318-19 25.2, 25.3, 9.7.6.4: room between bars, bends, stirrups along compressed bars. N, mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import ACI, NAMES, clause
from upright_bramble.codes.parts import DetailingPart
from upright_bramble.section.arrays import Array, Floats


@clause(ACI, "9.7.6.4.4", "legs", "every corner bar and every other one between them", "")
def held_bars(number: Floats) -> Array:
    """Bars of a row in compression that stirrups hold at a corner.

    number : number or array; 0 or more

    >>> round(float(held_bars(1.0)), 4)
    1.0
    """
    return np.asarray(np.floor(0.5 * np.asarray(number, dtype=float)) + 1.0)


@clause(ACI, "25.2.1", "clear", "max(d_b; 4/3 d_agg; {inch})", "mm")
def clear_spacing(d_b: Floats, d_agg: float, x: Expressions) -> Array:
    """Least clear distance between bars of a row, mm.

    d_b : number or array, mm; 9.5 to 57.3
    d_agg : number, mm; 4 to 150
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(clear_spacing(19.1, 20.0, METRIC)), 2)
    26.67
    """
    return np.asarray(np.maximum(np.maximum(np.asarray(d_b), 4.0 / 3.0 * d_agg), x.twelve / 12.0))


@clause(ACI, "25.3.1", "D", (("d_b <= {db25}", "6 d_b"), ("d_b <= {db36}", "8 d_b"), ("", "10 d_b")), "mm")
def bend_diameter(d_b: Floats, x: Expressions) -> Array:
    """Least inside diameter of bends of main bars, mm.

    d_b : number or array, mm; 9.5 to 57.3
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(bend_diameter(19.1, METRIC)), 2)
    114.6
    """
    d_b = np.asarray(d_b, dtype=float)
    return np.asarray(np.where(d_b <= 25.5, 6.0, np.where(d_b <= 36.0, 8.0, 10.0)) * d_b)


@clause(ACI, "25.3.2", "D", (("d_b <= {db16}", "4 d_b"), ("", "6 d_b")), "mm")
def stirrup_bend_diameter(d_b: Floats, x: Expressions) -> Array:
    """Least inside diameter of bends of stirrups, mm.

    d_b : number or array, mm; 9.5 to 57.3
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(stirrup_bend_diameter(19.1, METRIC)), 2)
    114.6
    """
    return np.asarray(np.where(np.asarray(d_b) <= 16.0, 4.0, 6.0) * np.asarray(d_b))


@clause(
    ACI,
    "25.3.1",
    "l_ext",
    (("right_angle >= 1", "12 d_b"), ("", "max(4 d_b; {hk})")),
    "mm",
    names={**NAMES, "right_angle": ("right_angle", "")},
)
def hook_extension(d_b: float, right_angle: bool, x: Expressions) -> float:
    """Straight length beyond a bend of 90 degrees (`right_angle`), or of 180, mm.

    d_b : number, mm; 9.5 to 57.3
    right_angle : true or false
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(hook_extension(19.1, True, METRIC)), 2)
    229.2
    """
    return 12.0 * d_b if right_angle else max(4.0 * d_b, 2.5 * x.length if x.length > 1.0 else 65.0)


@clause(
    ACI,
    "25.3.1",
    "leg_min",
    "D/2 + d_b + l_ext",
    "mm",
    names={**NAMES, "diameter": ("D", "mm"), "extension": ("l_ext", "mm")},
)
def minimum_leg(diameter: float, d_b: float, extension: float) -> float:
    """Outer length of the leg beyond a bend: the curve and the extension, mm.

    diameter : number, mm (D); 0 or more
    d_b : number, mm; 9.5 to 57.3
    extension : number, mm (l_ext); 0 or more

    >>> round(float(minimum_leg(140.0, 19.1, 230.0)), 2)
    319.1
    """
    return 0.5 * diameter + d_b + extension


@clause(ACI, "25.3.2", "l_ext", "max(6 d_b; {three})", "mm")
def stirrup_extension(d_b: float, x: Expressions) -> float:
    """Straight tail of a stirrup's 135 degree hook, mm.

    d_b : number, mm; 9.5 to 57.3
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(stirrup_extension(19.1, METRIC)), 2)
    114.6
    """
    return max(6.0 * d_b, x.twelve / 4.0)


@clause(
    ACI,
    "9.7.6.4.3",
    "s",
    "min(min(16 d_b; 48 d_t); b)",
    "mm",
    names={**NAMES, "tie": ("d_t", "mm"), "lowest": ("b", "mm")},
)
def compression_stirrup_spacing(d_b: Floats, tie: float, lowest: Floats) -> Array:
    """Largest spacing of ties along bars in compression, mm: of bar diameters, tie diameters, and the least
    dimension of the section.

    d_b : number or array, mm; 9.5 to 57.3
    tie : number, mm (d_t); 0 or more
    lowest : number or array, mm (b); 0 or more

    >>> round(float(compression_stirrup_spacing(19.1, 1.0, 1.0)), 4)
    1.0
    """
    return np.asarray(
        np.minimum(
            np.minimum(16.0 * np.asarray(d_b, dtype=float), 48.0 * tie), np.asarray(lowest, dtype=float)
        )
    )


@dataclass(frozen=True)
class DetailingClauses(DetailingPart):
    """Answers on room, bends and stirrups (25.2, 25.3, 9.7.6.4)."""

    x: Expressions

    def compression_stirrup_spacing(self, phi: Floats, tie: float, minimum: Floats) -> Array:
        """9.7.6.4.3."""
        return compression_stirrup_spacing(phi, tie, minimum)

    def clear_spacing(self, phi: Floats, aggregate: float) -> Array:
        return clear_spacing(phi, aggregate, self.x)

    def bend_radius(self, phi: float) -> float:
        return 0.5 * float(bend_diameter(phi, self.x))

    def stirrup_radius(self, phi: float) -> float:
        return 0.5 * float(stirrup_bend_diameter(phi, self.x))

    def stirrup_tail(self, phi: float) -> float:
        """Beyond the corner's outer face: bend and tail of a 135 degree hook."""
        r = self.stirrup_radius(phi)
        return stirrup_extension(phi, self.x) + 0.75 * math.pi * (r + 0.5 * phi)

    def minimum_leg(self, phi: float, kind: str, former: float = 0.0) -> float:
        """Outer length of the leg beyond a bend: the curve and the extension."""
        if kind in ("straight", "lap"):
            return 0.0
        return minimum_leg(
            max(float(bend_diameter(phi, self.x)), former), phi, hook_extension(phi, kind == "bend", self.x)
        )
