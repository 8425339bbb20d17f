"""EN 1992-1-1 as a design code: the clauses put together, with the annex's values."""

from __future__ import annotations

import functools
import json
import math
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from upright_bramble.beam import Concrete, Cover, Flange, Service, Steel
from upright_bramble.codes.en1992 import bending, bond, cover, materials, shear, torsion
from upright_bramble.codes.en1992 import service as sls
from upright_bramble.codes.patterns import Arrangement, alternate_and_adjacent
from upright_bramble.codes.protocol import (
    Ask,
    Combination,
    CoverWish,
    Cracking,
    Deep,
    Deflections,
    EndFacts,
    Face,
    FlangeShear,
    Group,
    Reaches,
    ShearState,
    ShortSpan,
    Slender,
    Stage,
    Surroundings,
    TableControl,
    TensionZone,
    Tube,
    Twist,
    Value,
    Web,
)
from upright_bramble.codes.values import values_in_force
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic
from upright_bramble.section.strength import ConcreteLaw, SteelLaw
from upright_bramble.working import METRIC

# Cylinder/cube pairs of Table 3.1, and the two between them that British practice adds.
_GRADES = {
    f"C{f}/{c}": float(f)
    for f, c in (
        (12, 15), (16, 20), (20, 25), (25, 30), (28, 35), (30, 37), (32, 40), (35, 45), (40, 50),
        (45, 55), (50, 60), (55, 67), (60, 75), (70, 85), (80, 95), (90, 105),
    )
}  # fmt: skip
_STEELS = {f"B{f}{c}": Steel(float(f), c, f"B{f}{c}") for f in (400, 450, 500, 550, 600) for c in "ABC"}
_BARS = {str(d): float(d) for d in (6, 8, 10, 12, 14, 16, 20, 25, 28, 32, 40)}

_CLAUSES = {
    "bending.sagging": "6.1, 9.2.1.3",
    "bending.hogging": "6.1, 9.2.1.3",
    "ductility.sagging": "5.5(4)",
    "ductility.hogging": "5.5(4)",
    "redistribution.least": "5.5(4)",
    "redistribution.spans": "5.5(4)",
    "minimum.bottom": "9.2.1.1(1)",
    "minimum.top": "9.2.1.1(1)",
    "maximum.steel": "9.2.1.1(3)",
    "end-fixity.top": "9.2.1.2(1)",
    "support-share.bottom": "9.2.1.4(1), 9.2.1.5",
    "into-support.bottom": "9.2.1.5(2)",
    "anchorage.end": "9.2.1.4(2), 8.4.4",
    "curtailment.bottom": "9.2.1.3",
    "curtailment.top": "9.2.1.3",
    "shear.stirrups": "6.2.3(3)",
    "shear.crushing": "6.2.3(3)",
    "shear.near-support": "6.2.3(8)",
    "torsion.stirrups": "6.3.2(2)",
    "torsion.crushing": "6.3.2(4)",
    "torsion.spacing": "9.2.3(3)",
    "torsion.sides": "6.3.2(3), 9.2.3(4)",
    "torsion.side-spacing": "9.2.3(4)",
    "flange.crushing": "6.2.4(4)",
    "flange.steel": "6.2.4(4), 6.2.4(6)",
    "flange.crushing-tension": "6.2.4(4)",
    "flange.steel-tension": "6.2.4(4), 6.2.4(6)",
    "hanging.stirrups": "9.2.5(1)",
    "minimum.stirrups": "9.2.2(5)",
    "spacing.stirrups": "9.2.2(6)",
    "spacing.legs": "9.2.2(8)",
    "spacing.compressed": "9.2.1.2(3)",
    "fit.bottom": "8.2(2)",
    "fit.top": "8.2(2)",
    "fit.rows": "8.2(2)",
    "lap.bottom": "8.7.3(1)",
    "lap.top": "8.7.3(1)",
    "lap-stirrups.bottom": "8.7.4.1(3)",
    "lap-spacing.bottom": "8.7.4.1(3), Figure 8.9",
    "lap-spacing.top": "8.7.4.1(3), Figure 8.9",
    "lap-share.bottom": "8.7.2(4)",
    "lap-share.top": "8.7.2(4)",
    "lap-stirrups.top": "8.7.4.1(3)",
    "skin.spacing": "7.3.3(3)",
    "skin.area": "7.3.3(3), 7.3.2(2)",
    "bend.support": "8.4.1(2)",
    "bend.leg": "8.3, 8.4.1(2)",
    "inside.bars": "4.4.1",
    "cover.bars": "4.4.1.2(3)",
    "cover.concrete": "Table E.1N",
    "deflection.total": "7.4.3",
    "deflection.after-finishes": "7.4.3",
    "deflection.upward": "7.4.3",
    "deflection.span-depth": "7.4.2",
    "deflection.precamber": "7.4.1(4)",
    "deflection.after-partitions": "7.4.3",
    "deflection.live": "7.4.3",
    "crack-table.bottom": "7.3.3(2)",
    "crack-table.top": "7.3.3(2)",
    "concrete-stress.bottom": "7.2(3)",
    "concrete-stress.top": "7.2(3)",
    "concrete-stress-rare.bottom": "7.2(2)",
    "concrete-stress-rare.top": "7.2(2)",
    "bar-stress.bottom": "7.2(5)",
    "bar-stress.top": "7.2(5)",
    "minimum.cracks-bottom": "7.3.2(2)",
    "minimum.cracks-top": "7.3.2(2)",
    "cracking.bottom": "7.3.4",
    "cracking.top": "7.3.4",
    "bracing.span": "5.9(3)",
    "deep.span": "5.3.1(3)",
    "forces.combinations": "EN 1990, 6.4.3.2",
    "flange.outline": "6.2.4",
}


@functools.cache
def _tables() -> dict[str, Any]:
    text = (Path(__file__).parent.parent / "values" / "en1992-1-1.json").read_text("utf-8")
    loaded: dict[str, Any] = json.loads(text)
    return loaded


class EN1992:
    """EN 1992-1-1:2004+A1:2014 with EN 1990, for the recommended values or a national annex."""

    name = "en1992-1-1"
    levels = ("strength", "characteristic", "frequent", "quasi_permanent")
    rare_level = "characteristic"
    lasting_level = "quasi_permanent"
    rules = ("6.10", "6.10ab")
    catalogue: Mapping[str, float] = _BARS
    areas: Mapping[str, float] = {size: math.pi * d**2 / 4.0 for size, d in _BARS.items()}
    bar_sign = "ø"
    moment_symbol, concrete_shear_symbol, crushing_symbol, shear_symbol = "M_Rd", "V_Rd,c", "V_Rd,max", "V_Rd"
    symbols: Mapping[str, str] = {}
    turns_struts = True
    flexure_factor = 1.0
    diagrams = ("block", "parabola")
    cut_off_share = 0.0
    integrity = (0.0, 0)
    top_share = 0.0
    develops_torsion_bars = False
    perimeter_share = 0.0
    checks_inflection = False
    crushes_at_face = True
    limits_crack_width = True
    gross_uncracked = False
    crack_level, crack_stage = "quasi_permanent", "lasting"
    clauses: Mapping[str, str] = _CLAUSES
    out_of_scope: Sequence[str] = (
        "fire resistance beyond cover and axis distances", "fatigue", "second-order effects of axial force", "accidental actions, tying",
        "earthquake detailing (EN 1998-1)", "regions of struts and ties (deep spans, corbels, half joints)", "openings",
        "bundled, welded and coupled bars", "slab bars of flanges whose cross steel is not given (6.2.4)",
    )  # fmt: skip
    seismic_clause = "EN 1998-1, 5"
    usual_main_bars = ("12", "16", "20", "25", "32")
    usual_stirrup_bars = ("8", "10", "12")

    def __init__(self, annex: str, overrides: dict[str, float]) -> None:
        tables = _tables()
        if annex not in ("recommended", "uk"):
            raise CodeError(f"the annex '{annex}' is not known; known: recommended, uk")
        self.annex: str | None = annex
        entries = {**tables["recommended"], **(tables["uk"] if annex == "uk" else {})}
        self.values: Mapping[str, Value] = values_in_force(entries, overrides)
        self._v = {key: value.value for key, value in self.values.items()}
        self._kinds = {**tables["kinds"], **(tables["kinds_uk"] if annex == "uk" else {})}
        self._psi = {**tables["categories"], **(tables["categories_uk"] if annex == "uk" else {})}

    @property
    def title(self) -> str:
        words = "recommended values" if self.annex == "recommended" else "UK national annex"
        return f"EN 1992-1-1:2004+A1:2014, {words}"

    annexes: Sequence[str] = ("recommended", "uk")

    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        table = {**self._psi, **self._kinds}
        return {key: (e["psi_0"], e["psi_1"], e["psi_2"]) for key, e in table.items()}

    @property
    def kinds(self) -> Sequence[str]:
        return ("imposed", *self._kinds, "earthquake", "other")

    @property
    def categories(self) -> Sequence[str]:
        return tuple(self._psi)

    def short_span(self, span: ShortSpan) -> Deep | None:
        """5.3.1(3): a beam is at least three times as long as deep; 9.7(1) the mesh of those that are not. A cantilever counts as half a
        span; with its force within the depth from the face it is a corbel (J.3)."""
        mesh = max(bending.DEEP_MESH * span.b, bending.DEEP_MESH_LEAST)
        apart = min(2.0 * span.b, bending.DEEP_MESH_APART)
        if not span.cantilever and span.length < 3.0 * span.h * (1.0 - 1e-9):
            return Deep(f"deep beam: {span.length / span.h:.2f} times as long as deep, less than 3", "5.3.1(3), 9.7", mesh, apart)
        if span.cantilever and span.clear < span.h * (1.0 + 1e-9):
            return Deep("deep and short cantilever: no longer than deep", "5.3.1(3), J.3", mesh, apart)
        if span.cantilever and span.near <= span.h * (1.0 + 1e-9):
            return Deep("corbel: most of its shear comes from a force within the depth from its face", "J.3", mesh, apart)
        return None

    def bracing_limit(self, b: float, h: float) -> float:
        """5.9(3), persistent situations."""
        return float(bending.unbraced_length(b, h))

    # ---------------------------------------------------------------- materials

    def concrete_strength(self, grade: str) -> float:
        if grade in _GRADES:
            return _GRADES[grade]
        raise CodeError(f"the grade '{grade}' is not known; grades are {', '.join(_GRADES)}")

    def strength_range(self) -> tuple[float, float]:
        return 12.0, 90.0

    def steel(self, grade: str) -> Steel:
        if grade in _STEELS:
            return _STEELS[grade]
        raise CodeError(f"the steel '{grade}' is not known; such as B500A, B500B, B500C")

    def f_cd(self, concrete: Concrete) -> float:
        return materials.design_strength(concrete.strength, self._v["alpha_cc"], self._v["gamma_c"])

    def _f_ck_shear(self, concrete: Concrete) -> float:
        return min(concrete.strength, self._v["f_ck_shear_max"])

    def f_yd(self, steel: Steel) -> float:
        return materials.design_yield(steel.strength, self._v["gamma_s"])

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw:
        if concrete.diagram == "parabola":
            return self.parabola_law(concrete)
        f_ck = concrete.strength
        stress = materials.block_stress_factor(f_ck) * self.f_cd(concrete)
        return ConcreteLaw(stress, materials.ultimate_strain(f_ck), materials.block_depth_factor(f_ck))

    def narrowing_factor(self, concrete: Concrete) -> float:
        """3.1.7(3), of the rectangular block."""
        return materials.NARROWING if concrete.diagram != "parabola" else 1.0

    def parabola_law(self, concrete: Concrete) -> ConcreteLaw:
        """Parabola-rectangle diagram (3.1.7(1)): the independent path beside the block."""
        f_ck = concrete.strength
        peak, n = materials.strain_at_peak(f_ck), materials.parabola_exponent(f_ck)

        def curve(strain: Array) -> Array:
            return 1.0 - (1.0 - np.minimum(strain, peak) / peak) ** n

        # steel is proportioned with the block that stands for the diagram; verification integrates the diagram itself
        return ConcreteLaw(self.f_cd(concrete), materials.ultimate_strain(f_ck), materials.block_depth_factor(f_ck), curve)

    def steel_law(self, steel: Steel) -> SteelLaw:
        return SteelLaw(self.f_yd(steel), materials.E_S)

    def modulus(self, concrete: Concrete) -> float:
        return materials.secant_modulus(concrete.strength)

    def resistance_factor(self, strain: Array, steel: Steel) -> Array:
        """Partial factors on strengths carry it all."""
        return np.ones_like(strain)

    # ---------------------------------------------------------------- actions (EN 1990)

    @property
    def starter(self) -> Mapping[str, str]:
        return {
            "steel": "bars: B500B, stirrups: B500B",
            "category": "B                # A to H: gives the combination factors",
            "service": "deflection: {total: span/250, after_finishes: span/500, finishes_at: 60 days}, crack_width: 0.3 mm",
        }

    def default_category(self) -> str | None:
        return None

    def sustained_share(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """psi_2, of the characteristic load."""
        return tuple(1.0 if g.kind == "settlement" else self._psi_of(g)[2] for g in groups)

    def _psi_of(self, group: Group) -> tuple[float, float, float]:
        if group.psi is not None:
            return group.psi
        found = self._psi[group.category] if group.category else self._kinds.get(group.kind)
        return (found["psi_0"], found["psi_1"], found["psi_2"]) if found else (0.0, 0.0, 0.0)

    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]:
        """EN 1990 6.10 (or 6.10a and 6.10b) with every variable group leading in turn, 6.12b with an earthquake, and the
        three service levels (6.14b, 6.15b, 6.16b). Settlement is there or not; of winds at most one; snow comes all at once."""
        psi = [self._psi_of(g) for g in groups]
        sup, inf, q = self._v["gamma_G_sup"], self._v["gamma_G_inf"], self._v["gamma_Q"]
        settle = self._v["gamma_set"]
        variable = [i for i, g in enumerate(groups) if g.kind not in ("settlement", "earthquake")]
        leads = [*([i] for i in variable if groups[i].kind != "snow"), [i for i in variable if groups[i].kind == "snow"]]
        found: dict[tuple[str, float, tuple[float, ...]], Combination] = {}

        def add(level: str, permanent: float, factors: dict[int, float], settlement: float) -> None:
            """With and without settlement, and without each whole action that only accompanies."""
            for moved in (0.0, settlement) if any(g.kind == "settlement" for g in groups) else (0.0,):
                values = [moved if g.kind == "settlement" else factors.get(i, 0.0) for i, g in enumerate(groups)]
                key = (level, permanent, tuple(values))
                if key not in found:
                    words = [f"{permanent:g} G"] + [f"{f:g} Q[{g.key}]" for f, g in zip(values, groups, strict=True) if f]
                    found[key] = Combination(level, " + ".join(words), permanent, tuple(values))

        def led(level: str, permanent: float, first: float | int, others: int, scale: float, settlement: float) -> None:
            """Nothing, then each group leading (with `first`: a factor, or the index of a psi) and subsets beside it."""
            add(level, permanent, {}, settlement)
            for lead in (v for v in leads if v):
                leading = {i: scale * (psi[i][first] if isinstance(first, int) else first) for i in lead}
                for company in _company(groups, [i for i in variable if i not in lead], groups[lead[0]]):
                    add(level, permanent, {**leading, **{i: scale * psi[i][others] for i in company}}, settlement)

        if rule in ("", "6.10"):
            for permanent in (sup, inf):
                led("strength", permanent, 1.0, 0, q, settle)
        else:
            for permanent in (sup, inf):
                led("strength", permanent, 0, 0, q, settle)
            led("strength", self._v["xi"] * sup, 1.0, 0, q, settle)
            led("strength", inf, 1.0, 0, q, settle)
        for quake in (i for i, g in enumerate(groups) if g.kind == "earthquake"):
            for company in _company(groups, variable, None):
                add("strength", 1.0, {quake: 1.0, **{i: psi[i][2] for i in company}}, 1.0)
        led("characteristic", 1.0, 1.0, 0, 1.0, 1.0)
        led("frequent", 1.0, 1, 2, 1.0, 1.0)
        for company in _company(groups, variable, None):
            add("quasi_permanent", 1.0, {i: psi[i][2] for i in company}, 1.0)
        return list(found.values())

    def arrangements(self, spans: int) -> list[Arrangement]:
        """Load arrangements of 5.1.3(1)."""
        return alternate_and_adjacent(spans)

    # ---------------------------------------------------------------- flanges

    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """5.3.2.1(3): each side by itself, for the distance between points of no moment (Figure 5.2)."""
        left, span, right = (
            (float(bending.effective_overhang(flange.left, l_0)), float(bending.effective_overhang(flange.right, l_0)))
            for l_0 in zero_moment_distances(around)
        )
        return left, span, right

    # ---------------------------------------------------------------- support width

    def rounding(self, reaction: Array, width: float) -> Array:
        return bending.support_rounding(reaction, width)

    def face_moment(self, at_face: Array, full_fixity: Array) -> Array:
        return bending.face_moment(at_face, full_fixity)

    def end_hogging(self, span_moment: Array) -> Array:
        return bending.partial_fixity_moment(span_moment, self._v["beta_1"])

    # ---------------------------------------------------------------- bending

    def neutral_axis_share(self, x: Floats, d: Floats, outer: Floats) -> Array:
        """x_u/d, 5.5(4)."""
        return np.asarray(np.asarray(x) / d)

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        strain = 0.6 + 0.0014 / materials.ultimate_strain(concrete.strength)
        a, b = ("1", "2") if concrete.strength <= 50.0 else ("3", "4")
        slope = self._v[f"k_{b}_strain"] * strain + self._v[f"k_{b}_constant"]
        return bending.neutral_axis_limit(delta, self._v[f"k_{a}"], slope)

    def least_delta(self, steel: Steel) -> float:
        """k_5 for ductility classes B and C, k_6 for A (5.5(4))."""
        return self._v["k_6" if steel.ductility == "A" else "k_5"]

    def widest_span_ratio(self) -> float:
        """5.5(4): adjacent spans in the range 0.5 to 2."""
        return 2.0

    def minimum_steel_width(self, b_w: Array, b_f: Array, determinate: Mask) -> Array:
        """9.2.1.1(1) has the mean width of the tension zone anyway."""
        return b_w

    def least_tension_steel(self, concrete: Concrete, steel: Steel, b_w: Array, b_t: Array, d: Array, asked: Array) -> Array:
        f_ctm = materials.mean_tensile_strength(concrete.strength)
        factor, floor = self._v["As_min_factor"], self._v["As_min_floor"]
        return bending.least_tension_steel(b_t, d, f_ctm, steel.strength, factor, floor)

    def most_steel(self, gross_area: Array) -> Array:
        return bending.most_steel(self._v["As_max"], gross_area)

    def bottom_share(self, simple: bool) -> float:
        return self._v["beta_2"]

    def beyond_inflection(self, phi: float, d: float, clear: float) -> float:
        return 0.0

    def least_cover(self, phi: Floats, aggregate: float) -> Array:
        """4.4.1.2(3), 4.4.1.3(1): of a bar itself for bond, its diameter (5 mm more for large aggregate) and 10 mm of deviation."""
        return np.asarray(phi) + 10.0 + (cover.MORE_COVER if aggregate > cover.LARGE_AGGREGATE else 0.0)

    def least_strength(self, exposure: str) -> float:
        """Annex E, informative."""
        return cover.least_strength(exposure)

    def cover_unverified(self) -> str:
        """In the UK annex cover for durability is that of BS 8500-1, which is not in this program."""
        return "" if self.annex != "uk" else "cover for durability is that of BS 8500-1 in the UK annex; Table 4.4N was assumed"

    def cover_for(self, wish: CoverWish) -> Cover:
        """Table 4.4N in both annexes (`cover_unverified`): 4.4.1 all round, of stirrups and of main bars inside them; EN 1992-1-2, 5.6 at
        soffit and sides, for the thinnest bars."""
        deviation = 10.0 if wish.deviation is None else wish.deviation
        stated = wish.structural_class
        durable = cover.durability_cover(wish.exposure, cover.structural_class(wish.exposure, wish.strength) if stated is None else stated)
        coarse = cover.MORE_COVER if wish.aggregate > cover.LARGE_AGGREGATE else 0.0
        tie = cover.nominal_cover(durable, wish.ties[1] + coarse, deviation)
        least = max(tie, cover.nominal_cover(durable, wish.bars[1] + coarse, deviation) - wish.ties[0])
        exposed = least
        if wish.fire is not None:
            # from 90 minutes on Table 5.6 counts on longer top bars (5.6.3(3)), which nothing here verifies
            a = cover.fire_axis_distance(wish.fire, wish.width, wish.continuous and wish.fire < 90) + cover.CORNER
            exposed = max(least, a - 0.5 * wish.bars[0] - wish.ties[0])
        top, other = (math.ceil(v / 5.0 - 1e-9) * 5.0 for v in (least, exposed))
        return Cover(top, other, other)

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """9.2.1.5(2): 10 phi past an inner face for straight bars; at simple ends the anchorage says it."""
        return (0.0 if simple else 10.0) * np.asarray(phi)

    # ---------------------------------------------------------------- shear

    def _shear_strength(self, concrete: Concrete) -> tuple[float, float]:
        f_ck = self._f_ck_shear(concrete)
        nu_1 = shear.strength_reduction(f_ck, self._v["nu_1_factor"])
        return nu_1, materials.design_strength(f_ck, self._v["alpha_cc_shear"], self._v["gamma_c"])

    def lever(self, d: Floats) -> Array:
        return shear.lever(d)

    def strut(self, concrete: Concrete, b: Array, d: Array, v_ed: Array, reserve: float, axial: Floats = 0.0) -> Array:
        """UK annex, 6.2.3(2): 45 degrees beside tension from outside."""
        nu_1, f_cd = self._shear_strength(concrete)
        least, most = self._v["cot_theta_min"], self._v["cot_theta_max"]
        found = shear.flattest_strut(v_ed / (1.0 - reserve), b, self.lever(d), nu_1, f_cd, least, most)
        pulled = (np.asarray(axial) < -1.0) & (self.annex == "uk")
        return np.where(pulled, np.minimum(found, max(least, 1.0)), found)

    def shear(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        nu_1, f_cd = self._shear_strength(concrete)
        z = self.lever(web.d)
        c_rd_c = self._v["C_Rd_c"] / self._v["gamma_c"]
        sigma = np.minimum(np.asarray(web.axial) / web.gross, 0.2 * f_cd)
        alone = shear.resistance_without_stirrups(web.b, web.d, web.a_sl, self._f_ck_shear(concrete), c_rd_c, self._v["v_min"], sigma)
        tied = shear.stirrup_resistance(asw_s, z, self.f_yd(steel), cot)
        crushed = shear.crushing_resistance(web.b, z, nu_1, f_cd, cot)
        return ShearState(z, cot, alone, tied, crushed, shear.resistance(alone, tied, crushed))

    def shear_model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        return [f"cot theta {c:.2f}" for c in cot]

    def near_support_share(self, a_v: Array, d: float) -> Array:
        """beta, 6.2.3(8)."""
        return shear.near_support_factor(a_v, d)

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """A_sw f_ywd, 6.2.3(8)."""
        return float(shear.stirrups_near_support(area, self.f_yd(steel)))

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array:
        return shear.stirrups_required(v_ed, self.lever(web.d), self.f_yd(steel), cot)

    def least_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array:
        return shear.least_stirrups(b, concrete.strength, steel.strength, self._v["rho_w_min"])

    def widest_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return shear.widest_spacing(web.d, self._v["s_l_max"])

    def widest_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return shear.widest_leg_spacing(web.d, self._v["s_t_max"], self._v["s_t_most"])

    def compressed_bar_spacing(self, phi: Floats, tie: float, least: Floats) -> Array:
        """9.2.1.2(3)."""
        return bending.compressed_bar_spacing(phi)

    def shift(self, d: Floats, cot: Floats) -> Array:
        return shear.shift(self.lever(d), cot)

    def end_anchorage_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array:
        return shear.end_anchorage_force(v_ed, self.shift(d, cot), self.lever(d))

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """9.2.1.4(2), and the share of the bottom bars of 6.3.2(3)."""
        a_l, z = self.shift(end.d, end.cot), self.lever(end.d)
        return float(shear.end_tension(end.shear, a_l, z, end.axial_tension, end.torsion)), end.force, "force"

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        """None: the moment line is shifted instead (9.2.1.3)."""
        return np.asarray(0.0 * np.asarray(phi) * np.asarray(d))

    def flange_shear(
        self, concrete: Concrete, steel: Steel, force: float, thickness: float, length: float, pulled: bool
    ) -> FlangeShear | None:
        """6.2.4: cot theta_f from 1 to 2 in compression, to 1.25 in tension; up to 0.4 f_ctd nothing beyond the slab's own steel."""
        nu, f_cd = self._shear_strength(concrete)
        v = float(shear.flange_stress(force, thickness, length))
        cot = float(shear.flattest_strut(v, 1.0, 1.0, nu, f_cd, 1.0, 1.25 if pulled else 2.0))
        f_ctd = materials.design_tensile_strength(concrete.strength, self._v["alpha_ct"], self._v["gamma_c"])
        asked = 0.0 if v <= 0.4 * f_ctd else float(shear.flange_steel(v, thickness, self.f_yd(steel), cot))
        return FlangeShear(v, float(shear.flange_crushing(nu, f_cd, cot)), asked)

    def hanging_steel(self, steel: Steel, reaction: float) -> float:
        """9.2.5(1): for the whole reaction."""
        return max(reaction, 0.0) / self.f_yd(steel)

    # ---------------------------------------------------------------- torsion

    def torsion_reach(self, b_t: Floats, d: Floats) -> Array:
        """None beyond the shift of the moment line."""
        return np.asarray(0.0 * np.asarray(b_t) * d)

    def torsion_bar_diameter(self, spacing: Floats) -> Array:
        return np.asarray(0.0 * np.asarray(spacing))

    def _walls(self, tube: Tube) -> tuple[Array, Array, Array]:
        """t_ef, A_k, u_k."""
        t_ef = torsion.wall_thickness(tube.b * tube.h, 2.0 * (tube.b + tube.h), tube.bar_axis)
        t_ef = np.minimum(t_ef, 0.45 * np.minimum(tube.b, tube.h))
        return t_ef, torsion.enclosed_area(tube.b, tube.h, t_ef), torsion.enclosed_perimeter(tube.b, tube.h, t_ef)

    def torque_as_shear(self, tube: Tube, d: Array, torque: Array) -> Array:
        t_ef, a_k, _ = self._walls(tube)
        return np.asarray(torque * tube.b * self.lever(d) / (2.0 * a_k * t_ef))

    def twist(
        self,
        concrete: Concrete,
        steels: tuple[Steel, Steel],
        web: Web,
        tube: Tube,
        shear: Array,
        torque: Array,
        cot: Array,
        compatible: bool,
    ) -> Twist:
        """6.3.2: none where (6.31) holds, nor for torque of compatibility (6.3.1(2))."""
        bars, stirrups = steels
        nu_1, f_cd = self._shear_strength(concrete)
        t_ef, a_k, u_k = self._walls(tube)
        f_ctd = materials.design_tensile_strength(concrete.strength, self._v["alpha_ct"], self._v["gamma_c"])
        state = self.shear(concrete, stirrups, web, np.zeros_like(web.d), cot)
        small = torque / torsion.cracking_torque(a_k, t_ef, f_ctd) + shear / np.maximum(state.concrete, 1e-9) <= 1.0
        t = np.where(small | compatible, 0.0, torque)
        used = t / torsion.crushing_torque(nu_1, f_cd, a_k, t_ef, cot) + shear / np.maximum(state.crushing, 1e-9)
        u = 2.0 * (tube.b + tube.h)
        return Twist(
            torsion.stirrups_required(t, a_k, self.f_yd(stirrups), cot),
            torsion.bars_required(t, a_k, u_k, self.f_yd(bars), cot),
            u_k, tube.h - t_ef, np.where(t > 0.0, used, 0.0), np.where(t > 0.0, torsion.widest_spacing(u), np.inf), torsion.BAR_SPACING,
        )  # fmt: skip

    # ---------------------------------------------------------------- bars

    def hooked(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        apart: Floats = 0.0,
        cover: Floats = 0.0,
        core: Floats = False,
    ) -> Array | None:
        """Bends count by their length (8.4.4 with alpha_1 = 1)."""
        return None

    def _basic_anchorage(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats) -> Array:
        f_ctd = materials.design_tensile_strength(min(concrete.strength, 60.0), self._v["alpha_ct"], self._v["gamma_c"])
        f_bd = bond.bond_strength(f_ctd, phi, bond.good_bond(height, h))
        return bond.basic_anchorage(phi, self.f_yd(steel), f_bd)

    def anchorage(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats) -> Array:
        """l_bd for full yield with every alpha at 1.0, which is on the safe side."""
        return bond.anchorage_length(phi, self._basic_anchorage(concrete, steel, phi, height, h))

    def least_anchorage(self, anchorage: Floats, phi: Floats) -> Array:
        """l_b,min (8.6) of bars in tension, however little they are stressed; `anchorage` is l_b,rqd at full yield."""
        return np.maximum(np.maximum(0.3 * np.asarray(anchorage), 10.0 * np.asarray(phi)), 100.0)

    def skin(self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service) -> tuple[float, float]:
        """7.3.3(3), from 1000 mm of depth: k_c k f_ctm A_ct/f_yk with k = 0.5 (k_c 0.4, half the section in tension); as far apart as Table
        7.3N says for half the stress of the main bars, which is no more than k_3 f_yk (7.2(5))."""
        if h < 1000.0:
            return math.inf, 0.0
        _, _, most = sls.stress_limits(concrete.strength, steel.strength)
        apart = float(sls.widest_bar_spacing(0.5 * most, self.crack_limit(wanted)))
        return max(apart, 50.0), 0.4 * 0.5 * materials.mean_tensile_strength(concrete.strength) * 0.5 * b * h / steel.strength

    def lap_cross_steel(self, phi: float, share: float) -> float:
        """8.7.4.1(3): the area of one lapped bar, from 20 mm on and where more than a quarter is lapped."""
        return math.pi * phi**2 / 4.0 if phi >= 20.0 and share > 0.25 else 0.0

    def may_lap(self, phi: float) -> bool:
        return True

    def confinement(
        self,
        steel: Steel,
        phi: float,
        spacing: float,
        tie_area: float,
        tie_spacing: float,
        number: float,
    ) -> tuple[float, float]:
        """alpha_3 and alpha_5 are 1: nothing is counted on."""
        return 0.0, 0.0

    def confining_spacing(self, steel: Steel, phi: float, tie_area: float, number: float) -> float:
        return math.inf

    def tie_legs(self, number: Floats) -> Array:
        return np.asarray(0.0 * np.asarray(number))

    def lap_cross_spacing(self, phi: float, share: float) -> float:
        """8.7.4.1(3) with Figure 8.9."""
        return bond.LAP_CROSS_SPACING if self.lap_cross_steel(phi, share) > 0.0 else math.inf

    def lap_share_limit(self, rows: int, tension: bool) -> float:
        """8.7.2(4): all in one row; half of bars in several rows; all in compression."""
        return 0.5 if rows > 1 and tension else 1.0

    def lap_clear(self, phi: Floats, aggregate: float) -> Array:
        """8.7.2(3)."""
        return np.asarray(np.maximum(bond.lap_clear_distance(phi), self.clear_spacing(phi, aggregate)))

    def lap(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats, share: float = 1.0) -> Array:
        """l_0 with alpha_6 for the bars lapped at one place (Table 8.3)."""
        a6 = bond.lap_share_factor(100.0 * share)
        return bond.lap_length(phi, self._basic_anchorage(concrete, steel, phi, height, h), a6)

    def anchored_beyond_for_shear(self, anchorage: Array, d: Array) -> Array:
        """6.2.2(1): bars count in rho_l when they go on for l_bd + d."""
        return anchorage + d

    def clear_spacing(self, phi: Floats, aggregate: float) -> Array:
        return bond.clear_spacing(phi, aggregate, self._v["k_clear_1"], self._v["k_clear_2"])

    def bend_radius(self, phi: float) -> float:
        return 0.5 * float(bond.mandrel(phi))

    def wider_mandrel(self, concrete: Concrete, steel: Steel, phi: float, force: float, beside: float) -> float:
        """(8.1) in 8.3(3), with f_cd of no more than C55/67."""
        f_cd = materials.design_strength(min(concrete.strength, 55.0), self._v["alpha_cc"], self._v["gamma_c"])
        return float(bond.mandrel_for_concrete(force, beside, phi, f_cd))

    def tie_radius(self, phi: float) -> float:
        return self.bend_radius(phi)

    def tie_tail(self, phi: float) -> float:
        """Hook and tail of a closed stirrup (Figure 8.5) with the bend's length."""
        return max(16.0 * phi, 160.0)

    def least_leg(self, phi: float, kind: str) -> float:
        """Outer length of the leg beyond a bend: the curve and 5 phi (Figure 8.1)."""
        return 0.0 if kind in ("straight", "lap") else self.bend_radius(phi) + 6.0 * phi

    # ---------------------------------------------------------------- service

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """7.4.2(2) with Table 7.4N."""
        k = {"simple": 1.0, "end": 1.3, "interior": 1.5, "cantilever": 0.4}[span.ends]
        basic = float(sls.basic_span_depth(concrete.strength, span.rho, span.rho_compression, k))
        cantilever = span.ends == "cantilever"
        factor = sls.span_depth_factor(steel.strength, span.provided, self._v["span_depth_most"], span.wide, span.length, cantilever)
        return span.length / span.d, basic * factor, "number"

    def stress_limits(self, concrete: Concrete, steel: Steel, exposure: str | None) -> tuple[float, float, float]:
        """7.2(3) and (5); 7.2(2) in the classes XD, XF and XS."""
        rare, lasting, bars = sls.stress_limits(concrete.strength, steel.strength)
        return lasting, bars, rare if (exposure or "").startswith(("XD", "XF", "XS")) else math.inf

    def least_crack_steel(self, concrete: Concrete, steel: Steel, zone: TensionZone, h: Array) -> Array:
        """7.3.2(2), bars at yield; flanges in tension with a k_c of their own."""
        f_ctm = materials.mean_tensile_strength(concrete.strength)
        web = sls.least_crack_steel(zone.web, h, f_ctm, steel.strength)
        if not zone.flange.any():
            return web
        return np.asarray(web + sls.flange_crack_steel(zone.flange, zone.share, h, f_ctm, steel.strength))

    units = METRIC

    def _stress_ratio(self, concrete: Concrete, service: Service, stress: Floats) -> Array:
        """k_sigma of (3.7), over f_ck at first loading."""
        age = min(service.age_at_loading, 28.0)
        young = materials.strength_growth(age, service.cement) * materials.mean_strength(concrete.strength) - 8.0
        return np.asarray(np.asarray(stress) / max(min(young, concrete.strength), 1.0))

    def creeps_beyond(self, concrete: Concrete, service: Service, stress: Array) -> Mask:
        """3.1.4(4): above 0.45 f_ck(t_0)."""
        return np.asarray(self._stress_ratio(concrete, service, stress) > materials.PROPORTIONAL)

    def stages(self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0) -> Mapping[str, Stage]:
        """'short' (no creep), 'striking' (young), 'finishes' and 'partitions' (just before they are built) and 'lasting' (final), arrays
        over notional sizes. All load creeps from the first loading on, which is on the safe side."""
        f_ck, wanted = concrete.strength, service
        e_cm = materials.secant_modulus(f_ck)
        f_ctm = materials.mean_tensile_strength(f_ck)

        def stage(t: float) -> Stage:
            phi = materials.creep_coefficient(f_ck, wanted.humidity, h_0, wanted.age_at_loading, t, wanted.cement)
            phi = materials.nonlinear_creep(phi, self._stress_ratio(concrete, wanted, stress))
            shrunk = materials.shrinkage_strain(f_ck, wanted.humidity, h_0, t, cement=wanted.cement)
            return Stage(sls.effective_modulus(e_cm, phi), e_cm, f_ctm, shrunk, True, materials.E_S, t, float(np.max(phi)))

        age, none = wanted.age_at_loading, np.zeros(len(h_0))
        young_e = materials.modulus_at(f_ck, min(age, 28.0), wanted.cement)
        young_f = min(materials.tensile_strength_at(f_ck, age, wanted.cement), f_ctm)
        return {
            "short": Stage(np.full(len(h_0), e_cm), e_cm, f_ctm, none, False, materials.E_S, age),
            "striking": Stage(np.full(len(h_0), young_e), young_e, young_f, none, False, materials.E_S, age),
            "finishes": stage(wanted.finishes_at),
            "partitions": stage(wanted.partitions_at),
            "lasting": stage(float("inf")),
        }

    early_stage = "striking"
    averages_stiffness = False

    def cracked_share(self, moment: Array, uncracked: Elastic, h: Array, stage: Stage) -> Array:
        """zeta, 7.4.3(3)."""
        m_cr = stage.tensile_strength * uncracked.i / np.maximum(h - uncracked.x, 1e-9)
        return sls.distribution(moment, m_cr, 0.5 if stage.lasting else 1.0)

    def curvature(
        self, moment: Array, uncracked: Elastic, cracked: Elastic, h: Array, stage: Stage, lasting: bool, before: Floats = 0.0
    ) -> Array:
        """7.4.3(3): between uncracked and cracked; `moment` (rows, n) tension at the section's bottom positive.

        Shrinkage curvature (7.4.3(6)) is added with the same distribution, in the sense that bars near the tension
        face give it.
        """
        m_cr = stage.tensile_strength * uncracked.i / np.maximum(h - uncracked.x, 1e-9)
        share = np.maximum(sls.distribution(moment, m_cr, 0.5 if lasting else 1.0), before)
        alpha = stage.alpha_e
        state_2 = sls.state_curvature(
            moment, stage.modulus, cracked.i, sls.shrinkage_curvature(stage.shrinkage, alpha, cracked.s, cracked.i)
        )
        state_1 = sls.state_curvature(
            moment, stage.modulus, uncracked.i, sls.shrinkage_curvature(stage.shrinkage, alpha, uncracked.s, uncracked.i)
        )
        return sls.mean_curvature(share, state_2, state_1)

    def deflections(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Quasi-permanent load without creep; with creep and shrinkage; less what the permanent actions did before finishes or partitions;
        characteristic less permanent load without creep."""
        long_term = ask("quasi_permanent", "lasting")
        return Deflections(
            striking=ask("permanent", "striking", before=wanted.age_at_loading + 1e-6),
            immediate=ask("quasi_permanent", "short"),
            long_term=long_term,
            after_finishes=long_term - ask("permanent", "finishes", before=wanted.loaded_before(wanted.finishes_at)),
            live=ask("characteristic", "short") - ask("permanent", "short") if wanted.live else None,
            after_partitions=(
                long_term - ask("permanent", "partitions", before=wanted.loaded_before(wanted.partitions_at))
                if wanted.after_partitions
                else None
            ),
        )

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """7.4.1(4) and (5)."""
        return {"total": 250.0, "after_finishes": 500.0}

    total_is_advice = False

    def crack_table(self, stress: Array, face: Face, concrete: Concrete, wanted: Service) -> TableControl:
        """7.3.3(2)."""
        width, f_ctm = self.crack_limit(wanted), materials.mean_tensile_strength(concrete.strength)
        most_phi = sls.largest_bar(stress, width, f_ctm, face.h, face.depth)
        return TableControl(face.phi, most_phi, face.spacing, sls.widest_bar_spacing(stress, width))

    def tension_flange(self, flange: float, clear: float) -> float:
        """9.2.1.2(2): bars may be spread, none have to."""
        return 0.0

    def cracking(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> Cracking:
        """w_k (7.3.4) for `moment` >= 0 against its limit, mm."""
        h_ef = sls.effective_tension_depth(face.h, face.depth, cracked.x)
        # bars outside the effective area control no crack: they do not count (7.3.4(2), Figure 7.1)
        inside = np.where(face.depths >= (face.h - h_ef)[:, None] - 1e-6, face.areas, 0.0)
        area = inside.sum(axis=1)
        none = area <= 1e-6
        depth = np.where(none, face.outer, (inside * face.depths).sum(axis=1) / np.where(none, 1.0, area))
        sigma = stage.alpha_e * moment * np.maximum(depth - cracked.x, 0.0) / cracked.i
        rho = sls.effective_ratio(np.where(none, 0.0, area), face.b, h_ef)
        # without a bar in the effective area cracks are as far apart as (7.14) says
        apart = np.where(none, np.inf, face.spacing)
        s_r = sls.crack_spacing(face.cover, face.phi, rho, apart, face.h, cracked.x, self._v["k_3_crack"], self._v["k_4_crack"])
        # here alpha_e is E_s/E_cm, by the clause; the stress above comes from the section with creep
        strain = sls.strain_difference(sigma, rho, materials.E_S / stage.short_modulus, stage.tensile_strength)
        width = sls.crack_width(s_r, strain)
        return Cracking(width, np.full_like(width, self.crack_limit(wanted)), "crack", width, sigma, depth)

    def crack_limit(self, service: Service) -> float:
        """Table 7.1N: by the exposure class, of which X0 and XC1 ask for looks alone."""
        usual = self._v["w_max_dry" if service.exposure in ("X0", "XC1") else "w_max"]
        return usual if service.crack_width is None else service.crack_width

    def uncracked_under(self, moment: Array, uncracked: Elastic, h: Array, concrete: Concrete) -> Mask:
        """7.1(2): no crack where the concrete's tension stays below f_ctm."""
        f_ctm = materials.mean_tensile_strength(concrete.strength)
        return np.asarray(moment * (h - uncracked.x) / uncracked.i < f_ctm)


def zero_moment_distances(around: Surroundings) -> tuple[float, float, float]:
    """l_0 of Figure 5.2 over the left support, in the span, over the right support, mm."""
    length, held = around.length, [around.left, around.right]
    if "free" in held:
        behind = around.before if around.left != "free" else around.after
        l_0 = 0.15 * (behind or 0.0) + length
        return l_0, l_0, l_0
    ends = sum(kind != "simple" for kind in held)
    inside = (1.0, 0.85, 0.7)[ends] * length

    def over(kind: str, beyond: float | None) -> float:
        return inside if kind == "simple" else 0.15 * (length + (beyond or 0.0))

    return over(around.left, around.before), inside, over(around.right, around.after)


def _company(groups: Sequence[Group], others: list[int], lead: Group | None) -> list[list[int]]:
    """Sets of groups beside a leader: all that can be arranged by span, and of each whole kind one or none, none of the
    leader's own kind."""
    arranged = [i for i in others if not groups[i].whole]
    choices: list[list[int]] = [[]]
    for kind in dict.fromkeys(groups[i].kind for i in others if groups[i].whole):
        if lead is not None and lead.whole and lead.kind == kind:
            continue
        mine = [i for i in others if groups[i].kind == kind]
        choices = [[*chosen, *more] for chosen in choices for more in ([], *([i] for i in mine))]
    return [[*arranged, *chosen] for chosen in choices]
