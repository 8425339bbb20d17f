"""The report as one HTML file: nothing outside it is asked for, scripts and styles are its own."""

from __future__ import annotations

import functools
import json
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.diagrams import LEFT, RIGHT, chart
from upright_bramble.present.painters import svg
from upright_bramble.present.panels import ground_of, panels_of
from upright_bramble.present.scene import NAMES
from upright_bramble.present.working_view import check_called, working_html
from upright_bramble.section.arrays import Array

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
        shown["chart"] = Markup(
            svg(
                chart(r, width=WIDTH, few=few),
                {name: f"var(--{name})" for name in NAMES},
                alone=False,
                cursor=True,
            )
        )
        shown["data"] = Markup(_data(r, few=few))
        shown["derivations"] = [
            Markup(working_html(r, check_called(r, w["check"]), f"why-{number}", w["show"], w["before"]))
            for w in beam.get("workings", [])
        ]
        beams.append(shown)
    return _template().render(**{**report, "beams": beams}).encode()


def _data(r: ResultFile, *, few: bool) -> str:
    """What the cursor reads, as JSON that no text in it can break out of."""
    ground, (low, high) = ground_of(r), r.beam.ends_mm
    span = ground.system.factor("span")
    panels = [
        {
            "unit": p.unit,
            "readings": [
                {
                    "name": v.name,
                    "sense": v.sense,
                    "values": _short(v.values),
                    "against": None if v.against is None else _short(v.against),
                }
                for v in p.readings
            ],
        }
        for p in panels_of(r, few=few)
    ]
    data = {
        "x": [float(v) for v in np.round(ground.x / span, 4)],
        "unit": ground.system.unit("span"),
        "low": low / span,
        "high": high / span,
        "left": LEFT,
        "right": RIGHT,
        "width": WIDTH,
        "panels": panels,
    }
    return (
        json.dumps(data, ensure_ascii=True, separators=(",", ":"))
        .replace("<", "\\u003c")
        .replace("&", "\\u0026")
    )


def _short(values: Array) -> list[float]:
    return [float(f"{v:.5g}") for v in values]
