"""Painters of a scene: SVG for pages and files, a Matplotlib figure for pictures. The same scene gives the
same bytes."""

from __future__ import annotations

import io
from collections.abc import Mapping
from html import escape
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.present import palette
from upright_bramble.present.scene import Outline, Scene, Words
from upright_bramble.section.arrays import Array

if TYPE_CHECKING:
    from matplotlib.figure import Figure

SANS = "DejaVu Sans, Verdana, sans-serif"
DPI = 100.0
COLOURS = {
    "ink": palette.INK, "berry": palette.BERRY, "leaf": palette.LEAF, "thorn": palette.THORN,
    "straw": palette.STRAW, "mist": palette.MIST,
    "pale": palette.BERRY_PALE, "faint": palette.BERRY_FAINT, "paper": "#FFFFFF", "quiet": "#8D8497",
}  # fmt: skip


# ---------------------------------------------------------------- SVG


def svg(
    scene: Scene,
    colours: Mapping[str, str] = COLOURS,
    *,
    family: str = SANS,
    alone: bool = True,
    cursor: bool = False,
) -> str:
    """As SVG text: a file of its own (`alone`), or part of a page, there with a `cursor` line that its script
    moves."""
    parts = [
        _svg_words(item, colours) if isinstance(item, Words) else _svg_outline(item, colours)
        for item in scene.items
    ]
    width, height = f"{scene.width:.0f}", f"{scene.height:.0f}"
    if cursor:
        parts.append(
            f'<line class="cursor" x1="-9" x2="-9" y1="0" y2="{height}" stroke="{colours["berry"]}" '
            'stroke-width="1"/>'
        )
    head = f'xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}" ' if alone else ""
    return (
        f'<svg {head}viewBox="0 0 {width} {height}" font-family="{family if alone else "inherit"}" '
        'role="img" '
        f'aria-label="{escape(scene.title)}">{"".join(parts)}</svg>'
    )


def svg_file(scene: Scene) -> bytes:
    """As a file, on paper."""
    ground = f'<rect width="100%" height="100%" fill="{COLOURS["paper"]}"/>'
    head, rest = svg(scene).split(">", 1)
    return f'<?xml version="1.0" encoding="utf-8"?>\n{head}>{ground}{rest}\n'.encode()


def _svg_outline(item: Outline, colours: Mapping[str, str]) -> str:
    path = " ".join("M" + " L".join(f"{x:.1f},{y:.1f}" for x, y in piece) for piece in item.pieces)
    look = f'fill="{colours[item.fill] if item.fill else "none"}"'
    if item.stroke:
        look += f' stroke="{colours[item.stroke]}" stroke-width="{item.width:g}" stroke-linejoin="round"'
        if item.dash:
            look += f' stroke-dasharray="{" ".join(f"{v:g}" for v in item.dash)}"'
    return f'<path d="{path}" {look}/>'


def _svg_words(item: Words, colours: Mapping[str, str]) -> str:
    more = ' font-weight="bold"' if item.bold else ""
    if item.halo:
        more += f' stroke="{colours["paper"]}" stroke-width="2.6" paint-order="stroke"'
    return (
        f'<text x="{item.x:.1f}" y="{item.y:.1f}" font-size="{item.size:g}" fill="{colours[item.colour]}" '
        f'text-anchor="{item.anchor}"{more}>{escape(item.text)}</text>'
    )


# ---------------------------------------------------------------- pictures


def figure(scene: Scene) -> Figure:
    """The scene as a Matplotlib figure of the same size at 100 dots an inch."""
    import matplotlib as mpl
    from matplotlib.figure import Figure

    with mpl.rc_context({"font.family": "DejaVu Sans", "text.parse_math": False}):
        result = Figure(figsize=(scene.width / DPI, scene.height / DPI), dpi=DPI, facecolor=COLOURS["paper"])
        axes: Any = result.add_axes((0.0, 0.0, 1.0, 1.0), xlim=(0.0, scene.width), ylim=(scene.height, 0.0))
        axes.set_axis_off()
        for order, item in enumerate(scene.items):
            if isinstance(item, Words):
                _paint_words(axes, item, order)
            else:
                _paint_outline(axes, item, order)
    return result


def png(scene: Scene) -> bytes:
    return rendered(figure(scene))


def rendered(result: Figure, kind: str = "png") -> bytes:
    """PNG (or SVG) of a Matplotlib figure, the same bytes for the same figure."""
    import warnings

    import matplotlib as mpl
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.text import Text

    from upright_bramble.present.glyphs import drawable

    out = io.BytesIO()
    with (
        mpl.rc_context({"svg.fonttype": "none", "svg.hashsalt": "upright-bramble"}),
        warnings.catch_warnings(),
    ):
        warnings.simplefilter(
            "ignore"
        )  # a glyph that the fonts lack: an SVG keeps it as text, a picture shows another
        if kind == "svg":
            result.savefig(out, format="svg", metadata={"Date": None, "Creator": "Upright Bramble"})
        else:
            FigureCanvasAgg(result)
            for text in result.findobj(Text):
                text.set_text(drawable(text.get_text()))
            result.savefig(out, format="png", metadata={"Software": "Upright Bramble"})
    return out.getvalue()


def _points(px: float) -> float:
    return px * 72.0 / DPI


def _paint_outline(axes: Any, item: Outline, order: int) -> None:
    from matplotlib.patches import PathPatch

    fill, stroke = (COLOURS[name] if name else "none" for name in (item.fill, item.stroke))
    dash: Any = (0.0, [v / item.width for v in item.dash]) if item.dash else "-"
    axes.add_artist(
        PathPatch(
            _path(item.pieces),
            facecolor=fill,
            edgecolor=stroke,
            linewidth=_points(item.width) if item.stroke else 0.0,
            linestyle=dash,
            joinstyle="round",
            capstyle="butt",
            zorder=order,
        )
    )


def _path(pieces: tuple[Array, ...]) -> Any:
    from matplotlib.path import Path

    codes = np.full(sum(len(p) for p in pieces), Path.LINETO)
    codes[np.cumsum([0, *(len(p) for p in pieces[:-1])])] = Path.MOVETO
    return Path(np.concatenate(pieces), codes)


def _paint_words(axes: Any, item: Words, order: int) -> None:
    from matplotlib.patheffects import withStroke

    halo = [withStroke(linewidth=_points(2.6), foreground=COLOURS["paper"])] if item.halo else None
    axes.text(
        item.x,
        item.y,
        item.text,
        fontsize=_points(item.size),
        color=COLOURS[item.colour],
        va="baseline",
        path_effects=halo,
        ha={"start": "left", "middle": "center", "end": "right"}[item.anchor],
        fontweight="bold" if item.bold else "normal",
        zorder=order,
    )
