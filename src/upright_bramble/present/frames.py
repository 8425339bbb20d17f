"""Data frames for Python users."""

from __future__ import annotations

from collections.abc import Iterable

import pandas as pd

from upright_bramble.analysis import Forces
from upright_bramble.files.result_data import Origin, result_data
from upright_bramble.present.floor import Row
from upright_bramble.verify import Result


def frame(of: Forces | Result, what: str = "") -> pd.DataFrame:
    """Forces: a level ('strength' when left out). Result: 'checks' (when left out), 'bars', 'stirrups',
    'stations'."""
    if isinstance(of, Forces):
        level = what or next(iter(of.envelopes))
        if level not in of.envelopes:
            raise ValueError(f"'{level}' is not a valid level (valid: {', '.join(of.envelopes)})")
        e, at = of.envelopes[level], of.stations
        return pd.DataFrame(
            {
                "span": at.span + 1,
                "x_mm": at.x,
                "moment_max_kNm": e.moment_max / 1e6,
                "moment_min_kNm": e.moment_min / 1e6,
                "shear_max_kN": e.shear_max / 1e3,
                "shear_min_kN": e.shear_min / 1e3,
                "moment_max_by": [e.labels[i] for i in e.moment.high_by],
                "moment_min_by": [e.labels[i] for i in e.moment.low_by],
            }
        )
    data = result_data(of, Origin("", ""))
    name = what or "checks"
    if name == "stations":
        stations = data["stations"]
        columns = {"x_mm": stations["x_mm"], "span": stations["span"]}
        for part in ("design", "steel", "resistance", "deflection", "crack", "stress"):
            columns |= {f"{part}_{k}": v for k, v in stations[part].items()}
        return pd.DataFrame(columns)
    if name not in ("checks", "bars", "stirrups"):
        raise ValueError(f"'{name}' is not a valid table (valid: checks, bars, stirrups, stations)")
    return pd.DataFrame(data[name])


def many_frame(rows: Iterable[Row]) -> pd.DataFrame:
    """A row a beam; rows are taken one by one."""
    columns = {
        "mark": "mark",
        "title": "title",
        "verdict": "status",
        "governs": "check",
        "ratio": "ratio",
        "place": "place",
        "combination": "combination",
        "steel_kg": "steel_kg",
        "steel_kg_per_m3": "steel_kg_per_m3",
        "steel_percent": "percent",
        "concrete_m3": "concrete_m3",
        "cost": "cost",
        "carbon_kg": "carbon_kg",
        "quantity": "quantity",
        "reason": "reason",
    }
    return pd.DataFrame([[getattr(r, key) for key in columns.values()] for r in rows], columns=list(columns))
