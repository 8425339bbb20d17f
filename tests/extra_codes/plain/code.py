"""The made-up code PLAIN-1, in one module: what a code must at least answer."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Cover, Steel
from upright_bramble.codes import parts
from upright_bramble.codes.design_code import DesignCode, Words
from upright_bramble.codes.parts import Combination, CrackState, Deflections, ShearState, Stage, Twist
from upright_bramble.codes.patterns import alternate_and_adjacent
from upright_bramble.codes.rules import CheckKind, Place, Rule, if_fails
from upright_bramble.codes.values import values_in_force
from upright_bramble.core.bars import round_bars
from upright_bramble.errors import CodeError
from upright_bramble.section.strength import ConcreteLaw, SteelLaw
from upright_bramble.working import clause, record

P = "PLAIN-1"
SLENDER = CheckKind(
    "plain.slenderness", "bracing", "width of the web over its depth", "number", severity="advice"
)


@clause(P, "4.1", "v_c", "0.3 cbrt(f_cu/25)", "MPa", names={"f_cu": ("f_cu", "MPa")})
def shear_stress(f_cu: float) -> float:
    return 0.3 * (f_cu / 25.0) ** (1.0 / 3.0)


@clause(P, "4.2", "V_R", "(v_c b + a_sw 0.87 f_y) d", "N", names={"v_c": ("v_c", "MPa"), "b": ("b", "mm"), "a_sw": ("a_sw", "mm2/mm"),
        "f_y": ("f_y", "MPa"), "d": ("d", "mm")})  # fmt: skip
def shear_resistance(v_c, b, a_sw, f_y, d):
    return (v_c * b + a_sw * 0.87 * f_y) * d


@dataclass(frozen=True)
class Materials(parts.MaterialsPart):
    diagrams = ("block",)
    steels = ("T",)

    def concrete_strength(self, grade):
        if not grade.startswith("P") or not grade[1:].isdigit():
            raise CodeError(f"'{grade}' is not a valid grade; such as P25")
        return float(grade[1:])

    def strength_range(self):
        return 15.0, 60.0

    def steel(self, grade):
        return Steel(460.0, "", grade)

    def concrete_law(self, concrete):
        return ConcreteLaw(0.45 * concrete.strength, 0.0035, 0.9)

    def steel_law(self, steel):
        return SteelLaw(0.87 * steel.strength, 200_000.0)

    def modulus(self, concrete):
        return 5000.0 * math.sqrt(concrete.strength)


@dataclass(frozen=True)
class Actions(parts.ActionsPart):
    v: Mapping[str, float]

    levels, lasting_level, rare_level = ("strength", "service"), "service", "service"
    categories, kinds, rules = ("any",), ("imposed", "wind", "other"), ("sum",)

    def default_category(self):
        return "any"

    def accompanying(self):
        return {"any": (1.0, 1.0, 0.3), "wind": (1.0, 1.0, 0.0)}

    def combinations(self, groups, rule=""):
        some = tuple(self.v["factor_live"] for _ in groups)
        none = tuple(0.0 for _ in groups)
        whole = tuple(1.0 for _ in groups)
        dead = self.v["factor_dead"]
        strength = [("1.4 G", dead, none), ("1.4 G + 1.6 Q", dead, some), ("1.0 G + 1.6 Q", 1.0, some)]
        result = [Combination("strength", name, g, q) for name, g, q in strength]
        return [*result, Combination("service", "G", 1.0, none), Combination("service", "G + Q", 1.0, whole)]

    def sustained_shares(self, groups):
        return tuple(0.3 for _ in groups)


@dataclass(frozen=True)
class Analysis(parts.AnalysisPart):
    def bracing_limit(self, b, h):
        return 60.0 * b

    def arrangements(self, spans):
        return alternate_and_adjacent(spans)

    def flange_reach(self, flange, web, around):
        reach = (min(flange.left, around.length / 10.0), min(flange.right, around.length / 10.0))
        return reach, reach, reach

    def face_moment(self, at_face, full_fixity):
        return np.maximum(at_face, 0.0)

    def end_hogging(self, span_moment):
        return 0.1 * np.asarray(span_moment)

    def minimum_delta(self, steel):
        return 0.7


@dataclass(frozen=True)
class Bending(parts.BendingPart):
    def neutral_axis_ratio(self, x, d, outer):
        return np.asarray(x) / d

    def neutral_axis_limit(self, concrete, steel, delta=1.0):
        return 0.5 + 0.0 * np.asarray(delta)

    def minimum_steel(self, concrete, steel, face, required):
        return 0.0015 * face.b_w * face.d

    def maximum_steel(self, gross_area):
        return 0.04 * gross_area


@dataclass(frozen=True)
class Shear(parts.ShearPart):
    crushes_at_face = True

    def lever(self, d):
        return np.asarray(d) * 1.0

    def state(self, concrete, steel, web, asw_s, cot):
        v_c = shear_stress(concrete.strength)
        whole, crushed = shear_resistance(v_c, web.b, asw_s, steel.strength, web.d), 4.0 * web.b * web.d
        return ShearState(
            web.d, cot, v_c * web.b * web.d, whole - v_c * web.b * web.d, crushed, np.minimum(whole, crushed)
        )

    def model(self, concrete, steel, web, asw_s, cot):
        return ["v_c of 4.1"] * len(cot)

    def near_support_resistance(self, steel, area):
        return area * 0.87 * steel.strength

    def stirrups_required(self, concrete, steel, web, v_ed, cot):
        beyond = np.maximum(np.asarray(v_ed) / web.d - shear_stress(concrete.strength) * web.b, 0.0)
        return beyond / (0.87 * steel.strength)

    def minimum_stirrups(self, concrete, steel, b):
        return 0.4 * b / (0.87 * steel.strength)

    def maximum_spacing(self, concrete, web, v_ed):
        return 0.75 * web.d

    def maximum_leg_spacing(self, concrete, web, v_ed):
        return 1.0 * web.d

    def shift(self, d, cot):
        return 1.0 * np.asarray(d)

    def suspension_steel(self, steel, reaction):
        return max(reaction, 0.0) / (0.87 * steel.strength)

    def anchored_beyond(self, anchorage, d):
        return anchorage + d


@dataclass(frozen=True)
class Torsion(parts.TorsionPart):
    def required(self, concrete, steels, web, tube, shear, torque, cot, compatible):
        x, y = tube.b - 2.0 * tube.tie_axis, tube.h - 2.0 * tube.tie_axis
        leg = np.asarray(torque) / (1.6 * x * y * 0.87 * steels[1].strength)
        used = np.asarray(torque) / (2.0 * x**2 * (y - x / 3.0)) + shear / (4.0 * web.b * web.d)
        apart = np.where(leg > 0.0, np.minimum(x, 200.0), np.inf)
        return Twist(leg, leg * 2.0 * (x + y), 2.0 * (x + y), y, np.where(leg > 0.0, used, 0.0), apart, 300.0)


@dataclass(frozen=True)
class Bond(parts.BondPart):
    def anchorage(self, concrete, steel, phi, height, h, around=None, *, bent=False):
        return 40.0 * np.asarray(phi) + 0.0 * np.asarray(height)

    def minimum_anchorage(self, anchorage, phi, within=0.0):
        return 12.0 * np.asarray(phi)

    def lap(self, concrete, steel, phi, height, h, share=1.0, around=None, stress=1.0):
        return 50.0 * np.asarray(phi) + 0.0 * np.asarray(height)

    def lap_clear_distance(self, phi, aggregate):
        return np.maximum(2.0 * np.asarray(phi), 20.0)


@dataclass(frozen=True)
class Detailing(parts.DetailingPart):
    def compression_stirrup_spacing(self, phi, tie, minimum):
        return 12.0 * np.asarray(phi)

    def clear_spacing(self, phi, aggregate):
        return np.maximum(np.asarray(phi), aggregate + 5.0)

    def bend_radius(self, phi):
        return 3.0 * phi

    def stirrup_radius(self, phi):
        return 2.0 * phi

    def stirrup_tail(self, phi):
        return 12.0 * phi

    def minimum_leg(self, phi, kind, former=0.0):
        return 0.0 if kind in ("straight", "lap") else 12.0 * phi


@dataclass(frozen=True)
class Curtailment(parts.CurtailmentPart):
    def end_force(self, v_ed, d, cot):
        return 0.5 * np.asarray(v_ed)

    def end_anchorage(self, end):
        return 0.5 * end.shear, end.force, "force"

    def bottom_share(self, simple):
        return 0.5 if simple else 0.3

    def into_support(self, phi, simple):
        return 12.0 * np.asarray(phi)


@dataclass(frozen=True)
class Covers(parts.CoverPart):
    def minimum_for_bar(self, phi, aggregate):
        return np.asarray(phi) + 5.0

    def required(self, wish):
        return Cover(40.0, 40.0, 40.0)


@dataclass(frozen=True)
class InService(parts.ServicePart):
    materials: Materials
    gross_uncracked = True

    def stages(self, concrete, service, h_0, stress=0.0):
        e = np.full(len(h_0), self.materials.modulus(concrete))
        return {"short": Stage(e / 2.0, float(e[0]), 1.0, np.zeros(len(h_0)), False, 200_000.0)}

    def curvature(self, moment, uncracked, cracked, h, stage, lasting, before=0.0):
        return moment / (stage.modulus * cracked.i)


@dataclass(frozen=True)
class Deflection(parts.DeflectionPart):
    def usual_limits(self, kinds):
        return {"total": 250.0}

    def span_depth(self, concrete, steel, span):
        return (
            span.length / span.d,
            {"simple": 20.0, "end": 23.0, "interior": 26.0, "cantilever": 7.0}[span.ends],
            "number",
        )

    def lines(self, ask, wanted, rho_compression):
        total = ask("service", "short", symbol="a_lt")
        return Deflections(ask("permanent", "short", symbol="a_G"), total, total, total)


@dataclass(frozen=True)
class Cracking(parts.CrackingPart):
    level, stage = "service", "short"

    def judge(self, moment, cracked, stage, face, wanted):
        sigma = stage.alpha_e * moment * np.maximum(face.outer - cracked.x, 0.0) / cracked.i
        limit = np.maximum(47_000.0 / np.maximum(sigma, 1.0), 1.0)
        return CrackState(
            np.where(moment > 0.0, face.spacing, 0.0), limit, "length", 0.0 * moment, sigma, face.outer
        )


def slenderness(f):
    """A rule that no other code has."""
    result = []
    for index, span in enumerate(f.beam.spans):
        record("b", span.narrowest, "mm", "width")
        record("h", span.deepest, "mm", "depth")
        note = if_fails("a wider web", span.deepest > 4.0 * span.narrowest)
        result.append(
            f.check(
                "plain.slenderness",
                Place(span=index),
                f.at.of(index).start,
                span.deepest / span.narrowest,
                4.0,
                note=note,
            )
        )
    return result


def make(name, annex, overrides):
    values = values_in_force(
        {"factor_dead": {"value": 1.4, "clause": "2.1"}, "factor_live": {"value": 1.6, "clause": "2.1"}},
        overrides,
    )
    v = {key: value.value for key, value in values.items()}
    words = Words(
        {"bending.sagging": "3.1", "shear.stirrups": "4.2", "plain.slenderness": "9.9"}, {"V_R,max": "V_max"}
    )
    sizes = round_bars(
        (8, 10, 12, 16, 20, 25, 32), "T", main=("12", "16", "20", "25", "32"), stirrups=("8", "10", "12")
    )
    materials = Materials()
    answers = (materials, Actions(v), Analysis(), Bending(), Shear(), Torsion(), Bond(), Detailing(), Curtailment(), Covers(),
             InService(materials), Deflection(), Cracking())  # fmt: skip
    rules = (Rule("slenderness", 300, (SLENDER,), slenderness),)
    return DesignCode(name, "PLAIN-1, a made-up code", annex, (), values, words, sizes, *answers, rules)
