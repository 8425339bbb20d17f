"""IS 456 against tables of the standard and of its handbooks, and numbers reached two ways."""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes import get_code
from upright_bramble.codes.is456 import (
    analysis,
    bending,
    bond,
    cover,
    cracking,
    curtailment,
    deflection,
    detailing,
    materials,
    service,
    shear,
    torsion,
)
from upright_bramble.codes.parts import Group
from upright_bramble.section.cracked import cracked
from upright_bramble.section.strength import bending_resistance
from upright_bramble.section.strips import rectangle, tee

CASES = json.loads((Path(__file__).parent / "cases" / "is456.json").read_text("utf-8"))["cases"]
CODE = get_code("is456-2000")


def _strips(sec):
    return tee(sec["bf"], sec["hf"], sec["bw"], sec["h"]) if "bf" in sec else rectangle(sec["bw"], sec["h"])


def _bars(bars):
    return np.array([[area for area, _ in bars]]), np.array([[depth for _, depth in bars]])


def _f_yd(a):
    return a.get("fyd", 0.87 * a["fy"])


def _stirrup_yield(a):
    return materials.design_yield(min(a["fy"], 415.0))


def _compatible(a, pick):
    law, steel = CODE.materials.concrete_law(Concrete(a["fck"])), CODE.materials.steel_law(Steel(a["fy"]))
    r = bending_resistance(_strips(a["sec"]), *_bars(a["bars"]), law, steel, 0.0, a.get("deduct", False))
    d = max(depth for _, depth in a["bars"])
    return {
        "Mu": r.moment[0],
        "xu": r.x[0],
        "within_limit": float(r.x[0] / d <= materials.limiting_ratio(a["fy"], printed=False)),
    }[pick]


def _combined(a, level="strength", least=False):
    loads = {
        "permanent": a.get("DL", 0.0),
        "imposed": a.get("IL", 0.0),
        "wind": a.get("WL", 0.0),
        "earthquake": a.get("EL", 0.0),
    }
    groups = [
        Group("general", "imposed", "general"),
        Group("wind", "wind", None),
        Group("quake", "earthquake", None),
    ]
    present = [g for g in groups if loads[g.kind]]
    sums = [
        c.permanent * loads["permanent"]
        + sum(f * loads[g.kind] for f, g in zip(c.variable, present, strict=True))
        for c in CODE.actions.combinations(present)
        if c.level == level
    ]
    return min(sums) if least else max(sums)


def _shear(a, pick):
    f_yd = _stirrup_yield(a)
    tau_v = float(shear.nominal_stress(a["Vu"], a["b"], a["d"]))
    tau_c = float(shear.concrete_stress(shear.percentage(a["Ast"], a["b"], a["d"]), a["fck"]))
    ratio, least = (
        float(shear.stirrups_for(tau_v, tau_c, a["b"], f_yd)),
        float(shear.minimum_stirrups(a["b"], f_yd)),
    )
    highest = float(shear.maximum_spacing(a["d"]))
    s = min(a["Asv"] / max(ratio, 1e-9), a["Asv"] / least, highest)
    return {
        "s": s,
        "s_min": a["Asv"] / least,
        "tau_c": tau_c,
        "tau_v": tau_v,
        "Vus": max(tau_v - tau_c, 0.0) * a["b"] * a["d"],
        "s_max": highest,
    }[pick]


def _torsion(a, pick):
    f_yd = _stirrup_yield(a)
    tau_ve = float(shear.nominal_stress(torsion.equivalent_shear(a["Vu"], a["Tu"], a["b"]), a["b"], a["d"]))
    tau_c = float(shear.concrete_stress(shear.percentage(a["Ast"], a["b"], a["d"]), a["fck"]))
    least = float(shear.minimum_stirrups(a["b"], f_yd))
    needed = max(
        float(torsion.transverse_steel(a["Tu"], a["Vu"], a["b1"], a["d1"], f_yd)),
        float(shear.stirrups_for(tau_ve, tau_c, a["b"], f_yd)),
        least if pick == "Asv_sv" and a.get("with_minimum") else 0.0,
    )
    return {
        "Asv_sv": needed if tau_ve > tau_c else least,
        "tau_ve": tau_ve,
        "s_max": float(torsion.maximum_spacing(a["x1"], a["y1"])),
    }[pick]


def _steel(a, pick):
    rest = [a[k] for k in ("fck", "fy")]
    if "dp" in a:
        tension, compression = bending.double_steel(
            a["Mu"], a["b"], a["d"], a["dp"], *rest, a.get("xu_d"), a.get("deduct", False)
        )
        return {"Ast": tension, "Asc": compression}[pick]
    form = bending.rectangular_steel_by_block if a.get("form") == "block" else bending.rectangular_steel
    return form(a["Mu"], a["b"], a["d"], *rest)


def _flanged(a, pick):
    moment, x_u = bending.flanged_moment(a["Ast"], a["bw"], a["bf"], a["Df"], a["d"], a["fck"], a["fy"])
    return {"Mu": moment, "xu": x_u}[pick]


def _double(a, pick):
    moment, x_u = bending.double_moment(
        a["Ast"], a["Asc"], a["b"], a["d"], a["dp"], a["fck"], a["fy"], a.get("deduct", False)
    )
    return {"Mu": moment, "xu": x_u}[pick]


def _lap(a):
    compression = a.get("kind") == "compression"
    tau = bond.bond_stress(a["fck"], a.get("deformed", True) and a["fy"] > materials.SHARP, compression)
    l_d = bond.development_length(a["phi"], 0.87 * a["fy"], tau)
    corner = a.get("corner", False) or a.get("close", False) or a.get("corner_or_close", False)
    factor = (
        2.0
        if a.get("kind") == "direct"
        else 1.0
        if compression
        else float(bond.lap_factor(a.get("top", False), corner))
    )
    return float(bond.lap_length(l_d, factor, a["phi"], 24.0 if compression else 30.0))


def _annex_c(a, pick):
    sec, one = a["sec"], np.array([1.0])
    e_c = materials.modulus(a["fck"])
    e_ce = materials.long_term_modulus(e_c, a["theta"])
    i_gr = sec["bw"] * sec["h"] ** 3 / 12.0
    m_r = service.cracking_moment(materials.flexural_strength(a["fck"]), i_gr, sec["h"] / 2.0)

    def deflection_of(w, e):
        c = cracked(_strips(sec), np.array([[a["Ast"]]]), np.array([[a["d"]]]), 2e5 / e)
        z = c.d - c.x / 3.0
        i_eff = service.effective_inertia(c.i, m_r / a["M_Ieff"] * one, z, c.d, c.x, c.b, c.b_c, i_gr * one)
        return 5.0 * w * a["l"] ** 4 / 384.0 * float(service.curvature(1.0, e, i_eff)[0])

    if pick == "shrinkage":
        k_4 = service.shrinkage_factor(100.0 * a["Ast"] / (sec["bw"] * a["d"]), 0.0)
        return service.shrinkage_deflection(
            "simple", float(service.shrinkage_curvature(k_4, 3e-4, sec["h"])), a["l"]
        )
    immediate = deflection_of(a["w_total"], e_c)
    creep = deflection_of(a["w_perm"], e_ce) - deflection_of(a["w_perm"], e_c)
    return {"short": immediate, "creep": creep}[pick]


def _cracking(a):
    sec = a["sec"]
    _, centroid, i_gr = _strips(sec).gross()
    y_t = centroid if a.get("face") == "bottom" else sec["h"] - centroid
    y_t = centroid if a.get("face") in ("top", "bottom") else y_t
    return float(service.cracking_moment(materials.flexural_strength(a["fck"]), i_gr, y_t)[0])


def _inertia(a):
    z = a["d"] - a["x"] / 3.0
    return float(
        service.effective_inertia(a["Ir"], a["Mr"] / a["M"], z, a["d"], a["x"], a["bw"], a["b"], a["Igr"])
    )


def _cracked(a, pick):
    c = cracked(_strips(a["sec"]), *_bars(a["bars"]), a["m"])
    return {"x": c.x, "Ir": c.i}[pick][0]


def _tension_zone(a, pick):
    options = [
        a["Vu"] <= curtailment.cut_off_shear(a["V_perm"], False) + 1e-9,
        False,
        a.get("phi", 99) <= 36
        and a.get("As_cont", 0) >= 2 * a.get("As_req", 1)
        and a["Vu"] <= curtailment.cut_off_shear(a["V_perm"], True) + 1e-9,
    ]
    return float(options[pick])


def _into_support(a, pick):
    share = CODE.curtailment.bottom_share(a["simple"])
    return [share * a["Ast"], float(CODE.bond.minimum_anchorage(a["Ld_"], 20.0))][pick]


def _end(a):
    return float(
        curtailment.development_limit(
            a["M1"], a["V"], a["Lo"], 1.3 if a.get("confined") or a.get("compressed") else 1.0
        )
    )


def _flange(a):
    both = a["kind"] in ("T", "isolated T")
    if a["kind"].startswith("isolated"):
        return analysis.isolated_flange(a["lo"], a["bw"], a["b_actual"], both)
    sides = 2 if both else 1
    return a["bw"] + sides * analysis.effective_overhang(a["lo"], a["Df"], a.get("b_actual", math.inf), both)


def _side(a, pick):
    return {
        "each_face": bending and cracking.side_face_steel(a["web_area"]),
        "spacing": cracking.side_face_spacing(a["b_web"]),
    }[pick]


def _moments(a, pick):
    m_t = float(torsion.torsional_moment(a["Tu"], a["D"], a["b"]))
    return [float(torsion.equivalent_moment(a["Mu"], m_t)), float(torsion.opposite_moment(a["Mu"], m_t))][
        pick
    ]


def _redistributed(a, pick):
    left, right = (-a[k] * (1 - a[p] / 100) for k, p in (("Ml", "pct_l"), ("Mr", "pct_r")))
    return [
        -left,
        -right,
        a["w"] * a["l"] ** 2 / 8 - (left + right) / 2,
        a["w"] * a["l"] / 2 + (left - right) / a["l"],
    ][pick]


def _span_depth(a):
    kind = "continuous" if a["kind"] == "continuous" else a["kind"]
    long = deflection.long_span_factor(a["l"]) if kind != "cantilever" else 1.0
    k_c, k_f = (
        float(deflection.compression_factor(a.get("pc", 0.0))),
        deflection.flange_factor(a.get("bw_bf", 1.0)),
    )
    return deflection.permitted_ratio(
        deflection.BASIC[kind], deflection.tension_factor(a["pt"], a["fs"]), k_c, k_f, long
    )


def _strain_point(a):
    index = [share for share, _ in materials.CURVE].index(a["fraction"]) + 1
    return materials.steel_curve(a["fy"], a["fyd"])[0][index]


def _tau_c(a):
    if a.get("method") == "formula":
        return float(shear.concrete_stress_by_formula(a["pt"], a["fck"]))
    return float(shear.concrete_stress(a["pt"], a["fck"]))


CALLS = {
    "Ec": lambda a, p: materials.modulus(a["fck"]),
    "fcr": lambda a, p: materials.flexural_strength(a["fck"]),
    "creep_coefficient": lambda a, p: materials.creep_coefficient(a["age"]),
    "Ece": lambda a, p: materials.long_term_modulus(materials.modulus(a["fck"]), a["theta"]),
    "modular_ratio_wsm": lambda a, p: materials.working_stress_ratio(a["sigma_cbc"]),
    "min_grade": lambda a, p: cover.least_grade(a["exposure"]),
    "bar_mass": lambda a, p: CODE.sizes[str(a["phi"])].mass * 1000.0,
    "steel_strain_point": lambda a, p: _strain_point(a),
    "steel_stress": lambda a, p: float(materials.stress_of(a["eps"], a["fy"], _f_yd(a))),
    "xu_max_ratio": lambda a, p: materials.limiting_ratio(a["fy"], a.get("printed", True)),
    "Mu_lim": lambda a, p: bending.limiting_moment(materials.limiting_ratio(a["fy"], a.get("printed", True)), a["b"], a["d"], a["fck"]),
    "pt_lim": lambda a, p: bending.limiting_percentage(materials.limiting_ratio(a["fy"], False), a["fck"], a["fy"]),
    "fsc": lambda a, p: bending.compression_stress(a["fy"], a["fyd"], a["dp"], a["d"]),
    "steel_rect": _steel,
    "Mu_rect_single": lambda a, p: bending.rectangular_moment(a["Ast"], a["b"], a["d"], a["fck"], a["fy"], a.get("form", "printed")),
    "Mu_rect_double": _double,
    "Mu_flanged": _flanged,
    "Mu_lim_flanged": lambda a, p: bending.limiting_flanged_moment(a["bw"], a["bf"], a["Df"], a["d"], a["fck"], a["fy"]),
    "steel_flanged": lambda a, p: bending.flanged_steel(a["Mu"], a["bw"], a["bf"], a["Df"], a["d"], a["fck"], a["fy"]),
    "yf": lambda a, p: float(bending.equal_block(a["xu"], a["Df"])),
    "effective_flange": lambda a, p: _flange(a),
    "lo_zero_moment": lambda a, p: a["l_eff"] * (analysis.ZERO_MOMENTS if a["continuous"] else 1.0),
    "As_min": lambda a, p: float(bending.minimum_steel(a["b"], a["d"], a["fy"])),
    "As_max": lambda a, p: float(bending.maximum_steel(a["b"] * a["D"])),
    "side_face": _side,
    "comp_bar_ties": lambda a, p: {
        "pitch": float(detailing.compression_stirrup_spacing(a["phi_long_min"], a["least_dim"])),
        "diameter": float(detailing.compression_stirrup_diameter(a["phi_long_max"])),
    }[p],
    "strain_compat": _compatible,
    "tau_c": lambda a, p: _tau_c(a),
    "tau_c_max": lambda a, p: shear.maximum_stress(a["fck"]),
    "delta_axial": lambda a, p: float(shear.compression_factor(a["Pu"], a["Ag"], a["fck"])),
    "Vus_vertical": lambda a, p: float(shear.stirrup_strength(a["Asv"] / a["sv"], _stirrup_yield(a), a["d"])),
    "Vus_single_bent": lambda a, p: shear.bent_up_strength(a["Asv"], _stirrup_yield(a), math.sin(math.radians(a["alpha"]))),
    "bent_up_share": lambda a, p: shear.bent_up_share(a["Vus_bent"], a["Vus_required"]),
    "Asv_over_sv_min": lambda a, p: float(shear.minimum_stirrups(a["b"], _stirrup_yield(a))),
    "stirrup_spacing_max": lambda a, p: min(a["d"], 300.0) if a.get("inclined") else float(shear.maximum_spacing(a["d"])),
    "tau_c_enhanced": lambda a, p: float(shear.enhanced_stress(a["tc"], a["d"], a["av"], shear.maximum_stress(a["fck"]))),
    "As_enhanced": lambda a, p: shear.stirrups_near_support(a["tv"], a["tc"], a["av"], a["b"], a["d"], _stirrup_yield(a)),
    "shear_design": _shear,
    "Me": _moments,
    "Asv_over_sv_torsion": lambda a, p: float(torsion.transverse_steel(a["Tu"], a["Vu"], a["b1"], a["d1"], _stirrup_yield(a))),
    "torsion_stirrup_spacing": lambda a, p: float(torsion.maximum_spacing(a["x1"], a["y1"])),
    "torsion_design": _torsion,
    "factored": lambda a, p: _combined(a, a.get("state", "strength")),
    "factored_min": lambda a, p: _combined(a, least=True),
    "approx_moment": lambda a, p: analysis.coefficient_moment(a["where"], a["wd"], a["wi"], a["l"]),
    "approx_shear": lambda a, p: analysis.coefficient_shear(a["where"], a["wd"], a["wi"], a["l"]),
    "redistribution_xu_d": lambda a, p: float(bending.neutral_axis_limit(materials.limiting_ratio(a["fy"]), 1.0 - a["dM"] / 100.0)),
    "redistribution_limit": lambda a, p: 100.0 * (1.0 - CODE.analysis.minimum_delta(Steel(500.0))),
    "redistribution_ok": lambda a, p: float(a["xu_d"] <= float(bending.neutral_axis_limit(0.6, 1.0 - a["dM"] / 100.0)) + 1e-12),
    "effective_span": lambda a, p: analysis.effective_span(a["kind"], a["clear"], a["d"], a.get("cc", 0.0), a.get("supports", ()), a.get("end")),
    "slenderness_limit": lambda a, p: analysis.restraint_distance(a["b"], a["d"], a.get("cantilever", False)),
    "redistribute": _redistributed,
    "tau_bd": lambda a, p: bond.bond_stress(a["fck"], a["deformed"], a.get("compression", False)),
    "Ld": lambda a, p: float(bond.development_length(a["phi"], 0.87 * a["fy"], bond.bond_stress(a["fck"], a.get("deformed", True), a.get("compression", False)))) * bond.bundle_factor(a.get("n_bundle", 1)),
    "anchorage_value": lambda a, p: bond.bend_value(a["phi"], a["angle"]),
    "stirrup_extension": lambda a, p: bond.stirrup_extension(a["phi"], a["angle"]),
    "bearing_stress_limit": lambda a, p: detailing.bearing_limit(a["fck"], a["phi"], a["a"]),
    "hook_allowance": lambda a, p: detailing.hook_allowance(a["phi"], a["k"]),
    "bend_allowance": lambda a, p: detailing.bend_allowance(a["phi"], a["k"]),
    "cutoff_extension": lambda a, p: float(curtailment.extension(a["d"], a["phi"])),
    "cutoff_excess_stirrups": lambda a, p: curtailment.excess_stirrups(a["b"], a["s"], a["fy"]),
    "tension_zone_cutoff_ok": _tension_zone,
    "positive_into_support": _into_support,
    "Ld_limit": lambda a, p: _end(a),
    "negative_extension": lambda a, p: curtailment.beyond_inflection(a["d"], a["phi"], a["ln"]),
    "lap": lambda a, p: _lap(a),
    "lap_close": lambda a, p: float(bond.laps_are_close(a["clear_between_laps"], a["phi"])),
    "lap_allowed": lambda a, p: float(CODE.bond.lap_permitted(a["phi"])),
    "clear_spacing_min": lambda a, p: float(detailing.clear_spacing(a["phi"], a["agg"])),
    "layer_clear_min": lambda a, p: float(detailing.row_spacing(a["phi"], a["agg"])),
    "bar_spacing_max": lambda a, p: cracking.table_distance(a["fy"], a.get("redistribution", 0.0)),
    "cover_nominal": lambda a, p: cover.durability_cover(a["exposure"], a.get("fck", 0.0), a.get("phi", 20.0)),
    "cover_fire": lambda a, p: cover.fire_cover(a["hours"], a.get("continuous", False)),
    "width_fire": lambda a, p: cover.fire_width(a["hours"]),
    "deflection_limit": lambda a, p: deflection.deflection_limit(a["l"], a.get("after_partitions", False)),
    "fs_service_approx": lambda a, p: deflection.service_stress(a["fy"], a["As_prov"] / a["As_req"]),
    "kt": lambda a, p: deflection.tension_factor(a["pt"], a["fs"]),
    "kc": lambda a, p: float(deflection.compression_factor(a["pc"])),
    "kf": lambda a, p: deflection.flange_factor(a["bw_bf"]),
    "span_depth_limit": lambda a, p: _span_depth(a),
    "M_cr": lambda a, p: _cracking(a),
    "Ir_rect": lambda a, p: _cracked({"sec": {"bw": a["b"], "h": a["d"] * 1.1}, "bars": [[a["As"], a["d"]]], "m": a["m"]}, p),
    "cracked": _cracked,
    "Ieff": lambda a, p: _inertia(a),
    "k1_table25": lambda a, p: deflection.continuity_factor(a["k2"]),
    "continuous_value": lambda a, p: deflection.continuous_value(a["k2"], (a["X1"], a["X2"]), a["X0"]),
    "deflection_shrinkage": lambda a, p: service.shrinkage_deflection(a["support"], float(service.shrinkage_curvature(service.shrinkage_factor(a["pt"], a["pc"]), 3e-4, a["D"])), a["l"]),
    "k4": lambda a, p: float(service.shrinkage_factor(a["pt"], a["pc"])),
    "deflection_creep": lambda a, p: a["a_icc"] - a["a_i"],
    "deflection_short": lambda a, p: 5 * a["w"] * a["l"] ** 4 / (384 * a["EI"]) + (a["Ml"] + a["Mr"]) * a["l"] ** 2 / (16 * a["EI"]),
    "deflection_annex_c": _annex_c,
    "acr": lambda a, p: float(cracking.distance_to_bar(a["s"], a["cover_centre"], a["phi"])),
    "crack_limit": lambda a, p: cracking.WIDTHS[a["condition"]],
    "pattern_needed": lambda a, p: float(analysis.patterns_required(a["imposed"], a["dead"])),
    "coefficients_allowed": lambda a, p: float(analysis.coefficients_permitted(a["spans"])),
}  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda c: c["id"])
def test_case(case):
    value = float(CALLS[case["call"]](case["args"], case.get("pick")))
    assert value == pytest.approx(
        case["expected"], rel=case.get("tol_rel", 0.0), abs=case.get("tol_abs", 1e-12)
    )
