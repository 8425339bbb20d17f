"""Diagrams along the beam as SVG: bars, moment, shear, deflection, cracks on one x axis. Demand is an ink line on a light fill,
resistance a berry line; where demand goes beyond it the hole is thorn."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from html import escape
from typing import Any

import numpy as np

from upright_bramble.core.quantities import SYSTEMS, significant
from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.along import depth_at, line_of
from upright_bramble.section.arrays import Array

LEFT, RIGHT, GAP = 64.0, 14.0, 24.0
MOST_POINTS = 1500  # of a line that are drawn as they are
NAMES = ("ink", "berry", "leaf", "thorn", "straw", "mist", "pale", "paper", "quiet")


@dataclass(frozen=True)
class Curve:
    """A line of a panel: values in the panel's unit, colour by name, dashes."""

    name: str
    values: Array
    colour: str
    dash: str = ""
    width: float = 1.4


@dataclass(frozen=True)
class Panel:
    """One diagram: `fills` between the axis and values, `holes` where the first goes beyond the second; `down` draws positive values
    downwards."""

    key: str
    title: str
    unit: str
    height: float
    curves: tuple[Curve, ...]
    fills: tuple[tuple[Array, str], ...] = ()
    holes: tuple[tuple[Array, Array], ...] = ()
    down: bool = False
    limit: float | None = None


def panels_of(r: ResultFile, *, few: bool = False) -> list[Panel]:
    """Moment and shear; with deflection and cracks unless there is room for `few` only."""
    system, s = SYSTEMS[r.beam.units], r.stations
    m, v, k = system.factor("moment") / 1e6, system.factor("force") / 1e3, system.factor("section")

    def values(numbers: Sequence[float], size: float) -> Array:
        return np.array(numbers, dtype=float) / size

    high, low = values(s.design.moment_max_kNm, m), values(s.design.moment_min_kNm, m)
    up, down = values(s.resistance.moment_positive_kNm, m), values(s.resistance.moment_negative_kNm, m)
    shear, concrete, total = (values(w, v) for w in (s.design.shear_kN, s.resistance.shear_concrete_kN, s.resistance.shear_kN))
    found = [
        Panel(
            "moment", "moment", system.unit("moment"), 190.0,
            (
                Curve("demand, sagging", high, "ink"), Curve("demand, hogging", low, "ink"),
                Curve("resistance, sagging", up, "berry", "6 3", 1.6), Curve("resistance, hogging", down, "berry", "6 3", 1.6),
            ),
            ((np.maximum(high, 0.0), "mist"), (np.minimum(low, 0.0), "mist")), ((high, up), (-low, -down)), down=True,
        ),
        Panel(
            "shear", "shear", system.unit("force"), 130.0,
            (
                Curve("demand", shear, "ink"), Curve("concrete alone", concrete, "berry", "1.5 2.5"),
                Curve("with stirrups", total, "berry", "6 3", 1.6),
            ),
            ((shear, "mist"),), ((shear, total),),
        ),
    ]  # fmt: skip
    if few:
        return found
    d, c = s.deflection, s.crack
    found.append(Panel(
        "deflection", "deflection", system.unit("section"), 120.0,
        (
            Curve("long term", values(d.long_term_mm, k), "ink"), Curve("immediate", values(d.immediate_mm, k), "leaf", "6 3"),
            Curve("after finishes", values(d.after_finishes_mm, k), "straw", "6 2 1.5 2"),
        ), down=True,
    ))  # fmt: skip
    limits = [x.resistance for x in r.checks if x.kind.startswith("cracking.") and x.unit == "mm" and x.resistance < 2.0]
    bottom, top = values(c.bottom_mm, k), -values(c.top_mm, k)
    found.append(Panel(
        "crack", "crack width", system.unit("section"), 96.0, (Curve("bottom", bottom, "ink"), Curve("top", top, "ink", "6 3")),
        ((bottom, "pale"), (top, "mist")), down=True, limit=min(limits) / k if limits else None,
    ))  # fmt: skip
    return found


def chart(r: ResultFile, colours: Mapping[str, str], *, width: float = 1040.0, few: bool = False, alone: bool = False) -> str:
    """The whole picture. `colours` by name; `alone`: a file of its own, not part of a page."""
    system = SYSTEMS[r.beam.units]
    low, high = r.beam.ends_mm
    scale = (width - LEFT - RIGHT) / (high - low)
    x = LEFT + (np.array(r.stations.x_mm) - low) * scale

    def at(mm: float) -> float:
        return LEFT + (mm - low) * scale

    parts: list[str] = []
    y = 8.0
    y = _elevation(parts, r, at, y, colours) + GAP * 0.6
    for panel in panels_of(r, few=few):
        y = _panel(parts, r, panel, x, y, width, colours) + GAP
    y = _axis(parts, r, at, y - GAP + 14.0, colours, system.factor("span"), system.unit("span"))
    namespace = ' xmlns="http://www.w3.org/2000/svg"' if alone else ""
    family = "Libertinus Serif" if alone else "inherit"
    cursor = "" if alone else f'<line class="cursor" x1="-9" x2="-9" y1="0" y2="{y:.0f}" stroke="{colours["berry"]}" stroke-width="1"/>'
    size = f'width="{width:.0f}" height="{y:.0f}" ' if alone else ""
    return (
        f'<svg{namespace} {size}viewBox="0 0 {width:.0f} {y:.0f}" font-family="{family}" font-size="12" role="img" '
        f'aria-label="diagrams along {escape(r.beam.mark)}">{"".join(parts)}{cursor}</svg>'
    )


def _elevation(parts: list[str], r: ResultFile, at: Callable[[float], float], y: float, c: Mapping[str, str]) -> float:
    """The beam with its bars and stirrups, its depth drawn larger than its length."""
    deepest = max(max(s.section_start.depth_mm, s.section_end.depth_mm) for s in r.beam.spans)
    k = 62.0 / deepest
    low, high = r.beam.ends_mm
    top = y + 4.0
    corners = [(at(low), top), (at(high), top)]
    edge: list[tuple[float, float]] = []
    for n, s in enumerate(r.beam.spans):
        first = low if n == 0 else s.start_mm
        last = high if n == len(r.beam.spans) - 1 else s.end_mm
        edge += [(at(first), top + s.section_start.depth_mm * k), (at(last), top + s.section_end.depth_mm * k)]
    corners += edge[::-1]
    points = " ".join(f"{px:.1f},{py:.1f}" for px, py in corners)
    parts.append(f'<polygon points="{points}" fill="{c["mist"]}" stroke="{c["ink"]}" stroke-width="0.8"/>')
    places = [z.start_mm + number * z.spacing_mm for z in r.stirrups for number in range(z.count)]
    if len(places) <= MOST_POINTS:
        parts += [_line(at(p), top + 5.0, at(p), top + depth_at(r.beam.spans, p) * k - 5.0, c["quiet"], 0.6) for p in places]
    else:  # so many stand closer than can be seen: one path of those that are drawn apart
        seen = {round(at(p), 1): p for p in places}
        drawn = " ".join(f"M{a:.1f},{top + 5.0:.1f} V{top + depth_at(r.beam.spans, p) * k - 5.0:.1f}" for a, p in seen.items())
        parts.append(f'<path d="{drawn}" stroke="{c["quiet"]}" stroke-width="0.6"/>')
    for b in r.bars:
        if b.face == "side":
            continue
        corners = line_of(r.beam.spans, b, b.start_mm, b.end_mm, (5.0 + 4.5 * (b.layer - 1)) / k)
        drawn = " ".join(f"{at(px):.1f},{top + down * k:.1f}" for px, down in corners)
        parts.append(f'<polyline points="{drawn}" fill="none" stroke="{c["berry"]}" stroke-width="2.0"/>')
    bottom = top + deepest * k
    for p in r.beam.supports:
        level = top + depth_at(r.beam.spans, min(max(p.x_mm, low + 1.0), high - 1.0)) * k
        parts.append(
            f'<rect x="{at(p.x_mm - 0.5 * p.width_mm):.1f}" y="{level:.1f}" width="{at(p.width_mm) - at(0.0):.1f}" '
            f'height="{bottom + 12.0 - level:.1f}" fill="{c["quiet"]}"/>'
        )
        parts.append(_text(at(p.x_mm), bottom + 25.0, p.name, c["ink"], "middle", 'font-weight="bold"'))
    return bottom + 27.0


def _panel(parts: list[str], r: ResultFile, p: Panel, x: Array, y: float, width: float, c: Mapping[str, str]) -> float:
    every = [v.values for v in p.curves] + ([np.array([p.limit, -p.limit])] if p.limit is not None and p.key == "crack" else [])
    most, least = max(0.0, *(float(v.max()) for v in every)), min(0.0, *(float(v.min()) for v in every))
    room = max(most - least, 1e-9) * 1.12
    sign = -1.0 if p.down else 1.0
    start = y + 20.0
    upper = -least if p.down else most

    def level(values: Any) -> Any:
        return start + 0.06 * p.height + (upper - sign * np.asarray(values)) / room * p.height

    parts.append(_text(LEFT - 8.0, y + 12.0, f"{p.title}, {p.unit}", c["ink"], "start", 'font-weight="bold"'))
    _legend(parts, p, y + 12.0, width, c)
    zero = float(level(0.0))
    # in the width of end supports and at free tips bars are only being anchored: nothing is judged there
    places, cover = np.array(r.stations.x_mm), r.beam.cover_mm.sides + 1.0
    inside = (places >= max(r.beam.spans[0].clear_start_mm, r.beam.ends_mm[0] + cover)) & (
        places <= min(r.beam.spans[-1].clear_end_mm, r.beam.ends_mm[1] - cover)
    )
    for values, colour in p.fills:
        parts.append(f'<path d="{_path(x, level(values))} L{x[-1]:.1f},{zero:.1f} L{x[0]:.1f},{zero:.1f} Z" fill="{c[colour]}"/>')
    for demand, resistance in p.holes:
        beyond = np.maximum(demand, resistance) if p.key != "moment" or (demand >= resistance).any() else demand
        over = inside & (demand > resistance + 1e-9 * np.abs(demand).max())
        if over.any():
            flip = -1.0 if p.key == "moment" and resistance is p.holes[-1][1] else 1.0
            inner, outer = level(flip * np.where(over, resistance, demand)), level(flip * np.where(over, beyond, demand))
            back = " ".join(f"L{a:.1f},{b:.1f}" for a, b in zip(x[::-1], inner[::-1], strict=True))
            parts.append(f'<path d="{_path(x, outer)} {back} Z" fill="{c["thorn"]}" fill-opacity="0.8"/>')
    parts.append(_line(LEFT, zero, width - RIGHT, zero, c["ink"], 0.7))
    if p.limit is not None:
        for end in (p.limit, -p.limit):
            parts.append(_line(LEFT, float(level(end)), width - RIGHT, float(level(end)), c["thorn"], 0.9, "2 2"))
    for curve in p.curves:
        dash = f' stroke-dasharray="{curve.dash}"' if curve.dash else ""
        parts.append(
            f'<path d="{_path(x, level(curve.values))}" fill="none" stroke="{c[curve.colour]}" stroke-width="{curve.width}"{dash} '
            'stroke-linejoin="round"/>'
        )
    _ticks(parts, p, level, most, least, c)
    _peaks(parts, r, p, x, level, c)
    return start + p.height * 1.06


def _legend(parts: list[str], p: Panel, y: float, width: float, c: Mapping[str, str]) -> None:
    """Names of the lines at the right, each once."""
    names: dict[str, Curve] = {}
    for curve in p.curves:
        names.setdefault(curve.name.split(",")[0], curve)
    right = width - RIGHT
    for name, curve in reversed(names.items()):
        parts.append(_text(right, y, name, c["ink"], "end"))
        right -= 8.2 * len(name)
        parts.append(_line(right - 24.0, y - 4.0, right - 3.0, y - 4.0, c[curve.colour], curve.width, curve.dash))
        right -= 38.0


def _ticks(parts: list[str], p: Panel, level: Callable[[Any], Any], most: float, least: float, c: Mapping[str, str]) -> None:
    step = 10.0 ** np.floor(np.log10(max(most - least, 1e-9) / 2.5))
    step = next(s * step for s in (1.0, 2.0, 5.0, 10.0) if (most - least) / (s * step) <= 5.0)
    for n in range(int(np.ceil(least / step - 1e-9)), int(np.floor(most / step + 1e-9)) + 1):
        value = n * step
        here = float(level(value))
        said = f"{abs(value) if p.key == 'crack' else value:.6g}".replace("-", "−")
        parts.append(_line(LEFT - 4.0, here, LEFT, here, c["ink"], 0.7))
        parts.append(_text(LEFT - 7.0, here + 4.0, said, c["ink"], "end", 'font-size="10.5"'))


def _peaks(parts: list[str], r: ResultFile, p: Panel, x: Array, level: Callable[[Any], Any], c: Mapping[str, str]) -> None:
    """The greatest value of each span, and over each support where moments are drawn."""
    spans = np.array(r.stations.span)
    first = p.curves[0].values
    placed: list[tuple[float, float]] = []
    size = max(float(np.abs(v.values).max()) for v in p.curves) + 1e-12
    marks: list[tuple[float, float, float]] = []
    for k in range(1, len(r.beam.spans) + 1):
        here = np.flatnonzero(spans == k)
        i = int(here[np.abs(first[here]).argmax()])
        marks.append((float(x[i]), float(first[i]), 1.0 if first[i] >= 0.0 else -1.0))
    if p.key == "moment":
        hogging = p.curves[1].values
        for s in r.beam.supports:
            near = np.flatnonzero(np.abs(np.array(r.stations.x_mm) - s.x_mm) <= 0.5 * s.width_mm + 1.0)
            if len(near):
                i = int(near[hogging[near].argmin()])
                marks.append((float(x[i]), float(hogging[i]), -1.0))
    if p.key == "crack":
        other = p.curves[1].values
        i = int(np.abs(other).argmax())
        marks.append((float(x[i]), float(other[i]), -1.0))
    for px, value, sense in marks:
        if abs(value) < 0.06 * size:
            continue
        towards = 1.0 if (sense > 0.0) == p.down else -1.0
        py = float(level(value)) + (-5.0 if towards > 0.0 else 13.0)  # inside the fill, where no other line runs
        px = min(max(px, LEFT + 24.0), float(x[-1]) - 22.0)
        if all(abs(px - qx) > 34.0 or abs(py - qy) > 12.0 for qx, qy in placed):
            placed.append((px, py))
            halo = f'font-size="11" stroke="{c["paper"]}" stroke-width="2.6" paint-order="stroke"'
            parts.append(_text(px, py, significant(abs(value)), c["ink"], "middle", halo))


def _axis(parts: list[str], r: ResultFile, at: Callable[[float], float], y: float, c: Mapping[str, str], k: float, unit: str) -> float:
    """Span names between marks at the supports, and places in the unit of spans."""
    for n, s in enumerate(r.beam.spans, start=1):
        middle = 0.5 * (at(s.start_mm) + at(s.end_mm))
        parts.append(_text(middle, y + 2.0, f"span {n}" if at(s.end_mm) - at(s.start_mm) > 46.0 else str(n), c["ink"], "middle"))
    for p in r.beam.supports:
        here = at(p.x_mm)
        parts.append(_line(here, y - 10.0, here, y + 3.0, c["ink"], 0.8))
        parts.append(_text(here, y + 14.0, f"{p.x_mm / k:.4g} {unit}", c["ink"], "middle", 'font-size="10.5"'))
    return y + 20.0


def _path(x: Array, y: Array) -> str:
    x, y = _thinned(x, y)
    return "M" + " L".join(f"{a:.1f},{b:.1f}" for a, b in zip(x, y, strict=True))


def _thinned(x: Array, y: Array) -> tuple[Array, Array]:
    """Of a line with more points than can be seen: first, lowest, highest and last of each column, a quarter of a unit wide."""
    if len(x) <= MOST_POINTS:
        return x, y
    column = np.floor(4.0 * x).astype(np.int64)
    starts = np.flatnonzero(np.diff(column, prepend=column[0] - 1))
    ends = np.append(starts[1:], len(x))
    kept = {int(i) for a, b in zip(starts, ends, strict=True) for i in (a, a + y[a:b].argmin(), a + y[a:b].argmax(), b - 1)}
    order = sorted(kept)
    return x[order], y[order]


def _line(x1: float, y1: float, x2: float, y2: float, colour: str, width: float, dash: str = "") -> str:
    more = f' stroke-dasharray="{dash}"' if dash else ""
    return f'<line x1="{x1:.1f}" y1="{y1:.1f}" x2="{x2:.1f}" y2="{y2:.1f}" stroke="{colour}" stroke-width="{width}"{more}/>'


def _text(x: float, y: float, text: str, colour: str, anchor: str, more: str = "") -> str:
    return f'<text x="{x:.1f}" y="{y:.1f}" fill="{colour}" text-anchor="{anchor}" {more}>{escape(text)}</text>'
