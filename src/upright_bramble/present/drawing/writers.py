"""Sheets as DXF, PDF, SVG and PNG. The same sheets give the same bytes."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from upright_bramble.present.drawing.model import LAYERS, SMALL, Dimension, Label, Sheet, text_width
from upright_bramble.present.glyphs import drawable
from upright_bramble.present.palette import INK

POINTS = 72.0 / 25.4
CAP = 0.729  # height of a capital over the size of the type (DejaVu Sans)
FORMATS = ("dxf", "pdf", "svg", "png")


def written(sheets: Sequence[Sheet], mark: str, kinds: Sequence[str]) -> dict[str, bytes]:
    """Files by name: one DXF and one PDF of all sheets, an SVG and a PNG of each."""
    result: dict[str, bytes] = {}
    for kind in kinds:
        if kind == "dxf":
            result[f"{mark}.drawing.dxf"] = dxf(sheets)
        elif kind == "pdf":
            result[f"{mark}.drawing.pdf"] = pdf(sheets)
        else:
            for number, sheet in enumerate(sheets, start=1):
                name = f"{mark}.drawing.{kind}" if len(sheets) == 1 else f"{mark}.drawing-{number}.{kind}"
                result[name] = picture(sheet, kind)
    return result


# ---------------------------------------------------------------- on paper


def _figure(sheet: Sheet) -> Any:
    from matplotlib.collections import LineCollection, PatchCollection, PolyCollection
    from matplotlib.figure import Figure
    from matplotlib.patches import Circle

    figure = Figure(figsize=(sheet.width / 25.4, sheet.height / 25.4), facecolor="white")
    axes = figure.add_axes((0.0, 0.0, 1.0, 1.0))
    axes.set_xlim(0.0, sheet.width)
    axes.set_ylim(0.0, sheet.height)
    axes.axis("off")
    # collections, one for each kind of line: an artist for every stroke takes three times as long
    axes.add_collection(
        PolyCollection([s.points for s in sheet.strokes if s.filled], fc=INK, ec="none", zorder=1),
        autolim=False,
    )
    for layer, lines in _lines(sheet).items():
        weight, dashes = LAYERS[layer]
        style: Any = (0, tuple(d / weight for d in dashes)) if dashes else "-"
        drawn = LineCollection(
            lines, colors=INK, lw=weight * POINTS, ls=style, capstyle="butt", joinstyle="round", zorder=2
        )
        axes.add_collection(drawn, autolim=False)
    dots: dict[tuple[str, bool], list[Circle]] = {}
    for d in sheet.dots:
        dots.setdefault((d.layer, d.filled), []).append(Circle(d.centre, d.radius))
    for (layer, filled), circles in dots.items():
        weight = 0.0 if filled else LAYERS[layer][0] * POINTS
        axes.add_collection(
            PatchCollection(circles, fc=INK if filled else "white", ec=INK, lw=weight, zorder=3),
            autolim=False,
        )
    for v in (*sheet.labels, *(dimension_label(m) for m in sheet.dimensions)):
        _letters(axes, v)
    return figure


def _lines(sheet: Sheet) -> dict[str, list[Sequence[tuple[float, float]]]]:
    """All that is drawn by a pen, by its layer."""
    result: dict[str, list[Sequence[tuple[float, float]]]] = {}
    for s in sheet.strokes:
        if not s.filled:
            result.setdefault(s.layer, []).append((*s.points, s.points[0]) if s.closed else s.points)
    for m in sheet.dimensions:
        result.setdefault("dimensions", []).extend(dimension_lines(m))
    return result


def _letters(axes: Any, v: Label) -> None:
    side = {"left": "left", "middle": "center", "right": "right"}[v.anchor]
    level = {"bottom": "baseline", "middle": "center_baseline"}[v.level]
    axes.text(
        *v.at,
        drawable(v.text),
        fontsize=v.height * POINTS / CAP,
        ha=side,
        va=level,
        color=INK,
        zorder=4,
        parse_math=False,
        rotation=90.0 if v.layer == "upright" else 0.0,
        rotation_mode="anchor",
    )


def dimension_lines(m: Dimension) -> list[list[tuple[float, float]]]:
    """The line, its ticks, and its way to a text beside it."""
    (x_1, y_1), (x_2, y_2) = m.first, m.second
    t = 0.9
    ticks = [[(x - t, y - t), (x + t, y + t)] for x, y in (m.first, m.second)]
    bars = [
        [(x - 1.5, y), (x + 1.5, y)] if m.upright else [(x, y - 1.5), (x, y + 1.5)]
        for x, y in (m.first, m.second)
    ]
    result = [[(x_1, y_1), (x_2, y_2)], *ticks, *bars]
    if m.beside:
        way = 1.0 if x_2 >= x_1 else -1.0
        result.append([(x_2, y_2), (x_2 + way * 2.0, y_2)])
    return result


def dimension_label(m: Dimension) -> Label:
    (x_1, y_1), (x_2, y_2) = m.first, m.second
    if m.upright:
        return Label((x_1 - 0.9, 0.5 * (y_1 + y_2)), m.text, SMALL, "middle", "bottom", "upright")
    if m.beside:
        way = 1.0 if x_2 >= x_1 else -1.0
        return Label((x_2 + way * 2.6, y_2), m.text, SMALL, "left" if way > 0.0 else "right", "middle")
    return Label((0.5 * (x_1 + x_2), y_1 + 0.8), m.text, SMALL, "middle")


def pdf(sheets: Sequence[Sheet]) -> bytes:
    """A page a sheet, with text that can be selected."""
    import matplotlib as mpl
    from matplotlib.backends.backend_pdf import PdfPages

    out = io.BytesIO()
    with (
        mpl.rc_context({"pdf.fonttype": 42, "font.family": "DejaVu Sans"}),
        PdfPages(
            out,
            metadata={"CreationDate": None, "ModDate": None, "Producer": None, "Creator": "Upright Bramble"},
        ) as pages,
    ):
        for sheet in sheets:
            pages.savefig(_figure(sheet))
    return out.getvalue()


def picture(sheet: Sheet, kind: str) -> bytes:
    """One sheet as SVG (text stays text) or PNG."""
    import matplotlib as mpl

    out = io.BytesIO()
    with mpl.rc_context({"svg.fonttype": "none", "svg.hashsalt": "bramble", "font.family": "DejaVu Sans"}):
        metadata: Any = {"Date": None, "Creator": "Upright Bramble"} if kind == "svg" else {"Software": None}
        _figure(sheet).savefig(out, format=kind, dpi=150, metadata=metadata)
    return out.getvalue()


# ---------------------------------------------------------------- DXF

ACI_COLOUR = {
    "concrete": 7,
    "hidden": 8,
    "axes": 8,
    "stirrups": 3,
    "bars": 1,
    "dimensions": 7,
    "text": 7,
    "table": 8,
    "frame": 7,
}


def dxf(sheets: Sequence[Sheet]) -> bytes:
    """R2010: the sheets side by side in model space, a unit a mm on paper; layers with their line weights,
    one text style, and dimension entities whose text is the length in the beam."""
    from ezdxf import units
    from ezdxf._options import options
    from ezdxf.document import Drawing

    options.write_fixed_meta_data_for_testing = True  # the same input gives the same bytes
    doc = Drawing.new("R2010")
    doc.units = units.MM
    doc.styles.new("BRAMBLE", dxfattribs={"font": "DejaVuSans.ttf"})
    for name, (weight, dashes) in LAYERS.items():
        line_type = "CONTINUOUS"
        if dashes:
            line_type = f"BRAMBLE_{name.upper()}"
            pattern = [sum(dashes)] + [d if k % 2 == 0 else -d for k, d in enumerate(dashes)]
            doc.linetypes.add(line_type, pattern)
        doc.layers.add(
            f"BRAMBLE-{name.upper()}",
            color=ACI_COLOUR[name],
            linetype=line_type,
            lineweight=round(weight * 100),
        )
    style = doc.dimstyles.new("BRAMBLE")
    style.set_tick(1.8)
    for key, value in (
        ("dimtxt", SMALL),
        ("dimtxsty", "BRAMBLE"),
        ("dimgap", 0.8),
        ("dimtad", 1),
        ("dimexe", 1.5),
        ("dimexo", 0.0),
        ("dimtih", 0),
        ("dimtoh", 0),
    ):
        style.dxf.set(key, value)
    space, shift = doc.modelspace(), 0.0
    for sheet in sheets:
        _dxf_sheet(space, sheet, shift)
        shift += sheet.width + 20.0
    for name in sorted(
        doc.entitydb.dxf_types_in_use()
    ):  # the library adds them in an order that changes from run to run
        doc.classes.add_class(name)
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode("utf-8")


def _dxf_sheet(space: Any, sheet: Sheet, shift: float) -> None:
    from ezdxf.enums import TextEntityAlignment as Where

    def layer(name: str) -> dict[str, object]:
        return {"layer": f"BRAMBLE-{name.upper()}"}

    def moved(p: tuple[float, float]) -> tuple[float, float]:
        return p[0] + shift, p[1]

    space.add_lwpolyline(
        [
            moved(p)
            for p in ((0.0, 0.0), (sheet.width, 0.0), (sheet.width, sheet.height), (0.0, sheet.height))
        ],
        close=True,
        dxfattribs=layer("table"),
    )
    for s in sheet.strokes:
        space.add_lwpolyline([moved(p) for p in s.points], close=s.closed, dxfattribs=layer(s.layer))
    for d in sheet.dots:
        if d.filled:
            hatch = space.add_hatch(dxfattribs={**layer(d.layer), "color": 256})
            hatch.paths.add_edge_path().add_arc(moved(d.centre), d.radius, 0.0, 360.0)
        space.add_circle(moved(d.centre), d.radius, dxfattribs=layer(d.layer))
    for v in sheet.labels:
        low = {"left": Where.LEFT, "middle": Where.CENTER, "right": Where.RIGHT}
        half = {"left": Where.MIDDLE_LEFT, "middle": Where.MIDDLE_CENTER, "right": Where.MIDDLE_RIGHT}
        align = (low if v.level == "bottom" else half)[v.anchor]
        words = space.add_text(
            plain_text(v.text), height=v.height, dxfattribs={**layer("text"), "style": "BRAMBLE"}
        )
        words.set_placement(moved(v.at), align=align)
    for m in sheet.dimensions:
        made = space.add_linear_dim(
            base=moved(m.first),
            p1=moved(m.first),
            p2=moved(m.second),
            angle=90.0 if m.upright else 0.0,
            dimstyle="BRAMBLE",
            text=plain_text(m.text),
            dxfattribs=layer("dimensions"),
            location=_beside(moved(m.second), m) if m.beside else None,
        )
        made.render()


def _beside(second: tuple[float, float], m: Dimension) -> tuple[float, float]:
    way = 1.0 if m.second[0] >= m.first[0] else -1.0
    return second[0] + way * (2.6 + 0.5 * text_width(m.text)), second[1]


def plain_text(text: str) -> str:
    """Text as text: what a drawing program would take for a code is spelt out."""
    return (
        text.replace("%%", "% %")
        .replace("\\", "/")
        .replace("{", "(")
        .replace("}", ")")
        .replace("^", "'")
        .replace("\n", " ")
    )
