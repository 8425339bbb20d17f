"""A section drawn to scale with its strains and stresses, and the curves of what it resists."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.codes import DesignCode
from upright_bramble.core.quantities import SYSTEMS, UnitSystem, significant
from upright_bramble.present.palette import BERRY, INK, MIST, STRAW, THORN
from upright_bramble.present.section.view import axis_of, governing_set
from upright_bramble.section.arrays import Array
from upright_bramble.verify.sections.bending import Bent
from upright_bramble.verify.sections.curves import Curves, curves_of
from upright_bramble.verify.sections.judge import Verdict
from upright_bramble.verify.sections.model import CrossSection, ForceSet

if TYPE_CHECKING:
    from matplotlib.figure import Figure

MANY = 12  # sets whose names are written at their points


def section_figure(section: CrossSection, code: DesignCode, units: str, verdict: Verdict) -> Figure:
    """Section, strains and stresses under the governing set; axial force with moment; moments about both
    axes, or moment and curvature."""
    import matplotlib as mpl
    from matplotlib.figure import Figure

    from upright_bramble.present.plotting import DPI, SIZE, STYLE

    system = SYSTEMS[units]
    forces = governing_set(section, verdict) or ForceSet("none")
    curves = curves_of(section, code, forces)
    with mpl.rc_context(STYLE):
        figure = Figure(figsize=SIZE, dpi=DPI)
        figure.text(0.012, 0.962, section.title, fontsize=13, fontweight="bold", va="center")
        note = f"{code.title}; {axis_of(section)}" + (
            f"; under {forces.name}" if len(section.forces) > 1 else ""
        )
        figure.text(0.012, 0.93, note, fontsize=9, va="center")
        wide = curves.both is not None
        ratios = (1.35, 1.0, 1.0) if wide else (1.15, 1.0)
        grid = figure.add_gridspec(
            2,
            len(ratios),
            width_ratios=ratios,
            left=0.03,
            right=0.985,
            top=0.875,
            bottom=0.075,
            wspace=0.24,
            hspace=0.36,
        )
        state = verdict.bending.get(forces.name)
        draw_section(figure.add_subplot(grid[:, 0]), section, state, system)
        _with_axial(figure.add_subplot(grid[0, 1]), section, curves, forces, verdict, system)
        if wide:
            _with_axial(
                figure.add_subplot(grid[0, 2]), section, curves, forces, verdict, system, upright=False
            )
            _both(figure.add_subplot(grid[1, 1]), section, curves, forces, system)
        _curvature(figure.add_subplot(grid[1, -1]), curves, system, brief=wide)
    return figure


def section_drawing(section: CrossSection, units: str, verdict: Verdict) -> Figure:
    """The section alone, with strains and stresses under the governing set."""
    import matplotlib as mpl
    from matplotlib.figure import Figure

    from upright_bramble.present.plotting import STYLE

    forces = governing_set(section, verdict)
    state = verdict.bending.get(forces.name) if forces is not None else None
    with mpl.rc_context(STYLE):
        figure = Figure(figsize=(8.0, 4.2))
        axes: Any = figure.add_axes((0.0, 0.0, 1.0, 1.0))
        draw_section(axes, section, state, SYSTEMS[units])
        (left, right), (low, high) = axes.get_xlim(), axes.get_ylim()
        figure.set_size_inches(8.0, min(max(8.0 * (high - low) / (right - left), 1.8), 4.8))
    return figure


def draw_section(axes: Any, section: CrossSection, state: Bent | None, system: UnitSystem) -> None:
    """To scale: concrete, compressed part, bars, stirrup, neutral axis; beside it strains and stresses by
    depth along the gradient."""
    from matplotlib.patches import Circle, PathPatch
    from matplotlib.path import Path

    k = system.factor("section")
    rings = [ring / k for ring in section.shape.rings]
    codes = [np.r_[Path.MOVETO, [Path.LINETO] * (len(r) - 1), Path.CLOSEPOLY] for r in rings]
    outline = Path(np.concatenate([np.vstack([r, r[:1]]) for r in rings]), np.concatenate(codes))
    axes.add_patch(PathPatch(outline, facecolor=MIST, edgecolor=INK, lw=1.2))
    low, high = rings[0].min(axis=0), rings[0].max(axis=0)
    size = float((high - low).max())
    if section.stirrups is not None and not section.round:
        inset = _inset(section, k)
        if inset is not None:
            axes.plot(*np.vstack([inset, inset[:1]]).T, color=INK, lw=0.9)
    if state is not None and state.resisted is not None:
        _compressed(axes, section, state, outline, k)
    for bar in section.bars:
        axes.add_patch(
            Circle((bar.x / k, bar.y / k), 0.5 * bar.diameter / k, facecolor=INK, edgecolor="none", zorder=4)
        )
    unit = system.unit("section")
    axes.annotate(
        "",
        (low[0], low[1] - 0.06 * size),
        (high[0], low[1] - 0.06 * size),
        arrowprops={"arrowstyle": "<->", "color": INK, "lw": 0.7},
    )
    axes.text(
        0.5 * (low[0] + high[0]),
        low[1] - 0.075 * size,
        f"{significant(high[0] - low[0], 4)} {unit}",
        ha="center",
        va="top",
        fontsize=9,
    )
    axes.annotate(
        "",
        (low[0] - 0.06 * size, low[1]),
        (low[0] - 0.06 * size, high[1]),
        arrowprops={"arrowstyle": "<->", "color": INK, "lw": 0.7},
    )
    axes.text(
        low[0] - 0.075 * size,
        0.5 * (low[1] + high[1]),
        significant(high[1] - low[1], 4),
        rotation=90,
        ha="right",
        va="center",
        fontsize=9,
    )
    right = float(high[0])
    if state is not None and state.resisted is not None:
        right = _diagrams(axes, section, state, system, float(high[0]) + 0.22 * size, 0.3 * size, k)
    axes.set_xlim(low[0] - 0.2 * size, right + 0.1 * size)
    axes.set_ylim(low[1] - 0.16 * size, high[1] + 0.12 * size)
    axes.set_aspect("equal", adjustable="box", anchor="W")
    axes.axis("off")


def _inset(section: CrossSection, k: float) -> Array | None:
    """Centre line of the stirrup of a web, corners."""
    p, c = section.profile, section.cover
    half = 0.5 * section.tied
    if p.outline and len(section.shape.rings[0]) != 4:
        return None
    width = 0.5 * p.narrowest - c.sides - half
    return (
        np.array(
            [
                [-width, -c.top - half],
                [width, -c.top - half],
                [width, -p.depth + c.bottom + half],
                [-width, -p.depth + c.bottom + half],
            ]
        )
        / k
    )


def _compressed(axes: Any, section: CrossSection, state: Bent, outline: Any, k: float) -> None:
    """The compressed part tinted, and the neutral axis as a line across."""
    from matplotlib.patches import PathPatch, Polygon

    assert state.resisted is not None
    theta = np.radians(state.resisted.theta)
    along, across = np.array([np.cos(theta), np.sin(theta)]), np.array([-np.sin(theta), np.cos(theta)])
    ring = section.shape.rings[0]
    top, depth = float((ring @ along).max()), state.axis_depth
    if not np.isfinite(depth) or depth <= 0.0:
        return
    reach = 4.0 * float(np.ptp(ring, axis=0).max())
    middle = ring.mean(axis=0)
    middle = middle + along * (top - depth - float(middle @ along))
    corners = np.array(
        [
            middle + reach * across,
            middle - reach * across,
            middle - reach * across + reach * along,
            middle + reach * across + reach * along,
        ]
    )
    zone = Polygon(corners / k, closed=True, facecolor=BERRY, alpha=0.28, edgecolor="none", zorder=2)
    axes.add_patch(zone)
    zone.set_clip_path(PathPatch(outline, transform=axes.transData))
    if depth < state.height:
        inside = (ring - middle) @ across
        line = (
            np.array(
                [
                    middle + across * (float(inside.min()) - 0.04 * reach / 4.0),
                    middle + across * (float(inside.max()) + 0.04 * reach / 4.0),
                ]
            )
            / k
        )
        axes.plot(*line.T, color=BERRY, lw=1.2, ls=(0, (6, 2, 1, 2)), zorder=5)


def _diagrams(
    axes: Any, section: CrossSection, state: Bent, system: UnitSystem, left: float, width: float, k: float
) -> float:
    """Strains and bar stresses by depth along the gradient, beside the section; the right edge."""
    assert state.resisted is not None
    h = state.height / k
    base = float(section.shape.rings[0][:, 1].max()) / k
    bottom_strain = (
        state.top_strain
        - (state.top_strain / state.axis_depth if np.isfinite(state.axis_depth) and state.axis_depth else 0.0)
        * state.height
    )
    size = max(abs(state.top_strain), abs(bottom_strain), 1e-9)
    centre = left + 0.5 * width
    axes.plot([centre, centre], [base, base - h], color=INK, lw=0.8)
    x = centre + 0.5 * width * np.array([state.top_strain, bottom_strain]) / size
    axes.fill([centre, x[0], x[1], centre], [base, base, base - h, base - h], color=STRAW, alpha=0.3, lw=0)
    axes.plot(x, [base, base - h], color=INK, lw=1.1)
    axes.text(centre, base + 0.04 * h, "strain ‰", ha="center", va="bottom", fontsize=9)
    axes.text(x[0], base, f" {significant(1e3 * state.top_strain)}", ha="left", va="top", fontsize=8)
    axes.text(x[1], base - h - 0.01 * h, significant(1e3 * bottom_strain), ha="center", va="top", fontsize=8)
    second = left + 1.6 * width
    centre = second + 0.5 * width
    axes.plot([centre, centre], [base, base - h], color=INK, lw=0.8)
    axes.text(
        centre, base + 0.04 * h, f"bars {system.unit('steel stress')}", ha="center", va="bottom", fontsize=9
    )
    theta = np.radians(state.resisted.theta)
    along = np.array([np.cos(theta), np.sin(theta)])
    top = float((section.shape.rings[0] @ along).max())
    high = max(float(np.abs(state.stresses).max(initial=0.0)), 1e-9)
    labelled: list[float] = []
    for bar, stress in zip(section.bars, state.stresses, strict=True):
        y = base - (top - float(np.array([bar.x, bar.y]) @ along)) / k
        end = centre + 0.5 * width * float(stress) / high
        axes.plot(
            [centre, end], [y, y], color=THORN if stress < 0.0 else BERRY, lw=2.2, solid_capstyle="butt"
        )
        if all(abs(y - t) > 0.055 * h for t in labelled):
            labelled.append(y)
            text = significant(float(stress) / system.factor("steel stress"))
            axes.text(end, y, f" {text} ", ha="left" if stress > 0.0 else "right", va="center", fontsize=8)
    return centre + 0.75 * width


def _points(axes: Any, points: list[tuple[float, float, str]], governs: str) -> None:
    for x, y, name in points:
        axes.plot([x], [y], "o", color=INK, ms=6 if name == governs else 4, zorder=5)
    written = points if len(points) <= MANY else [p for p in points if p[2] == governs]
    low, high = axes.get_xlim()
    for x, y, name in written:
        left = x > low + 0.6 * (high - low)
        axes.annotate(
            name[:24],
            (x, y),
            xytext=(-7 if left else 7, 4),
            textcoords="offset points",
            ha="right" if left else "left",
            fontsize=8,
        )


def _frame(axes: Any, title: str, x: str, y: str) -> None:
    axes.set_title(title, fontsize=10, loc="left")
    axes.set_xlabel(x)
    axes.set_ylabel(y)
    axes.tick_params(labelbottom=True, labelleft=True, length=3)
    axes.axhline(0.0, color=INK, lw=0.6)
    axes.axvline(0.0, color=INK, lw=0.6)
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)


def _with_axial(
    axes: Any,
    section: CrossSection,
    curves: Curves,
    forces: ForceSet,
    verdict: Verdict,
    system: UnitSystem,
    *,
    upright: bool = True,
) -> None:
    """About the horizontal axis, or (not `upright`) about the vertical one."""
    force, moment = system.factor("force"), system.factor("moment")
    n, m = (curves.axial, curves.moment) if upright else (curves.axial_y, curves.moment_y)
    n, m = n / force, m / moment
    axes.fill(m, n, color=MIST, lw=0)
    axes.plot(m, n, color=BERRY, lw=1.6)
    symbol, name = ("M_x", "horizontal") if upright else ("M_y", "vertical")
    _frame(
        axes,
        f"N with moment about the {name} axis",
        f"{symbol} {system.unit('moment')}",
        f"N {system.unit('force')}",
    )
    points = []
    for s in section.forces:
        b = verdict.bending.get(s.name)
        own = b.moments if b is not None else (s.moment, s.moment_y)
        points.append(
            (own[0 if upright else 1] / moment, (b.axial if b is not None else s.axial) / force, s.name)
        )
    axes.margins(0.08)
    _points(
        axes,
        points if not any(s.moment_y for s in section.forces) else [p for p in points if p[2] == forces.name],
        forces.name,
    )


def _both(axes: Any, section: CrossSection, curves: Curves, forces: ForceSet, system: UnitSystem) -> None:
    assert curves.both is not None
    moment = system.factor("moment")
    mx, my = (v / moment for v in curves.both)
    axes.fill(my, mx, color=MIST, lw=0)
    axes.plot(my, mx, color=BERRY, lw=1.6)
    n = significant(forces.axial / system.factor("force"))
    _frame(
        axes,
        f"moments resisted together under {n} {system.unit('force')}",
        f"M_y {system.unit('moment')}",
        f"M_x {system.unit('moment')}",
    )
    alike = [s for s in section.forces if abs(s.axial - forces.axial) < 1e3]
    axes.margins(0.1)
    _points(axes, [(s.moment_y / moment, s.moment / moment, s.name) for s in alike], forces.name)
    if np.hypot(forces.moment, forces.moment_y) > 0.0:
        axes.plot([0.0, forces.moment_y / moment], [0.0, forces.moment / moment], color=INK, lw=0.8, ls=":")


def _curvature(axes: Any, curves: Curves, system: UnitSystem, *, brief: bool = False) -> None:
    moment = system.factor("moment")
    highest = max((float(v.moment[-1]) for v in curves.bent if len(v.moment)), default=0.0)
    for k, line in enumerate(curves.bent):
        axes.plot(
            1e6 * line.curvature,
            line.moment / moment,
            color=INK,
            lw=1.6 if k == 0 else 0.9,
            ls="-" if k == 0 else "--",
        )
        if len(line.moment):
            # the label of the highest line above it, of the others below
            over = float(line.moment[-1]) >= highest
            side = {"xytext": (-4, 5 if over else -12), "textcoords": "offset points", "ha": "right"}
            axes.annotate(
                line.label, (1e6 * line.curvature[-1], line.moment[-1] / moment), fontsize=8, **side
            )
    if curves.stiffened is not None:
        axes.plot(1e6 * curves.stiffened[0], curves.stiffened[1] / moment, color=BERRY, lw=1.2, ls=":")
    axes.margins(y=0.14)
    title = (
        "M and curvature; dotted: tension stiffening"
        if brief
        else "moment and curvature, mean values; dotted: tension stiffening"
    )
    _frame(axes, title, "curvature 1/km", f"M_x {system.unit('moment')}")
    axes.set_ylim(bottom=0.0)
