"""The look of Matplotlib figures that are not diagrams along a beam."""

from __future__ import annotations

from typing import Any

from upright_bramble.present.palette import INK

SIZE, DPI = (12.8, 8.0), 100
STYLE: Any = {
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


def bare(axis: Any, label: str) -> None:
    """An axis with its left spine alone, and a line at zero."""
    for side in ("top", "right", "bottom"):
        axis.spines[side].set_visible(False)
    axis.tick_params(length=3, width=0.6)
    axis.tick_params(axis="x", length=0, labelbottom=False)
    axis.set_ylabel(label)
    axis.axhline(0.0, color=INK, lw=0.7)
