"""Sections by themselves whose every value is pinned. `python tests/pinned_sections.py` writes them anew; a person reads what changed."""

from __future__ import annotations

from pathlib import Path

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes import get_code
from upright_bramble.section.outline import polygon
from upright_bramble.section.strips import rectangle, tee
from upright_bramble.verify.cross_section import Row, Section, interaction, moment_curvature, work_out

PINS = Path(__file__).parent / "pins" / "sections.txt"
B500, GRADE_60 = Steel(500.0, "B", "B500B"), Steel(413.7, "", "Grade 60")
LAYERS = (Row(402.0, 55.0, 16.0, 2), Row(628.0, 505.0, 20.0, 2), Row(942.0, 545.0, 20.0, 3))
ODD = polygon([(0.0, 0.0), (600.0, 0.0), (600.0, 140.0), (420.0, 180.0), (390.0, 600.0), (170.0, 600.0), (150.0, 150.0), (0.0, 130.0)])
SECTIONS = {
    "sagging": Section("a", rectangle(300.0, 600.0), Concrete(30.0), B500, B500, 30.0, LAYERS, asw_s=0.5, moment=290e6, shear=190e3,
                       service_moment=170e6),
    "hogging": Section("b", tee(1100.0, 150.0, 300.0, 600.0), Concrete(35.0), B500, B500, 30.0, LAYERS, asw_s=0.9, moment=-150e6, shear=120e3,
                       torque=14e6, legs=2, service_moment=-90e6),
    "wanted": Section("c", rectangle(280.0, 450.0), Concrete(25.0), B500, B500, 30.0, moment=240e6, shear=260e3),
    "pressed": Section("d", ODD, Concrete(60.0), B500, B500, 35.0, LAYERS, asw_s=0.4, moment=220e6, shear=80e3, axial=400e3),
    "pulled": Section("e", rectangle(350.0, 600.0), Concrete(30.0), B500, B500, 30.0, LAYERS, asw_s=0.6, moment=90e6, shear=60e3, axial=-150e3),
}  # fmt: skip
CODES = (("en1992-1-1", None), ("en1992-1-1", "uk"), ("aci318-19", None), ("aci318m-19", None))


def values() -> list[str]:
    """A line a value."""
    result = []
    for name, annex in CODES:
        code = get_code(name, annex)
        for key, section in SECTIONS.items():
            if annex == "uk" and key not in ("sagging", "pulled"):
                continue
            worked = work_out(section, code)
            result += [f"{name}|{annex}|{key}|{v.heading}|{v.what}|{v.symbol}|{v.value:.6g}|{v.clause}" for v in worked.lines]
            result += [f"{name}|{annex}|{key}|ratio|{what}||{ratio:.6g}|" for what, ratio in worked.ratios]
        for curve, points in (
            ("interaction", interaction(SECTIONS["pressed"], code)),
            ("curvature", moment_curvature(SECTIONS["sagging"], code.materials.modulus(Concrete(30.0)))),
        ):
            for part, line in enumerate(points):
                some = [float(line[len(line) * k // 9]) for k in range(1, 9)]
                result.append(f"{name}|{annex}|{curve}|{part}|" + " ".join(f"{v:.6g}" for v in some))
    return result


if __name__ == "__main__":
    PINS.write_text("\n".join(values()) + "\n", "utf-8")
