"""Beam and layout files written in a few words, for tests that need many of them."""

from __future__ import annotations

import io
import re
import tempfile
from pathlib import Path

from ruamel.yaml import YAML

import upright_bramble as ub
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import parse_yaml

EN = {
    "code": "en1992-1-1", "units": "si", "concrete": {"grade": "C30/37"}, "reinforcement": {"bars": "B500B", "stirrups": "B500B"},
    "cover": {"top": 30, "bottom": 30, "sides": 30}, "profiles": {"p": {"shape": "rectangle", "depth": 500, "width": 300}},
    "bracing": "continuous",
}  # fmt: skip
SI = {
    **EN, "code": "aci318m-19", "concrete": {"strength": 28}, "reinforcement": {"yield": 420},
    "cover": {"top": 40, "bottom": 40, "sides": 40},
}  # fmt: skip
CSA = {
    **EN, "code": "csa-a23.3-19", "concrete": {"strength": 30}, "reinforcement": {"bars": "400W", "stirrups": "400W"},
    "cover": {"top": 40, "bottom": 40, "sides": 40},
}  # fmt: skip
IS = {
    **EN, "code": "is456-2000", "concrete": {"grade": "M25"}, "reinforcement": {"bars": "Fe500", "stirrups": "Fe415"},
    "cover": {"top": 30, "bottom": 30, "sides": 30},
}  # fmt: skip
BS = {
    **EN,
    "code": "bs8110-97",
    "concrete": {"grade": "C35"},
    "reinforcement": {"bars": 460, "stirrups": 460},
}
US = {
    "code": "aci318-19", "units": "us", "concrete": {"strength": "4000 psi", "aggregate": "0.75 in"},
    "reinforcement": {"yield": "60 ksi"}, "cover": {"top": 1.5, "bottom": 1.5, "sides": 1.5},
    "profiles": {"p": {"shape": "rectangle", "depth": 24, "width": 12}}, "bracing": "continuous",
}  # fmt: skip


def written(base: dict, spans: list, actions: list, *, width: float = 300, **more) -> str:
    """A beam file: spans as lengths or items of the line, actions as dictionaries whose names may be left out."""
    items = [s if isinstance(s, dict) else {"span": s, "profile": "p"} for s in spans]
    line: list[dict] = []
    for k, item in enumerate(items):
        if not (k == 0 and item.get("free")):
            line.append({"support": f"S{k}", "width": width, **item.pop("at_left", {})})
        line.append({key: v for key, v in item.items() if key not in ("free", "at_right")})
        if k == len(items) - 1 and not (k and item.get("free")):
            line.append({"support": f"S{k + 1}", "width": width, **item.get("at_right", {})})
    named = [{"name": f"a{k}", **a} for k, a in enumerate(actions, 1)]
    return as_yaml(
        {"bramble": 1, "beam": "test", "mark": "T1", **base, "line": line, "actions": named, **more}
    )


def as_yaml(data: dict) -> str:
    writer, text = YAML(typ="safe"), io.StringIO()
    writer.default_flow_style = None
    writer.representer.ignore_aliases = lambda *_: True  # the program reads none
    writer.sort_base_mapping_type_on_output = False  # type: ignore[assignment]
    writer.dump(data, text)
    return text.getvalue()


def dead(*loads: dict, weight: object = False) -> dict:
    return {"kind": "permanent", "self_weight": weight, "loads": list(loads)}


def live(*loads: dict, category: str = "B", **more) -> dict:
    return {"kind": "imposed", "category": category, "loads": list(loads), **more}


def beam(text: str):
    return beam_from(parse_yaml(text, "test.beam.yaml"))


def design(text: str):
    return ub.design(beam(text))


def check(text: str, layout: str):
    """Of bars in words: 'bottom 4x20 -0.12..6.12 bend bend 200', 'stirrups 8x2 0.2..5.8 150', 'sides 1x12 0..6'."""
    made = beam(text)
    return ub.check(made, layout_of(made, layout))


def layout_of(made, words: str):
    """The same bars for a beam."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "test.layout.yaml"
        path.write_text(layout_text(words), encoding="utf-8")
        return ub.read_layout(path, made)


def layout_text(words: str) -> str:
    result: dict[str, list] = {"bars": [], "stirrups": [], "side_bars": []}
    for number, row in enumerate((r.split("#")[0].strip() for r in words.strip().splitlines()), start=1):
        what, size, where, *rest = row.split()
        first, second = re.fullmatch(r"(\d+)x(\S+)", size).groups()  # type: ignore[union-attr]
        start, end = (f"{v} m" for v in where.split(".."))
        entry: dict = {"mark": f"{number:02}", "from": start, "to": end}
        if what == "stirrups":
            result["stirrups"].append(
                {**entry, "size": first, "legs": int(second), "spacing": float(rest[0])}
            )
        elif what == "sides":
            result["side_bars"].append({**entry, "rows": int(first), "size": second})
        else:
            ends = rest[:2] or ["straight", "straight"]
            legs = [float(rest[2]) if len(rest) > 2 and e == "bend" else 0 for e in ends]
            face, layer = what.split("-") if "-" in what else (what, "1")
            entry |= {"face": face, "layer": int(layer), "count": int(first), "size": second, "ends": ends}
            result["bars"].append({**entry, "legs": legs} if any(legs) else entry)
    return as_yaml({"bramble_layout": 1, "beam": "T1", **result})


def named(result, name: str):
    """The checks whose name begins so, sharpest first."""
    return sorted((c for c in result.checks if c.id.startswith(name)), key=lambda c: -c.ratio)


def unverified(result, name: str) -> list:
    return [u for u in result.gaps if u.id.startswith(name)]
