"""BS 8110-1 3.4.6 and BS 8110-2 3.2, 3.7: deflection. mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.bs8110.materials import MaterialsClauses
from upright_bramble.codes.bs8110.symbols import clause, clause_2
from upright_bramble.codes.parts import Ask, DeflectionPart, Deflections, Slender
from upright_bramble.section.arrays import Array, Floats

BASIC = {
    "cantilever": (7.0, 5.6),
    "simple": (20.0, 16.0),
    "continuous": (26.0, 20.8),
}  # Table 3.9: rectangular, b_w/b of 0.3 or less


@clause("Table 3.9", "basic", "by the support and b_w/b", names={
    "kind": ("kind", ""), "ratio": ("b_w/b", "")})  # fmt: skip
def basic_ratio(kind: str, ratio: float = 1.0) -> float:
    """Basic ratio of span to effective depth; `ratio` of the web's width to the compressed one.

    kind : text
    ratio : number (b_w/b); 0 or more

    >>> round(float(basic_ratio('simple', 0.31)), 2)
    16.06
    """
    plain, flanged = BASIC[kind]
    return plain + (flanged - plain) * min((1.0 - ratio) / 0.7, 1.0)


@clause("Table 3.10", "f_s", "2 f_y/(3 r_prov beta_b)", "MPa", names={
    "f_y": ("f_y", "MPa"), "provided": ("r_prov", ""), "beta_b": ("beta_b", "")})  # fmt: skip
def service_stress(f_y: float, provided: float = 1.0, beta_b: float = 1.0) -> float:
    """Estimated service stress of tension bars, MPa; `provided` over required steel.

    f_y : number, MPa; 250 to 500
    provided : number (A_s,prov/A_s,req); above 0
    beta_b : number; 0.7 to 1

    >>> round(float(service_stress(460.0, 1.1)), 2)
    278.79
    """
    return 2.0 * f_y / (3.0 * provided * beta_b)


@clause(
    "Table 3.10",
    "k_t",
    "min(0.55 + (477 - f_s)/(120 (0.9 + M_bd2)); 2)",
    names={"f_s": ("f_s", "MPa"), "m_bd2": ("M_bd2", "MPa")},
)
def tension_factor(f_s: Floats, m_bd2: Floats) -> Array:
    """Modification factor for tension reinforcement.

    f_s : number or array, MPa; 0 or more
    m_bd2 : number or array, MPa (M/bd2); 0 or more

    >>> round(float(tension_factor(307.0, 2.0)), 4)
    1.0385
    """
    return np.asarray(np.minimum(0.55 + (477.0 - np.asarray(f_s)) / (120.0 * (0.9 + np.asarray(m_bd2))), 2.0))


@clause("Table 3.11", "k_c", "min(1 + p'/(3 + p'); 1.5)", names={"percent": ("p'", "")})
def compression_factor(percent: Floats) -> Array:
    """Modification factor for compression reinforcement, 100 A'_s/(b d).

    percent : number or array (p'); 0 to 4

    >>> round(float(compression_factor(0.5)), 4)
    1.1429
    """
    p = np.asarray(percent, dtype=float)
    return np.asarray(np.minimum(1.0 + p / (3.0 + p), 1.5))


@clause("3.4.6.4", "k_l", "min(10000/l; 1)", names={"l": ("l", "mm")})
def long_span_factor(l: float) -> float:  # noqa: E741 - the standard's symbol
    """Factor for spans above 10 m.

    l : number, mm; above 0

    >>> round(float(long_span_factor(12000.0)), 4)
    0.8333
    """
    return min(10_000.0 / l, 1.0)


@clause(
    "3.4.6.3",
    "l/d",
    "basic k_t k_c k_l",
    names={"basic": ("basic", ""), "tension": ("k_t", ""), "compression": ("k_c", ""), "long": ("k_l", "")},
)
def permitted_ratio(basic: float, tension: float, compression: float = 1.0, long: float = 1.0) -> float:
    """Permitted ratio of span to effective depth.

    basic : number; above 0
    tension : number (k_t); 0 to 2
    compression : number (k_c); 1 to 1.5
    long : number (k_l); 0 to 1

    >>> round(float(permitted_ratio(20.0, 1.04)), 2)
    20.8
    """
    return basic * tension * compression * long


@clause("3.4.4.4", "M_bd2", "rho f_yd max(1 - rho f_yd/(0.9 f_cu); 0.5)", "MPa", names={
    "rho": ("rho", ""), "f_yd": ("f_yd", "MPa"), "f_cu": ("f_cu", "MPa")})  # fmt: skip
def moment_ratio(rho: float, f_yd: float, f_cu: float) -> float:
    """Moment over b d² that a ratio of tension steel is required for, MPa.

    rho : number; 0 to 0.1
    f_yd : number, MPa; 200 to 500
    f_cu : number, MPa; 20 to 60

    >>> round(float(moment_ratio(0.006, 437.0, 30.0)), 4)
    2.3674
    """
    return rho * f_yd * max(1.0 - rho * f_yd / (0.9 * f_cu), 0.5)


@clause_2("3.2.1", "a_max", "total l/250; brittle min(l/500; 20); other min(l/350; 20)", "mm")
def deflection_limit(l: float, kind: str) -> float:  # noqa: E741
    """Limits of sag: 'total', and after construction with 'brittle' partitions and finishes or 'non_brittle'
    ones, mm.

    l : number, mm; above 0
    kind : text

    >>> round(float(deflection_limit(6000.0, 'brittle')), 2)
    12.0
    """
    return {"total": l / 250.0, "brittle": min(l / 500.0, 20.0), "non_brittle": min(l / 350.0, 20.0)}[kind]


K_VALUES = {
    "udl": 5.0 / 48.0,
    "central": 1.0 / 12.0,
    "cantilever_udl": 0.25,
    "cantilever_end": 1.0 / 3.0,
}  # part 2, Table 3.1


@clause_2("3.7.2", "a", "K l^2 kappa", "mm")
def deflection_by_shape(k: float, l: float, curvature: float) -> float:  # noqa: E741
    """Deflection by one curvature and the shape of the moment diagram, mm.

    k : number (K); 0 or more
    l : number, mm; above 0
    curvature : number, 1/mm (1/r); either sign

    >>> round(float(deflection_by_shape(0.104167, 6000.0, 4.0e-6)), 2)
    15.0
    """
    return k * l**2 * curvature


@clause_2(
    "Table 3.1",
    "K",
    "5/48 (1 - (M_A + M_B)/(10 M_C))",
    names={"left": ("M_A", "N mm"), "right": ("M_B", "N mm"), "middle": ("M_C", "N mm")},
)
def continuous_k(left: float, right: float, middle: float) -> float:
    """K of a continuous span under uniform load by its end moments and the one at the middle.

    left : number, N mm (M_A); either sign
    right : number, N mm (M_B); either sign
    middle : number, N mm (M_C); above 0

    >>> round(float(continuous_k(2.0, 2.0, 1.0)), 4)
    0.0625
    """
    return 5.0 / 48.0 * (1.0 - (left + right) / (10.0 * middle))


@clause_2(
    "3.6",
    "a_lt",
    "a_lasting + a_total - a_permanent",
    "mm",
    names={"lasting": ("a_lasting", "mm"), "total": ("a_total", "mm"), "permanent": ("a_permanent", "mm")},
)
def long_term_deflection(lasting: Floats, total: Floats, permanent: Floats) -> Array:
    """What lasts with creep and shrinkage, and the short-term difference of the whole load, mm.

    lasting : number or array, mm (a_lasting); 0 or more
    total : number or array, mm (a_total); 0 or more
    permanent : number or array, mm (a_permanent); 0 or more

    >>> round(float(long_term_deflection(10.0, 6.0, 4.0)), 2)
    12.0
    """
    return np.asarray(np.asarray(lasting) + total - permanent)


@clause_2(
    "3.2.1", "a_after", "a_lt - a_before", "mm", names={"total": ("a_lt", "mm"), "before": ("a_before", "mm")}
)
def deflection_after(total: Floats, before: Floats) -> Array:
    """After construction, mm.

    total : number or array, mm (a_lt); 0 or more
    before : number or array, mm (a_before); 0 or more

    >>> round(float(deflection_after(12.0, 4.0)), 4)
    8.0
    """
    return np.asarray(np.asarray(total) - before)


@clause("3.4.6.1", "r_ld", "l/d", names={"l": ("l", "mm"), "d": ("d", "mm")})
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
    """Answers on deflection (3.4.6; part 2, 3.2, 3.7)."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    shown = ("permanent_service", "lasting")

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """Part 2, 3.2.1, without the absolute 20 mm, which a file can add."""
        return {"total": 250.0, "after_finishes": 350.0}

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """3.4.6, with the steel required at midspan (at the support of a cantilever)."""
        kind = {"simple": "simple", "cantilever": "cantilever"}.get(span.ends, "continuous")
        f_s = service_stress(steel.strength, max(span.provided, 1.0))
        wide = max(span.wide, 1.0)
        m_bd2 = moment_ratio(span.rho, self.materials.steel_law(steel).yield_stress, concrete.strength)
        factor = float(tension_factor(f_s, m_bd2)), float(compression_factor(100.0 * span.rho_compression))
        limit = permitted_ratio(basic_ratio(kind, 1.0 / wide), *factor, long_span_factor(span.length))
        return actual_ratio(span.length, span.d), limit, "number"

    def lines(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Part 2, 3.6: permanent loads with creep and shrinkage, the rest of the service load short-term;
        before finishes the permanent actions, short-term."""
        lasting = ask("permanent_service", "lasting", symbol="a_lasting")
        total, permanent = (
            ask("service", "short", symbol="a_total"),
            ask("service", "short", lasting=True, symbol="a_permanent"),
        )
        if len(permanent) != len(total):  # from tables: which row lasts beside which is not known
            permanent = permanent.min(axis=0, keepdims=True)
        if len(lasting) != len(total):
            lasting = lasting.max(axis=0, keepdims=True)
        whole = long_term_deflection(lasting, total, permanent)

        def before(day: float) -> Array:
            return ask("permanent", "short", before=wanted.loaded_before(day), symbol="a_before")

        return Deflections(
            striking=ask("permanent", "short", before=wanted.age_at_loading + 1e-6),
            immediate=total,
            long_term=whole,
            after_finishes=deflection_after(whole, before(wanted.finishes_at)),
            live=deflection_after(total, ask("permanent", "short", symbol="a_before"))
            if wanted.live
            else None,
            after_partitions=deflection_after(whole, before(wanted.partitions_at))
            if wanted.after_partitions
            else None,
        )
