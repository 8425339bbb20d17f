"""The report as one HTML file: nothing outside it is asked for, scripts and styles are its own."""

from __future__ import annotations

import functools
import json
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.core.quantities import SYSTEMS
from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.report.charts import LEFT, NAMES, RIGHT, chart, panels_of
from upright_bramble.present.working_view import check_called, working_html

if TYPE_CHECKING:
    from jinja2 import Template

WIDTH = 1040.0


@functools.cache
def _template() -> Template:
    from importlib.resources import files

    from jinja2 import Environment

    text = files("upright_bramble.present.report").joinpath("report.html.j2").read_text("utf-8")
    return Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True).from_string(text)


def html(report: dict[str, Any]) -> bytes:
    """Bytes of the page."""
    from markupsafe import Markup

    beams = []
    for number, beam in enumerate(report["beams"], start=1):
        r: ResultFile = beam["result"]
        few = report["depth"] == "brief"
        shown = dict(beam)
        shown["chart"] = Markup(chart(r, {name: f"var(--{name})" for name in NAMES}, width=WIDTH, few=few))
        shown["data"] = Markup(_data(r, few=few))
        shown["derivations"] = [
            Markup(working_html(r, check_called(r, w["check"]), f"why-{number}", w["show"], w["before"])) for w in beam.get("workings", [])
        ]
        beams.append(shown)
    return _template().render(**{**report, "beams": beams}).encode()


def _data(r: ResultFile, *, few: bool) -> str:
    """What the cursor reads, as JSON that no text in it can break out of."""
    low, high = r.beam.ends_mm
    system = SYSTEMS[r.beam.units]
    rows = []
    for panel in panels_of(r, few=few):
        curves = [{"name": v.name, "values": [float(f"{n:.5g}") for n in v.values]} for v in panel.curves]
        pairs = {"moment": [[0, 2], [1, 3]], "shear": [[0, 2]]}.get(panel.key, [])
        rows.append({"title": panel.title, "unit": panel.unit, "curves": curves, "pairs": pairs, "limit": panel.limit})
    data = {
        "x": [float(v) for v in np.round(np.array(r.stations.x_mm) / system.factor("span"), 4)], "unit": system.unit("span"),
        "span": r.stations.span, "low": low / system.factor("span"), "high": high / system.factor("span"),
        "left": LEFT, "right": RIGHT, "width": WIDTH, "panels": rows,
    }  # fmt: skip
    return json.dumps(data, ensure_ascii=True, separators=(",", ":")).replace("<", "\\u003c").replace("&", "\\u0026")
