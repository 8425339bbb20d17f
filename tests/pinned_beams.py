"""Beams with every asymmetry, whose checks are pinned: demand, resistance, place and verdict of each, as designed and with worse bars.

`python tests/pinned_beams.py NAME...` writes the pins of some (or all) anew; a person reads what changed before it is committed.
"""

from __future__ import annotations

import re
import sys
import tempfile
from dataclasses import fields, replace
from pathlib import Path

import upright_bramble as ub
from plain_beams import BS, CSA, EN, IS, SI, US, as_yaml, beam, layout_text
from upright_bramble.beam import Layout
from upright_bramble.files.layout_file import layout_text as layout_file
from upright_bramble.files.layout_file import read_layout

PINS = Path(__file__).parent / "pins"


def _file(base: dict, line: list, actions: list, **more) -> str:
    named = [{"name": f"a{k}", **a} for k, a in enumerate(actions, 1)]
    return as_yaml(
        {"bramble": 1, "beam": "pinned", "mark": "P1", **base, "line": line, "actions": named, **more}
    )


def _support(name: str, width: float = 300, **more) -> dict:
    return {"support": name, "width": width, **more}


def _span(length: float, profile: object = "p", **more) -> dict:
    return {"span": length, "profile": profile, **more}


def _tee(depth: float, width: float, thickness: float, left: float, right: float, **more) -> dict:
    return {
        "shape": "T",
        "depth": depth,
        "width": width,
        "flange": {"thickness": thickness, "gap_left": left, "gap_right": right, **more},
    }


def _given(base: dict, line: list, axial: float) -> str:
    """Forces of two sets in a table beside the file."""
    names = {"strength": {"table": "uls.csv", "level": "factored"}}
    eurocode = base is EN
    names["service"] = (
        {"characteristic": "sls.csv", "quasi_permanent": "sls.csv"}
        if eurocode
        else {"service": "sls.csv", "sustained": "sls.csv"}
    )
    text = as_yaml({"bramble": 1, "beam": "pinned", "mark": "P1", **base, "line": line, "forces": names})
    return text + f"# axial {axial}\n"


def tables(text: str) -> dict[str, str]:
    """The CSV files that a beam's forces are in."""
    if "# axial " not in text:
        return {}
    axial = float(text.rsplit("# axial ", 1)[1])
    rows = {"uls.csv": [], "sls.csv": []}
    for k, (length, load) in enumerate(((6.0, 52.0), (4.5, 47.0)), 1):
        end = -0.1 * load * length**2
        for n in range(25):
            x = length * n / 24
            left, right = (0.0, end) if k == 1 else (rows["end"], 0.0)
            m = left + (right - left) * x / length + 0.5 * load * x * (length - x)
            v = (right - left) / length + 0.5 * load * (length - 2.0 * x)
            for low, part in (("uls.csv", 1.0), ("sls.csv", 0.62)):
                for name, share in (("I", 1.0), ("II", 0.55)):
                    rows[low].append(
                        f"{name},{k},{x:.4f},{part * share * m:.4f},{part * share * v:.4f},{2.5 * part if k == 2 else 0},{part * axial}"
                    )
        rows["end"] = end
    head = "combination,span,x [m],M [kNm],V [kN],T [kNm],N [kN]"
    return {name: "\n".join([head, *rows[name]]) + "\n" for name in ("uls.csv", "sls.csv")}


def described(name: str):
    """A pinned beam, its tables beside it where it has some."""
    files = tables(BEAMS[name])
    if not files:
        return beam(BEAMS[name])
    with tempfile.TemporaryDirectory() as folder:
        for file, text in {**files, "p.beam.yaml": BEAMS[name]}.items():
            (Path(folder) / file).write_text(text, "utf-8")
        return ub.read(Path(folder) / "p.beam.yaml")


BEAMS = {
    # unequal spans, flanges and loads; a fixed left end, a simple right one; partial, varying and point loads; UK annex
    "en-unequal": _file(
        {**EN, "annex": "uk", "profiles": {"p": _tee(520, 300, 150, 1.2, 3.4, cross_steel=350), "q": _tee(600, 320, 150, 2.6, 0.6)}},
        [_support("A", 400, fixed=True), _span(5.2), _support("B", 350), _span(8.4, "q"), _support("C", 300), _span(4.1), _support("D", 250)],
        [
            {"kind": "permanent", "self_weight": "web", "loads": [{"line": 11}, {"line": [4, 16], "on": 2, "from": 1.0, "to": 6.5}]},
            {"kind": "permanent", "loads": [{"point": 35, "on": 2, "at": 2.9}]},
            {"kind": "imposed", "category": "B", "loads": [{"area": 4.0, "loaded_width": 3.5}]},
            {"kind": "imposed", "category": "E", "loads": [{"line": 14, "on": 3}, {"point": 60, "on": 1, "at": 3.7}]},
            {"kind": "wind", "either_way": True, "loads": [{"line": 3, "on": [1, 3]}]},
        ],
        service={"deflection": {"total": "span/250", "after_finishes": "span/500", "after_partitions": "span/350", "live": "span/360"}},
    ),
    # a cantilever at the left, columns, redistribution, 6.10ab, tables of cracks, exposure with splitting
    "en-cantilever": _file(
        {**EN, "profiles": {"p": {"shape": "rectangle", "depth": 550, "width": 300}, "tip": {"shape": "rectangle", "depth": 300, "width": 300}},
         "cover": {"top": 55, "bottom": 50, "sides": 45, "exposure": "XD1"}, "concrete": {"grade": "C32/40", "aggregate": 16}},
        [
            _span(1.9, {"from": "tip", "to": "p"}),
            _support("A", 300, column={"below": {"height": 3.1, "size": [300, 300]}}),
            _span(6.6),
            _support("B", 350, column={"below": {"height": 3.1, "size": [350, 300], "far_end": "pinned"}, "above": {"height": 2.9, "size": [300, 300]}}),
            _span(5.0),
            _support("C", 300),
        ],
        [
            {"kind": "permanent", "self_weight": True, "loads": [{"line": 14}, {"point": 12, "on": 1, "at": 0.1}]},
            {"kind": "imposed", "category": "D", "loads": [{"line": 19}]},
            {"kind": "snow", "loads": [{"line": 5, "on": [1, 2]}]},
        ],
        combinations={"rule": "6.10ab"},
        redistribution={"percent": 15, "supports": ["B"]},
        service={"crack_width": 0.25, "deflection": {"total": "span/250", "after_finishes": "25 mm", "precamber": 8}},
    ),
    # equilibrium torsion on one side, an L flange at the right, strength above C50, the parabola
    "en-twist": _file(
        {**EN, "concrete": {"grade": "C55/67", "diagram": "parabola"},
         "profiles": {"p": {"shape": "L", "depth": 500, "width": 320, "flange": {"thickness": 160, "gap_right": 2.4}}}},
        [_support("A", 300), _span(4.6), _support("B", 300), _span(6.2), _support("C", 400, fixed=True)],
        [
            {"kind": "permanent", "self_weight": "web", "loads": [{"line": 12}, {"torque": 3.0, "on": 2}]},
            {"kind": "imposed", "category": "A", "loads": [{"line": 15}, {"line": 5, "eccentricity": -500, "on": 1}]},
        ],
    ),
    # deep web with side bars, long bars that are lapped, hung and near loads, an indirect support, an inverted T
    "en-deep": _file(
        {**EN, "profiles": {"p": {"shape": "inverted T", "depth": 1100, "width": 400, "flange": {"thickness": 200, "width": 900}}},
         "cover": {"top": 40, "bottom": 35, "sides": 30}},
        [_support("A", 500), _span(9.5), _support("B", 500, framing="indirect"), _span(13.2), _support("C", 500)],
        [
            {"kind": "permanent", "self_weight": True, "loads": [{"line": 24}, {"point": 140, "on": 2, "at": 4.4, "hung": True}]},
            {"kind": "imposed", "category": "C", "loads": [{"line": 28}, {"point": 180, "on": 1, "at": 1.4}]},
        ],
        detailing={"main_bars": [20, 25, 32], "stirrup_bars": [10, 12]},
    ),
    # settlement, a spring, a hinge, a couple; class A steel
    "en-line": _file(
        {**EN, "reinforcement": {"bars": "B500A", "stirrups": "B500A"}},
        [_support("A", 300), _span(5.0), _support("B", 300, settles=6), _span(6.0, "p", hinges=[1.2]), _support("C", 300, spring={"vertical": 60000}),
         _span(4.4), _support("D", 300), _span(1.4)],
        [
            {"kind": "permanent", "self_weight": True, "loads": [{"line": 9}]},
            {"kind": "imposed", "category": "B", "loads": [{"line": 12}, {"couple": 20, "on": 1, "at": 3.8}]},
        ],
    ),
    # ACI, metric: pattern, wind, roof, unequal flanges and a flange in tension, perimeter beam of the lateral system
    "si-perimeter": _file(
        {**SI, "profiles": {"p": _tee(550, 320, 140, 0.8, 2.6)}, "integrity": "perimeter", "lateral": True},
        [
            _support("A", 400, column={"below": {"height": 3.2, "size": [400, 400]}}),
            _span(6.2),
            _support("B", 400, column={"below": {"height": 3.2, "size": [400, 400]}}),
            _span(7.6),
            _support("C", 350),
        ],
        [
            {"kind": "permanent", "self_weight": "web", "loads": [{"line": 17}]},
            {"kind": "imposed", "category": "occupied", "loads": [{"line": 13}, {"point": 40, "on": 2, "at": 2.2}]},
            {"kind": "roof", "loads": [{"line": 4, "on": 1}]},
            {"kind": "wind", "either_way": True, "loads": [{"line": 5}]},
        ],
    ),
    # ACI, inches: a cantilever at the right, heavy live load, torsion of compatibility, Grade 80, categories by name
    "us-grade80": _file(
        {**US, "reinforcement": {"yield": "80 ksi"}, "concrete": {"strength": "5000 psi", "aggregate": "0.75 in"},
         "profiles": {"p": {"shape": "L", "depth": 26, "width": 14, "flange": {"thickness": 6, "gap_left": 9, "side": "left"}}}, "torsion": "compatibility"},
        [_support("A", 14), _span(17.0), _support("B", 16), _span(24.0), _support("C", 14), _span(6.0)],
        [
            {"kind": "permanent", "self_weight": "web", "density": "150 pcf", "loads": [{"line": 1.1}, {"torque": 1.2, "on": 2}]},
            {"kind": "imposed", "category": "heavy", "loads": [{"line": 1.5}]},
            {"kind": "imposed", "category": "garage", "loads": [{"line": 0.5, "on": 3}]},
            {"kind": "earthquake", "loads": [{"line": 0.4, "on": [1, 2]}]},
        ],
        lateral=False,
    ),
    # ACI, inches: torsion of equilibrium, redistribution, deep web, bars over stock length, No. 11
    "us-torsion": _file(
        {**US, "profiles": {"p": {"shape": "rectangle", "depth": 40, "width": 20}}},
        [_support("A", 20), _span(30.0), _support("B", 24), _span(38.0), _support("C", 20, fixed=True)],
        [
            {"kind": "permanent", "self_weight": True, "density": "150 pcf", "loads": [{"line": 1.6}, {"torque": 2.2, "on": 1}]},
            {"kind": "imposed", "category": "occupied", "loads": [{"line": 1.9}, {"point": 30, "on": 2, "at": 9.0}]},
        ],
        redistribution={"percent": "maximum"},
        detailing={"main_bars": [8, 9, 11], "stirrup_bars": [4, 5]},
    ),
    # ACI, metric: simple span with much compression steel, snow and rain, indirect support at the right
    "si-simple": _file(
        {**SI, "profiles": {"p": {"shape": "rectangle", "depth": 420, "width": 300}}},
        [_support("A", 250), _span(6.4), _support("B", 350, framing="indirect")],
        [
            {"kind": "permanent", "self_weight": True, "loads": [{"line": 14}]},
            {"kind": "snow", "loads": [{"line": [6, 18], "on": 1}]},
            {"kind": "rain", "loads": [{"line": 3, "on": 1}]},
        ],
    ),
    # a polygon and a sloping web, cracked stiffness of the line, own combinations, steel of the user's limits
    "en-outline": _file(
        {**EN, "profiles": {
            "p": {"shape": "polygon", "outline": [[0, 0], [700, 0], [700, 140], [480, 180], [440, 560], [200, 560], [170, 190], [0, 150]]},
            "q": {"shape": "trapezoid", "depth": 520, "width": 380, "foot": 260}}},
        [_support("A", 300), _span(5.6), _support("B", 350), _span(6.8, "q"), _support("C", 300)],
        [
            {"kind": "permanent", "self_weight": True, "loads": [{"line": 12}]},
            {"kind": "imposed", "category": "B", "loads": [{"line": 14}, {"point": 25, "on": 2, "at": 2.0}]},
            {"kind": "permanent", "acts_from": "60 days", "loads": [{"line": 3, "on": 2}]},
        ],
        service={"stiffness": "cracked", "age_at_loading": "5 days", "cement": "S", "humidity": 70,
                 "deflection": {"total": "span/250", "after_finishes": "span/500", "cantilever": 1.0}},
        detailing={"service_stress": 260, "least_bars": 2, "most_bars": 7, "layers": 2},
        combinations={"add": [{"level": "strength", "name": "own", "factors": {"permanent": 1.1, "B": 1.8}}]},
    ),
    # point loads near supports at both ends of a span that is not the first, a taper between supports, the Eurocode's own values
    "en-near": _file(
        {**EN, "profiles": {"p": _tee(500, 280, 130, 0.4, 1.9), "q": _tee(700, 280, 130, 0.4, 1.9)}},
        [_support("A", 300), _span(4.2), _support("B", 400), _span(6.4), _support("C", 300), _span(5.4, {"from": "p", "to": "q"}), _support("D", 350, fixed=True)],
        [
            {"kind": "permanent", "self_weight": "web", "loads": [{"line": 10}, {"point": 70, "on": 2, "at": 0.75}]},
            {"kind": "imposed", "category": "B", "loads": [{"line": 9}, {"point": 95, "on": 2, "at": 5.85}, {"point": 30, "on": 1, "at": 3.6}]},
            {"kind": "imposed", "category": "F", "loads": [{"point": 40, "on": 2, "at": 5.95}]},
        ],
    ),
    # CSA: unequal flanges, torque in one span, snow beside storage, a column, a cantilever at the right
    "csa-unequal": _file(
        {**CSA, "profiles": {"p": _tee(560, 340, 150, 0.7, 2.4), "q": {"shape": "rectangle", "depth": 480, "width": 340}}},
        [_support("A", 350, column={"below": {"height": 3.2, "size": [350, 340]}}), _span(5.4), _support("B", 400), _span(7.6), _support("C", 350), _span(1.8, "q")],
        [
            {"kind": "permanent", "self_weight": "web", "loads": [{"line": 15}, {"torque": 4, "on": 1}]},
            {"kind": "imposed", "category": "storage", "loads": [{"line": 12}, {"point": 45, "on": 2, "at": 2.6}]},
            {"kind": "snow", "loads": [{"line": 4, "on": [1, 2]}]},
        ],
    ),
    # IS 456: an L, torque, a fixed left end, a support that sinks, a load near a support
    "is-unequal": _file(
        {**IS, "profiles": {"p": {"shape": "L", "depth": 550, "width": 300, "flange": {"thickness": 130, "gap_right": 2.2}}}},
        [_support("A", 300, fixed=True), _span(4.8), _support("B", 350, settles=4), _span(6.4), _support("C", 300)],
        [
            {"kind": "permanent", "self_weight": True, "loads": [{"line": 14}, {"torque": 3, "on": 2}]},
            {"kind": "imposed", "loads": [{"line": 11}, {"point": 50, "on": 2, "at": 0.9}]},
            {"kind": "wind", "either_way": True, "loads": [{"line": 4}]},
        ],
        redistribution={"percent": 10, "supports": ["B"]},
    ),
    # BS 8110: unequal spans and flanges, torque, a deep span with side bars, an indirect support at the right
    "bs-unequal": _file(
        {**BS, "profiles": {"p": _tee(520, 320, 150, 1.0, 2.6), "q": {"shape": "rectangle", "depth": 900, "width": 320}}},
        [_support("A", 350), _span(4.6), _support("B", 400), _span(8.8, "q"), _support("C", 350, framing="indirect")],
        [
            {"kind": "permanent", "self_weight": True, "loads": [{"line": 20}, {"torque": 4, "on": 2}]},
            {"kind": "imposed", "loads": [{"line": 18}, {"point": 60, "on": 2, "at": 3.1}]},
        ],
        redistribution={"percent": 10},
    ),
    # forces from tables, with axial force and torsion, redistribution of rows that belong together
    "en-given": _given(EN, [_support("A", 300), _span(6.0), _support("B", 400), _span(4.5), _support("C", 300)], axial=-60.0),
    "si-given": _given(SI, [_support("A", 300), _span(6.0), _support("B", 400), _span(4.5), _support("C", 300)], axial=140.0),
}  # fmt: skip


def variants(layout: Layout) -> dict[str, Layout]:
    """As designed; with a bar less in every group of three or more; with bars that stop short; with stirrups further apart; with long bends
    at ends that are straight; with too many bars, and stirrups that begin late."""
    low, high = min(b.start for b in layout.bars), max(b.end for b in layout.bars)
    fewer = tuple(replace(b, count=b.count - 1) if b.count > 2 else b for b in layout.bars)
    short = tuple(
        replace(
            b,
            start=b.start if b.start < low + 60.0 else b.start + 450.0,
            end=b.end if b.end > high - 60.0 else b.end - 250.0,
        )
        for b in layout.bars
    )
    apart = tuple(replace(z, spacing=1.6 * z.spacing) for z in layout.stirrups)
    bent = tuple(
        replace(
            b,
            ends=tuple("bend" if e == "straight" else e for e in b.ends),
            legs=tuple(
                q if e != "straight" else 260.0 + 45.0 * k for e, q in zip(b.ends, b.legs, strict=True)
            ),
        )
        for k, b in enumerate(short)
    )
    crowded = tuple(replace(b, count=b.count + 3, end=b.end + 60.0) for b in layout.bars)
    late = tuple(replace(z, start=z.start + 350.0) for z in layout.stirrups)
    return {
        "designed": layout,
        "fewer": replace(layout, bars=fewer),
        "shorter": replace(layout, bars=tuple(b for b in short if b.end - b.start > 300.0)),
        "apart": replace(layout, stirrups=apart),
        "bent": replace(layout, bars=tuple(b for b in bent if b.end - b.start > 300.0)),
        "crowded": replace(layout, bars=crowded, stirrups=late, sides=()),
    }


def pinned(name: str) -> Path:
    return PINS / f"{name}.txt"


def stored_layout(name: str) -> Path:
    return PINS / f"{name}.layout.yaml"


def lines_of(result) -> list[str]:
    """A line a check, a line for each thing that could not be verified, and the numbers that messages tell."""
    collected = [
        f"{c.id} {c.demand:.6g} {c.resistance:.6g} {c.x:.6g} {'ok' if c.ok else 'no'} {c.severity}"
        for c in result.checks
    ]
    collected += [f"{g.id} {g.x:.6g} not verified" for g in result.gaps]
    for k, message in enumerate(result.messages):
        told = re.findall(r"(?<![\w.])\d+(?:\.\d+)?(?![\w.]*\d)", message.text)
        collected.append(f"message-{k} {' '.join(told)} {message.severity}")
    for field in fields(result.curves):
        curve = getattr(result.curves, field.name)
        if curve is not None:
            thirds = [curve[len(curve) * k // 7] for k in (1, 2, 4, 5, 6)]
            collected.append(
                f"curve-{field.name} "
                + " ".join(f"{v:.6g}" for v in (curve.max(), curve.min(), *thirds))
                + " along"
            )
    return [
        *collected,
        *(f"quantity-{key} {value:.6g} {value:.6g} whole" for key, value in result.quantities.items()),
    ]


def judged(name: str) -> list[str]:
    """The pins of a beam: every check of every variant of the stored layout."""
    given = described(name)
    collected = []
    for variant, layout in variants(read_layout(stored_layout(name), given)).items():
        result = ub.check(given, layout)
        collected += [f"{variant} {line}" for line in lines_of(result)]
        if variant == "designed":
            collected += [f"{variant} by {c.id} {c.by}" for c in result.checks if c.by]
    return collected


def write(name: str) -> None:
    PINS.mkdir(exist_ok=True)
    result = ub.design(described(name))
    stored_layout(name).write_text(layout_file(result.beam, result.layout, "pinned"), "utf-8")
    pinned(name).write_text("\n".join(judged(name)) + "\n", "utf-8")
    print(name, result.status, result.governing.id, f"{result.governing.ratio:.3f}")


if __name__ == "__main__":
    for chosen in sys.argv[1:] or BEAMS:
        write(chosen)

__all__ = ["BEAMS", "beam", "described", "judged", "layout_text", "pinned", "stored_layout"]
