"""ACI 318-19 (or 318M-19) as a design code: the sections put together, with the values in force."""

from __future__ import annotations

import functools
import itertools
import json
import math
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from upright_bramble.beam import Concrete, Cover, Flange, Service, Steel
from upright_bramble.codes.aci318 import bars, flexure, service, shear, torsion
from upright_bramble.codes.aci318.expressions import INCH_POUND, METRIC, Expressions
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
from upright_bramble.working import Units

_CLAUSES = {
    "bending.sagging": "9.5.2, 9.7.3",
    "bending.hogging": "9.5.2, 9.7.3",
    "ductility.sagging": "9.3.3.1",
    "ductility.hogging": "9.3.3.1, 6.6.5",
    "redistribution.least": "6.6.5.3",
    "minimum.bottom": "9.6.1.2",
    "minimum.top": "9.6.1.2",
    "support-share.bottom": "9.7.3.8",
    "support-share.top": "9.7.3.8.4",
    "into-support.bottom": "9.7.3.8",
    "anchorage.end": "9.7.3.8.3",
    "integrity.bottom": "9.7.7.2",
    "integrity.number": "9.7.7.2",
    "integrity.through": "9.7.7.2, 9.7.7.5",
    "integrity.top": "9.7.7.1",
    "integrity.end-bottom": "9.7.7.1, 9.7.7.4",
    "integrity.end-top": "9.7.7.1, 9.7.7.4",
    "lateral.bottom": "9.7.3.8.2",
    "anchorage.inflection": "9.7.3.8.3",
    "confinement.bars": "9.7.1.4, 25.4.2.2",
    "lap-size.bottom": "25.5.1.1",
    "lap-size.top": "25.5.1.1",
    "spacing.compressed-legs": "9.7.6.4.4",
    "torsion.bar-size": "9.7.5.2",
    "bend.leg": "25.3.1",
    "curtailment.bottom": "9.7.3.3, 9.7.3.4",
    "curtailment.top": "9.7.3.3, 9.7.3.4",
    "cut-off.bottom": "9.7.3.5",
    "cut-off.top": "9.7.3.5",
    "shear.stirrups": "22.5",
    "shear.crushing": "22.5.1.2",
    "torsion.stirrups": "22.7.6.1",
    "torsion.crushing": "22.7.7.1",
    "torsion.spacing": "9.7.6.3.3",
    "torsion.sides": "22.7.6.1, 9.7.5.1",
    "torsion.side-spacing": "9.7.5.1",
    "hanging.stirrups": "9.4.3.2(b)",
    "minimum.stirrups": "9.6.3.4",
    "spacing.stirrups": "9.7.6.2.2",
    "spacing.legs": "9.7.6.2.2",
    "spacing.compressed": "9.7.6.4.3",
    "fit.bottom": "25.2.1",
    "fit.top": "25.2.1",
    "fit.rows": "25.2.2",
    "lap.bottom": "25.5.2.1",
    "lap.top": "25.5.2.1",
    "skin.spacing": "9.7.2.3",
    "skin.area": "9.7.2.3",
    "bend.support": "25.4.3",
    "inside.bars": "20.5.1",
    "cover.bars": "25.4.2.3",
    "deflection.total": "24.2.2",
    "deflection.after-finishes": "24.2.2",
    "deflection.upward": "24.2.2",
    "deflection.span-depth": "9.3.1.1",
    "deflection.precamber": "24.2.2",
    "deflection.after-partitions": "24.2.2",
    "deflection.live": "24.2.2",
    "deflection.averaged": "24.2.3.6",
    "tension-flange.top": "24.3.4",
    "tension-flange.bottom": "24.3.4",
    "cracking.bottom": "24.3.2",
    "cracking.top": "24.3.2",
    "bracing.span": "9.2.3.1",
    "deep.span": "9.9.1.1",
    "forces.combinations": "5.3.1",
    "flange.outline": "7.5.2.3",
}


@functools.cache
def _tables() -> dict[str, Any]:
    text = (Path(__file__).parent.parent / "values" / "aci318-19.json").read_text("utf-8")
    loaded: dict[str, Any] = json.loads(text)
    return loaded


class ACI318:
    """ACI 318-19 in one of its two sets of expressions."""

    levels = ("strength", "dead", "service", "sustained")
    rare_level = "service"
    lasting_level = "sustained"
    rules = ("5.3.1",)
    annex: str | None = None
    annexes: Sequence[str] = ()
    clauses: Mapping[str, str] = _CLAUSES
    cut_off_share = 2.0 / 3.0
    develops_torsion_bars = True
    perimeter_share = 1.0 / 6.0
    checks_inflection = True
    crushes_at_face = False
    limits_crack_width = False
    integrity = (0.25, 2)
    bar_sign = "#"
    out_of_scope: Sequence[str] = (
        "fire (ACI 216.1)", "fatigue", "second-order effects of axial force", "earthquake detailing (chapter 18)",
        "regions of struts and ties (deep spans, corbels, dapped ends)", "openings", "bundled, welded and coupled bars",
        "slab bars of flanges (7.5.2.3, 24.3.4)",
    )  # fmt: skip
    seismic_clause = "chapter 18"
    diagrams = ("block",)
    moment_symbol, concrete_shear_symbol, crushing_symbol, shear_symbol = "phi M_n", "phi V_c", "phi V_n,max", "phi V_n"

    turns_struts = False
    symbols: Mapping[str, str] = {
        "x": "c", "x/d": "c/d", "x/d limit": "c/d, most", "sigma_s": "f_s", "alpha_e": "n", "A_c": "A_g", "I": "I_g", "x_cr": "kd",
        "A_sw/s": "A_v/s", "A_sw/s,min": "A_v,min/s", "A_s2": "A_s'", "A_s,req": "A_s", "M_s": "M_u/phi", "M_lim": "M_n, most", "z": "jd",
        "w_k": "w", "s_max": "s, most",
    }  # fmt: skip

    def __init__(self, metric: bool, overrides: dict[str, float]) -> None:
        self.x: Expressions = METRIC if metric else INCH_POUND
        self.name = self.x.name
        tables = _tables()
        entries = tables["values"]
        self.values: Mapping[str, Value] = values_in_force(entries, overrides)
        self._v = {key: value.value for key, value in self.values.items()}
        self._categories, self._kinds = tables["categories"], tables["kinds"]
        table, scale = (bars.SI_BARS, 1.0) if metric else (bars.US_BARS, 25.4)
        self.catalogue: Mapping[str, float] = {size: d * scale for size, (d, _) in table.items()}
        self.areas: Mapping[str, float] = {size: a * scale**2 for size, (_, a) in table.items()}
        self.usual_main_bars = ("13", "16", "19", "22", "25", "29", "32") if metric else ("4", "5", "6", "7", "8", "9", "10")
        self.usual_stirrup_bars = ("10", "13") if metric else ("3", "4")

    @property
    def title(self) -> str:
        return "ACI 318M-19, SI expressions" if self.x is METRIC else "ACI 318-19, inch-pound expressions"

    def short_span(self, span: ShortSpan) -> Deep | None:
        """9.9.1.1(a): clear spans of no more than four depths; (b) where most of the shear comes from a force within two depths of the
        face, of a cantilever within one (16.5). 9.9.3.1 and 9.9.4.3 the mesh."""
        mesh, apart = flexure.DEEP_MESH * span.b * 0.5, min(0.9 * span.h / 5.0, self.x.widest[1])
        if not span.cantilever and span.clear <= 4.0 * span.h * (1.0 + 1e-9):
            return Deep(f"deep beam: clear span {span.clear / span.h:.2f} depths, no more than 4", "9.9.1.1(a)", mesh, apart)
        if span.cantilever and span.clear <= span.h * (1.0 + 1e-9):
            return Deep("deep and short cantilever: no longer than deep", "9.9.1.1", mesh, apart)
        if span.cantilever and span.near <= span.h * (1.0 + 1e-9):
            return Deep("bracket or corbel: most of its shear comes from a force within the depth from its face", "16.5", mesh, apart)
        if span.near <= 2.0 * span.h * (1.0 + 1e-9):
            return Deep("deep region: most of the shear comes from a force within two depths of the face", "9.9.1.1(b)", mesh, apart)
        return None

    def bracing_limit(self, b: float, h: float) -> float:
        """9.2.3.1(b)."""
        return float(flexure.bracing_distance(b))

    # ---------------------------------------------------------------- materials

    def concrete_strength(self, grade: str) -> float:
        raise CodeError(f"'{grade}' is no strength; give 'strength', such as {'4000 psi' if self.x is INCH_POUND else '28 MPa'}")

    def strength_range(self) -> tuple[float, float]:
        return self.x.strength

    def steel(self, grade: str) -> Steel:
        known = {"40": 40_000.0, "60": 60_000.0, "80": 80_000.0, "100": 100_000.0} if self.x is INCH_POUND else {
            "280": 280.0, "420": 420.0, "550": 550.0, "690": 690.0}  # fmt: skip
        number = grade.lower().removeprefix("grade").strip()
        if number in known:
            return Steel(known[number] * self.x.stress, "", f"Grade {number}")
        raise CodeError(f"the steel '{grade}' is not known; such as {', '.join(f'Grade {n}' for n in known)}")

    @property
    def starter(self) -> Mapping[str, str]:
        inch = self.x is INCH_POUND
        return {
            "steel": "yield: 60 ksi" if inch else "yield: 420 MPa",
            "strength": "strength: 4000 psi" if inch else "strength: 28 MPa",
            "category": f"occupied         # {', '.join(self.categories)}: gives the factors beside other loads",
            "service": "deflection: {total: span/240, after_finishes: span/240, finishes_at: 60 days}",
        }

    def default_category(self) -> str | None:
        return "heavy"

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw:
        f_c = concrete.strength
        return ConcreteLaw(flexure.BLOCK_STRESS * f_c, flexure.ULTIMATE_STRAIN, float(flexure.block_depth_factor(f_c, self.x)))

    def narrowing_factor(self, concrete: Concrete) -> float:
        return 1.0

    def steel_law(self, steel: Steel) -> SteelLaw:
        return SteelLaw(steel.strength, self.x.steel_modulus)

    def modulus(self, concrete: Concrete) -> float:
        return flexure.modulus(concrete.strength, self.x)

    def resistance_factor(self, strain: Array, steel: Steel) -> Array:
        eps_ty = flexure.yield_strain(steel.strength, self.x)
        return flexure.strength_reduction(strain, eps_ty, self._v["phi_tension"], self._v["phi_compression"])

    @property
    def flexure_factor(self) -> float:
        """Beams are tension-controlled (9.3.3.1)."""
        return self._v["phi_tension"]

    # ---------------------------------------------------------------- actions (chapter 5)

    @property
    def kinds(self) -> Sequence[str]:
        return ("imposed", *self._kinds, "earthquake", "other")

    @property
    def categories(self) -> Sequence[str]:
        return tuple(self._categories)

    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        """Factors by category and kind: beside other leading loads, in service, sustained."""
        table = {**self._categories, **self._kinds}
        return {key: (e["psi_0"], e["psi_1"], e["psi_2"]) for key, e in table.items()}

    def _psi(self, group: Group) -> tuple[float, float, float]:
        if group.psi is not None:
            return group.psi
        found = self._categories.get(group.category or "") or self._kinds.get(group.kind)
        return (found["psi_0"], found["psi_1"], found["psi_2"]) if found else (1.0, 1.0, 0.0)

    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]:
        """5.3.1 (a) to (g), each with every roof load, wind and earthquake in turn; settlement (T, 5.3.6) there or not; and
        the service levels: dead; dead, live and one roof load; sustained."""
        of = {k: [i for i, g in enumerate(groups) if g.kind in kinds] for k, kinds in (
            ("L", ("imposed", "other")), ("R", ("roof", "snow", "rain")), ("W", ("wind",)), ("E", ("earthquake",)),
            ("S", ("snow",)), ("T", ("settlement",)))}  # fmt: skip
        found: dict[tuple[str, float, tuple[float, ...]], Combination] = {}
        v = self._v

        def add(level: str, section: str, permanent: float, factors: dict[int, float], settling: float) -> None:
            for moved in (0.0, settling) if of["T"] else (0.0,):
                values = [moved if i in of["T"] else factors.get(i, 0.0) for i in range(len(groups))]
                key = (level, permanent, tuple(values))
                if key not in found:
                    words = [f"{permanent:g} D"] + [f"{f:g} {_letter(g)}[{g.key}]" for f, g in zip(values, groups, strict=True) if f]
                    found[key] = Combination(level, " + ".join(words) + section, permanent, tuple(values))

        live = dict.fromkeys(of["L"], v["L"])
        beside = {i: self._psi(groups[i])[0] for i in of["L"]}
        snows = dict.fromkeys(of["S"], 1.0)  # snow comes all at once
        roofs = [dict[int, float](), *({i: 1.0} for i in of["R"] if i not in snows), *([snows] if snows else [])]
        add("strength", " (a)", v["D_alone"], {}, v["T"])
        for roof in roofs:
            add("strength", " (b)", v["D"], {**live, **_times(roof, v["roof_beside"])}, v["T"])
            if roof:
                add("strength", " (c)", v["D"], {**_times(roof, v["roof"]), **beside}, v["T"])
                for wind in of["W"]:
                    add("strength", " (c)", v["D"], {**_times(roof, v["roof"]), wind: v["W_beside"]}, v["T"])
            for wind in of["W"]:
                add("strength", " (d)", v["D"], {wind: v["W"], **beside, **_times(roof, v["roof_beside"])}, v["T"])
        for quake in of["E"]:
            for snow in [dict[int, float](), *([_times(snows, v["S_with_E"])] if snows else [])]:
                add("strength", " (e)", v["D"], {quake: v["E"], **beside, **snow}, v["T"])
            add("strength", " (g)", v["D_low"], {quake: v["E"]}, v["T"])
        for wind in of["W"]:
            add("strength", " (f)", v["D_low"], {wind: v["W"]}, v["T"])
        add("dead", "", 1.0, {}, 1.0)
        winds = [dict[int, float](), *({i: self._psi(groups[i])[1]} for i in of["W"])]
        for roof, blown in itertools.product(roofs, winds):
            add("service", "", 1.0, {**{i: self._psi(groups[i])[1] for i in of["L"]}, **roof, **blown}, 1.0)
        add("sustained", "", 1.0, {i: self._psi(g)[2] for i, g in enumerate(groups)}, 1.0)
        return list(found.values())

    def sustained_share(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """Of each group's service load."""
        return tuple(1.0 if g.kind == "settlement" else self._psi(g)[2] / max(self._psi(g)[1], 1e-9) for g in groups)

    def arrangements(self, spans: int) -> list[Arrangement]:
        """6.4.2: alternate spans, two adjacent spans, all."""
        return alternate_and_adjacent(spans)

    # ---------------------------------------------------------------- flanges and support width

    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """6.3.2.1: the same over the whole span."""
        both = flange.left > 0.0 and flange.right > 0.0
        left, right = (
            float(flexure.effective_overhang(flange.thickness, out, around.clear, both)) if out > 0.0 else 0.0
            for out in (flange.left, flange.right)
        )
        return (left, right), (left, right), (left, right)

    def rounding(self, reaction: Array, width: float) -> Array:
        """Nothing is taken off over supports that the beam is not built with."""
        return np.zeros_like(np.asarray(reaction))

    def face_moment(self, at_face: Array, full_fixity: Array) -> Array:
        """9.4.2.1: beams built with their supports, the moment at the face."""
        return np.maximum(at_face, 0.0)

    def end_hogging(self, span_moment: Array) -> Array:
        """No hogging is asked for at ends taken as simple."""
        return np.zeros_like(np.asarray(span_moment))

    # ---------------------------------------------------------------- bending

    def neutral_axis_share(self, x: Floats, d: Floats, outer: Floats) -> Array:
        """c/d_t: epsilon_t is that of the outermost bars."""
        return np.asarray(np.asarray(x) / outer)

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        """9.3.3.1: eps_t of at least eps_ty + 0.003; where moments were redistributed also 6.6.5."""
        delta = np.asarray(delta, dtype=float)
        usual = flexure.yield_strain(steel.strength, self.x) + self._v["strain_reserve"]
        asked = np.maximum(self._v["redistribution_strain"], 0.1 * (1.0 - delta))
        return flexure.neutral_axis_limit(np.where(delta < 1.0 - 1e-9, np.maximum(usual, asked), usual))

    def least_delta(self, steel: Steel) -> float:
        return 1.0 - self._v["redistribution_most"]

    def widest_span_ratio(self) -> float:
        return float("inf")

    def minimum_steel_width(self, b_w: Array, b_f: Array, determinate: Mask) -> Array:
        """9.6.1.2: statically determinate beams with a flange in tension."""
        return np.where(determinate, flexure.minimum_steel_width(b_w, b_f), b_w)

    def least_tension_steel(self, concrete: Concrete, steel: Steel, b_w: Array, b_t: Array, d: Array, asked: Array) -> Array:
        """9.6.1.2 with the web's width; 9.6.1.3: no more than a third above what the moment asks for."""
        least = flexure.least_tension_steel(concrete.strength, steel.strength, b_w, d, self.x)
        return np.asarray(np.minimum(least, 4.0 / 3.0 * np.maximum(asked, 0.0)))

    def most_steel(self, gross_area: Array) -> Array:
        """No limit but that of the strain."""
        return np.full_like(np.asarray(gross_area), np.inf)

    def bottom_share(self, simple: bool) -> float:
        return self._v["support_share_simple" if simple else "support_share_inner"]

    top_share = 1.0 / 3.0

    def beyond_inflection(self, phi: float, d: float, clear: float) -> float:
        """9.7.3.8.4: max(d; 12 d_b; l_n/16)."""
        return max(d, 12.0 * phi, clear / 16.0)

    def least_strength(self, exposure: str) -> float:
        """By exposure categories F, S, W and C of chapter 19, which are not in this program."""
        return 0.0

    def cover_unverified(self) -> str:
        return ""

    def least_cover(self, phi: Floats, aggregate: float) -> Array:
        """Clear cover of d_b: development lengths are for it (25.4.2.3)."""
        return np.asarray(phi) * 1.0

    def cover_for(self, wish: CoverWish) -> Cover:
        """Table 20.5.1.3.1 of stirrups, and of main bars inside them; no fire, which is ACI 216.1."""
        if wish.fire is not None:
            raise CodeError("fire is not in this code; give 'top', 'bottom' and 'sides' for it")
        tie, bar = (bars.least_cover(wish.exposure, d, self.x) for d in (wish.ties[1], wish.bars[1]))
        least = max(tie, bar - wish.ties[0])
        step = self.x.length / 4.0 if self.x is INCH_POUND else 5.0
        least = math.ceil(least / step - 1e-9) * step
        return Cover(least, least, least)

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """9.7.3.8.1-2: 6 in into the support."""
        return np.full_like(np.asarray(phi, dtype=float), 6.0 * self.x.length if self.x is INCH_POUND else 150.0)

    # ---------------------------------------------------------------- shear

    def _yield(self, steel: Steel) -> float:
        """20.2.2.4: f_yt of stirrups no more than 60 ksi (420 MPa)."""
        return min(steel.strength, self.x.shear_yield)

    def lever(self, d: Floats) -> Array:
        return np.asarray(d) * 1.0

    def strut(self, concrete: Concrete, b: Array, d: Array, v_ed: Array, reserve: float, axial: Floats = 0.0) -> Array:
        """45 degrees."""
        return np.ones_like(np.asarray(d, dtype=float))

    def shear(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        phi, f_c = self._v["phi_shear"], concrete.strength
        tied = asw_s >= shear.least_stirrups(f_c, self._yield(steel), web.b, self.x) * (1.0 - 1e-9)
        v_c = shear.concrete_strength(f_c, web.b, web.d, web.a_sl, np.where(tied, 1.0, 0.0), self.x, web.axial, web.gross)
        v_s = shear.stirrup_strength(asw_s, self._yield(steel), web.d)
        most = shear.section_limit(v_c, f_c, web.b, web.d, self.x)
        return ShearState(web.d, cot, phi * v_c, phi * v_s, phi * most, shear.design_strength(phi, v_c, v_s, most))

    def _tied_concrete(self, concrete: Concrete, web: Web) -> Array:
        return shear.concrete_strength(concrete.strength, web.b, web.d, web.a_sl, 1.0, self.x, web.axial, web.gross)

    def shear_model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        """The row of Table 22.5.5.1: (a) or (b), whichever is larger, with the least stirrups; (c) without."""
        tied = asw_s >= shear.least_stirrups(concrete.strength, self._yield(steel), web.b, self.x) * (1.0 - 1e-9)
        plain, ratio, _ = self.x.v_c
        larger = ratio * np.cbrt(web.a_sl / (web.b * web.d)) > plain
        return [f"V_c by Table 22.5.5.1 ({'c' if not t else 'b' if b else 'a'})" for t, b in zip(tied, larger, strict=True)]

    def near_support_share(self, a_v: Array, d: float) -> Array:
        """9.4.3.2 takes the shear at d, or at the face: nothing else is taken off."""
        return np.ones(len(a_v))

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """For comparison: their yield force."""
        return area * self._yield(steel)

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array:
        v_s = np.maximum(np.asarray(v_ed) / self._v["phi_shear"] - self._tied_concrete(concrete, web), 0.0)
        return np.asarray(v_s / (self._yield(steel) * web.d))

    def least_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array:
        return shear.least_stirrups(concrete.strength, self._yield(steel), b, self.x)

    def _spacings(self, concrete: Concrete, web: Web, v_ed: Array) -> tuple[Array, Array]:
        carried = np.asarray(v_ed) / self._v["phi_shear"] - self._tied_concrete(concrete, web)
        return shear.widest_spacing(carried, concrete.strength, web.b, web.d, self.x)

    def widest_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return self._spacings(concrete, web, v_ed)[0]

    def widest_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return self._spacings(concrete, web, v_ed)[1]

    def compressed_bar_spacing(self, phi: Floats, tie: float, least: Floats) -> Array:
        """9.7.6.4.3."""
        return bars.compressed_bar_spacing(phi, tie, least)

    def shift(self, d: Floats, cot: Floats) -> Array:
        """The moment line is not shifted: bars go on past where they are needed instead (9.7.3.3)."""
        return np.asarray(0.0 * np.asarray(d) * np.asarray(cot))

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        """9.7.3.3: max(d; 12 d_b) at the end of a bar that stops inside a span."""
        return np.asarray(np.maximum(np.asarray(d), 12.0 * np.asarray(phi)))

    def end_anchorage_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array:
        """Asked for by length instead: `end_anchorage`."""
        return np.asarray(0.0 * np.asarray(v_ed) * np.asarray(d) * np.asarray(cot))

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """9.7.3.8.3: l_d no more than 1.3 M_n/V_u + l_a, unless hooked beyond the centreline."""
        if end.hooked or end.shear <= 1.0:
            return 0.0, 1.0, "length"
        limit = bars.development_limit(end.nominal_moment, end.shear, end.beyond_centre, 1.3 if end.direct else 1.0)
        return end.development, float(limit), "length"

    def flange_shear(
        self,
        concrete: Concrete,
        steel: Steel,
        force: float,
        thickness: float,
        length: float,
        pulled: bool,
    ) -> FlangeShear | None:
        """The slab's own steel across the web is what 7.5.2.3 asks for."""
        return None

    def hanging_steel(self, steel: Steel, reaction: float) -> float:
        """For the whole reaction, with the factor of shear."""
        return max(reaction, 0.0) / (self._v["phi_shear"] * self._yield(steel))

    # ---------------------------------------------------------------- torsion

    def torsion_reach(self, b_t: Floats, d: Floats) -> Array:
        """9.7.5.3, 9.7.6.3.2."""
        return torsion.extension(b_t, d)

    def torsion_bar_diameter(self, spacing: Floats) -> Array:
        """9.7.5.2."""
        return torsion.bar_diameter(spacing, self.x)

    def torque_as_shear(self, tube: Tube, d: Array, torque: Array) -> Array:
        """The angle stays at 45 degrees."""
        return np.zeros_like(torque)

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
        """22.7: threshold and cracking with the flange of 9.2.4.4, stirrups around the web; torque of compatibility no more than phi T_cr
        (22.7.3.2)."""
        bars, stirrups = steels
        phi, f_c, x = self._v["phi_torsion"], concrete.strength, self.x
        a_cp, p_cp = torsion.outer_section(tube.b, tube.h, tube.flange, tube.left, tube.right)
        x_1, y_1 = tube.b - 2.0 * tube.tie_axis, tube.h - 2.0 * tube.tie_axis
        a_oh, p_h = x_1 * y_1, 2.0 * (x_1 + y_1)
        t = np.minimum(torque, phi * torsion.cracking(f_c, a_cp, p_cp, x, web.axial, web.gross)) if compatible else torque
        t = np.where(t < phi * torsion.threshold(f_c, a_cp, p_cp, x, web.axial, web.gross), 0.0, t)
        f_yt = self._yield(stirrups)
        leg = torsion.stirrups_required(t, 0.85 * a_oh, f_yt, phi, cot)
        least = torsion.least_bars(f_c, a_cp, leg, p_h, f_yt, self._yield(bars), web.b, x)
        asked = np.maximum(torsion.bars_required(t, 0.85 * a_oh, p_h, self._yield(bars), phi, cot), np.where(t > 0.0, least, 0.0))
        v_c = self._tied_concrete(concrete, web)
        used = torsion.section_stress(shear, t, web.b, web.d, p_h, a_oh) / torsion.section_limit(v_c, f_c, web.b, web.d, x, phi)
        apart = np.where(t > 0.0, torsion.widest_spacing(p_h, x), np.inf)
        return Twist(leg, asked, p_h, y_1, np.where(t > 0.0, used, 0.0), apart, x.widest[1])

    # ---------------------------------------------------------------- bars

    def anchorage(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats) -> Array:
        """l_d of 25.4.2.3: clear cover and spacing of d_b are checked, minimum stirrups stand everywhere."""
        psi_t = bars.casting_factor(np.asarray(height) - 0.5 * np.asarray(phi), self.x)
        return bars.development_length(phi, concrete.strength, steel.strength, psi_t, self.x)

    def least_anchorage(self, anchorage: Floats, phi: Floats) -> Array:
        """At simple ends bars reach into the support by a length of their own (`into_support`)."""
        return np.zeros_like(np.asarray(phi, dtype=float))

    def hooked(
        self, concrete: Concrete, steel: Steel, phi: Floats, apart: Floats = 0.0, cover: Floats = 0.0, core: Floats = False
    ) -> Array:
        """l_dh (25.4.3.1): psi_r by the distance of the bars, psi_o by side cover and column; ties along hooks are not counted on."""
        psi_r, psi_o = bars.hook_spacing_factor(phi, apart, self.x), bars.hook_place_factor(phi, cover, core, self.x)
        return bars.hook_length(phi, concrete.strength, steel.strength, self.x, psi_r, psi_o)

    def skin(self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service) -> tuple[float, float]:
        """9.7.2.3, above 36 in (900 mm) of depth: as far apart as 24.3.2 lets bars be with this side cover, at 2/3 f_y; of any size."""
        if h <= (36.0 * self.x.length if self.x is INCH_POUND else 900.0) + 1e-6:
            return math.inf, 0.0
        stress = np.array([2.0 / 3.0 * steel.strength])
        return float(service.widest_bar_spacing(stress, np.array([cover]), self.x)[0]), 0.0

    def lap_cross_steel(self, phi: float, share: float) -> float:
        """The least stirrups, which stand everywhere, are what l_d of 25.4.2.3 counts on."""
        return 0.0

    def may_lap(self, phi: float) -> bool:
        """25.5.1.1: not No. 14 and No. 18."""
        return phi < 40.0

    def confinement(
        self, steel: Steel, phi: float, spacing: float, tie_area: float, tie_spacing: float, number: float
    ) -> tuple[float, float]:
        """25.4.2.2: K_tr of at least 0.5 d_b from Grade 80 on, where bars are less than 6 in apart."""
        if steel.strength < self.x.grades[1] * 0.999 or spacing >= self._six() - 1e-6:
            return 0.0, 0.0
        return 0.5 * phi, float(bars.confinement_index(tie_area, max(tie_spacing, 1e-6), number))

    def confining_spacing(self, steel: Steel, phi: float, tie_area: float, number: float) -> float:
        """25.4.2.2, the other way round."""
        if steel.strength < self.x.grades[1] * 0.999:
            return math.inf
        return 40.0 * tie_area / (0.5 * phi * max(number, 1.0))

    def _six(self) -> float:
        return 6.0 * self.x.length if self.x is INCH_POUND else 150.0

    def tie_legs(self, number: Floats) -> Array:
        """9.7.6.4.4: corner bars and every other one between them are held."""
        return bars.held_bars(number)

    def lap_cross_spacing(self, phi: float, share: float) -> float:
        return math.inf

    def lap_share_limit(self, rows: int, tension: bool) -> float:
        """Class B splices of all bars at one place are permitted (25.5.2.1)."""
        return 1.0

    def lap_clear(self, phi: Floats, aggregate: float) -> Array:
        """25.5.1.2: as between bars."""
        return self.clear_spacing(phi, aggregate)

    def lap(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats, share: float = 1.0) -> Array:
        """Class B, whatever the share: bars may be at yield where they are lapped (25.5.2.1)."""
        return bars.splice_length(self.anchorage(concrete, steel, phi, height, h), self.x)

    def anchored_beyond_for_shear(self, anchorage: Array, d: Array) -> Array:
        """Bars count in rho_w when they go on for d."""
        return 0.0 * anchorage + d

    def clear_spacing(self, phi: Floats, aggregate: float) -> Array:
        return bars.clear_spacing(phi, aggregate, self.x)

    def bend_radius(self, phi: float) -> float:
        return 0.5 * float(bars.bend_diameter(phi))

    def wider_mandrel(self, concrete: Concrete, steel: Steel, phi: float, force: float, beside: float) -> float:
        """Standard hooks have the diameters of 25.3."""
        return 0.0

    def tie_radius(self, phi: float) -> float:
        return 0.5 * float(bars.stirrup_bend_diameter(phi))

    def tie_tail(self, phi: float) -> float:
        """Beyond the corner's outer face: bend and tail of a 135 degree hook."""
        r = self.tie_radius(phi)
        return bars.stirrup_extension(phi, self.x) + 0.75 * math.pi * (r + 0.5 * phi)

    def least_leg(self, phi: float, kind: str) -> float:
        """Outer length of the leg beyond a bend: the curve and the extension."""
        return 0.0 if kind in ("straight", "lap") else self.bend_radius(phi) + phi + bars.hook_extension(phi, kind, self.x)

    # ---------------------------------------------------------------- service

    gross_uncracked = True

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """Table 24.2.2: by live load of floors, or of roofs that carry nothing else; after finishes that are not likely to be damaged. The
        total has no limit there: what stands for it is a target (`total_is_advice`)."""
        live = service.deflection_divisor("roof" if kinds and kinds <= {"roof", "snow", "rain"} else "floor")
        after = service.deflection_divisor("not_sensitive")
        return {"total": after, "after_finishes": after, "live": live}

    total_is_advice = True

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """Table 9.3.1.1 with 9.3.1.1.1: least depth where nothing is carried that large deflections could damage."""
        return float(service.least_depth(span.length, span.ends, steel.strength, self.x)), span.h, "length"

    def stress_limits(self, concrete: Concrete, steel: Steel, exposure: str | None) -> tuple[float, float, float]:
        return math.inf, math.inf, math.inf

    def least_crack_steel(self, concrete: Concrete, steel: Steel, zone: TensionZone, h: Array) -> Array:
        return np.zeros_like(h)

    def creeps_beyond(self, concrete: Concrete, service: Service, stress: Array) -> Mask:
        return np.zeros(np.shape(stress), dtype=bool)

    def stages(self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0) -> Mapping[str, Stage]:
        """One stage: creep and shrinkage come as a factor on deflections."""
        e_c = self.modulus(concrete)
        f_r = flexure.modulus_of_rupture(concrete.strength, self.x)
        return {"short": Stage(np.full(len(h_0), e_c), e_c, f_r, np.zeros(len(h_0)), False, self.x.steel_modulus, service.age_at_loading)}

    @property
    def units(self) -> Units:
        return self.x.units

    early_stage = None
    averages_stiffness = True

    def cracked_share(self, moment: Array, uncracked: Elastic, h: Array, stage: Stage) -> Array:
        """I_e has none: it follows from the moment of each load."""
        return np.zeros_like(moment)

    def crack_table(self, stress: Array, face: Face, concrete: Concrete, wanted: Service) -> None:
        """24.3.2 is the check itself."""
        return None

    def tension_flange(self, flange: float, clear: float) -> float:
        """24.3.4: the effective width, no wider than a tenth of the clear span."""
        return min(flange, clear / 10.0)

    def curvature(
        self,
        moment: Array,
        uncracked: Elastic,
        cracked: Elastic,
        h: Array,
        stage: Stage,
        lasting: bool,
        before: Floats = 0.0,
    ) -> Array:
        """M_a/(E_c I_e) at every section (24.2.3.5)."""
        m_cr = stage.tensile_strength * uncracked.i / np.maximum(h - uncracked.x, 1e-9)
        return np.asarray(moment / (stage.modulus * service.effective_inertia(moment, m_cr, uncracked.i, cracked.i)))

    def deflections(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Immediate under service load; with lambda_delta of what lasts on it (24.2.4.1.1); and that less what the permanent actions did
        before finishes or partitions, their own lambda_delta to that day included."""
        months = self._v["sustained_months"]
        immediate, lasting = ask("service", "short"), ask("service", "short", lasting=True)
        if len(lasting) != len(immediate):  # from tables: which row lasts beside which is not known
            lasting = lasting.max(axis=0, keepdims=True)
        total = immediate + service.long_term_factor(months, rho_compression) * lasting

        def before(day: float) -> Array:
            grown = max(min((day - wanted.age_at_loading) / 30.4, months), 0.0)
            return ask("permanent", "short", before=wanted.loaded_before(day)) * (1.0 + service.long_term_factor(grown, rho_compression))

        return Deflections(
            striking=ask("permanent", "short", before=wanted.age_at_loading + 1e-6),
            immediate=immediate,
            long_term=total,
            after_finishes=total - before(wanted.finishes_at),
            live=immediate - ask("permanent", "short") if wanted.live else None,
            after_partitions=total - before(wanted.partitions_at) if wanted.after_partitions else None,
        )

    def cracking(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> Cracking:
        """24.3.2: distance of bar centres, for the stress of the cracked section under service load."""
        alpha = self.x.steel_modulus / stage.modulus
        f_s = alpha * moment * np.maximum(face.outer - cracked.x, 0.0) / cracked.i
        limit = service.widest_bar_spacing(f_s, face.cover, self.x)
        d_c = face.cover + 0.5 * face.phi
        beta = (face.h - cracked.x) / np.maximum(face.outer - cracked.x, 1.0)
        width = service.crack_width(f_s, d_c, 2.0 * d_c * face.spacing, beta)  # for information: the code asks for spacing
        return Cracking(np.where(moment > 0.0, face.spacing, 0.0), np.maximum(limit, 1.0), "length", width, f_s, face.outer)

    crack_level = "service"
    crack_stage = "short"

    def uncracked_under(self, moment: Array, uncracked: Elastic, h: Array, concrete: Concrete) -> Mask:
        """24.3 asks for its spacing everywhere."""
        return np.zeros(np.shape(moment), dtype=bool)


def _letter(group: Group) -> str:
    return {"imposed": "L", "roof": "Lr", "snow": "S", "rain": "R", "wind": "W", "earthquake": "E", "settlement": "T"}.get(group.kind, "L")


def _times(factors: dict[int, float], by: float) -> dict[int, float]:
    return {i: f * by for i, f in factors.items()}
