"""One section on the terminal, in the order of a hand calculation, and its two diagrams."""

from __future__ import annotations

from itertools import groupby
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.codes import DesignCode
from upright_bramble.core.quantities import SYSTEMS, UnitSystem, in_si, significant, worded
from upright_bramble.present.palette import BERRY, INK, LEAF, MIST, THORN
from upright_bramble.present.terminal import plain
from upright_bramble.verify.cross_section import Line, Section, Worked, compressed_on_top, interaction, moment_curvature

if TYPE_CHECKING:
    from matplotlib.figure import Figure
    from rich.console import Console


def shown(line: Line, system: UnitSystem) -> tuple[float, str]:
    """Number and unit in the file's units."""
    section, span = system.factor("section"), system.factor("span")
    name = system.unit("section")
    fourth = (1e6 * section**4, f"10⁶ {name}⁴") if name == "mm" else (section**4, f"{name}⁴")
    kinds = {
        "length": (section, name), "crack": (section, name), "area": (section**2, f"{name}²"), "fourth": fourth,
        "moment": (system.factor("moment"), system.unit("moment")), "force": (system.factor("force"), system.unit("force")),
        "stress": (system.factor("stress"), system.unit("stress")),
        "steel per length": (section**2 / span, f"{name}²/{system.unit('span')}"), "strain": (1e-3, "‰"),
    }  # fmt: skip
    size, unit = kinds.get(line.quantity, (1.0, ""))
    return line.value / size, unit


def section_summary(console: Console, cut: Section, worked: Worked, code: DesignCode, units: str) -> None:
    """Every value with its symbol, unit and clause."""
    from rich.table import Table

    system = SYSTEMS[units]
    console.print(plain(console, cut.title), style="bold")
    console.print(plain(console, f"     {code.title}"), style="dim")
    for heading, lines in groupby(worked.lines, key=lambda v: v.heading):
        console.print()
        console.print(plain(console, heading), style=f"bold {BERRY}")
        table = Table(box=None, padding=(0, 1, 0, 0), show_edge=False, show_header=False)
        for justify in ("left", "left", "right", "left", "left"):
            table.add_column(justify=justify, no_wrap=True)
        for line in lines:
            value, unit = shown(line, system)
            number = "none is enough" if not np.isfinite(value) else significant(value, 4)
            table.add_row(*(plain(console, v) for v in (f"  {worded(line.what, system)}", line.symbol, number, unit, line.clause)))
        console.print(table)
    if worked.ratios:
        console.print()
    for name, ratio in worked.ratios:
        word, style = ("pass", LEAF) if ratio <= 1.0 + 1e-9 else ("fail", THORN)
        console.print(plain(console, f"{word:<5} {name} {ratio:.2f}"), style=style)


def section_data(cut: Section, worked: Worked) -> dict[str, Any]:
    """As plain data, N, mm, MPa."""
    values = [
        {
            "heading": v.heading, "what": in_si(v.what), "symbol": v.symbol, "quantity": v.quantity, "clause": v.clause,
            "value": float(f"{v.value:.9g}") if np.isfinite(v.value) else None,
        }
        for v in worked.lines
    ]  # fmt: skip
    return {"section": cut.title, "values": values, "ratios": {name: round(ratio, 6) for name, ratio in worked.ratios}}


def section_figure(cut: Section, code: DesignCode, units: str) -> Figure:
    """Moment and axial force that are resisted together, and moment against curvature."""
    import matplotlib as mpl
    from matplotlib.figure import Figure

    from upright_bramble.present.plotting import DPI, SIZE, STYLE, bare

    cut, system = compressed_on_top(cut), SYSTEMS[units]
    force, moment = system.factor("force"), system.factor("moment")
    with mpl.rc_context(STYLE):
        figure = Figure(figsize=SIZE, dpi=DPI)
        axes: Any = figure.subplots(1, 2, gridspec_kw={"wspace": 0.22, "left": 0.075, "right": 0.985, "top": 0.86, "bottom": 0.09})
        figure.text(0.012, 0.955, cut.title, fontsize=13, fontweight="bold", va="center")
        figure.text(0.012, 0.925, code.title, fontsize=9, va="center")
        n, m = interaction(cut, code)
        bare(axes[0], f"axial force, compression positive {system.unit('force')}")
        axes[0].fill_betweenx(n / force, 0.0, m / moment, color=MIST, lw=0)
        axes[0].plot(m / moment, n / force, color=BERRY, lw=1.6)
        axes[0].axhline(0.0, color=INK, lw=0.8)
        axes[0].plot([cut.moment / moment], [cut.axial / force], "o", color=INK, ms=6)
        axes[0].annotate(
            "asked", (cut.moment / moment, cut.axial / force), xytext=(-8, 6), textcoords="offset points", ha="right", fontsize=9
        )
        axes[0].set_title("resisted together", fontsize=10, loc="left")
        axes[0].set_xlabel(f"moment {system.unit('moment')}")
        axes[0].tick_params(axis="x", labelbottom=True, length=3)
        kappa, line = moment_curvature(cut, code.materials.modulus(cut.concrete))
        bare(axes[1], f"moment {system.unit('moment')}")
        axes[1].plot(1e6 * kappa, line / moment, color=INK, lw=1.6)
        if len(line):
            top = int(line.argmax())
            axes[1].annotate(
                significant(float(line[top] / moment)), (1e6 * kappa[top], line[top] / moment), xytext=(0, 6),
                textcoords="offset points", ha="center", fontsize=9,
            )  # fmt: skip
        axes[1].margins(y=0.12)
        axes[1].set_ylim(bottom=0.0)
        axes[1].set_title("characteristic strengths, cracked, under the axial force", fontsize=10, loc="left")
        axes[1].set_xlabel("curvature 1/km")
        axes[1].tick_params(axis="x", labelbottom=True, length=3)
    return figure
