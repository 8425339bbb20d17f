"""One cross-section from a short file or from options."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from upright_bramble.codes import DesignCode, get_code
from upright_bramble.core.quantities import SYSTEMS, across, worded
from upright_bramble.errors import CodeError, Fault, InputFaults
from upright_bramble.files import models as m
from upright_bramble.files.faults import validated
from upright_bramble.files.materials import Wrong, concrete_of, steels_of
from upright_bramble.files.yaml_source import Path_, Source, load_yaml, nearest
from upright_bramble.section.outline import polygon, webbed
from upright_bramble.section.strips import Strips
from upright_bramble.text import hidden
from upright_bramble.verify.cross_section import Row, Section, beside, room_for


def read_section(path: str | Path) -> tuple[Section, DesignCode, str]:
    """A section, its code and its units from NAME.section.yaml. Raises InputFaults with all that is wrong in it."""
    return section_from(load_yaml(Path(path)))


def section_of(given: dict[str, Any]) -> tuple[Section, DesignCode, str]:
    """The same from plain data, such as the options of a call."""
    strange = next((hidden(v) for v in _texts(given) if hidden(v)), None)
    if strange is not None:
        raise InputFaults([Fault("options", 0, "", f"hold the character {strange}, which is not text")])
    return section_from(Source("options", given, {}))


def _texts(data: Any) -> list[str]:
    """Every text of plain data."""
    if isinstance(data, str):
        return [data]
    parts = data.values() if isinstance(data, dict) else data if isinstance(data, list) else ()
    return [text for part in parts for text in _texts(part)]


def section_from(source: Source) -> tuple[Section, DesignCode, str]:
    given = validated(m.SectionFile, source)
    faults: list[Fault] = []

    def wrong(path: Path_, text: str) -> None:
        faults.append(source.fault(path, worded(text, SYSTEMS[given.units])))

    try:
        code = get_code(given.code, given.annex, given.code_values)
    except CodeError as error:
        wrong(("code",), str(error))
        raise InputFaults(faults) from None
    concrete = concrete_of(given.concrete, code, SYSTEMS[given.units], wrong)
    bars, ties = steels_of(given.reinforcement, code, SYSTEMS[given.units], wrong)
    strips = _form(given.form, wrong)
    rows = []
    for i, row in enumerate(given.bars):
        if row.size not in code.sizes:
            wrong(("bars", i, "size"), f"no bar is called '{row.size[:20]}'{nearest(row.size, list(code.sizes))}")
        elif strips is not None and not 0.0 < row.at < float(strips.height[0]):
            wrong(("bars", i, "at"), f"{across(row.at)} is outside the section, which is {across(float(strips.height[0]))} deep")
        else:
            rows.append(Row(row.count * code.sizes[row.size].area, row.at, code.sizes[row.size].diameter, row.count))
    tie, legs, asw_s = 8.0, 2, 0.0
    if given.stirrups is not None:
        s = given.stirrups
        if s.size not in code.sizes:
            wrong(("stirrups", "size"), f"no bar is called '{s.size[:20]}'{nearest(s.size, list(code.sizes))}")
        else:
            tie, legs, asw_s = code.sizes[s.size].diameter, s.legs, s.legs * code.sizes[s.size].area / s.spacing
    a = given.asked
    if not given.bars and not any((a.moment, a.shear, a.torque)):
        wrong(("asked",), "there is nothing to work out: give a moment, shear or torque, or bars")
    if a.service and not given.bars:
        wrong(("asked", "service"), "stresses need bars: give 'bars'")
    if faults or strips is None:
        raise InputFaults(faults)
    section = Section(
        given.section, strips, concrete, bars, ties, given.cover, tuple(rows), tie, legs, asw_s, a.moment, a.shear, a.torque, a.axial,
        a.service,
    )  # fmt: skip
    _sensible(section, wrong)
    if faults:
        raise InputFaults(faults)
    return section, code, given.units


def _sensible(section: Section, wrong: Wrong) -> None:
    """Cover and bars inside the concrete, beside one another, not in one another."""
    h, tie = float(section.strips.height[0]), section.tie if section.asw_s else 0.0
    inside = section.cover + tie
    if 2.0 * inside >= h:
        wrong(("cover",), f"{across(section.cover)} at both faces leave no room in a depth of {across(h)}")
        return
    outside = False
    for i, row in enumerate(section.rows):
        low, high = inside + 0.5 * row.diameter, h - inside - 0.5 * row.diameter
        if not low - 1.0 <= row.depth <= high + 1.0:
            outside = True
            between = f"{across(low)} to {across(high)}" if low <= high else "nowhere"
            wrong(("bars", i, "at"), f"at {across(row.depth)} these bars are outside cover and stirrup; they fit at {between}")
    for rows in [] if outside else beside(section):
        width, room = sum(r.count * r.diameter for r in rows), room_for(section, rows)
        if width > room + 0.5:
            where = section.rows.index(rows[0])
            said = f"{sum(r.count for r in rows)} bars at one depth are {across(width)} wide side by side, in {across(max(room, 0.0))}"
            wrong(("bars", where, "count"), f"{said} between the stirrup's legs; put them in several rows, apart in height")


def _form(f: m.SectionShapeIn, wrong: Any) -> Strips | None:
    path: Path_ = ("form",)
    try:
        if f.shape == "polygon":
            if f.outline is None:
                wrong(path, "a polygon needs its 'outline': [[x, y], ...]")
                return None
            return polygon([(p[0], p[1]) for p in f.outline])
        if f.depth is None or f.width is None:
            wrong(path, f"a {f.shape} needs 'depth' and 'width'")
            return None
        none = (0.0, 0.0)
        if f.shape in ("T", "inverted T"):
            if f.flange is None:
                wrong(path, f"a {f.shape} needs a 'flange' with 'thickness' and 'width'")
                return None
            if f.flange.width <= f.width or f.flange.thickness >= f.depth:
                wrong((*path, "flange"), "is no wider than the web, or no thinner than the section is deep")
                return None
            flange = (f.flange.width, f.flange.thickness)
            above, below = (flange, none) if f.shape == "T" else (none, flange)
            return polygon(webbed(f.depth, f.width, f.foot or f.width, above, below))
        if f.flange is not None:
            wrong((*path, "flange"), f"a {f.shape} has none; make the shape T or inverted T")
        if f.shape == "trapezoid" and f.foot is None:
            wrong(path, "a trapezoid needs 'foot', its width at the bottom")
        return polygon(webbed(f.depth, f.width, f.foot or f.width, none, none))
    except ValueError as error:
        wrong((*path, "outline"), str(error))
        return None
