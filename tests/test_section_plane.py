"""Sections of any outline: the reference cases, fine fibres beside the integration along edges, and what no balance exists for."""

from __future__ import annotations

import json
from pathlib import Path
from types import SimpleNamespace

import numpy as np
import pytest

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes import get_code
from upright_bramble.codes.aci318 import torsion as american
from upright_bramble.codes.en1992 import bending, torsion
from upright_bramble.section.curvature import moment_at
from upright_bramble.section.elastic import cracking_moment, elastic_state, transformed_section
from upright_bramble.section.plane import Member, states
from upright_bramble.section.shape import inward, shape_of
from upright_bramble.section.strength import ConcreteLaw, SteelLaw
from upright_bramble.section.surface import along, axial_limits, level, used
from upright_bramble.verify.sections.cracks import crack_points

DATA = json.loads((Path(__file__).parent / "cases" / "section2d.json").read_text())
PSI = {"US": (4.4482216152605, 25.4)}


def aci(name: str, law: dict):
    """With the values of spirals where a case has them."""
    return get_code(name, None, {"phi_compression": 0.75, "axial_share": 0.85} if law.get("spiral") else {})


def laws(name: str):
    """Concrete, steel, code, whether displaced concrete is deducted, the narrowing factor, and the strength factor."""
    d = DATA["laws"][name]
    if d["code"] == "EC2":
        values = {k: d[k] for k in ("alpha_cc", "gamma_c", "gamma_s") if k in d}
        code = get_code("en1992-1-1", None, values)
        concrete = Concrete(d["fck"], diagram=d.get("shape", "parabola"))
        steel = Steel(d["fyk"], d.get("ductility", "B"), branch=d.get("branch", "horizontal"))
        narrow = code.materials.narrowing_factor(concrete) if d.get("narrow") else 1.0
        return (
            code.materials.concrete_law(concrete),
            code.materials.steel_law(steel),
            d.get("net", False),
            narrow,
            None,
        )
    if d["code"] == "ACI":
        us = d.get("u") == "US"
        code = aci("aci318-19" if us else "aci318m-19", d)
        f_c, f_y = (v * PSI["US"][0] / PSI["US"][1] ** 2 if us else v for v in (d["fc"], d["fy"]))
        concrete, steel = code.materials.concrete_law(Concrete(f_c)), code.materials.steel_law(Steel(f_y))
        factor = None if d.get("nominal") else lambda e: code.bending.resistance_factor(e, Steel(f_y))
        return concrete, steel, d.get("net", True), 1.0, factor
    if d["code"] == "mean":
        code = get_code("en1992-1-1")
        steel = SteelLaw(
            d["fy"],
            200_000.0,
            ((0.0, d["fy"] / 2e5, d["eu"]), (0.0, d["fy"], d["fu"])) if "fu" in d else None,
        )
        return code.materials.mean_law(Concrete(d["fck"])), steel, False, 1.0, None
    c, s = d["concrete"], d["steel"]
    if c["kind"] == "linear":
        concrete = ConcreteLaw(c["Ec"] * d["ecu"], d["ecu"], 0.5, lambda e: e / d["ecu"])
    else:
        concrete = ConcreteLaw(
            c["fc"],
            c["ecu"],
            0.8,
            lambda e: 1.0 - (1.0 - np.minimum(e, c["ec"]) / c["ec"]) ** c["n"],
            kinks=(c["ec"],),
            uniform_strain=c["ec"],
        )
    curve = None
    limit = s.get("eud", np.inf)
    if "fu" in s:
        e_y = s["fy"] / s["Es"]
        end = s["fy"] + (s["fu"] - s["fy"]) * (limit - e_y) / (s["eu"] - e_y)
        curve = ((0.0, e_y, limit), (0.0, s["fy"], end))
    return concrete, SteelLaw(s["fy"], s["Es"], curve, limit), False, 1.0, None


def scale(law: str) -> tuple[float, float]:
    """Newton and millimetres in the units of a case."""
    return PSI["US"] if DATA["laws"].get(law, {}).get("u") == "US" else (1.0, 1.0)


def member(args: dict) -> Member:
    _, length = scale(args["lw"])
    s = DATA["sections"][args["sec"]]
    shape = shape_of(np.array(s["outline"]) * length, [np.array(h) * length for h in s.get("holes", ())])
    bars = np.array(s["bars"], dtype=float).reshape(-1, 3)
    concrete, steel, net, narrow, factor = laws(args["lw"])
    reference = tuple(np.array(args["ref"]) * length) if "ref" in args else (shape.gross.x, shape.gross.y)
    return Member(
        shape, bars[:, 0] * length, bars[:, 1] * length, bars[:, 2] * length**2, concrete, steel, reference, net, narrow, factor
    )  # fmt: skip


def plain(args: dict):
    s = DATA["sections"][args["sec"]]
    bars = np.array(s["bars"], dtype=float).reshape(-1, 3)
    return shape_of(s["outline"], s.get("holes", ())), (bars[:, 0], bars[:, 1], bars[:, 2])


def gross(args, get):
    shape, _ = plain(args)
    g = shape.gross
    return {
        "A": g.area,
        "xc": g.x,
        "yc": g.y,
        "Ixx": g.i_xx,
        "Iyy": g.i_yy,
        "Ixy": g.i_xy,
        "I1": g.i_1,
        "I2": g.i_2,
    }[get]


def transformed(args, get):
    shape, bars = plain(args)
    return transformed_section(shape, bars, args["ae"]).i_xx


def state_at(args, get):
    force, length = scale(args["lw"])
    s = member(args)
    theta, x = args["theta"], args["x"] * length
    low, high = s.shape.extent(theta)
    height = high - low
    place = x / height if x <= height else 2.0 - height / x
    result = states(s, theta, place)
    value = {"N": result.axial, "Mx": result.moment_x, "My": result.moment_y}[get.removeprefix("phi")][0]
    return value / force / (length if "M" in get else 1.0)


def held_level(args, get):
    force, length = scale(args["lw"])
    r = level(member(args), args.get("N", 0.0) * force)
    return {"Mx": r.moment_x, "My": r.moment_y}[get] / force / length


def free(args, get):
    force, length = scale(args["lw"])
    s = member(args)
    r = along(s, args.get("N", 0.0) * force, 180.0 if args.get("face") == "bottom" else 0.0)
    return {"Mx": r.moment_x, "M": r.moment, "theta": r.theta % 360.0}[get] / (
        1.0 if get == "theta" else force * length
    )


def ray(args, get):
    return along(member(args), args["N"], args["alpha"]).moment


def utilisation(args, get):
    return used(member(args), args["N"], args["Mx"], args["My"])


def squash(args, get):
    s = member(args)
    if get == "phiPn_max":
        law = DATA["laws"][args["lw"]]
        total = s.shape.gross.area, float(s.area.sum())
        return aci("aci318m-19", law).bending.axial_cap(Concrete(law["fc"]), Steel(law["fy"]), *total, 300.0)
    low, high = axial_limits(s)
    return low if get == "phiPnt" else high


def diagram(args, get):
    return axial_limits(member(args))[0]


def elastic(args):
    shape, bars = plain(args)
    return shape, elastic_state(shape, bars, (args["N"], args["Mx"], args["My"]), args["ae"])


def elastic_values(args, get):
    shape, plane = elastic(args)
    if get == "sigma_c":
        return float(plane.at(*shape.corners.T).max())
    if get == "na_left":
        return plane.axis_height(float(shape.corners[:, 0].min()))
    return float(plane.bars[get[1]])


def curvature(args, get):
    bent = moment_at(member(args), args["N"], args["kappa"])
    assert bent.valid.all()
    return float(bent.moment_x[0])


def crack_width(args, get):
    """Of one point by EN 1992-1-1, with the case's own values of the stage."""
    shape, plane = elastic(args)
    _, bars = plain(args)
    points = crack_points(
        shape,
        (*bars, np.full(len(bars[0]), float(args["phi"]))),
        plane,
        np.array(args["points"][:1] if get[1] == 0 else args["points"], dtype=float),
        args["cover"],
    )
    stage = SimpleNamespace(short_modulus=200_000.0 / args["ae_79"], tensile_strength=args["fct_eff"])
    return float(
        get_code("en1992-1-1").cracking.around(points, stage, Service(crack_width=0.3)).width[get[1]]
    )


def first_crack(args, get):
    shape, bars = plain(args)
    return cracking_moment(shape, bars, args["ae"], args["fct"])


def wall(args, get):
    shape, _ = plain(args)
    t = float(torsion.wall_thickness(shape.gross.area, shape.perimeter, args["c_axis"]))
    return inward(shape, 0.5 * t)[0]


def with_shear_and_torsion(args, get):
    shape, _ = plain(args)
    t = float(torsion.wall_thickness(shape.gross.area, shape.perimeter, args["c_axis"]))
    a_k, u_k = inward(shape, 0.5 * t)
    pull = args["T"] * u_k * args["cot"] / (2.0 * a_k) + args["V"] * args["cot"]
    return used(member(args), args["N"] - pull, args["Mx"], args["My"])


def american_bars(args, get):
    shape, _ = plain(args)
    a_oh, p_h = inward(shape, args["c_stirrup"])
    return float(american.bars_required(args["T"], 0.85 * a_oh, p_h, args["fy"]))


CALLS = {
    "gross": gross, "transformed": transformed, "state_at": state_at, "held_level": held_level, "free": free, "ray": ray,
    "utilisation": utilisation, "squash": squash, "NM_diagram": diagram, "elastic_values": elastic_values,
    "moment_at_curvature": curvature, "crack_perimeter": crack_width, "cracking_moment": first_crack, "torsion_wall": wall,
    "vt_longitudinal": with_shear_and_torsion, "aci_torsion_polygon": american_bars,
    "min_eccentricity": lambda a, _: float(bending.minimum_eccentricity(a["h"])),
    "biaxial_exponent": lambda a, _: float(bending.biaxial_exponent(a["n"])),
    "biaxial_5_39": lambda a, _: float(bending.biaxial_share(a["MEx"] / a["MRx"], a["MEy"] / a["MRy"], a["a"])),
}  # fmt: skip
CASES = DATA["cases"]


@pytest.mark.parametrize("case", CASES, ids=lambda c: c["id"])
def test_case(case):
    value = CALLS[case["call"]](case["args"], case.get("get"))
    assert value == pytest.approx(
        case["expected"], rel=case.get("tol_rel", 0.0), abs=case.get("tol_abs", 1e-9)
    )
