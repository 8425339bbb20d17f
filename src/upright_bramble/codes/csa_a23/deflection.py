"""CSA A23.3 9.8: deflection. mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.csa_a23.symbols import clause
from upright_bramble.codes.parts import Ask, DeflectionPart, Deflections, Slender
from upright_bramble.section.arrays import Array, Floats


def _factor_after(months: float) -> float:
    """Straight between its values."""
    return float(np.interp(months, [0.0, 3.0, 6.0, 12.0, 60.0], [0.0, 1.0, 1.2, 1.4, 2.0]))


@clause("9.8.2.5", "S", "1.0, 1.2, 1.4, 2.0 after 3, 6, 12, 60 months")
def time_factor(months: float) -> float:
    """Factor for the duration of load, straight between its values.

    months : number; 0 or more

    >>> [round(time_factor(v), 4) for v in (0.0, 1.5, 3.0, 6.0, 12.0, 36.0, 60.0, 90.0)]
    [0.0, 0.5, 1.0, 1.2, 1.4, 1.7, 2.0, 2.0]
    """
    return _factor_after(months)


@clause("9.8.2.5", "zeta_s", "1 + S/(1 + 50 rho')", names={"s": ("S", ""), "rho_compression": ("rho'", "")})
def sustained_factor(s: float, rho_compression: Floats) -> Array:
    """Factor on the immediate deflection of sustained load: with it the total.

    s : number (S); 0 to 2
    rho_compression : number or array (rho'); 0 to 0.04

    >>> round(float(sustained_factor(2.0, 0.01)), 4)
    2.3333
    """
    return np.asarray(1.0 + s / (1.0 + 50.0 * np.asarray(rho_compression)))


@clause(
    "9.8.2.5",
    "a_lt",
    "a_i + (zeta_s - 1) a_sus",
    "mm",
    names={"a_i": ("a_i", "mm"), "zeta_s": ("zeta_s", ""), "a_sus": ("a_sus", "mm")},
)
def total_deflection(a_i: Floats, zeta_s: Floats, a_sus: Floats) -> Array:
    """Immediate, and long-term of what is sustained, mm.

    a_i : number or array, mm; 0 or more
    zeta_s : number or array; 1 to 3
    a_sus : number or array, mm; 0 or more

    >>> round(float(total_deflection(8.0, 3.0, 4.0)), 2)
    16.0
    """
    return np.asarray(np.asarray(a_i) + (np.asarray(zeta_s) - 1.0) * np.asarray(a_sus))


@clause("9.8.2.5", "a_before", "a_D zeta_t", "mm", names={"a_d": ("a_D", "mm"), "zeta_t": ("zeta_t", "")})
def deflection_before(a_d: Floats, zeta_t: Floats) -> Array:
    """Of the permanent loads up to the day that parts are built, mm.

    a_d : number or array, mm (a_D); 0 or more
    zeta_t : number or array; 0 to 3

    >>> round(float(deflection_before(4.0, 1.5)), 4)
    6.0
    """
    return np.asarray(np.asarray(a_d) * zeta_t)


@clause(
    "9.8.2.5", "zeta_t", "1 + S_t/(1 + 50 rho')", names={"s": ("S_t", ""), "rho_compression": ("rho'", "")}
)
def early_factor(s: float, rho_compression: Floats) -> Array:
    """The same factor up to the day that parts are built.

    s : number (S_t); 0 to 2
    rho_compression : number or array (rho'); 0 to 0.04

    >>> round(float(early_factor(1.0, 0.0)), 4)
    2.0
    """
    return np.asarray(1.0 + s / (1.0 + 50.0 * np.asarray(rho_compression)))


@clause(
    "Table 9.3",
    "a_after",
    "a_lt - a_before",
    "mm",
    names={"a_lt": ("a_lt", "mm"), "a_before": ("a_before", "mm")},
)
def deflection_after(a_lt: Floats, a_before: Floats) -> Array:
    """After parts are attached that it could damage, mm.

    a_lt : number or array, mm; 0 or more
    a_before : number or array, mm; 0 or more

    >>> round(float(deflection_after(18.0, 6.0)), 2)
    12.0
    """
    return np.asarray(np.asarray(a_lt) - a_before)


@clause("Table 9.3", "a_live", "a_i - a_D", "mm", names={"a_i": ("a_i", "mm"), "a_d": ("a_D", "mm")})
def live_deflection(a_i: Floats, a_d: Floats) -> Array:
    """Immediate deflection by variable loads alone, mm.

    a_i : number or array, mm; 0 or more
    a_d : number or array, mm (a_D); 0 or more

    >>> round(float(live_deflection(8.0, 4.0)), 4)
    4.0
    """
    return np.asarray(np.asarray(a_i) - a_d)


def deflection_divisor(kind: str) -> float:
    """Of the clear span, Table 9.3.

    kind : text; roof, floor, sensitive, not_sensitive

    >>> deflection_divisor("sensitive")
    480.0
    """
    return {"roof": 180.0, "floor": 360.0, "sensitive": 480.0, "not_sensitive": 240.0}[kind]


@clause(
    "Table 9.2",
    "h_min",
    "l_n/16 simple, l_n/18 one end, l_n/21 both ends continuous, l_n/8 cantilever, times 0.4 + f_y/670",
    "mm",
)
def minimum_depth(l_n: float, ends: str, f_y: float = 400.0, density: float = 2400.0) -> float:
    """Depth from which deflections need no calculation, mm; 400 MPa needs no factor; of low density more.

    l_n : number, mm; above 0
    ends : text
    f_y : number, MPa; 300 to 500
    density : number; 1700 to 2500

    >>> round(float(minimum_depth(7560.0, 'simple')), 2)
    472.5
    """
    divisor = {"simple": 16.0, "end": 18.0, "interior": 21.0, "cantilever": 8.0}[ends]
    grade = 1.0 if abs(f_y - 400.0) < 0.5 else 0.4 + f_y / 670.0
    light = max(1.65 - 0.0003 * density, 1.0) if density < 2150.0 else 1.0
    return l_n / divisor * grade * light


@dataclass(frozen=True)
class DeflectionClauses(DeflectionPart):
    """Answers on deflection (9.8)."""

    v: Mapping[str, float]

    total_is_advice = True

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """Table 9.3: by live load of floors, or of roofs that carry nothing else; after finishes that are not
        likely to be damaged. The total has no limit there: what stands for it is a target
        (`total_is_advice`)."""
        live = deflection_divisor("roof" if kinds and kinds <= {"roof", "snow", "rain"} else "floor")
        after = deflection_divisor("not_sensitive")
        return {"total": after, "after_finishes": after, "live": live}

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """Table 9.2: least depth where nothing is carried that large deflections could damage."""
        return float(minimum_depth(span.length, span.ends, steel.strength)), span.h, "length"

    def lines(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Immediate under service load; zeta_s of what is sustained on it; and that less what the permanent
        loads did before finishes or partitions."""
        months = self.v["sustained_months"]
        immediate = ask("service", "short", symbol="a_i")
        lasting = ask("service", "short", lasting=True, symbol="a_sus")
        if len(lasting) != len(immediate):  # from tables: which row lasts beside which is not known
            lasting = lasting.max(axis=0, keepdims=True)
        total = total_deflection(immediate, sustained_factor(time_factor(months), rho_compression), lasting)

        def before(day: float) -> Array:
            grown = max(min((day - wanted.age_at_loading) / 30.4, months), 0.0)
            struck = ask("permanent", "short", before=wanted.loaded_before(day), symbol="a_D")
            return deflection_before(
                struck,
                early_factor(_factor_after(grown), rho_compression),
            )

        return Deflections(
            striking=ask("permanent", "short", before=wanted.age_at_loading + 1e-6),
            immediate=immediate,
            long_term=total,
            after_finishes=deflection_after(total, before(wanted.finishes_at)),
            live=live_deflection(immediate, ask("permanent", "short", symbol="a_D")) if wanted.live else None,
            after_partitions=deflection_after(total, before(wanted.partitions_at))
            if wanted.after_partitions
            else None,
        )
