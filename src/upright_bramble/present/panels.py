"""What diagrams along a beam show: curves, fills, holes and the numbers beside them, in the units of the
beam. No place on a sheet yet.

Demand is an ink line on a light fill, resistance a berry line; where demand exceeds resistance the hole is
thorn.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.core.quantities import SYSTEMS, UnitSystem, significant
from upright_bramble.files.result_file import BeamOut, ResultFile
from upright_bramble.section.arrays import Array, Index, Mask

DASHED, DOTTED, BROKEN = (6.0, 3.0), (1.5, 2.5), (6.0, 2.0, 1.5, 2.0)


@dataclass(frozen=True)
class Curve:
    """A line: `values` at the stations (nan: not drawn), colour and dashes; `name` in the key, '' for none.
    The first of a panel is on top."""

    values: Array
    colour: str
    dash: tuple[float, ...] = ()
    width: float = 1.4
    name: str = ""


@dataclass(frozen=True)
class Fill:
    """Between two lines; nothing where either is nan."""

    low: Array
    high: Array
    colour: str


@dataclass(frozen=True)
class Mark:
    """A number at a place (x in mm): `within` the curve, where no resistance lies, or beyond it."""

    x: float
    value: float
    text: str
    anchor: str = "middle"
    within: bool = False


@dataclass(frozen=True)
class Reading:
    """What a cursor reads: demand against resistance where there are two curves, `sense` 1 for positive
    demand alone, -1 for negative."""

    name: str
    values: Array
    against: Array | None = None
    sense: int = 0


@dataclass(frozen=True)
class Panel:
    """One diagram: `down` draws positive values downwards, `limits` are lines across it, `unsigned` prints
    values without their sign."""

    key: str
    title: str
    unit: str
    height: float
    curves: tuple[Curve, ...]
    fills: tuple[Fill, ...] = ()
    marks: tuple[Mark, ...] = ()
    readings: tuple[Reading, ...] = ()
    down: bool = False
    limits: tuple[float, ...] = ()
    unsigned: bool = False
    remark: str = ""

    @property
    def extent(self) -> tuple[float, float]:
        """Lowest and highest value drawn, zero among them."""
        lines = [c.values[np.isfinite(c.values)] for c in self.curves]
        every = np.concatenate([np.zeros(1), *lines, np.asarray(self.limits, dtype=float)])
        return float(every.min()), float(every.max())


@dataclass(frozen=True)
class Ground:
    """The beam under all panels, and its stations: x (n,) mm, span number (n,) from 1."""

    beam: BeamOut
    x: Array
    span: Index

    @property
    def system(self) -> UnitSystem:
        return SYSTEMS[self.beam.units]

    @property
    def judged(self) -> Mask:
        """(n,): not in the width of end supports nor in the cover of a free tip, where bars are only being
        anchored."""
        spans, (low, high), cover = self.beam.spans, self.beam.ends_mm, self.beam.cover_mm.sides + 1.0
        after = self.x >= max(spans[0].clear_start_mm, low + cover) - 1e-6
        return after & (self.x <= min(spans[-1].clear_end_mm, high - cover) + 1e-6)

    @property
    def clear(self) -> Mask:
        """(n,): between the faces of supports."""
        edges = np.array([(s.clear_start_mm, s.clear_end_mm) for s in self.beam.spans])[self.span - 1]
        return (self.x >= edges[:, 0] - 1e-6) & (self.x <= edges[:, 1] + 1e-6)

    def of(self, number: int) -> Index:
        return np.flatnonzero(self.span == number)


def ground_of(r: ResultFile) -> Ground:
    return Ground(r.beam, np.array(r.stations.x_mm), np.array(r.stations.span))


def panels_of(r: ResultFile, *, few: bool = False) -> list[Panel]:
    """Moment and shear; with deflection, and cracks where any are found, unless there is room for `few`
    only."""
    g = ground_of(r)
    result = [_moment(r, g), _shear(r, g)]
    if few:
        return result
    result.append(_deflection(r, g))
    return (
        [*result, _cracks(r, g)]
        if any(r.stations.crack.bottom_mm) or any(r.stations.crack.top_mm)
        else result
    )


def _moment(r: ResultFile, g: Ground) -> Panel:
    """On the tension side: sagging below the axis."""
    s, k = r.stations, g.system.factor("moment") / 1e6
    high, low = np.array(s.design.moment_max_kNm) / k, np.array(s.design.moment_min_kNm) / k
    up, down = np.array(s.resistance.moment_positive_kNm) / k, np.array(s.resistance.moment_negative_kNm) / k
    shown = [np.where(g.judged, v, np.nan) for v in (high, low)]
    holes = [
        (g.judged & over, d, w)
        for over, d, w in ((beyond(high, up), high, up), (beyond(-low, -down), low, down))
    ]
    pull = ", with the tension due to torsion" if any(s.strength.torsion_kNm) else ""
    return Panel(
        key="moment",
        title="moment",
        unit=g.system.unit("moment"),
        height=190.0,
        curves=(
            Curve(shown[0], "ink"),
            Curve(shown[1], "ink", name="design moment, shifted" + pull),
            Curve(up, "berry", DASHED, 1.6),
            Curve(down, "berry", DASHED, 1.6, "resistance, bars anchored"),
        ),
        fills=(
            *(
                Fill(np.zeros(len(v)), v, "mist")
                for v in (np.maximum(shown[0], 0.0), np.minimum(shown[1], 0.0))
            ),
            *(
                Fill(np.where(hole, d, np.nan), np.where(hole, w, np.nan), "thorn")
                for hole, d, w in holes
                if hole.any()
            ),
        ),
        marks=moment_marks(g, high, low, g.judged, within=True),
        readings=(Reading("moment, sagging", high, up, 1), Reading("moment, hogging", low, down, -1)),
        down=True,
    )


def beyond(demand: Array, resistance: Array) -> Mask:
    """Where demand exceeds resistance by more than rounding."""
    return (demand > resistance * (1.0 + 1e-9)) & (demand > 1e-3 * float(np.abs(demand).max(initial=1e-9)))


def moment_marks(g: Ground, high: Array, low: Array, judged: Mask, *, within: bool) -> tuple[Mark, ...]:
    """Peaks: sagging by span, hogging by support and where it is greater between supports."""
    limit = 0.04 * max(float(np.abs(high).max()), float(np.abs(low).max()), 1e-9)
    result: list[Mark] = []
    for number in range(1, len(g.beam.spans) + 1):
        here = g.of(number)[judged[g.of(number)]]
        if len(here) and high[here].max() > limit:
            peak = float(high[here].max())
            middle = float(np.mean(g.x[here[high[here] >= peak * (1.0 - 1e-9)]]))
            result.append(Mark(middle, peak, significant(peak), within=within))
    for s in g.beam.supports:
        near = np.flatnonzero(judged & (np.abs(g.x - s.x_mm) <= 0.5 * s.width_mm + 1.0))
        if len(near) and low[near].min() < -limit:
            result.append(
                Mark(s.x_mm, float(low[near].min()), significant(-float(low[near].min())), within=within)
            )
    return tuple(result)


def _shear(r: ResultFile, g: Ground) -> Panel:
    s, k = r.stations, g.system.factor("force") / 1e3
    demand, total, concrete = (
        np.array(v) / k for v in (s.design.shear_kN, s.resistance.shear_kN, s.resistance.shear_concrete_kN)
    )
    ends = np.array(s.strength.shear_max_kN) / k, np.array(s.strength.shear_min_kN) / k
    resisted = np.where(g.clear, total, np.nan)
    alone = np.fmin(np.where(g.clear, concrete, np.nan), resisted)
    over = g.clear & beyond(demand, total)
    demands: list[Curve] = []
    resistances: list[Curve] = []
    fills: list[Fill] = []
    for sign, v, named in ((1.0, ends[0], True), (-1.0, ends[1], False)):
        # what stirrups are for: no more than at d from the face
        bold = np.where(g.clear, np.sign(v) * np.minimum(np.abs(v), demand), np.nan)
        demands += [
            Curve(bold, "ink", (), 1.5, "shear, bold: for stirrups" * named),
            Curve(v, "ink", (), 0.7),
        ]
        resistances.append(Curve(sign * alone, "berry", DOTTED, 1.0, "concrete alone" * named))
        resistances.append(Curve(sign * resisted, "berry", DASHED, 1.6, "with stirrups" * named))
        fills += [
            Fill(np.zeros(len(alone)), sign * alone, "pale"),
            Fill(sign * alone, sign * resisted, "faint"),
        ]
        hole = over & (sign * v > 0.0)
        if hole.any():
            fills.append(
                Fill(np.where(hole, sign * total, np.nan), np.where(hole, sign * demand, np.nan), "thorn")
            )
    return Panel(
        key="shear",
        title="shear",
        unit=g.system.unit("force"),
        height=150.0,
        curves=(*demands, *resistances),
        fills=tuple(fills),
        marks=end_marks(g, *ends, g.clear),
        readings=(Reading("shear", demand, total), Reading("shear, concrete alone", concrete)),
    )


def end_marks(g: Ground, high: Array, low: Array, shown: Mask) -> tuple[Mark, ...]:
    """The greater value at each end of each span."""
    limit = 0.06 * max(float(np.abs(high).max()), float(np.abs(low).max()))
    result = []
    for number in range(1, len(g.beam.spans) + 1):
        here = g.of(number)[shown[g.of(number)]]
        for i, anchor in ((int(here[0]), "start"), (int(here[-1]), "end")) if len(here) else ():
            value = float(high[i] if high[i] >= -low[i] else low[i])
            if abs(value) > limit:
                result.append(Mark(float(g.x[i]), value, significant(value), anchor))
    return tuple(result)


def _deflection(r: ResultFile, g: Ground) -> Panel:
    d, k = r.stations.deflection, g.system.factor("section")
    named = [
        ("long term", d.long_term_mm, "ink", (), 1.4),
        ("immediate", d.immediate_mm, "leaf", DASHED, 1.1),
        ("after finishes", d.after_finishes_mm, "straw", BROKEN, 1.1),
        ("at striking", d.striking_mm, "berry", DOTTED, 1.0),
    ]
    curves = [
        Curve(np.array(v) / k, colour, dash, width, name)
        for name, v, colour, dash, width in named
        if v is not None
    ]
    first = curves[0].values
    marks = []
    for number in range(1, len(g.beam.spans) + 1):
        here = g.of(number)
        i = int(here[np.abs(first[here]).argmax()])
        if abs(first[i]) > 0.05 * float(np.abs(first).max() + 1e-9):
            marks.append(Mark(float(g.x[i]), float(first[i]), significant(float(first[i]))))
    readings = tuple(Reading(f"deflection, {c.name}", c.values) for c in curves)
    return Panel(
        key="deflection",
        title="deflection",
        unit=g.system.unit("section"),
        height=100.0,
        curves=tuple(curves),
        fills=(),
        marks=tuple(marks),
        readings=readings,
        down=True,
    )


def _cracks(r: ResultFile, g: Ground) -> Panel:
    """Widths along both faces, the bottom's below the axis, with their limit where the code has one."""
    k = g.system.factor("section")
    bottom, top = (
        np.where(g.judged, np.array(v) / k, 0.0)
        for v in (r.stations.crack.bottom_mm, r.stations.crack.top_mm)
    )
    limits = [c.resistance / k for c in r.checks if c.quantity == "crack" and c.resistance < 2.0]
    marks = [
        Mark(float(g.x[i]), float(v[i]), significant(abs(float(v[i]))), within=True)
        for v in (bottom, -top)
        if np.abs(v[i := int(np.abs(v).argmax())]) > 0.0
    ]
    ground = np.zeros(len(top))
    return Panel(
        key="crack",
        title="crack width",
        unit=g.system.unit("section"),
        height=84.0,
        curves=(
            Curve(bottom, "ink", (), 1.1, "at the bottom"),
            Curve(-top, "ink", DASHED, 1.1, "at the top"),
        ),
        fills=(Fill(ground, bottom, "pale"), Fill(ground, -top, "faint")),
        marks=tuple(marks),
        readings=(Reading("crack width, bottom", bottom), Reading("crack width, top", top)),
        down=True,
        unsigned=True,
        limits=(min(limits), -min(limits)) if limits else (),
        remark="limit" if limits else "likely, for information",
    )
