"""How the number of each check was found: the code's functions called again at its one place, with everything written down.

What is found again must be what the check says; tests hold it to that for every check of the demo beams.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, fields, replace
from functools import cached_property

import numpy as np

from upright_bramble.analysis.flanges import minimum_width, tension_width, tension_zone
from upright_bramble.analysis.twist import tube_of
from upright_bramble.codes.parts import Deflections, Face, Stage, TensionZone, Tube, Web
from upright_bramble.section.arrays import Array
from upright_bramble.section.cracked import Elastic
from upright_bramble.section.strength import balance
from upright_bramble.section.strips import Strips
from upright_bramble.verify import checks as made_by
from upright_bramble.verify import service_checks
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.result import Check, Result
from upright_bramble.verify.service import LINES, compression_ratio, crack_face, governing_row
from upright_bramble.verify.strength import both_faces, compressed_strips
from upright_bramble.working import Line, Record, Step, Working, lines_of, number, recording
from upright_bramble.working.formula import parse, symbols

Found = tuple[float | None, float | None]
"""Demand and resistance that were found again."""

SOUGHT = {
    "bending.sagging": "moment of resistance for sagging, with the bars as far as they are anchored here",
    "bending.hogging": "moment of resistance for hogging, with the bars as far as they are anchored here",
    "curtailment.bottom": "moment of resistance where a bottom bar stops",
    "curtailment.top": "moment of resistance where a top bar stops",
    "ductility.sagging": "depth of the neutral axis where sagging is greatest",
    "ductility.hogging": "depth of the neutral axis where hogging is greatest",
    "redistribution.least": "ratio of redistributed to elastic moment",
    "redistribution.spans": "ratio of the spans beside a support whose moment is redistributed",
    "minimum.bottom": "least tension steel at the bottom",
    "minimum.top": "least tension steel at the top",
    "minimum.cracks-bottom": "least steel at the bottom so that cracks stay fine",
    "minimum.cracks-top": "least steel at the top so that cracks stay fine",
    "maximum.steel": "most steel of a face",
    "shear.stirrups": "shear resistance",
    "shear.crushing": "shear that the section can take at all",
    "shear.near-support": "stirrups for a force near a support",
    "torsion.stirrups": "closed stirrups for shear and torque",
    "torsion.crushing": "share of the section that shear and torque use up",
    "torsion.spacing": "distance of closed stirrups",
    "torsion.sides": "area of each side bar for torque",
    "torsion.side-spacing": "distance of the bars around the section",
    "flange.crushing": "shear stress between web and flange",
    "flange.steel": "cross bars through the flange",
    "hanging.stirrups": "stirrups that hang a force up",
    "minimum.stirrups": "least stirrups",
    "spacing.stirrups": "distance of stirrups along",
    "spacing.legs": "distance of stirrup legs across",
    "spacing.compressed": "distance of stirrups that hold compression bars",
    "support-share.bottom": "bottom bars that go into a support",
    "support-share.top": "top bars that go on past the point of inflection",
    "anchorage.end": "anchorage of the bottom bars at a simple end",
    "integrity.bottom": "bottom bars that go through",
    "integrity.number": "number of bottom bars that go through",
    "cut-off.bottom": "shear where a bottom bar stops in tension",
    "cut-off.top": "shear where a top bar stops in tension",
    "lap.bottom": "length of a lap at the bottom",
    "lap.top": "length of a lap at the top",
    "lap-stirrups.bottom": "stirrups across a lap at the bottom",
    "lap-stirrups.top": "stirrups across a lap at the top",
    "fit.bottom": "room for a row of bottom bars",
    "fit.top": "room for a row of top bars",
    "fit.rows": "clear distance of the rows of both faces",
    "inside.bars": "bars inside the concrete and its cover",
    "bend.support": "room for a bend inside its support",
    "bend.leg": "length of the leg beyond a bend",
    "inside.stirrups": "stirrups inside the concrete",
    "inside.sides": "side bars inside the concrete",
    "fit.legs": "room for the legs of a stirrup side by side",
    "fit.sides": "room for the rows of side bars",
    "fit.stirrups": "distance of the two stirrups that are nearest to each other",
    "fit.corners-bottom": "bars in the bottom corners of stirrups",
    "fit.corners-top": "bars in the top corners of stirrups",
    "bracing.span": "distance of lateral supports",
    "lap-spacing.bottom": "distance of stirrups over the outer thirds of a lap at the bottom",
    "lap-spacing.top": "distance of stirrups over the outer thirds of a lap at the top",
    "lap-share.bottom": "share of the bottom bars lapped at one place",
    "lap-share.top": "share of the top bars lapped at one place",
    "lap-size.bottom": "size of lapped bars at the bottom",
    "lap-size.top": "size of lapped bars at the top",
    "flange.crushing-tension": "shear stress between web and a flange in tension",
    "flange.steel-tension": "cross bars through a flange in tension",
    "torsion.bar-size": "diameter of the bars for torsion",
    "spacing.compressed-legs": "legs that hold compression bars",
    "integrity.through": "bottom bars that run through over a support",
    "integrity.top": "top bars that run through",
    "integrity.end-bottom": "bottom bars developed at the end of a perimeter beam",
    "integrity.end-top": "top bars developed at the end of a perimeter beam",
    "lateral.bottom": "bottom bars developed at the face of a support of the lateral system",
    "anchorage.inflection": "development of the bottom bars at a point of inflection",
    "confinement.bars": "stirrups that confine bars where they develop",
    "cover.concrete": "strength of the concrete for the exposure",
    "stock.bars": "length of a bar against stock",
    "cover.bars": "cover of the bars themselves",
    "skin.spacing": "distance of side bars",
    "skin.area": "area of the side bars",
    "deflection.total": "total deflection",
    "deflection.live": "deflection by variable actions alone",
    "deflection.after-finishes": "deflection after the finishes",
    "deflection.after-partitions": "deflection after the partitions",
    "deflection.upward": "movement upwards",
    "deflection.averaged": "total deflection with one stiffness a span",
    "deflection.precamber": "precamber",
    "deflection.span-depth": "span over depth",
    "cracking.bottom": "cracks at the bottom",
    "cracking.top": "cracks at the top",
    "crack-table.bottom": "bars at the bottom by the tables for cracks",
    "crack-table.top": "bars at the top by the tables for cracks",
    "tension-flange.top": "width that the bars of a flange in tension reach over",
    "tension-flange.bottom": "width that the bars of a flange in tension reach over",
    "bar-stress.bottom": "stress of the bottom bars in service",
    "bar-stress.top": "stress of the top bars in service",
    "concrete-stress.bottom": "stress of the concrete in service, bottom bars in tension",
    "concrete-stress.top": "stress of the concrete in service, top bars in tension",
    "concrete-stress-rare.bottom": "stress of the concrete under the rare load, bottom bars in tension",
    "concrete-stress-rare.top": "stress of the concrete under the rare load, top bars in tension",
    "service-stress.bottom": "stress of the bottom bars against a limit of one's own",
    "service-stress.top": "stress of the top bars against a limit of one's own",
}


_UNITS = {
    "moment": "N mm",
    "force": "N",
    "length": "mm",
    "crack": "mm",
    "area": "mm2",
    "steel per length": "mm2/mm",
    "stress": "MPa",
}


def kind_of(check: str) -> str:
    """'shear.stirrups' of 'shear.stirrups.B-left'."""
    return ".".join(check.split(".")[:2])


def _by_depth(areas: Array, depths: Array) -> tuple[Array, Array]:
    """Bars of one section, (1, g), as layers from the compressed face on, (1, u): those at one depth together."""
    there = areas[0] > 0.0
    layers, which = np.unique(np.round(depths[0, there], 6), return_inverse=True)
    return np.bincount(which, areas[0, there], len(layers)).astype(float)[None], np.asarray(layers, dtype=float)[None]


@dataclass
class _Notes:
    """Lines as they come, and the values of their symbols in the units of the code's expressions."""

    f: Facts
    lines: list[Line] = field(default_factory=list)
    known: dict[str, float] = field(default_factory=dict)

    def given(self, symbol: str, value: float, unit: str, text: str) -> None:
        units = self.f.code.words.units
        shown = units.of(float(value), unit)
        self.known[symbol] = shown
        self.lines.append(Line(symbol, shown, units.names.get(unit, unit), text))

    def worked(self, symbol: str, value: float, unit: str, formula: str, numbers: str, text: str = "") -> None:
        units = self.f.code.words.units
        self.known[symbol] = units.of(float(value), unit)
        self.lines.append(Line(symbol, self.known[symbol], units.names.get(unit, unit), text, formula, numbers))

    def steps(self, steps: Sequence[Step], *, last: bool = False) -> None:
        """Recorded steps; with `last` only the last line of each symbol."""
        lines = lines_of(steps, self.known, self.f.code.words.units)
        if last:
            lines = _leading_to_the_last(list({line.symbol: line for line in lines}.values()))
        there = set(self.lines)
        self.lines += [line for line in lines if line not in there]
        self.known |= {line.symbol: line.value for line in lines}

    def text_of(self, value: float, unit: str) -> str:
        return number(self.f.code.words.units.of(value, unit))


def _leading_to_the_last(lines: list[Line]) -> list[Line]:
    """Those whose symbols the last formula stands on, one through another; all where it is told in words."""
    if not lines or not lines[-1].formula:
        return lines
    wanted, kept = {lines[-1].symbol}, []
    for line in reversed(lines):
        if line.symbol in wanted:
            kept.append(line)
            wanted |= set(symbols(parse(line.formula))) if line.formula else set()
    return kept[::-1]


class Workings:
    """Derivations of the checks of one verification. What several of them need is found once."""

    def __init__(self, f: Facts) -> None:
        self.f = f
        self._families: dict[str, Record] = {}
        self._both: tuple[Strips, Array, Array] | None = None
        self._faces: dict[bool, Face] = {}

    @cached_property
    def _compression(self) -> Array:
        return compression_ratio(self.f.beam, self.f.at, self.f.placed)

    def of(self, check: Check) -> Working:
        """The derivation of one check."""
        kind, notes = kind_of(check.id), _Notes(self.f)
        derive = _BY_KIND.get(kind) or _BY_KIND.get(check.id.split(".")[0])
        demand, resistance = derive(self, check, notes) if derive else (None, None)
        if derive in (None, Workings.family, Workings.told, Workings.torsion):
            self._compared(check, notes)
        return Working(check.id, SOUGHT.get(kind, kind), tuple(notes.lines), demand, resistance)

    def _compared(self, c: Check, n: _Notes) -> None:
        """Both numbers as they are compared."""
        unit = _UNITS.get(c.quantity, "")
        n.given("demand", c.demand, unit, "what acts, or is asked for")
        n.given("limit", c.resistance, unit, "what is there, or allowed")

    # ---------------------------------------------------------------- strength

    def bending(self, c: Check, n: _Notes) -> Found:
        f, i = self.f, c.station
        bottom = c.id.startswith(("bending.sagging", "curtailment.bottom"))
        s, design = f.strength, f.forces.design
        demand = float((s.moment_max if bottom else s.moment_min)[i])
        raw = float(design.moment_max[i] if bottom else -design.moment_min[i])
        n.given("M", max(raw, 0.0), "N mm", f"design envelope here; {self._combination(i, 'max' if bottom else 'min')}")
        with recording() as steps:
            f.code.shear.shift(s.d_shear[i : i + 1], s.shear.cot[i : i + 1])
        n.steps(steps)
        moved = "the envelope's greatest within a_l to either side" if s.shift[i] > 0.0 else "the moment to design for"
        n.given("M_Ed", demand, "N mm", moved + (", and what torque pulls" if s.twist is not None else ""))
        return demand, self._resistance(i, bottom, n)

    def _combination(self, i: int, side: str) -> str:
        """Which set of forces made the envelope of moments at a station."""
        e = self.f.forces.redistributed or self.f.forces.envelopes[self.f.code.actions.levels[0]]
        which = e.moment.high_by if side == "max" else e.moment.low_by
        return e.labels[int(which[i])]

    def _resistance(self, i: int, bottom: bool, n: _Notes) -> float:
        """Strain compatibility, layer by layer."""
        f, units = self.f, self.f.code.words.units
        law, steel = f.code.materials.concrete_law(f.beam.concrete), f.code.materials.steel_law(f.beam.bars)
        strips, both, from_face = self._stacked()
        row = np.array([i if bottom else i + len(f.at)])
        strips, (a, d) = strips.at(row), _by_depth(both[row], from_face[row])
        r = f.strength.positive if bottom else f.strength.negative
        x = r.x[i : i + 1]
        forces = balance(strips, a, d, law, steel, x)
        # what is left of the forces is the axial one, which acts in the centroid
        design = f.forces.design
        force = float(forces.concrete[0] + forces.bars.sum()) if design.axial_max[i] or design.axial_min[i] else 0.0
        mid = 0.5 * strips.height
        moment = float(forces.moment(mid, d)[0] + force * (strips.gross()[1] - mid)[0])
        if force:
            n.given("N", force, "N", "axial force, compression positive")
        n.given("x", float(x[0]), "mm", "neutral axis, from the compressed face: there the forces below are in balance")
        n.given("eps_cu", law.ultimate_strain, "", "strain of the concrete at the compressed face")
        compressed = float(forces.concrete[0])
        block = (
            f"block of {n.text_of(law.stress, 'MPa')} {units.names.get('MPa', 'MPa')}" if law.curve is None else "parabola and rectangle"
        )
        n.given("F_c", compressed, "N", f"concrete: {block}" + (f" over {law.depth_factor:g} x" if law.curve is None else ""))
        n.given("y_c", float(forces.first[0]) / max(compressed, 1e-9), "mm", "depth of that force")
        parts, put = (
            ["F_c (h/2 - y_c)"],
            [f"{n.text_of(compressed, 'N')} ({n.text_of(0.5 * strips.height[0], 'mm')} - {number(n.known['y_c'])})"],
        )
        n.given("h", float(strips.height[0]), "mm", "depth of the section")
        for k, g in enumerate(np.flatnonzero(a[0] > 1.0).tolist(), start=1):
            eps, pull = float(forces.strain[0, g]), float(forces.bars[0, g])
            depth, area = n.text_of(d[0, g], "mm"), n.text_of(a[0, g], "mm2")
            yields = abs(eps) * steel.modulus >= steel.yield_stress
            state = "yields" if yields else "elastic"
            state += ", less the concrete displaced" if eps > 0.0 and pull < a[0, g] * steel.stress(np.array([eps]))[0] - 1.0 else ""
            n.worked(
                f"eps_s{k}",
                eps,
                "",
                f"eps_cu (x - d_{k})/x",
                f"{law.ultimate_strain:g} ({number(n.known['x'])} - {depth})/{number(n.known['x'])}",
            )
            n.worked(f"F_s{k}", pull, "N", f"A_s{k} sigma_s{k}", f"{area} ({n.text_of(pull / a[0, g], 'MPa')})", state)
            parts.append(f"F_s{k} (h/2 - d_{k})")
            put.append(f"({n.text_of(pull, 'N')}) ({n.text_of(0.5 * strips.height[0], 'mm')} - {depth})")
        symbol, factor = f.code.words.symbol("M_R"), 1.0
        with recording() as steps:
            factor = float(f.code.bending.resistance_factor(r.steel_strain[i : i + 1], f.beam.bars)[0])
        n.worked(symbol if factor == 1.0 else "M_n", moment, "N mm", " + ".join(parts), " + ".join(put))
        if factor != 1.0:
            n.steps(steps)
            n.worked(symbol, factor * moment, "N mm", "phi M_n", f"{factor:.4g} {number(n.known['M_n'])}")
        return float(factor * max(moment, 0.0))

    def _stacked(self) -> tuple[Strips, Array, Array]:
        """Sections for sagging on those for hogging, with what is anchored there."""
        if self._both is None:
            strips, areas, depths = both_faces(self.f.at, *self.f.placed.columns)
            self._both = compressed_strips(self.f.beam, self.f.code, strips), areas, depths
        return self._both

    def ductility(self, c: Check, n: _Notes) -> Found:
        f, i = self.f, c.station
        if c.id.startswith("redistribution"):
            return self.told(c, n)
        sagging = c.id.startswith("ductility.sagging")
        r = f.strength.positive if sagging else f.strength.negative
        n.given("x", float(r.x[i]), "mm", "neutral axis of the section at its resistance")
        share = float(f.code.bending.neutral_axis_ratio(r.x[i], r.d[i], r.outer[i]))
        n.given("d", float(r.x[i]) / share, "mm", "depth of the bars in tension that the limit refers to")
        n.worked("x/d", share, "", "x/d", f"{number(n.known['x'])}/{number(n.known['d'])}")
        delta = 1.0 if sagging else float(f.forces.design.delta[i])
        with recording() as steps:
            limit = float(f.code.bending.neutral_axis_limit(f.beam.concrete, f.beam.bars, delta))
        n.steps(steps)
        return share, limit

    def minimum(self, c: Check, n: _Notes) -> Found:
        f, i = self.f, c.station
        face = "bottom" if "bottom" in c.id.split(".")[1] else "top"
        provided = float(f.placed.face_area(face == "bottom", anchored=False)[i])
        width, one = tension_width(f.at, face), slice(i, i + 1)
        with recording() as steps:
            if kind_of(c.id).startswith("minimum.cracks"):
                whole = tension_zone(f.at, face)
                zone = TensionZone(whole.web[one], whole.flange[one], whole.share[one])
                asked = f.code.cracking.minimum_steel(f.beam.concrete, f.beam.bars, zone, f.at.depth[one])
            else:
                d = f.strength.d_bottom if face == "bottom" else f.strength.d_top
                needed = f.required[f"{face}_tension"][one]
                asked = f.code.bending.minimum_steel(
                    f.beam.concrete, f.beam.bars, minimum_width(f.beam, f.code, f.at, face)[one], width[one], d[one], needed
                )
        n.steps(steps)
        least = float(np.asarray(asked).reshape(-1)[0])
        shown = n.known.get("A_s,min")
        if shown is not None and abs(shown - f.code.words.units.of(least, "mm2")) > 1e-6 * max(shown, 1e-9):
            cracks = kind_of(c.id).startswith("minimum.cracks")
            n.given(
                "A_s,asked", least, "mm2", "web and flange together" if cracks else "no more than a third above what the moment asks for"
            )
        n.given("A_s", provided, "mm2", self._bars(i, face))
        return least, provided

    def _bars(self, i: int, face: str) -> str:
        """What lies in a face at a station, in words."""
        p, sizes = self.f.placed, self.f.code.sizes
        here = [b for g, b in enumerate(p.bars) if p.present[i, g] > 0.0 and b.face == face]
        return "bars there: " + (", ".join(f"{b.count}{sizes.label(b.size)}" for b in here) or "none")

    def maximum(self, c: Check, n: _Notes) -> Found:
        f, i = self.f, c.station
        face = "bottom" if ".bottom-" in c.id else "top"
        with recording() as steps:
            most = float(f.code.bending.maximum_steel(f.at.sections.strips.gross()[0][i : i + 1])[0])
        n.steps(steps)
        provided = float(f.placed.face_area(face == "bottom", anchored=False)[i])
        n.given("A_s", provided, "mm2", self._bars(i, face))
        return provided, most

    def _web(self, i: int) -> Web:
        w = self.f.strength.web
        axial = np.broadcast_to(np.asarray(w.axial, dtype=float), w.b.shape)
        one = slice(i, i + 1)
        return Web(w.b[one], w.d[one], w.a_sl[one], w.gross[one], axial[one])

    def shear(self, c: Check, n: _Notes) -> Found:
        f, i, s = self.f, c.station, self.f.strength
        one = slice(i, i + 1)
        crushing = c.id.startswith("shear.crushing")
        e = f.forces.redistributed or f.forces.envelopes[f.code.actions.levels[0]]
        up = e.shear_max[i] >= -e.shear_min[i]
        label = e.labels[int((e.shear_.high_by if up else e.shear_.low_by)[i])]
        whole = crushing and f.code.shear.crushes_at_face
        demand = float((f.forces.design.shear if whole else s.shear_demand)[i])
        where = "here" if whole else "here, or at d from the face of the support where that is taken"
        n.given(f.code.words.symbol("V_Ed"), demand, "N", f"envelope {where}; {label}")
        spare = s.ties.asw_s if s.twist is None else np.maximum(s.ties.asw_s - s.ties.legs * s.twist.leg, 0.0)
        ties = f"stirrups there, per length: {int(s.ties.legs[i])} legs" + (", less what torque takes" if s.twist is not None else "")
        n.given(f.code.words.symbol("a_sw"), float(spare[i]), "mm2/mm", ties)
        n.given(f.code.words.symbol("A_sl"), float(s.web.a_sl[i]), "mm2", "tension bars that go on far enough to count")
        n.given("b_w", float(s.web.b[i]), "mm", "width of the web")
        n.given("d", float(s.web.d[i]), "mm", "effective depth")
        if f.code.words.symbol("cot_theta"):
            n.given("cot_theta", float(s.shear.cot[i]), "", "flattest struts that the greatest shear of this half span allows")
        with recording() as steps:
            state = f.code.shear.state(f.beam.concrete, f.beam.stirrups, self._web(i), spare[one], s.shear.cot[one])
        n.steps(steps)
        if crushing:
            n.given(f.code.words.symbol("V_R,max"), float(state.crushing[0]), "N", "what the section can take at all")
        return demand, float((state.crushing if crushing else state.total)[0])

    def torsion(self, c: Check, n: _Notes) -> Found:
        f, i, s = self.f, c.station, self.f.strength
        design, t = f.forces.design, tube_of(f.beam, f.forces, f.placed.tie)
        tube = Tube(*(np.asarray(getattr(t, v.name)[i : i + 1]) for v in fields(t)))
        n.given("T", float(design.torsion[i]), "N mm", "torque, beside the shear")
        n.given("V", float(design.shear[i]), "N", "shear")
        with recording() as steps:
            f.code.torsion.required(
                f.beam.concrete, (f.beam.bars, f.beam.stirrups), self._web(i), tube, design.shear[i : i + 1], design.torsion[i : i + 1],
                s.shear.cot[i : i + 1], f.beam.compatible_torsion,
            )  # fmt: skip
        n.steps(steps)
        return None, None

    def stirrups(self, c: Check, n: _Notes) -> Found:
        f, i, s = self.f, c.station, self.f.strength
        kind, one = kind_of(c.id), slice(i, i + 1)
        v = s.shear_demand[one]
        with recording() as steps:
            if kind == "minimum.stirrups":
                asked = f.code.shear.minimum_stirrups(f.beam.concrete, f.beam.stirrups, f.at.width[one])
            elif kind == "spacing.legs":
                asked = f.code.shear.maximum_leg_spacing(f.beam.concrete, self._web(i), v)
            elif kind == "spacing.stirrups":
                asked = f.code.shear.maximum_spacing(f.beam.concrete, self._web(i), v)
            else:
                thin = min(float(made_by.counted_bars(f, sagging)[i]) for sagging in (True, False))
                least = np.array([min(float(f.at.width[i]), float(f.at.depth[i]))])
                asked = f.code.detailing.compression_stirrup_spacing(np.array([thin]), f.placed.tie, least)
        n.steps(steps)
        value = float(asked[0])
        if kind == "minimum.stirrups":
            n.given("a_sw,there", float(s.ties.asw_s[i]), "mm2/mm", f"stirrups there: {int(s.ties.legs[i])} legs")
            return value, float(s.ties.asw_s[i])
        n.given("s_max", value, "mm", "the most that is allowed")
        if kind != "spacing.legs":
            n.given("s", float(s.ties.gap[i]), "mm", "widest gap there")
            return float(s.ties.gap[i]), value
        return None, value

    # ---------------------------------------------------------------- bars

    def lap(self, c: Check, n: _Notes) -> Found:
        f, p = self.f, self.f.placed
        place = c.id.split(".", 2)[2]
        for lap in p.laps:
            a, b = p.bars[lap.first], p.bars[lap.second]
            if place == (f"{a.mark}-{b.mark}" if lap.first != lap.second else a.mark):
                lengths = []
                for g in dict.fromkeys((lap.first, lap.second)):
                    height, h = (v[g : g + 1] for v in p.bond)
                    with recording() as steps:
                        length = f.code.bond.lap(f.beam.concrete, f.beam.bars, p.diameter[g : g + 1], height, h, lap.share)
                    lengths.append((float(length[0]), steps))
                asked, record = max(lengths, key=lambda v: v[0])
                n.given("share", lap.share, "", "of the bars of this face lapped at one place")
                n.steps(record)
                return asked, lap.end - lap.start
        return None, None

    def family(self, c: Check, n: _Notes) -> Found:
        """Checks that are made one by one: the whole family again, with what each was made of."""
        name, make = _FAMILIES[kind_of(c.id)]
        if name not in self._families:
            with recording() as steps:
                make(self.f)
            self._families[name] = steps
        n.steps(self._families[name].before(c.id), last=True)
        if c.id.startswith("support-share.bottom"):
            most = float(self.f.placed.face_area(True, anchored=True)[self.f.at.of(c.span - 1)].max())
            n.given("A_s,span", most, "mm2", "most bottom steel of the span")
            n.worked("A_s,asked", c.demand, "mm2", "share A_s,span", f"{number(c.demand / max(most, 1e-9))} {number(n.known['A_s,span'])}")
        return None, None

    def told(self, c: Check, n: _Notes) -> Found:  # noqa: ARG002
        """Both numbers as they are: they are compared, nothing is worked out."""
        return None, None

    # ---------------------------------------------------------------- service

    def _sections(self) -> tuple[Elastic, Elastic]:
        """Cracked sections of the stage that cracking is judged in, for sagging and for hogging."""
        return self.f.serviced.ask.faces(self.f.code.cracking.stage).broken

    def _cracked(self, i: int, bottom: bool, level: str, n: _Notes) -> tuple[float, Elastic, float]:
        """Moment, cracked section and ratio of moduli at a station, written down."""
        f = self.f
        e, stage = self._sections()[0 if bottom else 1], f.serviced.stages[f.code.cracking.stage]
        v = f.forces.envelopes[level]
        m = float(v.moment_max[i] if bottom else -v.moment_min[i])
        which = v.moment.high_by if bottom else v.moment.low_by
        one = Elastic(*(np.asarray(w[i : i + 1]) for w in (e.x, e.i, e.s)))
        alpha = float(np.broadcast_to(stage.alpha_e, (len(f.at),))[i])
        n.given("M", m, "N mm", f"{level.replace('_', '-')} level: {v.labels[int(which[i])]}")
        n.given(f.code.words.symbol("alpha_e"), alpha, "", "ratio of moduli" + (", with creep" if stage.lasting else ""))
        n.given("x", float(one.x[0]), "mm", "neutral axis of the cracked section")
        n.given("I", float(one.i[0]), "mm4", "second moment of the cracked section")
        return m, one, alpha

    def cracking(self, c: Check, n: _Notes) -> Found:
        f, i, bottom = self.f, c.station, ".bottom." in c.id
        m, e, alpha = self._cracked(i, bottom, f.code.cracking.level, n)
        if bottom not in self._faces:
            self._faces[bottom] = crack_face(f.beam, f.at, f.placed, bottom)
        face = self._faces[bottom].at(slice(i, i + 1))
        stage = self._stage(i)
        with recording():
            depth = float(f.code.cracking.judge(np.array([max(m, 0.0)]), e, stage, face, f.beam.service).depth[0])
        n.given("d", depth, "mm", "depth of the bars in tension that are judged")
        sigma = alpha * max(m, 0.0) * max(depth - float(e.x[0]), 0.0) / float(e.i[0])
        ratio, stress = (f.code.words.symbol("alpha_e"), f.code.words.symbol("sigma_s"))
        n.worked(
            stress, sigma, "MPa", f"{ratio} M (d - x)/I",
            f"{number(n.known[ratio])} {number(n.known['M'])} ({number(n.known['d'])} - {number(n.known['x'])})/{number(n.known['I'])}",
        )  # fmt: skip
        if c.id.startswith("service-stress"):
            return sigma, None
        with recording() as steps:
            if c.id.startswith("crack-table"):
                f.code.cracking.table(np.array([sigma]), face, f.beam.concrete, f.beam.service)
                found = None
            else:
                n.given("phi", float(face.phi[0]), "mm", "equivalent diameter")
                n.given("A_s", float(face.area[0]), "mm2", "bars of this face")
                n.given("b", float(face.b[0]), "mm", "width of concrete that they control")
                found = f.code.cracking.judge(np.array([max(m, 0.0)]), e, stage, face, f.beam.service)
        n.steps(steps)
        if found is None:  # thin enough, or near enough: what comes nearer to it is told
            self._compared(c, n)
            return None, None
        if found.quantity == "length":
            n.given("s", float(face.spacing[0]), "mm", "distance of the bars nearest the face")
        if c.demand == 0.0 and found.demand[0] > 0.0:
            n.given("w", 0.0, "mm", "the rare load leaves this section uncracked: nothing is asked for")
            return 0.0, float(found.limit[0])
        return float(found.demand[0]), float(found.limit[0])

    def _stage(self, i: int) -> Stage:
        """That cracking is judged in, at one station."""
        s = self.f.serviced.stages[self.f.code.cracking.stage]
        modulus, shrinkage = (np.broadcast_to(v, (len(self.f.at),))[i : i + 1] for v in (s.modulus, s.shrinkage))
        return replace(s, modulus=modulus, shrinkage=shrinkage)

    def stress(self, c: Check, n: _Notes) -> Found:
        f, i, bottom = self.f, c.station, ".bottom." in c.id
        rare = not c.id.startswith("concrete-stress.")
        m, e, alpha = self._cracked(i, bottom, f.code.actions.rare_level if rare else f.code.actions.lasting_level, n)
        x, inertia = float(e.x[0]), float(e.i[0])
        lasting, bars, most = f.code.service.stress_limits(f.beam.concrete, f.beam.bars, f.beam.service.exposure)
        if c.id.startswith("bar-stress"):
            depth = f.placed.outer_depth(bottom, f.at.depth)[i]
            n.given("d", float(depth), "mm", "depth of the outermost bars in tension")
            sigma = alpha * m * max(float(depth) - x, 0.0) / inertia
            put = f"{number(alpha)} {number(n.known['M'])} ({number(n.known['d'])} - {number(n.known['x'])})/{number(n.known['I'])}"
            n.worked("sigma_s", sigma, "MPa", "alpha_e M (d - x)/I", put)
            return sigma, bars
        n.worked("sigma_c", m * x / inertia, "MPa", "M x/I", f"{number(n.known['M'])} {number(n.known['x'])}/{number(n.known['I'])}")
        return m * x / inertia, most if rare else lasting

    def deflection(self, c: Check, n: _Notes) -> Found:
        """Curvature of the section where it is greatest, and what the lines give where the deflection is."""
        f, i = self.f, c.station
        lines, name = f.serviced.ask, c.id.split(".")[1]
        row = governing_row(f.serviced.lines, name, i)
        self._curvature(c, row, n)
        key = LINES[name]
        ratio = self._compression[i : i + 1]
        asked: dict[tuple[str, str, bool, float], float] = {}
        more: tuple[str, str, bool, float] | None = None  # the one line that is made 1 mm more, to see what counts

        def ask(level: str, stage: str, *, lasting: bool = False, before: float = np.inf) -> Array:
            which = (level, stage, lasting, before)
            if which not in asked:
                found = lines(level, stage, lasting=lasting, before=before)
                asked[which] = float(found[min(row, len(found) - 1), i])
            return np.array([[asked[which] + (1.0 if which == more else 0.0)]])

        def sought(found: Deflections) -> float:
            return float(getattr(found, key)[0, 0])

        with recording() as steps:
            value = sought(f.code.deflection.lines(ask, f.beam.service, ratio))
        formula, put = "", ""
        shares: list[float] = []
        for which in list(asked):
            more = which
            share = sought(f.code.deflection.lines(ask, f.beam.service, ratio)) - value
            if abs(share) < 1e-9:
                continue
            shares.append(share)
            symbol = f"a_{chr(ord('A') + len(formula.split('a_')) - 1)}"
            n.given(symbol, asked[which], "mm", _line_in_words(*which))
            sign, times = (
                ("- " if share < 0.0 else "+ " if formula else ""),
                "" if abs(abs(share) - 1.0) < 1e-6 else f"{number(abs(share))} ",
            )
            formula += f" {sign}{times}{symbol}"
            put += f" {sign}{times}({number(n.known[symbol])})" if asked[which] < 0.0 else f" {sign}{times}{number(n.known[symbol])}"
        n.steps([s for s in steps if any(abs(abs(v) - s.result - k) < 1e-9 for v in shares for k in (0.0, 1.0))])
        if formula.strip() == "a_A":
            n.given("a", value, "mm", "the deflection")
        else:
            n.worked("a", value, "mm", formula.strip(), put.strip())
        if name == "upward":
            return -value, None
        if name == "total":
            camber = service_checks.precamber_at(f, c.span - 1, i)
            if camber:
                n.given("a_0", camber, "mm", "precamber, taken off")
            value -= camber
        if value < 0.0:
            n.given("a_down", 0.0, "mm", "it rises; of what goes down there is nothing")
        return max(value, 0.0), None

    def _curvature(self, c: Check, row: int, n: _Notes) -> None:
        """The section of the span that bends most, in the stage of the long term."""
        f, code = self.f, self.f.code
        m = f.serviced.ask(code.cracking.level, code.cracking.stage, moments=True)
        rows = f.at.of(c.span - 1)
        line = m[min(row, len(m) - 1)]
        j = rows.start + int(np.abs(line[rows]).argmax())
        side = 0 if line[j] >= 0.0 else 1
        stage = f.serviced.stages[code.cracking.stage]
        faces = f.serviced.ask.faces(code.cracking.stage)
        whole, broken = (Elastic(*(np.asarray(v[j : j + 1]) for v in (e.x, e.i, e.s))) for e in (faces.whole[side], faces.broken[side]))
        at = f"{'sagging' if side == 0 else 'hogging'} at its greatest in this span, {code.cracking.level.replace('_', '-')} level"
        n.given("M", abs(float(line[j])), "N mm", at)
        here = self._stage(j)
        n.given("E", float(here.modulus[0]), "MPa", "modulus of the concrete" + (f", with creep {stage.creep:.2f}" if stage.creep else ""))
        for e, name in ((whole, "uncracked"), (broken, "cracked")):
            n.given(f"I_{name}", float(e.i[0]), "mm4", f"second moment of the {name} section, x = {n.text_of(float(e.x[0]), 'mm')}")
        before = float(f.serviced.ask.cracked_before[side][j])
        if before > 0.0:
            n.given("zeta_0", before, "", "share that the striking cracked: it counts where it is the greater")
        with recording() as steps:
            bent = code.service.curvature(np.array([abs(float(line[j]))]), whole, broken, f.at.depth[j : j + 1], here, here.lasting, before)
        n.steps(steps)
        n.given("kappa_max", float(bent[0]), "1/mm", "curvature there")


def _line_in_words(level: str, stage: str, lasting: bool, before: float) -> str:
    part = "the lasting part of the " if lasting else ""
    by = f", what is there before day {before:.0f}" if np.isfinite(before) else ""
    return f"curvature integrated along the line: {part}{level.replace('_', '-')} load, stage '{stage}'{by}"


_FAMILIES: dict[str, tuple[str, Callable[[Facts], Sequence[object]]]] = {
    "flange.crushing": ("flanges", made_by.flange_checks), "flange.steel": ("flanges", made_by.flange_checks),
    "flange.crushing-tension": ("flanges", made_by.flange_checks), "flange.steel-tension": ("flanges", made_by.flange_checks),
    "anchorage.inflection": ("inflection", made_by.inflection_checks),
    "hanging.stirrups": ("hung", made_by.hung_checks), "support-share.bottom": ("supports", made_by.support_checks),
    "anchorage.end": ("supports", made_by.support_checks), "support-share.top": ("supports", made_by.support_checks),
    "cover.bars": ("cover", made_by.cover_checks), "bend.support": ("bends", made_by.bend_checks),
    "skin.spacing": ("skin", service_checks.skin), "skin.area": ("skin", service_checks.skin),
    "deflection.span-depth": ("span-depth", service_checks.span_depth_checks),
}  # fmt: skip
_BY_KIND: dict[str, Callable[[Workings, Check, _Notes], Found]] = {
    **dict.fromkeys(_FAMILIES, Workings.family),
    "bending": Workings.bending, "curtailment": Workings.bending, "ductility": Workings.ductility, "minimum": Workings.minimum,
    "maximum": Workings.maximum, "minimum.stirrups": Workings.stirrups, "shear.stirrups": Workings.shear, "shear.crushing": Workings.shear,
    "torsion": Workings.torsion, "spacing": Workings.stirrups, "lap": Workings.lap, "cracking": Workings.cracking,
    "crack-table": Workings.cracking, "service-stress": Workings.cracking, "bar-stress": Workings.stress,
    "concrete-stress": Workings.stress, "concrete-stress-rare": Workings.stress,
    **dict.fromkeys(
        ("deflection.total", "deflection.live", "deflection.after-finishes", "deflection.after-partitions", "deflection.upward"),
        Workings.deflection,
    ),
}  # fmt: skip


def workings(result: Result) -> tuple[Working, ...]:
    """Derivations of all checks of a result, in their order; none where what they were made of was not kept."""
    if result.facts is None:
        return ()
    each = Workings(result.facts)
    return tuple(each.of(check) for check in result.checks)
