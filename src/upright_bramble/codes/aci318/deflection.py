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
    Deflections,
    Slender,
)
from upright_bramble.section.arrays import Array, Floats


@clause(ACI, "24.2.4.1", "lambda_delta", "xi/(1 + 50 rho_compression): xi 1.0, 1.2, 1.4, 2.0 after 3, 6, 12, 60 months")
def long_term_factor(months: float, rho_compression: Floats) -> Array:
    """Additional long-term deflection over the immediate one of sustained load."""
    xi = np.interp(months, [0.0, 3.0, 6.0, 12.0, 60.0], [0.0, 1.0, 1.2, 1.4, 2.0])
    return np.asarray(xi / (1.0 + 50.0 * np.asarray(rho_compression)))


@clause(ACI, "24.2.2", "divisor", "180 roofs, 360 floors under live load; 480, 240 after attachment")
def deflection_divisor(kind: str) -> float:
    """Of the span, Table 24.2.2: 'roof' and 'floor' under variable load alone; after attachment of parts that are 'sensitive' or not."""
    return {"roof": 180.0, "floor": 360.0, "sensitive": 480.0, "not_sensitive": 240.0}[kind]


@clause(ACI, "9.3.1.1", "h", "l/16 simple, l/18.5 one end, l/21 both ends continuous, l/8 cantilever, times 0.4 + f_y/100000", "mm")
def minimum_depth(length: float, ends: str, f_y: float, x: Expressions) -> float:
    """Depth from which deflections need no calculation, mm; Grade 60 needs no factor."""
    divisor = {"simple": 16.0, "end": 18.5, "interior": 21.0, "cantilever": 8.0}[ends]
    grade = f_y / x.stress
    if x.length > 1.0:
        factor = 1.0 if abs(grade - 60_000.0) < 60.0 else 0.4 + grade / 100_000.0
    else:
        factor = 1.0 if abs(grade - 420.0) < 0.5 else 0.4 + grade / 700.0
    return length / divisor * factor


@dataclass(frozen=True)
class DeflectionClauses:
    """Answers on deflection (24.2)."""

    v: Mapping[str, float]
    x: Expressions

    total_is_advice = True
    averages_stiffness = True

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """Table 24.2.2: by live load of floors, or of roofs that carry nothing else; after finishes that are not likely to be damaged. The
        total has no limit there: what stands for it is a target (`total_is_advice`)."""
        live = deflection_divisor("roof" if kinds and kinds <= {"roof", "snow", "rain"} else "floor")
        after = deflection_divisor("not_sensitive")
        return {"total": after, "after_finishes": after, "live": live}

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """Table 9.3.1.1 with 9.3.1.1.1: least depth where nothing is carried that large deflections could damage."""
        return float(minimum_depth(span.length, span.ends, steel.strength, self.x)), span.h, "length"

    def lines(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Immediate under service load; with lambda_delta of what lasts on it (24.2.4.1.1); and that less what the permanent actions did
        before finishes or partitions, their own lambda_delta to that day included."""
        months = self.v["sustained_months"]
        immediate, lasting = ask("service", "short"), ask("service", "short", lasting=True)
        if len(lasting) != len(immediate):  # from tables: which row lasts beside which is not known
            lasting = lasting.max(axis=0, keepdims=True)
        total = immediate + long_term_factor(months, rho_compression) * lasting

        def before(day: float) -> Array:
            grown = max(min((day - wanted.age_at_loading) / 30.4, months), 0.0)
            return ask("permanent", "short", before=wanted.loaded_before(day)) * (1.0 + long_term_factor(grown, rho_compression))

        return Deflections(
            striking=ask("permanent", "short", before=wanted.age_at_loading + 1e-6),
            immediate=immediate,
            long_term=total,
            after_finishes=total - before(wanted.finishes_at),
            live=immediate - ask("permanent", "short") if wanted.live else None,
            after_partitions=total - before(wanted.partitions_at) if wanted.after_partitions else None,
        )
