"""BS 8110-1 3.12.8: anchorage and laps. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.bs8110.materials import MaterialsClauses
from upright_bramble.codes.bs8110.symbols import clause
from upright_bramble.codes.parts import Around, BondPart
from upright_bramble.section.arrays import Array, Floats, Mask

# Table 3.26: tension, compression
COEFFICIENTS = {"plain": (0.28, 0.35), "type1": (0.40, 0.50), "type2": (0.50, 0.63), "fabric": (0.65, 0.81)}
END_DIAMETERS = 12.0  # 3.12.9.4


@clause(
    "3.12.8.4",
    "f_bu",
    "beta sqrt(f_cu)",
    "MPa",
    names={"f_cu": ("f_cu", "MPa"), "bar": ("bar", ""), "compression": ("compression", "")},
)
def bond_stress(f_cu: float, bar: str = "type2", compression: bool = False) -> float:
    """Design ultimate anchorage bond stress, MPa, 1.4 for materials within; `bar` a row of Table 3.26.

    f_cu : number, MPa; 20 to 60
    bar : text
    compression : true or false

    >>> round(float(bond_stress(30.0, 'type2')), 4)
    2.7386
    """
    return COEFFICIENTS[bar][1 if compression else 0] * math.sqrt(f_cu)


@clause("3.12.8.3", "l_b", "f_yd phi/(4 f_bu)", "mm")
def anchorage_length(phi: Floats, f_yd: float, f_bu: float) -> Array:
    """Anchorage for the full design strength, mm.

    phi : number or array, mm; 6 to 40
    f_yd : number, MPa; 200 to 500
    f_bu : number, MPa; 0.5 to 6

    >>> round(float(anchorage_length(20.0, 437.0, 2.7386)), 2)
    797.85
    """
    return np.asarray(f_yd * np.asarray(phi, dtype=float) / (4.0 * f_bu))


def anchorage_multiple(f_yd: float, f_bu: float, factor: float = 1.0) -> int:
    """The same in whole diameters, as Table 3.27 has it, of anchorages and laps.

    f_yd : number, MPa; 200 to 500
    f_bu : number, MPa; 0.5 to 6
    factor : number (on laps); 1 to 2

    >>> anchorage_multiple(437.0, 2.5)
    44
    """
    return math.ceil(factor * f_yd / (4.0 * f_bu) - 1e-9)


@clause("3.12.8.13", "alpha_lap", "1.0; 1.4 by one of cover above, corner cover or distance; 2.0 by two")
def lap_factor(above: Floats, corner: Floats) -> Array:
    """Factor on laps in tension: `above` (bool) at the top of a section as cast with cover of less than 2
    phi; `corner` in a corner with such cover to either face, or laps less than max(75 mm; 6 phi) apart.

    above : number or array; 0 to 1
    corner : number or array; 0 to 1

    >>> round(float(lap_factor(1.0, 0.0)), 4)
    1.4
    """
    count = np.asarray(above, dtype=int) + np.asarray(corner, dtype=int)
    return np.asarray(np.choose(count, [1.0, 1.4, 2.0]))


def laps_are_close(clear: Floats, phi: Floats) -> Mask:
    """Whether adjacent laps count as close (3.12.8.13).

    clear : number or arrays, mm; above 0
    phi : number or arrays, mm; 6 to 40

    >>> bool(laps_are_close(119.0, 20.0))
    True
    """
    return np.asarray(np.asarray(clear) < np.maximum(75.0, 6.0 * np.asarray(phi)))


@clause("3.12.8.13, 3.12.8.11", "l_lap", "max(max(alpha_lap l_b; 15 phi); 300)", "mm", names={
    "l_b": ("l_b", "mm"), "factor": ("alpha_lap", ""), "phi": ("phi", "mm")})  # fmt: skip
def lap_length(l_b: Floats, factor: Floats, phi: Floats) -> Array:
    """Lap in tension, mm.

    l_b : number or array, mm; 0 or more
    factor : number or array (alpha_lap); 0 or more
    phi : number or array, mm; 6 to 40

    >>> round(float(lap_length(800.0, 1.4, 20.0)), 2)
    1120.0
    """
    return np.asarray(np.maximum(np.maximum(np.asarray(factor) * l_b, 15.0 * np.asarray(phi)), 300.0))


@clause("3.12.8.15", "l_lap,c", "1.25 l_b,c", "mm", names={"l_b": ("l_b,c", "mm")})
def compression_lap(l_b: Floats) -> Array:
    """Lap in compression, mm.

    l_b : number or array, mm (l_b,c); 0 or more

    >>> round(float(compression_lap(630.0)), 2)
    787.5
    """
    return np.asarray(1.25 * np.asarray(l_b))


@clause(
    "3.12.8.23",
    "l_bend",
    (("turned >= 1", ("max(min(8 r; 24 phi); actual)")), ("", "max(min(4 r; 12 phi); actual)")),
    "mm",
    names={"phi": ("phi", "mm"), "r": ("r", "mm"), "turned": ("turned", ""), "actual": ("actual", "mm")},
)
def bend_value(phi: float, r: float, turned: bool, actual: float = 0.0) -> float:
    """Effective anchorage of a 90 degree bend, or of one `turned` by 180, mm; the actual length where that is
    more.

    phi : number, mm; 6 to 40
    r : number, mm; 0 or more
    turned : true or false
    actual : number, mm; 0 or more

    >>> round(float(bend_value(20.0, 80.0, True)), 2)
    480.0
    >>> bend_value(20.0, 40.0, True), bend_value(20.0, 40.0, False), bend_value(20.0, 80.0, False, 260.0)
    (320.0, 160.0, 260.0)
    """
    return max(min(8.0 * r, 24.0 * phi), actual) if turned else max(min(4.0 * r, 12.0 * phi), actual)


@clause("3.12.8.6", "l_ext", (("right_angle >= 1", "8 phi"), ("", "4 phi")), "mm", names={
    "phi": ("phi", "mm"), "right_angle": ("right_angle", "")})  # fmt: skip
def link_extension(phi: float, right_angle: bool) -> float:
    """Straight length of a link's end beyond a bend of 90, or of 180 degrees, mm.

    phi : number, mm; 6 to 40
    right_angle : true or false

    >>> round(float(link_extension(10.0, True)), 2)
    80.0
    """
    return 8.0 * phi if right_angle else 4.0 * phi


@clause("3.12.8.12", "phi_t", "phi/4", "mm", names={"phi": ("phi", "mm")})
def lap_link_diameter(phi: float) -> float:
    """Least diameter of links, 200 mm apart at most, along laps of bars above 20 mm whose cover is less than
    1.5 phi, mm.

    phi : number, mm; 6 to 40

    >>> round(float(lap_link_diameter(25.0)), 4)
    6.25
    """
    return 0.25 * phi


@dataclass(frozen=True)
class BondClauses(BondPart):
    """Answers on anchorage and laps (3.12.8): deformed bars of type 2, or plain ones of grade 250."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    def _length(self, concrete: Concrete, steel: Steel, phi: Floats) -> Array:
        bar = "plain" if steel.strength < 400.0 else "type2"
        f_yd = self.materials.steel_law(steel).yield_stress
        return anchorage_length(phi, f_yd, bond_stress(concrete.strength, bar))

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
        """3.12.8.3, wherever the bars lie; of tension, which compression needs less than."""
        return np.asarray(self._length(concrete, steel, phi) + 0.0 * np.asarray(height) + 0.0 * np.asarray(h))

    def minimum_anchorage(self, anchorage: Floats, phi: Floats, within: float = 0.0) -> Array:
        """3.12.9.4(a): 12 phi beyond the centreline of a simple support."""
        return np.asarray(END_DIAMETERS * np.asarray(phi, dtype=float) + within)

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
        """3.12.8.13 by where the bars lie; laps of all bars side by side count as close where the concrete
        around is not known. The bond length is that of the force there (3.12.8.4)."""
        phi = np.asarray(phi, dtype=float)
        top = np.asarray(height) > 0.5 * np.asarray(h)
        if around is None:
            above, corner = top, np.ones(np.shape(top), dtype=bool)
        else:
            cover, sides, beside = (
                np.asarray(v, dtype=float) for v in (around.cover, around.sides, around.beside)
            )
            above = top & (cover < 2.0 * phi)
            close = laps_are_close(beside - (phi if share > 0.5 else 0.0), phi)
            corner = (np.minimum(cover, sides) < 2.0 * phi) | close
        above, corner = np.broadcast_arrays(above, corner)
        return lap_length(
            stress * self._length(concrete, steel, phi),
            lap_factor(np.asarray(above, dtype=float), np.asarray(corner, dtype=float)),
            phi,
        )

    def lap_stirrup_spacing(self, phi: float, share: float) -> float:
        """3.12.8.12: along bars above 20 mm, whatever the cover."""
        return 200.0 if phi > 20.0 else math.inf

    def lap_clear_distance(self, phi: Floats, aggregate: float) -> Array:
        """3.12.11.1: as between bars."""
        return np.asarray(np.maximum(np.asarray(phi, dtype=float), aggregate + 5.0))
