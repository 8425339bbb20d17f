"""ACI 318-19 24.2, 9.3.1: deflection. mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import (
    Ask,
    DeflectionPart,
    Deflections,
    Slender,
)
from upright_bramble.section.arrays import Array, Floats


@clause(ACI, "24.2.4.1.3", "xi", "1.0, 1.2, 1.4, 2.0 after 3, 6, 12, 60 months")
def time_factor(months: float) -> float:
    """Time-dependent factor for sustained loads (Table 24.2.4.1.3), linear between its values.

    months : number; 0 or more

    >>> [round(time_factor(v), 4) for v in (0.0, 1.5, 3.0, 6.0, 12.0, 40.0, 60.0, 90.0)]
    [0.0, 0.5, 1.0, 1.2, 1.4, 1.75, 2.0, 2.0]
    """
    return float(np.interp(months, [0.0, 3.0, 6.0, 12.0, 60.0], [0.0, 1.0, 1.2, 1.4, 2.0]))


@clause(
    ACI,
    "24.2.4.1.1",
    "lambda_Delta",
    "xi/(1 + 50 rho')",
    names={"xi": ("xi", ""), "rho_compression": ("rho'", "")},
)
def long_term_factor(xi: float, rho_compression: Floats) -> Array:
    """Additional long-term deflection over the immediate one of sustained load.

    xi : number; 0 to 2
    rho_compression : number or array (rho'); 0 to 0.04

    >>> round(float(long_term_factor(2.0, 0.01)), 4)
    1.3333
    """
    return np.asarray(xi / (1.0 + 50.0 * np.asarray(rho_compression)))


@clause(ACI, "24.2.4.1.3", "xi_t", "1.0, 1.2, 1.4, 2.0 after 3, 6, 12, 60 months")
def early_time_factor(months: float) -> float:
    """Time-dependent factor of what lasts up to the day that parts are built.

    months : number; 0 or more

    >>> round(float(early_time_factor(40.0)), 4)
    1.75
    """
    return time_factor(months)


@clause(
    ACI,
    "24.2.4.1.1",
    "lambda_t",
    "xi_t/(1 + 50 rho')",
    names={"xi": ("xi_t", ""), "rho_compression": ("rho'", "")},
)
def early_factor(xi: float, rho_compression: Floats) -> Array:
    """Additional long-term deflection up to the day that parts are built.

    xi : number (xi_t); 0 to 2
    rho_compression : number or array (rho'); 0 to 0.04

    >>> round(float(early_factor(2.0, 0.01)), 4)
    1.3333
    """
    return np.asarray(xi / (1.0 + 50.0 * np.asarray(rho_compression)))


@clause(
    ACI,
    "24.2.4.1.1",
    "a_lt",
    "a_i + lambda_Delta a_sus",
    "mm",
    names={"a_i": ("a_i", "mm"), "lambda_delta": ("lambda_Delta", ""), "a_sus": ("a_sus", "mm")},
)
def total_deflection(a_i: Floats, lambda_delta: Floats, a_sus: Floats) -> Array:
    """Immediate, and long-term of what lasts, mm.

    a_i : number or array, mm; 0 or more
    lambda_delta : number or array (lambda_Delta); 0 to 2
    a_sus : number or array, mm; 0 or more

    >>> round(float(total_deflection(8.0, 1.6, 3.0)), 2)
    12.8
    """
    return np.asarray(np.asarray(a_i) + np.asarray(lambda_delta) * np.asarray(a_sus))


@clause(
    ACI,
    "24.2.4.1.1",
    "a_before",
    "a_D (1 + lambda_t)",
    "mm",
    names={"a_d": ("a_D", "mm"), "lambda_t": ("lambda_t", "")},
)
def deflection_before(a_d: Floats, lambda_t: Floats) -> Array:
    """Of permanent actions up to the day that parts are built, mm.

    a_d : number or array, mm (a_D); 0 or more
    lambda_t : number or array; 0 to 2

    >>> round(float(deflection_before(4.0, 0.5)), 4)
    6.0
    """
    return np.asarray(np.asarray(a_d) * (1.0 + np.asarray(lambda_t)))


@clause(
    ACI,
    "24.2.2",
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


@clause(ACI, "24.2.2", "a_live", "a_i - a_D", "mm", names={"a_i": ("a_i", "mm"), "a_d": ("a_D", "mm")})
def live_deflection(a_i: Floats, a_d: Floats) -> Array:
    """Immediate deflection by variable actions alone, mm.

    a_i : number or array, mm; 0 or more
    a_d : number or array, mm (a_D); 0 or more

    >>> round(float(live_deflection(8.0, 4.0)), 4)
    4.0
    """
    return np.asarray(np.asarray(a_i) - a_d)


@clause(ACI, "24.2.2", "divisor", "180 roofs, 360 floors under live load; 480, 240 after attachment")
def deflection_divisor(kind: str) -> float:
    """Of the span, Table 24.2.2: 'roof' and 'floor' under variable load alone; after attachment of parts that
    are 'sensitive' or not.

    kind : text

    >>> round(float(deflection_divisor('floor')), 2)
    360.0
    """
    return {"roof": 180.0, "floor": 360.0, "sensitive": 480.0, "not_sensitive": 240.0}[kind]


@clause(
    ACI,
    "9.3.1.1",
    "h",
    "l/16 simple, l/18.5 one end, l/21 both ends continuous, l/8 cantilever, times 0.4 + f_y/100000",
    "mm",
)
def minimum_depth(length: float, ends: str, f_y: float, x: Expressions) -> float:
    """Depth from which deflections need no calculation, mm; Grade 60 needs no factor.

    length : number, mm; above 0
    ends : text
    f_y : number, MPa; 250 to 700
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(minimum_depth(6000.0, 'simple', 420.0, METRIC)), 2)
    375.0
    """
    divisor = {"simple": 16.0, "end": 18.5, "interior": 21.0, "cantilever": 8.0}[ends]
    grade = f_y / x.stress
    if x.length > 1.0:
        factor = 1.0 if abs(grade - 60_000.0) < 60.0 else 0.4 + grade / 100_000.0
    else:
        factor = 1.0 if abs(grade - 420.0) < 0.5 else 0.4 + grade / 700.0
    return length / divisor * factor


@dataclass(frozen=True)
class DeflectionClauses(DeflectionPart):
    """Answers on deflection (24.2)."""

    v: Mapping[str, float]
    x: Expressions

    total_is_advice = True

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """Table 24.2.2: by live load of floors, or of roofs that carry nothing else; after finishes that are
        not likely to be damaged. The total has no limit there: what stands for it is a target
        (`total_is_advice`)."""
        live = deflection_divisor("roof" if kinds and kinds <= {"roof", "snow", "rain"} else "floor")
        after = deflection_divisor("not_sensitive")
        return {"total": after, "after_finishes": after, "live": live}

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """Table 9.3.1.1 with 9.3.1.1.1: least depth where nothing is carried that large deflections could
        damage."""
        return float(minimum_depth(span.length, span.ends, steel.strength, self.x)), span.h, "length"

    def lines(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Immediate under service load; with lambda_delta of what lasts on it (24.2.4.1.1); and that less
        what the permanent actions did before finishes or partitions, their own lambda_delta to that day
        included."""
        months = self.v["sustained_months"]
        immediate = ask("service", "short", symbol="a_i")
        lasting = ask("service", "short", lasting=True, symbol="a_sus")
        if len(lasting) != len(immediate):  # from tables: which row lasts beside which is not known
            lasting = lasting.max(axis=0, keepdims=True)
        total = total_deflection(immediate, long_term_factor(time_factor(months), rho_compression), lasting)

        def before(day: float) -> Array:
            grown = max(min((day - wanted.age_at_loading) / 30.4, months), 0.0)
            struck = ask("permanent", "short", before=wanted.loaded_before(day), symbol="a_D")
            return deflection_before(struck, early_factor(early_time_factor(grown), rho_compression))

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
