"""EN 1992-1-1 7.4: deflection. mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.en1992.symbols import EN, NAMES, clause
from upright_bramble.codes.parts import (
    Ask,
    DeflectionPart,
    Deflections,
    Slender,
)
from upright_bramble.section.arrays import Array, Floats


@clause(
    EN,
    "7.4.2(2)",
    "l/d",
    (
        ("rho <= rho_0", "K (11 + 1.5 sqrt(f_ck) rho_0/rho + 3.2 sqrt(f_ck) (rho_0/rho - 1)^1.5)"),
        ("", "K (11 + 1.5 sqrt(f_ck) rho_0/(rho - rho_c) + sqrt(f_ck)/12 sqrt(rho_c/rho_0))"),
    ),
    where={"rho_0": "0.001 sqrt(f_ck)"},
    names={**NAMES, "rho": ("rho", ""), "rho_compression": ("rho_c", ""), "k": ("K", "")},
)
def basic_span_depth(f_ck: float, rho: Floats, rho_compression: Floats, k: float) -> Array:
    """Span over effective depth that needs no calculation, for bars at 310 MPa; `rho` is what the moment asks
    for, over b d, and `rho_compression` as well.

    f_ck : number, MPa; 12 to 90
    rho : number or array; above 0
    rho_compression : number or array (rho_c); 0 to 0.9 rho
    k : number (K); 0.4 to 1.5

    >>> round(float(basic_span_depth(30.0, 0.021, 0.01, 0.4)), 4)
    6.2831
    """
    root = np.sqrt(f_ck)
    rho_0 = 1e-3 * root
    rho, less = np.maximum(np.asarray(rho, dtype=float), 1e-5), np.asarray(rho_compression, dtype=float)
    low = 11.0 + 1.5 * root * rho_0 / rho + 3.2 * root * np.maximum(rho_0 / rho - 1.0, 0.0) ** 1.5
    high = 11.0 + 1.5 * root * rho_0 / np.maximum(rho - less, 1e-5) + root / 12.0 * np.sqrt(less / rho_0)
    return np.asarray(k * np.where(rho <= rho_0, low, high))


@clause(
    EN, "7.4.2(2)", "factor", "min(500/f_yk provided; maximum): bars, wide flanges 0.8, 7 m over longer spans"
)
def span_depth_factor(
    f_yk: float, provided: float, maximum: float, wide: float, span: float, cantilever: bool
) -> float:
    """On the basic ratio (7.4.2(2)): bars below 310 MPa by `provided` over required steel, no more than
    `maximum`; 0.8 for flanges more than 3 webs `wide`; 7/l for spans beyond 7 m (mm).

    f_yk : number, MPa; 400 to 600
    provided : number; above 0
    maximum : number; above 0
    wide : number; 1 or more
    span : number, mm; above 0
    cantilever : true or false

    >>> round(float(span_depth_factor(500.0, 1.5, 2.5, 3.0, 6000.0, False)), 4)
    1.5
    >>> [round(span_depth_factor(500.0, 1.0, 2.5, 3.1, 8000.0, free), 4) for free in (False, True)]
    [0.7, 0.8]
    """
    factor = min(500.0 / f_yk * provided, maximum)
    factor *= 0.8 if wide > 3.0 else 1.0
    return factor * (7000.0 / span if span > 7000.0 and not cantilever else 1.0)


@clause(
    EN,
    "7.4.1(5)",
    "a_after",
    "a_lt - a_before",
    "mm",
    names={"a_lt": ("a_lt", "mm"), "a_before": ("a_before", "mm")},
)
def deflection_after(a_lt: Floats, a_before: Floats) -> Array:
    """What comes after parts are built that it could damage, mm: the long-term deflection less that of the
    day before.

    a_lt : number or array, mm; 0 or more
    a_before : number or array, mm; 0 or more

    >>> round(float(deflection_after(18.0, 6.0)), 2)
    12.0
    """
    return np.asarray(np.asarray(a_lt) - a_before)


@clause(
    EN,
    "7.4.3",
    "a_live",
    "a_char - a_perm",
    "mm",
    names={"a_char": ("a_char", "mm"), "a_perm": ("a_perm", "mm")},
)
def live_deflection(a_char: Floats, a_perm: Floats) -> Array:
    """By variable actions alone, mm: under the characteristic load less under the permanent one.

    a_char : number or array, mm; 0 or more
    a_perm : number or array, mm; 0 or more

    >>> round(float(live_deflection(20.0, 9.0)), 2)
    11.0
    """
    return np.asarray(np.asarray(a_char) - a_perm)


@dataclass(frozen=True)
class DeflectionClauses(DeflectionPart):
    """Answers on deflection (7.4)."""

    v: Mapping[str, float]

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """7.4.2(2) with Table 7.4N; compression bars count as far as the moment requires them."""
        k = {"simple": 1.0, "end": 1.3, "interior": 1.5, "cantilever": 0.4}[span.ends]
        pressed = min(span.rho_compression, span.rho_compression_required)
        basic = float(basic_span_depth(concrete.strength, span.rho, pressed, k))
        cantilever = span.ends == "cantilever"
        factor = span_depth_factor(
            steel.strength, span.provided, self.v["span_depth_most"], span.wide, span.length, cantilever
        )
        return span.length / span.d, basic * factor, "number"

    def lines(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Quasi-permanent load without creep; with creep and shrinkage; less what the permanent actions did
        before finishes or partitions; characteristic less permanent load without creep."""
        long_term = ask("quasi_permanent", "lasting", symbol="a_lt")

        def after(stage: str, day: float) -> Array:
            return deflection_after(
                long_term, ask("permanent", stage, before=wanted.loaded_before(day), symbol="a_before")
            )

        def live() -> Array:
            return live_deflection(
                ask("characteristic", "short", symbol="a_char"), ask("permanent", "short", symbol="a_perm")
            )

        return Deflections(
            striking=ask("permanent", "striking", before=wanted.age_at_loading + 1e-6),
            immediate=ask("quasi_permanent", "short"),
            long_term=long_term,
            after_finishes=after("finishes", wanted.finishes_at),
            live=live() if wanted.live else None,
            after_partitions=after("partitions", wanted.partitions_at) if wanted.after_partitions else None,
        )

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """7.4.1(4) and (5)."""
        return {"total": 250.0, "after_finishes": 500.0}
