"""IS 456 26.2: development and laps. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.is456.materials import SHARP, MaterialsClauses
from upright_bramble.codes.is456.symbols import clause
from upright_bramble.codes.parts import Around, BondPart
from upright_bramble.section.arrays import Array, Floats, Mask

BOND = ((20.0, 1.2), (25.0, 1.4), (30.0, 1.5), (35.0, 1.7), (40.0, 1.9))  # 26.2.1.1, plain bars in tension


@clause(
    "26.2.1.1", "tau_bd", "by grade; 1.6 times as much of deformed bars; 1.25 times in compression", "MPa"
)
def bond_stress(f_ck: float, deformed: bool = True, compression: bool = False) -> float:
    """Design bond stress, MPa, of the next lower grade.

    f_ck : number, MPa; 15 to 55
    deformed : true or false
    compression : true or false

    >>> round(float(bond_stress(25.0)), 4)
    2.24
    """
    plain = max(value for grade, value in BOND if grade <= max(f_ck, 20.0) + 1e-9)
    return plain * (1.6 if deformed else 1.0) * (1.25 if compression else 1.0)


@clause(
    "26.2.1",
    "L_d",
    "phi f_yd/(4 tau_bd)",
    "mm",
    names={"phi": ("phi", "mm"), "f_yd": ("f_yd", "MPa"), "tau_bd": ("tau_bd", "MPa")},
)
def development_length(phi: Floats, f_yd: float, tau_bd: float) -> Array:
    """Development for the full design strength, mm.

    phi : number or array, mm; 6 to 40
    f_yd : number, MPa; 200 to 500
    tau_bd : number, MPa; 0.5 to 6

    >>> round(float(development_length(20.0, 361.05, 2.24)), 2)
    805.92
    """
    return np.asarray(np.asarray(phi, dtype=float) * f_yd / (4.0 * tau_bd))


def bundle_factor(bars: int) -> float:
    """On the development of bars in contact (26.2.1.2).

    bars : number; 1 to 4

    >>> [bundle_factor(bars) for bars in (1, 2, 3, 4)]
    [1.0, 1.1, 1.2, 1.33]
    """
    return {1: 1.0, 2: 1.1, 3: 1.2, 4: 1.33}[bars]


@clause(
    "26.2.2.1(b)",
    "l_bend",
    "min(4 phi angle/45; 16 phi)",
    "mm",
    names={"phi": ("phi", "mm"), "angle": ("angle", "")},
)
def bend_value(phi: float, angle: float) -> float:
    """Anchorage value of a bend by its angle in degrees, mm.

    phi : number, mm; 6 to 40
    angle : number; 0 to 180

    >>> round(float(bend_value(20.0, 90.0)), 2)
    160.0
    """
    return min(4.0 * phi * angle / 45.0, 16.0 * phi)


@clause("26.2.2.4", "l_ext", (("angle <= 90", "8 phi"), ("angle <= 135", "6 phi"), ("", "4 phi")), "mm")
def stirrup_extension(phi: float, angle: float) -> float:
    """Length of a stirrup's end beyond its bend, mm.

    phi : number, mm; 6 to 40
    angle : number; one of 90, 135, 180

    >>> round(float(stirrup_extension(8.0, 135.0)), 2)
    48.0
    """
    return {90.0: 8.0, 135.0: 6.0, 180.0: 4.0}[float(angle)] * phi


@clause("26.2.5.1(c)", "alpha_lap", "1.0; 1.4 by one of cover above, corner cover or distance; 2.0 by two")
def lap_factor(above: Floats, corner: Floats) -> Array:
    """Factor on laps: `above` (bool) at the top of a section as cast with cover of less than 2 phi; `corner`
    in a corner with such cover to either face, or laps less than max(75 mm; 6 phi) apart.

    above : number or array; 0 to 1
    corner : number or array; 0 to 1

    >>> round(float(lap_factor(1.0, 0.0)), 4)
    1.4
    """
    count = np.asarray(above, dtype=int) + np.asarray(corner, dtype=int)
    return np.asarray(np.choose(count, [1.0, 1.4, 2.0]))


def laps_are_close(clear: Floats, phi: Floats) -> Mask:
    """Whether adjacent laps count as close (26.2.5.1(c)).

    clear : number or arrays, mm; above 0
    phi : number or arrays, mm; 6 to 40

    >>> bool(laps_are_close(76.0, 10.0))
    False
    """
    return np.asarray(np.asarray(clear) < np.maximum(75.0, 6.0 * np.asarray(phi)))


@clause(
    "26.2.5.1(c)",
    "l_lap",
    "max(max(alpha_lap L_d; max(n_min; 15) phi); 200)",
    "mm",
    names={"l_d": ("L_d", "mm"), "factor": ("alpha_lap", ""), "phi": ("phi", "mm"), "least": ("n_min", "")},
)
def lap_length(l_d: Floats, factor: Floats, phi: Floats, least: float = 30.0) -> Array:
    """Lap in flexural tension, mm; in direct tension 2 L_d, in compression L_d and 24 phi (`least`
    diameters).

    l_d : number or array, mm (L_d); 0 or more
    factor : number or array (alpha_lap); 0 or more
    phi : number or array, mm; 6 to 40
    least : number (n_min); 0 or more

    >>> round(float(lap_length(940.2, 1.4, 20.0)), 2)
    1316.28
    """
    phi = np.asarray(phi, dtype=float)
    return np.asarray(np.maximum(np.maximum(np.asarray(factor) * l_d, max(least, 15.0) * phi), 200.0))


@dataclass(frozen=True)
class BondClauses(BondPart):
    """Answers on development and laps (26.2)."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    def _length(self, concrete: Concrete, steel: Steel, phi: Floats) -> Array:
        tau_bd = bond_stress(concrete.strength, steel.strength > SHARP)
        return development_length(phi, self.materials.steel_law(steel).yield_stress, tau_bd)

    def anchorage(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        height: Floats,
        h: Floats,
        around: Around | None = None,
        *,
        bent: bool = False,
    ) -> Array:
        """L_d of tension, wherever the bars lie."""
        return np.asarray(self._length(concrete, steel, phi) + 0.0 * np.asarray(height) + 0.0 * np.asarray(h))

    def minimum_anchorage(self, anchorage: Floats, phi: Floats, within: float = 0.0) -> Array:
        """26.2.3.3(a): L_d/3 past the face of a simple support."""
        return np.asarray(np.asarray(anchorage, dtype=float) / 3.0 + 0.0 * np.asarray(phi))

    def lap_permitted(self, phi: float) -> bool:
        """26.2.5.1(a): not above 36 mm."""
        return phi <= 36.0

    def lap(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        height: Floats,
        h: Floats,
        share: float = 1.0,
        around: Around | None = None,
        stress: float = 1.0,
    ) -> Array:
        """By where the bars lie; more than half of a face's bars lapped at one place count as close
        (26.2.5). L_d is that of the stress there (26.2.1)."""
        phi = np.asarray(phi, dtype=float)
        top = np.asarray(height) > 0.5 * np.asarray(h)
        if around is None:
            above, corner = top, np.ones(np.shape(top), dtype=bool)
        else:
            cover, sides, beside = (
                np.asarray(v, dtype=float) for v in (around.cover, around.sides, around.beside)
            )
            above = top & (cover < 2.0 * phi)
            close = laps_are_close(beside - (phi if share > 0.5 else 0.0), phi) | (share > 0.5)
            corner = (np.minimum(cover, sides) < 2.0 * phi) | close
        above, corner = np.broadcast_arrays(above, corner)
        factor = lap_factor(np.asarray(above, dtype=float), np.asarray(corner, dtype=float))
        return lap_length(stress * self._length(concrete, steel, phi), factor, phi)

    def lap_stirrup_spacing(self, phi: float, share: float) -> float:
        """26.2.5: closely spaced stirrups where more than half of the bars are lapped at one place; 150 mm,
        as the trade has it."""
        return 150.0 if share > 0.5 else math.inf

    def lap_clear_distance(self, phi: Floats, aggregate: float) -> Array:
        """26.3.2: as between bars."""
        return np.asarray(np.maximum(np.asarray(phi, dtype=float), aggregate + 5.0))
