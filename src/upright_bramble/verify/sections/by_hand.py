"""One cross-section in the order of a hand calculation: steel required for given forces about one axis."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import TensionFace, Tube, Web
from upright_bramble.errors import InternalMismatch
from upright_bramble.section.arrays import Array
from upright_bramble.section.strips import Strips


@dataclass(frozen=True)
class Row:
    """Bars at one depth (mm from the top), their area and diameter."""

    area: float
    depth: float
    diameter: float
    count: int = 0


@dataclass(frozen=True)
class Section:
    """A section and what acts on it. Moments sagging positive, about the gross centroid; `axial` compression
    positive.

    `cover` is to the stirrup at the tension face; `asw_s` stirrups there are (mm2/mm), 0 for none.
    """

    title: str
    strips: Strips
    concrete: Concrete
    bars: Steel
    stirrups: Steel
    cover: float
    rows: tuple[Row, ...] = ()
    tie: float = 8.0
    legs: int = 2
    asw_s: float = 0.0
    moment: float = 0.0
    shear: float = 0.0
    torque: float = 0.0
    axial: float = 0.0


@dataclass(frozen=True)
class Line:
    """One value of the calculation: what it is, its symbol, the number (N, mm, MPa), its quantity, and the
    clause."""

    heading: str
    what: str
    symbol: str
    value: float
    quantity: str
    clause: str = ""


def work_out(cut: Section, code: DesignCode) -> list[Line]:
    """What moment, shear and torsion require."""
    turned = compressed_on_top(cut)
    result: list[Line] = []
    if turned.moment:
        result += _required(turned, code)
    if turned.shear or turned.torque:
        result += _cut_and_twisted(turned, code)
    if any(np.isnan(v.value) for v in result):
        raise InternalMismatch(
            "internal check failed: a value of this section is no number; no verdict is given"
        )
    return [replace(v, symbol=code.words.symbols.get(v.symbol, v.symbol)) for v in result]


def compressed_on_top(cut: Section) -> Section:
    """The section, turned upside down where it hogs."""
    if cut.moment >= 0.0:
        return cut
    h = float(cut.strips.height[0])
    rows = tuple(Row(r.area, h - r.depth, r.diameter, r.count) for r in cut.rows)
    return replace(cut, strips=cut.strips.turned(), rows=rows, moment=-cut.moment)


def _tension(cut: Section) -> tuple[Row, ...]:
    """Rows in the lower half: those that a hand calculation takes as the tension steel."""
    h = float(cut.strips.height[0])
    return tuple(r for r in cut.rows if r.depth > 0.5 * h)


def effective_depth(cut: Section) -> float:
    """Of the tension rows there are, or with one row of 20 mm bars."""
    own = _tension(cut)
    if own:
        return sum(r.area * r.depth for r in own) / sum(r.area for r in own)
    return float(cut.strips.height[0]) - cut.cover - cut.tie - 10.0


def web_width(cut: Section) -> float:
    """The narrowest width."""
    deep = (cut.strips.bottom - cut.strips.top) > 1e-6
    return float(np.minimum(cut.strips.upper, cut.strips.lower)[deep].min())


def _required(cut: Section, code: DesignCode) -> list[Line]:
    """Steel for the moment (and axial force), from the block that balances it about the tension steel."""
    law, steel = code.materials.concrete_law(cut.concrete), code.materials.steel_law(cut.bars)
    d, head = effective_depth(cut), "steel for the moment"
    area_c, centroid, _ = (float(v[0]) for v in cut.strips.gross())
    about = (cut.moment + cut.axial * (d - centroid)) / code.bending.usual_factor
    limit = float(code.bending.neutral_axis_limit(cut.concrete, cut.bars))
    a_lim = law.depth_factor * limit * d

    def force(a: float) -> tuple[float, float]:
        area, first = (float(v[0]) for v in cut.strips.first(np.array([a])))
        return law.stress * area, law.stress * (area * d - first)

    maximum = force(a_lim)[1]
    carried = min(about, maximum)
    a = _root(lambda depth: force(depth)[1] - carried, 0.0, a_lim)
    push, moment = force(a)
    z = moment / push if push else d
    result = [
        Line(head, "moment about the tension steel", "M_s", about, "moment"),
        Line(
            head,
            "largest neutral axis depth over d",
            "x/d limit",
            limit,
            "number",
            code.words.clauses["ductility.sagging"],
        ),
        Line(head, "moment that tension steel alone can balance", "M_lim", maximum, "moment"),
        Line(
            head,
            "depth of the stress block",
            "a",
            a,
            "length",
            code.words.clauses["bending.sagging"].split(",")[0],
        ),
        Line(head, "neutral axis depth", "x", a / law.depth_factor, "length"),
        Line(head, "lever arm", "z", z, "length"),
    ]
    d_2 = cut.cover + cut.tie + 10.0
    strain = law.ultimate_strain * (1.0 - d_2 / max(limit * d, 1e-9))
    stress = float(steel.stress(np.array(strain))) - law.stress * (d_2 < a_lim)
    rest = max(about - maximum, 0.0)
    pull = push - cut.axial / code.bending.usual_factor
    if rest > 0.0:
        result.append(
            Line(
                head,
                "compression steel",
                "A_s2",
                rest / (stress * (d - d_2)) if stress > 0.0 else np.inf,
                "area",
            )
        )
        pull += rest / (d - d_2)
    required = max(pull / steel.yield_stress, 0.0)
    result.append(Line(head, "tension steel", "A_s,req", required, "area"))
    b_w = np.array([web_width(cut)])
    b_t = (
        np.array([float(cut.strips.tension_width()[0])])
        if float(cut.strips.lower[0, -1]) > web_width(cut) * 1.01
        else b_w
    )
    upper = np.array([float(cut.strips.upper[0, 0])])
    flanged = b_t > b_w * 1.01
    modulus = cut.strips.tension_modulus()[:1] if flanged[0] else b_t * cut.strips.height[:1] ** 2 / 6.0
    face = TensionFace(
        h=cut.strips.height,
        d=np.array([d]),
        b_w=b_w,
        b_own=b_w,
        b_t=b_t,
        b_c=upper,
        both=flanged,
        w_t=modulus,
    )
    minimum = code.bending.minimum_steel(cut.concrete, cut.bars, face, np.array([required]))
    result.append(
        Line(
            head,
            "minimum tension steel",
            "A_s,min",
            float(minimum[0]),
            "area",
            code.words.clauses["minimum.bottom"],
        )
    )
    top = float(code.bending.maximum_steel(np.array([area_c]))[0])
    if np.isfinite(top):
        result.append(
            Line(head, "maximum steel", "A_s,max", top, "area", code.words.clauses.get("maximum.steel", ""))
        )
    return result


def _root(f: Callable[[float], float], low: float, high: float) -> float:
    """Of an increasing function, by halving."""
    for _ in range(80):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if f(middle) < 0.0 else (low, middle)
    return 0.5 * (low + high)


def _cut_and_twisted(cut: Section, code: DesignCode) -> list[Line]:
    """Shear and torsion: what is required of stirrups and bars."""
    d, b, h = np.array([effective_depth(cut)]), np.array([web_width(cut)]), cut.strips.height
    area = np.array([sum(r.area for r in _tension(cut))])
    moment, v, t = (np.array([abs(value)]) for value in (cut.moment, cut.shear, cut.torque))
    web = Web(b=b, d=d, a_sl=area, gross=cut.strips.gross()[0], axial=cut.axial, h=h, moment=moment, shear=v)
    none, edge = np.zeros(1), np.array([cut.cover + 0.5 * cut.tie])
    tube = Tube(b, h, edge, np.array([cut.cover + cut.tie + 10.0]), none, none, none)
    with_torque = v + (code.torsion.equivalent_shear(tube, d, t) if cut.torque else 0.0)
    cot = code.shear.strut(cut.concrete, b, d, with_torque, 0.0, cut.axial)
    result = _cut(cut, code, web, cot)
    if cut.torque:
        result += _twisted(cut, code, web, tube, cot)
    return result


def _cut(cut: Section, code: DesignCode, web: Web, cot: Array) -> list[Line]:
    """Shear: the parts of the resistance, and the stirrups that the shear and the code ask for."""
    concrete, steel, clauses, v = cut.concrete, cut.stirrups, code.words.clauses, np.array([abs(cut.shear)])
    minimum = code.shear.minimum_stirrups(concrete, steel, web.b)
    least = np.maximum(np.array([cut.asw_s]), minimum)
    state = code.shear.state(concrete, steel, web, least, cot)
    requested = 0.0
    if v[0] > state.concrete[0]:
        requested = float(code.shear.stirrups_required(concrete, steel, web, v, cot)[0])
    own = "resistance of the concrete"
    turned: list[Line] = []
    if code.words.symbol("cot_theta"):
        turned = [
            Line("shear", "strut angle", "cot theta", float(cot[0]), "number", clauses["shear.stirrups"])
        ]
    else:
        own = f"concrete, {code.shear.model(concrete, steel, web, least, cot)[0].removeprefix('V_c ')}"
    spacing = float(code.shear.maximum_spacing(concrete, web, v)[0])
    return [
        Line("shear", "lever arm", "z", float(state.z[0]), "length"),
        *turned,
        Line(
            "shear",
            own,
            code.words.symbol("V_R,c"),
            float(state.concrete[0]),
            "force",
            clauses["shear.stirrups"],
        ),
        Line(
            "shear",
            "limit of the section",
            code.words.symbol("V_R,max"),
            float(state.crushing[0]),
            "force",
            clauses["shear.crushing"],
        ),
        Line("shear", "stirrups for the shear", "A_sw/s", max(requested, 0.0), "steel per length"),
        Line(
            "shear",
            "minimum stirrups",
            "A_sw/s,min",
            float(minimum[0]),
            "steel per length",
            clauses["minimum.stirrups"],
        ),
        Line("shear", "maximum spacing", "s_max", spacing, "length", clauses["spacing.stirrups"]),
    ]


def _twisted(cut: Section, code: DesignCode, web: Web, tube: Tube, cot: Array) -> list[Line]:
    """Torsion beside the shear: closed stirrups, bars around the section, and its share of the section."""
    v, t = np.array([abs(cut.shear)]), np.array([abs(cut.torque)])
    clauses = code.words.clauses
    w = code.torsion.required(cut.concrete, (cut.bars, cut.stirrups), web, tube, v, t, cot, False)
    return [
        Line(
            "torsion",
            "one leg of the closed stirrups",
            "A_t/s",
            float(w.leg[0]),
            "steel per length",
            clauses["torsion.stirrups"],
        ),
        Line("torsion", "bars around the section", "A_l", float(w.bars[0]), "area", clauses["torsion.sides"]),
        Line(
            "torsion",
            "share of the section used with shear",
            "used",
            float(w.crushing[0]),
            "number",
            clauses["torsion.crushing"],
        ),
    ]
