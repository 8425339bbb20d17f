"""IS 456 23.2, annex C: deflection. mm."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.is456.symbols import clause
from upright_bramble.codes.parts import Ask, DeflectionPart, Deflections, Slender
from upright_bramble.section.arrays import Array, Floats

BASIC = {"cantilever": 7.0, "simple": 20.0, "continuous": 26.0}  # 23.2.1(a)
K_1 = (
    (0.5, 0.0),
    (0.6, 0.03),
    (0.7, 0.08),
    (0.8, 0.16),
    (0.9, 0.30),
    (1.0, 0.50),
    (1.1, 0.73),
    (1.2, 0.91),
    (1.3, 0.97),
    (1.4, 1.0),
)


@clause(
    "Figure 4", "f_s", "0.58 f_y/r_prov", "MPa", names={"f_y": ("f_y", "MPa"), "provided": ("r_prov", "")}
)
def service_stress(f_y: float, provided: float = 1.0) -> float:
    """Estimated service stress of tension bars, MPa; `provided` over required steel.

    f_y : number, MPa; 250 to 550
    provided : number (r_prov); above 0

    >>> round(float(service_stress(415.0, 1.0)), 2)
    240.7
    """
    return 0.58 * f_y / provided


@clause(
    "Figure 4",
    "k_t",
    "min(1/max(0.225 + 0.00322 f_s - 0.625 lg_p; 0.01); 2)",
    names={"f_s": ("f_s", "MPa"), "lg": ("lg_p", "")},
)
def tension_factor_by_log(f_s: float, lg: float) -> float:
    """With the decimal logarithm of 1/p_t taken already.

    f_s : number, MPa; 0 or more
    lg : number (lg_p); -3 to 1.1

    >>> round(float(tension_factor_by_log(240.0, 0.0)), 4)
    1.0022
    """
    return min(1.0 / max(0.225 + 0.00322 * f_s - 0.625 * lg, 0.01), 2.0)


def tension_factor(p_t: float, f_s: float) -> float:
    """Modification factor for tension reinforcement: the curves of Figure 4 as SP 24 has them, no more than
    2.

    p_t : number (percentage of tension steel); 0 to 4
    f_s : number, MPa; 0 or more

    >>> round(tension_factor(1.0, 240.0), 4)
    1.0022
    """
    return tension_factor_by_log(f_s, -math.log10(max(p_t, 1e-6)))


@clause("Figure 5", "k_c", "min(1 + p_c/(3 + p_c); 1.5)", names={"percent": ("p_c", "")})
def compression_factor(percent: Floats) -> Array:
    """Modification factor for compression reinforcement, in percent of b d.

    percent : number or array (p_c); 0 to 4

    >>> round(float(compression_factor(0.5)), 4)
    1.1429
    """
    p = np.asarray(percent, dtype=float)
    return np.asarray(np.minimum(1.0 + p / (3.0 + p), 1.5))


@clause("Figure 6", "k_f", "max(0.8 + 2/7 (r_b - 0.3); 0.8)", names={"ratio": ("r_b", "")})
def flange_factor(ratio: float) -> float:
    """Reduction factor of flanged beams for the ratio of web to flange width.

    ratio : number (r_b); 0 or more

    >>> round(float(flange_factor(0.4)), 4)
    0.8286
    """
    return max(0.8 + 2.0 / 7.0 * (ratio - 0.3), 0.8)


@clause("23.2.1(b)", "k_l", "min(10000/l; 1)", names={"l": ("l", "mm")})
def long_span_factor(l: float) -> float:  # noqa: E741 - the standard's symbol
    """Factor for spans above 10 m.

    l : number, mm; above 0

    >>> round(float(long_span_factor(12000.0)), 4)
    0.8333
    """
    return min(10_000.0 / l, 1.0)


@clause(
    "23.2.1",
    "l/d",
    "basic k_t k_c k_f k_l",
    names={
        "basic": ("basic", ""),
        "tension": ("k_t", ""),
        "compression": ("k_c", ""),
        "flange": ("k_f", ""),
        "long": ("k_l", ""),
    },
)
def permitted_ratio(
    basic: float, tension: float, compression: float = 1.0, flange: float = 1.0, long: float = 1.0
) -> float:
    """Permitted ratio of span to effective depth.

    basic : number; above 0
    tension : number (k_t); 0 to 2
    compression : number (k_c); 1 to 1.5
    flange : number (k_f); 0.8 to 1
    long : number (k_l); 0 to 1

    >>> round(float(permitted_ratio(20.0, 1.0022)), 2)
    20.04
    """
    return basic * tension * compression * flange * long


def deflection_limit(l: float, after_partitions: bool = False) -> float:  # noqa: E741
    """23.2: final deflection; that after partitions and finishes, mm.

    l : number, mm; above 0
    after_partitions : true or false

    >>> deflection_limit(6000.0)
    24.0
    """
    return min(l / 350.0, 20.0) if after_partitions else l / 250.0


def continuity_factor(k_2: float) -> float:
    """k_1 of Table 25, straight between its values.

    k_2 : number; 0 or more

    >>> continuity_factor(0.85)
    0.23
    """
    x, y = zip(*K_1, strict=True)
    return round(float(np.interp(k_2, x, y)), 12)


def continuous_value(k_2: float, at_supports: tuple[float, float], at_middle: float) -> float:
    """C-2.2: a value of a continuous beam, weighted between its supports and midspan.

    k_2 : number; 0 or more
    at_supports : two numbers
    at_middle : number; either sign

    >>> continuous_value(1.0, (2.0, 4.0), 5.0)
    4.0
    """
    k_1 = continuity_factor(k_2)
    return k_1 * 0.5 * sum(at_supports) + (1.0 - k_1) * at_middle


@clause(
    "C-4.1",
    "a_lt",
    "a_i + a_icc - a_perm",
    "mm",
    names={"immediate": ("a_i", "mm"), "creep": ("a_icc", "mm"), "permanent": ("a_perm", "mm")},
)
def long_term_deflection(immediate: Floats, creep: Floats, permanent: Floats) -> Array:
    """Short-term deflection of the service load, and what creep and shrinkage add under the permanent load,
    mm.

    immediate : number or array, mm (a_i); 0 or more
    creep : number or array, mm (a_icc); 0 or more
    permanent : number or array, mm (a_perm); 0 or more

    >>> round(float(long_term_deflection(8.6, 14.0, 6.0)), 2)
    16.6
    """
    return np.asarray(np.asarray(immediate) + creep - permanent)


@clause(
    "23.2(b)",
    "a_after",
    "a_lt - a_before",
    "mm",
    names={"total": ("a_lt", "mm"), "before": ("a_before", "mm")},
)
def deflection_after(total: Floats, before: Floats) -> Array:
    """After partitions and finishes, mm.

    total : number or array, mm (a_lt); 0 or more
    before : number or array, mm (a_before); 0 or more

    >>> round(float(deflection_after(16.0, 6.0)), 2)
    10.0
    """
    return np.asarray(np.asarray(total) - before)


@clause("23.2.1", "r_ld", "l/d", names={"l": ("l", "mm"), "d": ("d", "mm")})
def actual_ratio(l: float, d: float) -> float:  # noqa: E741 - the standard's symbol
    """Span over effective depth.

    l : number, mm; above 0
    d : number, mm; above 0

    >>> actual_ratio(6000.0, 500.0)
    12.0
    """
    return l / d


@dataclass(frozen=True)
class DeflectionClauses(DeflectionPart):
    """Answers on deflection (23.2, annex C)."""

    v: Mapping[str, float]

    shown = ("permanent_service", "lasting")

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """23.2, without the absolute 20 mm, which a file can add."""
        return {"total": 250.0, "after_finishes": 350.0}

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """23.2.1, with the steel required at midspan (at the support of a cantilever)."""
        kind = {"simple": "simple", "cantilever": "cantilever"}.get(span.ends, "continuous")
        f_s = service_stress(steel.strength, max(span.provided, 1.0))
        wide = max(span.wide, 1.0)
        factors = (
            tension_factor(100.0 * span.rho, f_s),
            float(compression_factor(100.0 * span.rho_compression)),
            flange_factor(1.0 / wide),
        )
        limit = permitted_ratio(
            BASIC[kind], *factors, 1.0 if kind == "cantilever" else long_span_factor(span.length)
        )
        return actual_ratio(span.length, span.d), limit, "number"

    def lines(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Annex C: short-term under the service load, creep and shrinkage under what lasts; before finishes
        the permanent actions, short-term."""
        creep = ask("permanent_service", "lasting", symbol="a_icc")
        immediate, permanent = (
            ask("service", "short", symbol="a_i"),
            ask("service", "short", lasting=True, symbol="a_perm"),
        )
        if len(permanent) != len(immediate):  # which row lasts beside which is not known
            permanent = permanent.min(axis=0, keepdims=True)
        if len(creep) != len(immediate):
            creep = creep.max(axis=0, keepdims=True)
        total = long_term_deflection(immediate, creep, permanent)

        def before(day: float) -> Array:
            return ask("permanent", "short", before=wanted.loaded_before(day), symbol="a_before")

        return Deflections(
            striking=ask("permanent", "short", before=wanted.age_at_loading + 1e-6),
            immediate=immediate,
            long_term=total,
            after_finishes=deflection_after(total, before(wanted.finishes_at)),
            live=deflection_after(immediate, ask("permanent", "short", symbol="a_before"))
            if wanted.live
            else None,
            after_partitions=deflection_after(total, before(wanted.partitions_at))
            if wanted.after_partitions
            else None,
        )
