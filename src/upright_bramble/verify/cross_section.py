"""One cross-section by itself, in the order of a hand calculation: steel for given actions, resistance of given bars, service."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Face, TensionFace, Tube, Web
from upright_bramble.errors import InternalMismatch
from upright_bramble.section.arrays import Array
from upright_bramble.section.cracked import cracked, uncracked
from upright_bramble.section.strength import bending_resistance, bracketed_root
from upright_bramble.section.strips import Strips
from upright_bramble.text import amount
from upright_bramble.verify.result import MAXIMUM_RATIO


@dataclass(frozen=True)
class Row:
    """Bars at one depth (mm from the top), their area and diameter."""

    area: float
    depth: float
    diameter: float
    count: int = 0


@dataclass(frozen=True)
class Section:
    """A section and what is asked of it. Moments sagging positive, about the gross centroid; `axial` compression positive.

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
    service_moment: float = 0.0
    service: Service = Service()  # noqa: RUF009 - frozen, and the same for all


@dataclass(frozen=True)
class Line:
    """One value of the calculation: what it is, its symbol, the number (N, mm, MPa), its quantity, and the clause."""

    heading: str
    what: str
    symbol: str
    value: float
    quantity: str
    clause: str = ""


@dataclass(frozen=True)
class Worked:
    """Values in order, and ratios of what is asked to what there is."""

    lines: tuple[Line, ...]
    ratios: tuple[tuple[str, float], ...]


def work_out(cut: Section, code: DesignCode) -> Worked:
    """Everything that the section and what is asked of it allow to be said."""
    turned = compressed_on_top(cut)
    lines: list[Line] = []
    ratios: list[tuple[str, float]] = []
    lines += _shape(turned)
    if turned.moment:
        lines += _required(turned, code)
    if turned.rows:
        more, ratio = _resisted(turned, code)
        lines += more
        ratios += [("bending", ratio)] if turned.moment else []
    if turned.shear or turned.torque:
        more, result = _cut_and_twisted(turned, code)
        lines += more
        ratios += result
    if turned.service_moment and turned.rows:
        more, ratio = _serviced(turned, code)
        lines += more
        ratios.append(("cracking", ratio))
    ratios += _apart(turned, code)
    if not turned.rows and any(np.isposinf(v.value) for v in lines):  # no steel would do
        ratios.append(("required reinforcement", MAXIMUM_RATIO))
    if any(np.isnan(v) for v in (*(ratio for _, ratio in ratios), *(v.value for v in lines))):
        raise InternalMismatch("internal check failed: a value of this section is no number; no verdict is given")
    lines = [replace(v, symbol=code.words.symbols.get(v.symbol, v.symbol)) for v in lines]
    return Worked(tuple(lines), tuple((name, min(ratio, MAXIMUM_RATIO)) for name, ratio in ratios))


def beside(cut: Section) -> list[list[Row]]:
    """Rows whose bars overlap in height and so stand beside one another, from the top."""
    groups: list[list[Row]] = []
    for row in sorted(cut.rows, key=lambda r: r.depth):
        if groups and any(abs(row.depth - o.depth) < 0.5 * (row.diameter + o.diameter) - 0.5 for o in groups[-1]):
            groups[-1].append(row)
        else:
            groups.append([row])
    return groups


def room_for(cut: Section, rows: list[Row]) -> float:
    """Width inside cover and stirrup where the bars of these rows are, mm."""
    levels = np.array([[[y for r in rows for y in (r.depth - 0.5 * r.diameter, r.depth, r.depth + 0.5 * r.diameter)]]])
    s = cut.strips
    within = (levels >= s.top[..., None] - 1e-6) & (levels <= s.bottom[..., None] + 1e-6)
    width = np.where(within, s.breadth(levels), 0.0).max(axis=1)  # at an edge the wider of two strips
    return float(width.min()) - 2.0 * (cut.cover + (cut.tie if cut.asw_s else 0.0))


def _apart(cut: Section, code: DesignCode) -> list[tuple[str, float]]:
    """The fullest row against the width that there is, at the clear spacing of the code."""
    result = []
    for rows in beside(cut):
        number, thickest = sum(r.count for r in rows), max(r.diameter for r in rows)
        if number > 1:
            gaps = (number - 1) * float(code.detailing.clear_spacing(thickest, cut.concrete.aggregate))
            result.append((sum(r.count * r.diameter for r in rows) + gaps) / max(room_for(cut, rows), 1e-9))
    return [("bar spacing", max(result))] if result and max(result) > 1.0 else []


def compressed_on_top(cut: Section) -> Section:
    """The section, turned upside down where it hogs."""
    if cut.moment > 0.0 or (cut.moment == 0.0 and cut.service_moment >= 0.0):
        return cut
    h = float(cut.strips.height[0])
    rows = tuple(Row(r.area, h - r.depth, r.diameter, r.count) for r in cut.rows)
    return replace(cut, strips=cut.strips.turned(), rows=rows, moment=-cut.moment, service_moment=-cut.service_moment)


def _arrays(cut: Section) -> tuple[Array, Array]:
    return np.array([[r.area for r in cut.rows]]), np.array([[r.depth for r in cut.rows]])


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


def _shape(cut: Section) -> list[Line]:
    area, centroid, second = (float(v[0]) for v in cut.strips.gross())
    head = "the gross section"
    return [
        Line(head, "depth", "h", float(cut.strips.height[0]), "length"),
        Line(head, "narrowest width", "b_w", web_width(cut), "length"),
        Line(head, "area", "A_c", area, "area"),
        Line(head, "centroid from the compressed face", "y", centroid, "length"),
        Line(head, "second moment of area", "I", second, "fourth"),
        Line(head, "effective depth", "d", effective_depth(cut), "length"),
    ]


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
        Line(head, "largest neutral axis depth over d", "x/d limit", limit, "number", code.words.clauses["ductility.sagging"]),
        Line(head, "moment that tension steel alone can balance", "M_lim", maximum, "moment"),
        Line(head, "depth of the stress block", "a", a, "length", code.words.clauses["bending.sagging"].split(",")[0]),
        Line(head, "neutral axis depth", "x", a / law.depth_factor, "length"),
        Line(head, "lever arm", "z", z, "length"),
    ]
    d_2 = cut.cover + cut.tie + 10.0
    strain = law.ultimate_strain * (1.0 - d_2 / max(limit * d, 1e-9))
    stress = float(steel.stress(np.array(strain))) - law.stress * (d_2 < a_lim)
    rest = max(about - maximum, 0.0)
    pull = push - cut.axial / code.bending.usual_factor
    if rest > 0.0:
        result.append(Line(head, "compression steel", "A_s2", rest / (stress * (d - d_2)) if stress > 0.0 else np.inf, "area"))
        pull += rest / (d - d_2)
    required = max(pull / steel.yield_stress, 0.0)
    result.append(Line(head, "tension steel", "A_s,req", required, "area"))
    b_w = np.array([web_width(cut)])
    b_t = np.array([float(cut.strips.tension_width()[0])]) if float(cut.strips.lower[0, -1]) > web_width(cut) * 1.01 else b_w
    upper = np.array([float(cut.strips.upper[0, 0])])
    face = TensionFace(cut.strips.height, np.array([d]), b_w, b_w, b_t, upper, b_t > b_w * 1.01)
    minimum = code.bending.minimum_steel(cut.concrete, cut.bars, face, np.array([required]))
    result.append(Line(head, "minimum tension steel", "A_s,min", float(minimum[0]), "area", code.words.clauses["minimum.bottom"]))
    top = float(code.bending.maximum_steel(np.array([area_c]))[0])
    if np.isfinite(top):
        result.append(Line(head, "maximum steel", "A_s,max", top, "area", code.words.clauses.get("maximum.steel", "")))
    return result


def _root(f: Callable[[float], float], low: float, high: float) -> float:
    """Of an increasing function, by halving."""
    for _ in range(80):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if f(middle) < 0.0 else (low, middle)
    return 0.5 * (low + high)


def _resisted(cut: Section, code: DesignCode) -> tuple[list[Line], float]:
    law, steel = code.materials.concrete_law(cut.concrete), code.materials.steel_law(cut.bars)
    areas, depths = _arrays(cut)
    r = bending_resistance(cut.strips, areas, depths, law, steel, cut.axial / code.bending.usual_factor)
    _, centroid, _ = cut.strips.gross()
    nominal = float(r.moment[0]) + cut.axial / code.bending.usual_factor * float(centroid[0] - 0.5 * cut.strips.height[0])
    x, head = float(r.x[0]), "resistance of the bars"
    result = [
        Line(head, "neutral axis depth", "x", x, "length"),
        Line(head, "strain of the concrete", "eps_cu", law.ultimate_strain, "strain"),
    ]
    for row in cut.rows:
        strain = law.ultimate_strain * (x - row.depth) / x
        stress = float(steel.stress(np.array(strain)))
        result.append(Line(head, f"strain of the bars {amount(row.depth, 'length')} down", "eps_s", strain, "strain"))
        result.append(Line(head, "their stress, compression +", "sigma_s", stress, "stress"))
    factor = float(code.bending.resistance_factor(r.steel_strain, cut.bars)[0])
    limit = float(code.bending.neutral_axis_limit(cut.concrete, cut.bars))
    result.append(Line(head, "neutral axis depth over d", "x/d", x / float(r.d[0]), "number", code.words.clauses["ductility.sagging"]))
    result.append(Line(head, "its limit", "x/d limit", limit, "number", code.words.clauses["ductility.sagging"]))
    if factor != 1.0:
        result.append(Line(head, "nominal moment", "M_n", nominal, "moment"))
        result.append(Line(head, "factor for the strain", "phi", factor, "number"))
    result.append(
        Line(
            head,
            "moment of resistance",
            code.words.symbol("M_R"),
            factor * nominal,
            "moment",
            code.words.clauses["bending.sagging"].split(",")[0],
        )
    )
    ratio = cut.moment / max(factor * nominal, 1e-6)
    return result, ratio


def _cut_and_twisted(cut: Section, code: DesignCode) -> tuple[list[Line], list[tuple[str, float]]]:
    d, b = np.array([effective_depth(cut)]), np.array([web_width(cut)])
    area = np.array([sum(r.area for r in _tension(cut))])
    h = cut.strips.height
    web = Web(b, d, area, cut.strips.gross()[0], cut.axial, h, np.array([abs(cut.moment)]), np.array([abs(cut.shear)]))
    v, t = np.array([abs(cut.shear)]), np.array([abs(cut.torque)])
    none = np.zeros(1)
    tube = Tube(b, cut.strips.height, np.array([cut.cover + 0.5 * cut.tie]), np.array([cut.cover + cut.tie + 10.0]), none, none, none)
    cot = code.shear.strut(cut.concrete, b, d, v + (code.torsion.equivalent_shear(tube, d, t) if cut.torque else 0.0), 0.0, cut.axial)
    given = np.array([cut.asw_s])
    minimum = code.shear.minimum_stirrups(cut.concrete, cut.stirrups, b)
    state = code.shear.state(cut.concrete, cut.stirrups, web, np.maximum(given, minimum), cot)
    requested = code.shear.stirrups_required(cut.concrete, cut.stirrups, web, v, cot) if v[0] > state.concrete[0] else np.zeros(1)
    head = "shear"
    clauses = code.words.clauses
    words = code.shear.model(cut.concrete, cut.stirrups, web, np.maximum(given, minimum), cot)[0].removeprefix("V_c ")
    result = [
        Line(head, "lever arm", "z", float(state.z[0]), "length"),
        *(
            [Line(head, "strut angle", "cot theta", float(cot[0]), "number", clauses["shear.stirrups"])]
            if code.words.symbol("cot_theta")
            else []
        ),
        Line(
            head,
            "resistance of the concrete" if code.words.symbol("cot_theta") else f"concrete, {words}",
            code.words.symbol("V_R,c"),
            float(state.concrete[0]),
            "force",
            clauses["shear.stirrups"],
        ),
        Line(head, "limit of the section", code.words.symbol("V_R,max"), float(state.crushing[0]), "force", clauses["shear.crushing"]),
        Line(head, "stirrups for the shear", "A_sw/s", float(max(requested[0], 0.0)), "steel per length"),
        Line(head, "minimum stirrups", "A_sw/s,min", float(minimum[0]), "steel per length", clauses["minimum.stirrups"]),
        Line(
            head,
            "maximum spacing",
            "s_max",
            float(code.shear.maximum_spacing(cut.concrete, web, v)[0]),
            "length",
            clauses["spacing.stirrups"],
        ),
    ]
    ratios: list[tuple[str, float]] = []
    leg = 0.0
    if cut.torque:
        w = code.torsion.required(cut.concrete, (cut.bars, cut.stirrups), web, tube, v, t, cot, False)
        leg = float(w.leg[0])
        result += [
            Line("torsion", "one leg of the closed stirrups", "A_t/s", leg, "steel per length", clauses["torsion.stirrups"]),
            Line("torsion", "bars around the section", "A_l", float(w.bars[0]), "area", clauses["torsion.sides"]),
            Line("torsion", "share of the section used with shear", "used", float(w.crushing[0]), "number", clauses["torsion.crushing"]),
        ]
        ratios.append(("torsion with shear", float(w.crushing[0])))
    if cut.asw_s:
        spare = np.maximum(given - cut.legs * leg, 0.0)
        state = code.shear.state(cut.concrete, cut.stirrups, web, spare, cot)
        at = next(k for k, v in enumerate(result) if v.symbol == "s_max") + 1
        result.insert(at, Line(head, "resistance with the stirrups there are", code.words.symbol("V_R"), float(state.total[0]), "force"))
        ratios.append(("shear", float(v[0] / max(state.total[0], 1e-6))))
    return result, ratios


def _serviced(cut: Section, code: DesignCode) -> tuple[list[Line], float]:
    areas, depths = _arrays(cut)
    perimeter = 2.0 * (float(cut.strips.height[0]) + float(cut.strips.upper.max()))
    stage = code.service.stages(cut.concrete, cut.service, 2.0 * cut.strips.gross()[0] / perimeter)[code.cracking.stage]
    whole = uncracked(cut.strips, 0.0 * areas if code.service.gross_uncracked else areas, depths, stage.alpha_e)
    broken = cracked(cut.strips, areas, depths, stage.alpha_e)
    h, m = cut.strips.height, np.array([cut.service_moment])
    own = _tension(cut)
    total = np.array([sum(r.area for r in own)])
    count = sum(r.count for r in own)
    phi = np.array([sum(r.area * r.diameter for r in own) / max(float(total[0]), 1e-9)])
    b = np.array([web_width(cut)])
    room = b - 2.0 * (cut.cover + cut.tie) - phi
    rows_of_steel = np.array([[r.area for r in own]]), np.array([[r.depth for r in own]])
    outer = rows_of_steel[1].max(axis=1, initial=effective_depth(cut))
    bars_apart = room / max(count - 1, 1)
    face = Face(
        b,
        h,
        total,
        np.array([effective_depth(cut)]),
        phi,
        np.array([cut.cover + cut.tie]),
        bars_apart,
        outer,
        *rows_of_steel,
        np.array([cut.bars.strength]),
    )
    c = code.cracking.judge(m, broken, stage, face, cut.service)
    head = "service"
    result = [
        Line(head, "ratio of moduli", "alpha_e", float(stage.alpha_e[0]), "number"),
        Line(head, "cracking moment", "M_cr", float((stage.tensile_strength * whole.i / (h - whole.x))[0]), "moment"),
        Line(head, "neutral axis depth, cracked", "x_cr", float(broken.x[0]), "length"),
        Line(head, "second moment, cracked", "I_cr", float(broken.i[0]), "fourth"),
        Line(head, "stress of the tension bars", "sigma_s", float(c.stress[0]), "stress"),
        Line(head, *(("crack width", "w_k") if c.quantity == "crack" else ("distance of bars", "s")), float(c.demand[0]), c.quantity,
             code.words.clauses["cracking.bottom"]),
        Line(head, "its limit", "limit", float(c.limit[0]), c.quantity, code.words.clauses["cracking.bottom"]),
    ]  # fmt: skip
    return result, float(c.demand[0] / c.limit[0])


def interaction(cut: Section, code: DesignCode, points: int = 120) -> tuple[Array, Array]:
    """Axial force (compression positive) and moment about the centroid that the bars resist together, (points,) each, for a
    neutral axis from near the compressed face to far below the section."""
    law, steel = code.materials.concrete_law(cut.concrete), code.materials.steel_law(cut.bars)
    h = float(cut.strips.height[0])
    x = h * np.geomspace(0.02, 6.0, points)
    strips = cut.strips.at(np.zeros(points, dtype=np.int64))
    areas, depths = (np.repeat(a, points, axis=0) for a in _arrays(cut))
    area, first = strips.first(law.depth_factor * x)
    strain = law.ultimate_strain * (x[:, None] - depths) / x[:, None]
    bar = areas * (steel.stress(strain) - law.stress * (depths < law.depth_factor * x[:, None]))
    centre = float(cut.strips.gross()[1][0])
    n = law.stress * area + bar.sum(axis=1)
    m = law.stress * (area * centre - first) + (bar * (centre - depths)).sum(axis=1)
    factor = code.bending.resistance_factor(np.maximum(-strain.min(axis=1), 0.0), cut.bars)
    return factor * n, factor * m


def moment_curvature(cut: Section, modulus: float, points: int = 80) -> tuple[Array, Array]:
    """Curvature (1/mm) and moment under the axial force, with characteristic strengths: parabola and rectangle to 0.0035 without
    tension for the concrete, elastic and plastic bars."""
    areas, depths = _arrays(cut)
    h, strips = float(cut.strips.height[0]), cut.strips
    peak, last = max(2.0 * cut.concrete.strength / modulus, 0.0018), 0.0035
    nodes, weights = np.polynomial.legendre.leggauss(32)
    y = np.concatenate([0.5 * (b - a) * nodes + 0.5 * (a + b) for a, b in zip(strips.top[0], strips.bottom[0], strict=True)])
    w = np.concatenate([0.5 * (b - a) * weights for a, b in zip(strips.top[0], strips.bottom[0], strict=True)])
    width = strips.breadth(y.reshape(1, strips.top.shape[1], -1))[0].ravel()
    d = float(depths.max())
    kappa = np.geomspace(1e-3, 1.0, points) * 0.03 / d

    def forces(x: Array) -> tuple[Array, Array]:
        strain = kappa[:, None] * (x[:, None] - y)
        part = np.clip(strain, 0.0, peak) / peak
        stress = cut.concrete.strength * (2.0 * part - part**2) * (strain > 0.0)
        bar = np.clip(200_000.0 * kappa[:, None] * (x[:, None] - depths), -cut.bars.strength, cut.bars.strength) * areas
        n = (stress * width * w).sum(axis=1) + bar.sum(axis=1)
        centre = float(strips.gross()[1][0])
        m = (stress * width * w * (centre - y)).sum(axis=1) + (bar * (centre - depths)).sum(axis=1)
        return n, m

    x = bracketed_root(lambda v: forces(v)[0] - cut.axial, np.full(points, -2.0 * h), np.full(points, 40.0 * h), steps=160)
    moment = forces(x)[1]
    alive = kappa * x <= last
    return kappa[alive], moment[alive]
