"""Figures: demand against resistance along the whole beam, one x axis for all panels."""

from __future__ import annotations

import io
import warnings
from typing import Any

import matplotlib
import numpy as np
from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.text import Text

from upright_bramble.analysis import Forces, Stations
from upright_bramble.analysis.envelope import Extremes
from upright_bramble.analysis.support_width import shear_at_d
from upright_bramble.beam import Beam, Support
from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import ratio_text
from upright_bramble.present.glyphs import drawable
from upright_bramble.present.numbers import Shown, shown_for, significant
from upright_bramble.present.palette import BERRY, BERRY_FAINT, BERRY_PALE, INK, LEAF, MIST, STRAW, THORN, WORDS
from upright_bramble.section.arrays import Array, Index, Mask
from upright_bramble.verify import Result
from upright_bramble.verify.strength import valid_stations

SIZE, DPI = (12.8, 8.0), 100
_STYLE: Any = {
    "font.family": "DejaVu Sans",
    "font.size": 9.0,
    "svg.fonttype": "none",
    "svg.hashsalt": "upright-bramble",
    "axes.edgecolor": INK,
    "axes.labelcolor": INK,
    "text.color": INK,
    "xtick.color": INK,
    "ytick.color": INK,
    "axes.linewidth": 0.6,
    "text.parse_math": False,
}


def diagrams(result: Result) -> Figure:
    """Moment and shear against their resistance, the deflected shape, crack widths where any are found, the elevation with its bars."""
    cracks = bool(result.curves.crack_top.any() or result.curves.crack_bottom.any())
    with matplotlib.rc_context(_STYLE):
        figure = Figure(figsize=SIZE, dpi=DPI)
        axes: Any = figure.subplots(
            5 if cracks else 4,
            1,
            sharex=True,
            gridspec_kw={
                "height_ratios": [2.65, 2.25, 1.15, 0.9, 2.6] if cracks else [3.1, 2.6, 1.3, 2.2],
                "hspace": 0.29 if cracks else 0.24,
                "left": 0.075,
                "right": 0.985,
                "top": 0.885,
                "bottom": 0.055,
            },
        )
        units = shown_for(result.beam)
        _title(figure, result)
        _moment(axes[0], result, units)
        _shear(axes[1], result, units)
        _deflection(axes[2], result, units)
        if cracks:
            _cracks(axes[3], result, units)
        _elevation(axes[-1], result, units)
        low, high = result.beam.ends
        axes[0].set_xlim(
            (low - 0.01 * (high - low)) / units.system.factor("span"), (high + 0.01 * (high - low)) / units.system.factor("span")
        )
    return figure


def _title(figure: Figure, result: Result) -> None:
    word, colour = WORDS[result.status]
    g = result.governing
    figure.text(0.012, 0.955, f"{result.beam.mark}  {result.beam.title}", fontsize=13, fontweight="bold", va="center")
    figure.text(0.985, 0.965, word, fontsize=13, fontweight="bold", color=colour, ha="right", va="center")
    figure.text(0.985, 0.938, f"{g.id} {ratio_text(g.ratio)}" + (f" ({g.clause})" if g.clause else ""), fontsize=9, ha="right", va="center")
    open_ = list(dict.fromkeys(v.topic for v in result.not_verified))
    said = [f"not verified: {', '.join(open_)}"] * bool(open_) + [f"waived: {topic}" for topic, _ in result.waived]
    figure.text(0.012, 0.93, "; ".join([result.code_title, *said]), fontsize=9, va="center")


def _bare(axis: Axes, label: str) -> None:
    for side in ("top", "right", "bottom"):
        axis.spines[side].set_visible(False)
    axis.tick_params(length=3, width=0.6)
    axis.tick_params(axis="x", length=0, labelbottom=False)
    axis.set_ylabel(label)
    axis.axhline(0.0, color=INK, lw=0.7)


def _supports(axis: Axes, beam: Beam, units: Shown) -> None:
    for s in beam.supports:
        left, right = (units.value(s.x + sign * 0.5 * s.width, "span") for sign in (-1, 1))
        axis.axvspan(left, right, color=MIST, lw=0, zorder=0)


def _moment(axis: Axes, result: Result, units: Shown) -> None:
    """On the tension side: sagging below the axis."""
    beam, c, at = result.beam, result.curves, result.forces.stations
    x = at.x / units.system.factor("span")
    k = units.system.factor("moment")
    _bare(axis, f"moment {units.unit('moment')}")
    _supports(axis, beam, units)
    ok = valid_stations(beam, at)
    for demand, resistance, sign in ((c.design_moment_max, c.moment_positive, 1.0), (-c.design_moment_min, -c.moment_negative, -1.0)):
        d, r = sign * demand / k, sign * resistance / k
        axis.fill_between(x, 0.0, np.where(ok, d, 0.0), color=MIST, lw=0, zorder=1)
        axis.plot(x, r, color=BERRY, lw=1.5, ls=(0, (6, 1.5)), zorder=3)
        hole = ok & (np.abs(d) > np.abs(r) * (1.0 + 1e-9)) & (np.abs(d) > 1e-3 * np.abs(d).max(initial=1e-9))
        axis.fill_between(x, r, d, where=hole.tolist(), color=THORN, lw=0, hatch="////", edgecolor="white", zorder=4)
        axis.plot(x, np.where(ok, d, np.nan), color=INK, lw=1.3, zorder=5)
    axis.invert_yaxis()
    axis.margins(y=0.16)
    _peaks(axis, beam, at.span, x, c.design_moment_max / k, c.design_moment_min / k, ok)
    with_torsion = ", with the pull of torsion" if result.forces.responses.twisted else ""
    _key(axis, [(INK, "-", f"design moment, shifted{with_torsion}"), (BERRY, "--", "resistance, bars anchored")])


def _peaks(axis: Axes, beam: Beam, span: Index, x: Array, high: Array, low: Array, ok: Mask) -> None:
    """Peak values, kept apart: sagging by span, hogging by support."""
    limit = 0.04 * max(float(np.abs(high).max()), float(np.abs(low).max()), 1e-9)
    for i in range(len(beam.spans)):
        mine = (span == i) & ok
        if mine.any() and high[mine].max() > limit:
            at = np.flatnonzero(mine)[high[mine].argmax()]
            middle = np.flatnonzero(mine & (high >= high[at] * (1 - 1e-9)))
            place = float(np.mean(x[middle]))
            _label(axis, place, float(high[at]), significant(float(high[at])), "top")
    xs = np.array([s.x for s in beam.supports])
    scale = 1.0 if not len(xs) else float(x[-1]) / max(beam.length, 1e-9)
    near = np.abs(x[:, None] - xs * scale).argmin(axis=1)
    for s in range(len(xs)):
        mine = (near == s) & ok
        if mine.any() and low[mine].min() < -limit:
            zone = np.flatnonzero(mine)
            at = zone[low[mine].argmin()]
            if at in (zone[0], zone[-1]) and abs(x[at] - xs[s] * scale) > 0.05 * float(x[-1]):
                continue  # the neighbour's hogging reaches into this zone: it is labelled there
            _label(axis, float(xs[s] * scale), float(low[at]), significant(float(low[at])), "bottom")


def _label(axis: Axes, x: float, y: float, text: str, va: str) -> None:
    offset = -3 if va == "top" else 3
    axis.annotate(
        text, (x, y), xytext=(0, offset), textcoords="offset points", ha="center", va=va, fontsize=8.5, zorder=8,
        bbox={"boxstyle": "round,pad=0.12", "fc": "white", "ec": "none", "alpha": 0.85},
    )  # fmt: skip


def _key(axis: Axes, entries: list[tuple[str, Any, str]]) -> None:
    """Names of the lines above the panel, from the left: no curve lies there."""
    from matplotlib.lines import Line2D

    handles = [Line2D([], [], color=colour, ls=style, lw=1.6) for colour, style, _ in entries]
    axis.legend(
        handles, [text for _, _, text in entries], loc="lower left", bbox_to_anchor=(0.0, 0.985), ncols=len(entries),
        frameon=False, borderpad=0.0, handlelength=2.6, columnspacing=2.0, fontsize=8.5, borderaxespad=0.15,
    )  # fmt: skip


def _shear(axis: Axes, result: Result, units: Shown) -> None:
    beam, c, forces = result.beam, result.curves, result.forces
    at, e = forces.stations, forces.envelopes[next(iter(forces.envelopes))]
    x, k = at.x / units.system.factor("span"), units.system.factor("force")
    _bare(axis, f"shear {units.unit('force')}")
    _supports(axis, beam, units)
    clear = np.zeros(len(at), dtype=bool)
    for i in range(len(beam.spans)):
        low, high = beam.clear(i)
        clear |= (at.span == i) & (at.x >= low - 1e-6) & (at.x <= high + 1e-6)
    resisted = np.where(clear, c.shear_total / k, np.nan)
    concrete = np.where(clear, np.minimum(c.shear_concrete, c.shear_total) / k, np.nan)
    for sign in (1.0, -1.0):
        axis.fill_between(x, 0.0, sign * concrete, color=BERRY_PALE, lw=0, zorder=1)
        axis.fill_between(x, sign * concrete, sign * resisted, color=BERRY_FAINT, lw=0, zorder=1)
        axis.plot(x, sign * concrete, color=BERRY, lw=0.9, ls=":", zorder=3)
        axis.plot(x, sign * resisted, color=BERRY, lw=1.5, ls=(0, (6, 1.5)), zorder=3)
    for v in (e.shear_max, e.shear_min):
        axis.plot(x, v / k, color=INK, lw=0.6, zorder=5)
        # what stirrups are for: no more than at d from the face
        asked = np.sign(v) * np.minimum(np.abs(v), c.design_shear)
        axis.plot(x, np.where(clear, asked, np.nan) / k, color=INK, lw=1.4, zorder=6)
    over = clear & (c.design_shear > c.shear_total * (1.0 + 1e-9))
    for sign, v in ((1.0, e.shear_max), (-1.0, -e.shear_min)):
        there = over & (v > 0.0)
        axis.fill_between(
            x,
            sign * c.shear_total / k,
            sign * c.design_shear / k,
            where=there.tolist(),
            color=THORN,
            lw=0,
            hatch="////",
            edgecolor="white",
            zorder=4,
        )
    axis.margins(y=0.14)
    for i in range(len(beam.spans)):
        rows = at.of(i)
        low, high = beam.clear(i)
        inside = np.flatnonzero(clear[rows]) + rows.start
        for at_, values, va in ((inside[0], e.shear_max, "bottom"), (inside[-1], e.shear_min, "top")):
            value = float(values[at_] / k)
            if abs(value) > 0.06 * float(np.abs(e.shear).max() / k) and (value > 0) == (va == "bottom"):
                ha = "left" if va == "bottom" else "right"
                axis.annotate(
                    significant(value), (float(x[at_]), value), xytext=(4 if ha == "left" else -4, 2 if va == "bottom" else -2),
                    textcoords="offset points", ha=ha, va=va, fontsize=8.5, zorder=8,
                    bbox={"boxstyle": "round,pad=0.12", "fc": "white", "ec": "none", "alpha": 0.85},
                )  # fmt: skip
    _key(
        axis,
        [(INK, "-", "shear (bold: for stirrups)"), (BERRY, ":", "concrete alone, dark tint"), (BERRY, "--", "with stirrups, light tint")],
    )


def _deflection(axis: Axes, result: Result, units: Shown) -> None:
    c, at = result.curves, result.forces.stations
    x, k = at.x / units.system.factor("span"), units.system.factor("section")
    _bare(axis, f"deflection {units.unit('section')}")
    _supports(axis, result.beam, units)
    axis.plot(x, c.deflection_long_term / k, color=INK, lw=1.4)
    axis.plot(x, c.deflection_immediate / k, color=LEAF, lw=1.1, ls="--")
    axis.plot(x, c.deflection_after_finishes / k, color=STRAW, lw=1.1, ls="-.")
    axis.plot(x, c.deflection_striking / k, color=BERRY, lw=0.9, ls=":")
    axis.invert_yaxis()
    axis.margins(y=0.25)
    for i in range(len(result.beam.spans)):
        rows = at.of(i)
        j = rows.start + int(np.abs(c.deflection_long_term[rows]).argmax())
        value = float(c.deflection_long_term[j] / k)
        if abs(value) > 0.05 * float(np.abs(c.deflection_long_term / k).max() + 1e-9):
            edge = j in (0, len(x) - 1)
            axis.annotate(
                significant(value), (float(x[j]), value), xytext=(0 if not edge else (4 if j == 0 else -4), -3 if value > 0 else 3),
                textcoords="offset points", ha="center" if not edge else ("left" if j == 0 else "right"),
                va="top" if value > 0 else "bottom", fontsize=8.5,
                bbox={"boxstyle": "round,pad=0.12", "fc": "white", "ec": "none", "alpha": 0.85},
            )  # fmt: skip
    _key(axis, [(INK, "-", "long term"), (LEAF, "--", "immediate"), (STRAW, "-.", "after finishes"), (BERRY, ":", "at striking")])


def _cracks(axis: Axes, result: Result, units: Shown) -> None:
    """Widths along both faces, the bottom's below the axis, with their limit where the code has one."""
    c, at = result.curves, result.forces.stations
    x, k = at.x / units.system.factor("span"), units.system.factor("section")
    _bare(axis, f"crack {units.unit('section')}")
    _supports(axis, result.beam, units)
    ok = valid_stations(result.beam, at)  # elsewhere bars are only being anchored
    bottom, top = (np.where(ok, v / k, 0.0) for v in (c.crack_bottom, c.crack_top))
    axis.fill_between(x, 0.0, bottom, color=BERRY_PALE, lw=0)
    axis.fill_between(x, 0.0, -top, color=BERRY_FAINT, lw=0)
    axis.plot(x, bottom, color=INK, lw=1.1)
    axis.plot(x, -top, color=INK, lw=1.1, ls="--")
    limits = [v.resistance for v in result.checks if v.quantity == "crack"]
    if limits:
        for sign in (1.0, -1.0):
            axis.axhline(sign * min(limits) / k, color=THORN, lw=0.9, ls=(0, (1, 1.5)))
    axis.invert_yaxis()
    axis.margins(y=0.12)
    axis.yaxis.set_major_formatter(lambda v, _: f"{abs(v):g}")
    what = [(INK, "-", "width at the bottom"), (INK, "--", "at the top")]
    _key(axis, [*what, (THORN, ":", "limit")] if limits else [*what, ("none", "-", "likely, for information")])


def _elevation(axis: Axes, result: Result, units: Shown) -> None:
    """Outline, supports, stirrups, and the bars drawn out below in the order they are fixed."""
    beam, k = result.beam, units.system.factor("span")
    for side in ("top", "right", "left", "bottom"):
        axis.spines[side].set_visible(False)
    axis.set_yticks([])
    axis.tick_params(axis="x", length=3, width=0.6, labelbottom=True)
    deepest = max(s.deepest for s in beam.spans)
    unit = 1.0 / deepest
    for i, span in enumerate(beam.spans):
        left = (beam.ends[0] if i == 0 else span.start) / k
        right = (beam.ends[1] if i == len(beam.spans) - 1 else span.end) / k
        h, h_2 = span.depths(0.0) * unit, span.depths(span.length) * unit
        axis.fill([left, right, right, left], [0, 0, -h_2, -h], fc=MIST, ec="none")
        axis.plot([left, right], [0, 0], color=INK, lw=0.9)
        axis.plot([left, right], [-h, -h_2], color=INK, lw=0.9)
        if span.profile.flange is not None:
            t = span.profile.flange.thickness * unit
            ends = (t - h, t - h_2) if span.profile.flange.below else (-t, -t)
            axis.plot([left, right], ends, color=INK, lw=0.6, ls=(0, (5, 3)))
        for a in span.hinges:
            axis.plot([(span.start + a) / k], [-0.5 * span.depths(a) * unit], "o", mfc="white", mec=INK, ms=5, mew=1.0)
        place = 0.5 * (beam.clear(i)[0] + beam.clear(i)[1]) / k
        axis.text(place, 0.12, f"span {span.name}", ha="center", va="bottom", fontsize=9)
    for edge, depth in zip(beam.ends, (beam.spans[0].depths(0.0), beam.spans[-1].depths(beam.spans[-1].length)), strict=True):
        axis.plot([edge / k, edge / k], [0, -depth * unit], color=INK, lw=0.9)
    for before, after in zip(beam.spans, beam.spans[1:], strict=False):
        axis.plot([after.start / k] * 2, [-before.depths(before.length) * unit, -after.depths(0.0) * unit], color=INK, lw=0.9)
    for z in result.layout.stirrups:
        span = next((s for s in beam.spans if s.start <= z.start <= s.end), beam.spans[-1])
        c = beam.cover
        for j in range(z.count):
            p = (z.start + j * z.spacing) / k
            depth = span.depths(min(max(z.start + j * z.spacing - span.start, 0.0), span.length))
            axis.plot([p, p], [-c.top * unit, -(depth - c.bottom) * unit], color=BERRY, lw=0.45)
    for s in beam.supports:
        left, right = (s.x - 0.5 * s.width) / k, (s.x + 0.5 * s.width) / k
        h = _depth_over(beam, s) * unit
        axis.fill([left, right, right, left], [-h, -h, -h - 0.3, -h - 0.3], fc=INK, ec="none")
        axis.text(s.x / k, -h - 0.36, s.name, ha="center", va="top", fontsize=9, fontweight="bold")
    bottom = _drawn_out(axis, result, k)
    axis.set_ylim(bottom, 0.55)
    axis.set_xlabel(f"x {units.unit('span')}", labelpad=1)


def _depth_over(beam: Beam, support: Support) -> float:
    """Greatest depth of the spans that meet at a support."""
    index = beam.supports.index(support)
    ends = [(s.left, s.depths(0.0)) for s in beam.spans] + [(s.right, s.depths(s.length)) for s in beam.spans]
    return max(float(depth) for s, depth in ends if s == index)


def _drawn_out(axis: Axes, result: Result, k: float) -> float:
    """Each bar group on a line of its own where it would meet another; bottom bars first, then side and top."""
    y, length = -1.95, result.beam.ends[1] - result.beam.ends[0]
    everything = [i.bar for i in result.bars]
    for face in ("bottom", "side", "top") if result.layout.sides else ("bottom", "top"):
        lines: list[list[tuple[float, float]]] = []
        for bar in sorted((b for b in everything if b.face == face), key=lambda b: (b.layer, -(b.end - b.start), b.start)):
            low, high = bar.start - 0.004 * length, bar.end + 0.004 * length
            room = [i for i, line in enumerate(lines) if all(high < a or low > b for a, b in line)]
            if not room:
                lines.append([])
            row = room[0] if room else len(lines) - 1
            lines[row].append((low, high))
            level = y - 0.42 * row
            axis.plot([bar.start / k, bar.end / k], [level, level], color=INK, lw=1.7, solid_capstyle="butt")
            tick = -0.16 if face == "top" else 0.16
            for x, kind in ((bar.start / k, bar.ends[0]), (bar.end / k, bar.ends[1])):
                if kind in ("bend", "hook"):
                    axis.plot([x, x], [level, level + tick], color=INK, lw=1.7)
                else:
                    axis.plot([x, x], [level - 0.07, level + 0.07], color=INK, lw=0.8)
            axis.text(
                0.5 * (bar.start + bar.end) / k, level, f"{bar.mark}: {counted(bar.count, result.label(bar.size))}",
                ha="center", va="center", fontsize=7.5,
                bbox={"boxstyle": "round,pad=0.1", "fc": "white", "ec": "none"},
            )  # fmt: skip
        axis.text(result.beam.ends[0] / k - 0.004 * length / k, y, face, ha="right", va="center", fontsize=8.5)
        y -= 0.42 * max(len(lines), 1) + 0.12
    return y + 0.15


def forces_figure(beam: Beam, forces: Forces, level: str = "strength") -> Figure:
    """Envelopes of a level on centrelines, with the peaks named; for strength what sections are designed for beside them."""
    with matplotlib.rc_context(_STYLE):
        figure = Figure(figsize=SIZE, dpi=DPI)
        panels = 3 if forces.responses.twisted else 2
        axes: Any = figure.subplots(
            panels, 1, sharex=True, gridspec_kw={"hspace": 0.16, "left": 0.075, "right": 0.985, "top": 0.9, "bottom": 0.07}
        )
        units, at, strength = shown_for(beam), forces.stations, level == next(iter(forces.envelopes))
        e = forces.envelopes[level]
        x = at.x / units.system.factor("span")
        figure.text(0.012, 0.955, f"{beam.mark}  {beam.title}", fontsize=13, fontweight="bold", va="center")
        figure.text(0.012, 0.925, f"{level.replace('_', '-')} level, {len(e.labels)} sets of forces", fontsize=9, va="center")
        _moments(axes[0], beam, forces, level, x, units, strength)
        design = shear_at_d(beam, at, forces.design.shear, 0.9 * at.depth) if strength else None
        _ends(axes[1], beam, at, x, e.shear_, "force", "shear", units, design)
        if panels == 3:
            _ends(axes[2], beam, at, x, e.torsion_, "moment", "torsion", units, None)
        _names(axes[-1], axes[0], panels, beam, units)
    return figure


def _moments(axis: Any, beam: Beam, forces: Forces, level: str, x: Array, units: Shown, strength: bool) -> None:
    e, at, k = forces.envelopes[level], forces.stations, units.system.factor("moment")
    _bare(axis, f"moment {units.unit('moment')}")
    _supports(axis, beam, units)
    axis.fill_between(x, e.moment_min / k, e.moment_max / k, color=MIST, lw=0)
    axis.plot(x, e.moment_max / k, color=INK, lw=1.3)
    axis.plot(x, e.moment_min / k, color=INK, lw=1.3)
    entries: list[tuple[str, Any, str]] = [(INK, "-", "envelope on centrelines")]
    if strength and forces.redistributed is not None:
        for line in (forces.redistributed.moment_max, forces.redistributed.moment_min):
            axis.plot(x, line / k, color=BERRY, lw=1.1, ls="-.")
        entries.append((BERRY, "-.", "after redistribution"))
    if strength:
        axis.plot(x, np.minimum(forces.design.moment_min, 0.0) / k, color=STRAW, lw=1.2, ls="--")
        entries.append((STRAW, "--", "for design: over the support's width"))
    axis.invert_yaxis()
    axis.margins(y=0.14)
    _peaks(axis, beam, at.span, x, e.moment_max / k, e.moment_min / k, np.ones(len(x), dtype=bool))
    _key(axis, entries)


def _ends(
    axis: Any, beam: Beam, at: Stations, x: Array, effect: Extremes, quantity: str, title: str, units: Shown, design: Array | None
) -> None:
    """An envelope that is largest at the ends of spans, with its values there."""
    k = units.system.factor(quantity)
    _bare(axis, f"{title} {units.unit(quantity)}")
    _supports(axis, beam, units)
    axis.fill_between(x, effect.low / k, effect.high / k, color=MIST, lw=0)
    if design is not None:
        for line in (np.minimum(effect.high, design), np.maximum(effect.low, -design)):
            axis.plot(x, line / k, color=STRAW, lw=1.2, ls="--")
        _key(axis, [(INK, "-", "envelope"), (STRAW, "--", "for stirrups: at d from the face")])
    most = max(float(np.abs(effect.high).max()), float(np.abs(effect.low).max()))
    axis.plot(x, effect.high / k, color=INK, lw=1.3)
    axis.plot(x, effect.low / k, color=INK, lw=1.3)
    for i in range(len(beam.spans)):
        rows = at.of(i)
        for j, side in ((rows.start, "left"), (rows.stop - 1, "right")):
            v = float(effect.high[j] if effect.high[j] >= -effect.low[j] else effect.low[j])
            if abs(v) > 0.05 * most:
                axis.annotate(
                    significant(v / k), (float(x[j]), v / k), xytext=(5 if side == "left" else -5, 2 if v > 0.0 else -2),
                    textcoords="offset points", ha=side, va="bottom" if v > 0.0 else "top", fontsize=8.5,
                    bbox={"boxstyle": "round,pad=0.12", "fc": "white", "ec": "none", "alpha": 0.85},
                )  # fmt: skip
    axis.margins(y=0.14)


def _names(last: Any, upper: Any, panels: int, beam: Beam, units: Shown) -> None:
    """Spans under the last panel, supports in the first, below where no moment is drawn over them."""
    last.tick_params(axis="x", labelbottom=True, length=3)
    depth = -0.085 if panels == 2 else -0.13
    for i, span in enumerate(beam.spans):
        place = 0.5 * (span.start + span.end) / units.system.factor("span")
        last.text(place, depth, f"span {i + 1}", transform=last.get_xaxis_transform(), ha="center", va="top")
    for s in beam.supports:
        place = s.x / units.system.factor("span")
        upper.text(place, 0.02, s.name, transform=upper.get_xaxis_transform(), ha="center", va="bottom", fontweight="bold")


def rendered(figure: Figure, kind: str) -> bytes:
    """PNG or SVG, the same bytes for the same figure."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg

    with matplotlib.rc_context(_STYLE), warnings.catch_warnings():
        warnings.simplefilter("ignore")  # a glyph that the fonts lack: an SVG keeps it as text, a picture shows another
        out = io.BytesIO()
        if kind == "svg":
            figure.savefig(out, format="svg", metadata={"Date": None, "Creator": "Upright Bramble"})
        else:
            FigureCanvasAgg(figure)
            for text in figure.findobj(Text):
                text.set_text(drawable(text.get_text()))
            figure.savefig(out, format="png", metadata={"Software": "Upright Bramble"})
    return out.getvalue()
