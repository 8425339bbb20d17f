"""Sections by themselves whose every value is pinned. `python tests/pinned_sections.py` writes them anew; a person reads what changed."""

from __future__ import annotations

from pathlib import Path

from upright_bramble.files.section_file import section_of
from upright_bramble.present.section.view import values_of
from upright_bramble.verify.sections.curves import curves_of
from upright_bramble.verify.sections.judge import judge

PINS = Path(__file__).parent / "pins" / "sections.txt"
LAYERS = [
    {"row": 2, "size": "16", "depth": 57},
    {"row": 2, "size": "20", "depth": 500},
    {"row": 3, "size": "20", "depth": 542},
]
ODD = [[0, 0], [600, 0], [600, 140], [420, 180], [390, 600], [170, 600], [150, 150], [0, 130]]
POINTS = [
    {"size": "16", "at": [60, 60]},
    {"size": "16", "at": [540, 60]},
    {"size": "25", "at": [220, 540]},
    {"size": "25", "at": [345, 540]},
]
RECTANGLE = {"shape": "rectangle", "width": 350, "depth": 600}
TEE = {"shape": "T", "width": 300, "depth": 600, "flange": {"width": 1100, "thickness": 150}}


def _section(form: dict, bars: list, forces: list, **more: object) -> dict:
    return {
        "form": form,
        "bars": bars,
        "forces": [{"name": f"set {k}", **f} for k, f in enumerate(forces, 1)],
        **more,
    }


SECTIONS = {
    "sagging": _section(RECTANGLE, LAYERS, [{"moment": 290, "shear": 190, "greatest_moment": 300}], service=[{"name": "all", "moment": 170}]),
    "hogging": _section(TEE, LAYERS, [{"moment": -150, "shear": 120, "torque": 14}], service=[{"name": "all", "moment": -90}]),
    "wanted": _section({**RECTANGLE, "width": 280, "depth": 450}, [], [{"moment": 240, "shear": 260}]),
    "pressed": _section({"outline": ODD}, POINTS, [{"moment": 220, "shear": 80, "axial": 400}], axis="level"),
    "turning": _section({"outline": ODD}, POINTS, [{"moment": 140, "moment_y": -45, "axial": 150, "shear": 40}], axis="free",
                        service=[{"name": "quasi-permanent", "moment": 90, "moment_y": -20}]),
    "pulled": _section(RECTANGLE, LAYERS, [{"moment": 90, "shear": 60, "axial": -150}, {"moment": -60, "shear": 30, "shear_y": 40}]),
}  # fmt: skip
CODES = (
    ("en1992-1-1", None),
    ("en1992-1-1", "uk"),
    ("aci318m-19", None),
    ("csa-a23.3-19", None),
    ("is456-2000", None),
    ("bs8110-97", None),
)
OWN = {
    "aci318m-19": ({"strength": 30}, {"yield": 420}, {"16": "16", "20": "19", "25": "25"}, "10"),
    "csa-a23.3-19": ({"strength": 30}, {"bars": "400W"}, {"16": "15M", "20": "20M", "25": "25M"}, "10M"),
    "is456-2000": ({"grade": "M30"}, {"bars": "Fe500"}, {}, "8"),
    "bs8110-97": ({"grade": "C35"}, {"bars": 460}, {}, "8"),
}


def described(code: str, annex: str | None, section: dict) -> dict:
    """As data of a section file, with materials and bars of the code."""
    concrete, steel, sizes, tie = OWN.get(code, ({"grade": "C30/37"}, {"bars": "B500B"}, {}, "8"))
    bars = [{**b, "size": sizes.get(b["size"], b["size"])} for b in section["bars"]]
    head = {"bramble_section": 1, "title": "pinned", "code": code, **({"annex": annex} if annex else {})}
    return {
        **head,
        "concrete": concrete,
        "reinforcement": steel,
        "cover": 35,
        "stirrups": {"size": tie, "legs": 2, "spacing": 175},
        **section,
        "bars": bars,
    }


def values() -> list[str]:
    """A line a value."""
    result = []
    for name, annex in CODES:
        for key, described_section in SECTIONS.items():
            if annex == "uk" and key not in ("sagging", "pulled"):
                continue
            section, code, _ = section_of(described(name, annex, described_section))
            verdict = judge(section, code)
            head = f"{name}|{annex}|{key}"
            result += [
                f"{head}|{v.heading}|{v.what}|{v.symbol}|{v.value:.6g}|{v.clause}"
                for v in values_of(section, code, verdict)
            ]
            result += [
                f"{head}|check|{c.id}|{c.by}|{c.demand:.6g}|{c.resistance:.6g}|{'ok' if c.ok else c.severity}|{c.clause}"
                for c in verdict.checks
            ]
            result += [f"{head}|gap|{g.topic}|{g.by}" for g in verdict.gaps]
            if key not in ("turning", "sagging"):
                continue
            curves = curves_of(section, code, section.forces[0])
            lines = [
                curves.axial,
                curves.moment,
                curves.axial_y,
                curves.moment_y,
                *(curves.both or ()),
                curves.bent[0].curvature,
                curves.bent[0].moment,
            ]
            for part, line in enumerate(lines):
                some = [float(line[len(line) * k // 9]) for k in range(1, 9)]
                result.append(f"{head}|curve|{part}|" + " ".join(f"{v:.6g}" for v in some))
    return result


if __name__ == "__main__":
    PINS.write_text("\n".join(values()) + "\n", "utf-8")
