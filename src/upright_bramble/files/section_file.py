"""One cross-section from a short file or from options."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np

from upright_bramble.beam import Cover, Flange, Profile, Service, Steel
from upright_bramble.codes import DesignCode, get_code
from upright_bramble.codes.parts import Surroundings
from upright_bramble.core.quantities import SYSTEMS, across, worded
from upright_bramble.core.topics import TOPICS
from upright_bramble.errors import CodeError, Fault, InputFaults
from upright_bramble.files import section_models as m
from upright_bramble.files.faults import validated
from upright_bramble.files.materials import Wrong, concrete_of, steels_of
from upright_bramble.files.section_forces import combined, read_sets
from upright_bramble.files.yaml_source import Path_, Source, load_yaml, nearest
from upright_bramble.section.outline import webbed
from upright_bramble.section.shape import Shape, circle, distance_to_edges, shape_of
from upright_bramble.text import hidden
from upright_bramble.verify.sections.cross import narrowest
from upright_bramble.verify.sections.model import (
    BarAt,
    Choice,
    ClosedStirrups,
    CrossSection,
    ForceSet,
    ServiceSet,
)

CIRCLE = 0.8  # of its diameter: depth of the web that a circle is taken as where beams' quantities are told


def read_section(path: str | Path) -> tuple[CrossSection, DesignCode, str]:
    """A section, its code and its units from NAME.section.yaml. Raises InputFaults with all that is wrong in
    it."""
    return section_from(load_yaml(Path(path)), Path(path).parent)


def section_of(given: dict[str, Any]) -> tuple[CrossSection, DesignCode, str]:
    """The same from plain data, such as the options of a call."""
    strange = next((hidden(v) for v in _texts(given) if hidden(v)), None)
    if strange is not None:
        raise InputFaults([Fault("options", 0, "", f"hold the character {strange}, which is not text")])
    return section_from(Source("options", given, {}), Path())


def _texts(data: Any) -> list[str]:
    """Every text of plain data."""
    if isinstance(data, str):
        return [data]
    parts = data.values() if isinstance(data, dict) else data if isinstance(data, list) else ()
    return [text for part in parts for text in _texts(part)]


def section_from(source: Source, folder: Path) -> tuple[CrossSection, DesignCode, str]:
    """`folder`: where tables of forces lie."""
    given = validated(m.SectionFile, source)
    faults: list[Fault] = []
    system = SYSTEMS[given.units]

    def wrong(path: Path_, text: str) -> None:
        faults.append(source.fault(path, worded(text, system)))

    try:
        code = get_code(given.code, given.annex, given.code_values)
    except CodeError as error:
        wrong(("code",), str(error))
        raise InputFaults(faults) from None
    concrete = concrete_of(given.concrete, code, system, wrong)
    bars, ties = steels_of(given.reinforcement, code, system, wrong)
    bars = _branch(given, bars, code, wrong)
    form = _Form(given.form, code, wrong)
    stirrups = _stirrups(given, code, wrong)
    cover = _cover(given)
    if faults or form.shape is None:
        raise InputFaults(faults)
    tie = stirrups.diameter if stirrups else _chosen_tie(given, code)
    placed = _bars(given, code, form, cover, tie, wrong)
    forces, service = _forces(given, code, folder, system, wrong, faults)
    limits, hard = given.limits, given.reinforcement.hardening
    section = CrossSection(
        title=given.title,
        shape=form.shape,
        profile=form.profile,
        concrete=concrete,
        bars_steel=bars,
        stirrups_steel=ties,
        cover=cover,
        axis=given.axis or "free",
        bars=tuple(placed),
        stirrups=stirrups,
        tie=tie or 8.0,
        forces=tuple(forces),
        service=tuple(service),
        wanted=Service(
            crack_width=limits.crack_width,
            exposure=limits.exposure,
            humidity=limits.humidity,
            age_at_loading=limits.age_at_loading,
            cement=limits.cement,
        ),
        choice=_choice(given, code, wrong),
        delta=given.redistributed,
        displaced=given.displaced == "deducted",
        ultimate_strain=given.ultimate_strain,
        hardening=(hard.ratio, hard.strain) if hard else None,
        round=form.round,
        about={k: v for k, v in (given.about.model_dump() if given.about else {}).items() if v},
        waive=dict(given.waive),
    )
    _sensible(given, section, wrong)
    if faults:
        raise InputFaults(faults)
    return section, code, given.units


def _branch(given: m.SectionFile, bars: Steel, code: DesignCode, wrong: Wrong) -> Steel:
    from dataclasses import replace

    if given.reinforcement.branch == "horizontal":
        return bars
    inclined = replace(bars, branch="inclined")
    if not np.isfinite(code.materials.steel_law(inclined).limit_strain):
        wrong(("reinforcement", "branch"), "this code has no inclined branch; leave it out")
    return inclined


def _stirrups(given: m.SectionFile, code: DesignCode, wrong: Wrong) -> ClosedStirrups | None:
    s = given.stirrups
    if s is None:
        return None
    if s.size not in code.sizes:
        wrong(
            ("stirrups", "size"),
            f"'{s.size[:20]}' is not a valid bar size{nearest(s.size, list(code.sizes))}",
        )
        return None
    return ClosedStirrups(s.size, code.sizes[s.size].diameter, code.sizes[s.size].area, s.legs, s.spacing)


def _chosen_tie(given: m.SectionFile, code: DesignCode) -> float:
    """Room for the stirrups that are to be chosen, mm; 0 where none are."""
    if given.choose is None or given.choose.size:
        return 0.0
    return max(
        (code.sizes[s].diameter for s in given.choose.stirrup_bars or () if s in code.sizes), default=10.0
    )


def _cover(given: m.SectionFile) -> Cover:
    c = given.cover
    return Cover(c.top, c.bottom, c.sides) if isinstance(c, m.SectionCoverIn) else Cover(c, c, c)


def _choice(given: m.SectionFile, code: DesignCode, wrong: Wrong) -> Choice | None:
    c = given.choose
    if c is None:
        return None
    for key, sizes in (("main_bars", c.main_bars), ("stirrup_bars", c.stirrup_bars)):
        for i, size in enumerate(sizes or ()):
            if size not in code.sizes:
                wrong(
                    ("choose", key, i),
                    f"'{size[:20]}' is not a valid bar size{nearest(size, list(code.sizes))}",
                )
    return Choice(tuple(c.main_bars or ()), tuple(c.stirrup_bars or ()), c.keep, c.size or "")


class _Form:
    """The shape, y upwards from its top and x from its middle; as beams know it; and how points of the file
    are moved onto it."""

    def __init__(self, f: m.SectionShapeIn, code: DesignCode, wrong: Wrong) -> None:
        self.shape: Shape | None = None
        self.profile = Profile("section", 1.0, 1.0)
        self.round = f.shape == "circle"
        self.web: float | None = None
        self.moved = (0.0, 0.0)
        path: Path_ = ("form",)
        try:
            self._make(f, code, wrong, path)
        except ValueError as error:
            wrong((*path, "outline"), str(error))
        if f.outline is None:
            self._from_left_edge()

    def _from_left_edge(self) -> None:
        """Where points of a shape without an outline count from."""
        if self.shape is not None:
            self.moved = (-float(self.shape.rings[0][:, 0].min()), 0.0)

    def _make(self, f: m.SectionShapeIn, code: DesignCode, wrong: Wrong, path: Path_) -> None:
        if (f.outline is None) == (f.shape is None):
            wrong(path, "give either a 'shape' with its sizes or an 'outline'")
            return
        if f.holes and f.outline is None:
            wrong((*path, "holes"), "holes go with an 'outline'")
            return
        if f.outline is not None:
            points = [(p[0], p[1]) for p in f.outline]
            self._outline(points, [[(p[0], p[1]) for p in hole] for hole in f.holes])
            return
        if f.shape == "circle":
            if f.diameter is None:
                wrong(path, "a circle needs its 'diameter'")
                return
            ring = circle(f.diameter).rings[0]
            self.shape = Shape((ring - [0.0, 0.5 * f.diameter],))
            self.profile = Profile("section", CIRCLE * f.diameter, f.diameter)
            self.moved = (0.0, 0.0)
            return
        if f.depth is None or f.width is None:
            wrong(path, f"a {f.shape} needs 'depth' and 'width'")
            return
        self._flanged(f, f.depth, f.width, code, wrong, path)

    def _outline(self, points: list[tuple[float, float]], holes: list[list[tuple[float, float]]]) -> None:
        xs, top = [p[0] for p in points], min(p[1] for p in points)
        middle = 0.5 * (min(xs) + max(xs))
        self.moved = (middle, top)
        self.shape = shape_of(
            [(x - middle, top - y) for x, y in points], [[(x - middle, top - y) for x, y in h] for h in holes]
        )
        depth = max(p[1] for p in points) - top
        corners = tuple((float(x), float(-y)) for x, y in self.shape.rings[0])
        width = narrowest(self.shape)
        self.profile = Profile("section", width, depth, outline=corners, rooms=(width, width))

    def _flanged(
        self, f: m.SectionShapeIn, depth: float, width: float, code: DesignCode, wrong: Wrong, path: Path_
    ) -> None:
        none, self.web = (0.0, 0.0), width
        if f.shape in ("T", "L", "inverted T"):
            if f.flange is None:
                wrong(path, f"a {f.shape} needs a 'flange' with 'thickness' and 'width'")
                return
            left, right = _reach(f, width, code, wrong)
            if left + right <= 0.0 or f.flange.thickness >= depth:
                wrong((*path, "flange"), "is no wider than the web, or no thinner than the section is deep")
                return
            flange = Flange(f.flange.thickness, left, right, below=f.shape == "inverted T")
            self.profile = Profile("section", width, depth, flange, f.foot)
            points = _with_flange(depth, width, f.foot or width, flange)
            self.shape = shape_of([(x, -y) for x, y in points])
            return
        if f.flange is not None:
            wrong((*path, "flange"), f"a {f.shape} has none; make the shape T, L or inverted T")
        if f.shape == "trapezoid" and f.foot is None:
            wrong(path, "a trapezoid needs 'foot', its width at the bottom")
        self.profile = Profile("section", width, depth, None, f.foot)
        self.shape = shape_of([(x, -y) for x, y in webbed(depth, width, f.foot or width, none, none)])


def _reach(f: m.SectionShapeIn, width: float, code: DesignCode, wrong: Wrong) -> tuple[float, float]:
    """Of the flange left and right of the web: as given, or what the code counts on."""
    assert f.flange is not None
    one_side = f.shape == "L"
    if f.flange.width != "auto":
        out = float(f.flange.width) - width
        return (0.0, out) if one_side else (0.5 * out, 0.5 * out)
    if f.flange.span is None or (f.flange.gap_right is None and f.flange.gap_left is None):
        wrong(("form", "flange", "width"), "auto needs 'span', and 'gap_left' or 'gap_right'")
        return (0.0, 1.0)
    gaps = [g or 0.0 for g in (f.flange.gap_left, f.flange.gap_right)]
    left, right = (0.0, 0.5 * (gaps[1] or gaps[0])) if one_side else (0.5 * gaps[0], 0.5 * gaps[1])
    span = f.flange.span
    ends = {
        "span": ("continuous", "continuous"),
        "end span": ("simple", "continuous"),
        "single span": ("simple", "simple"),
        "support": ("continuous", "continuous"),
        "cantilever": ("continuous", "free"),
    }[f.flange.position]
    before, after = (span if e == "continuous" else None for e in ends)
    around = Surroundings(span, span, before, after, *ends)
    reach = code.analysis.flange_reach(Flange(f.flange.thickness, left, right), width, around)
    return reach[{"support": 0, "cantilever": 0}.get(f.flange.position, 1)]


def _with_flange(depth: float, width: float, foot: float, flange: Flange) -> list[tuple[float, float]]:
    """Corners, y downwards; what stands out may differ left and right."""
    t = flange.thickness
    a, b = 0.5 * width, 0.5 * foot
    if flange.below:
        at = a + (b - a) * (depth - t) / depth
        left, right = b + flange.left, b + flange.right
        return [
            (-a, 0.0),
            (a, 0.0),
            (at, depth - t),
            (right, depth - t),
            (right, depth),
            (-left, depth),
            (-left, depth - t),
            (-at, depth - t),
        ]
    at = a + (b - a) * t / depth
    left, right = a + flange.left, a + flange.right
    points = [(-left, 0.0), (right, 0.0), (right, t), (at, t), (b, depth), (-b, depth), (-at, t), (-left, t)]
    return list(dict.fromkeys(points))


def _bars(
    given: m.SectionFile, code: DesignCode, form: _Form, cover: Cover, tie: float, wrong: Wrong
) -> list[BarAt]:
    """Every bar at its point; rows of about one depth stand side by side."""
    result: list[BarAt] = []
    rows: list[tuple[int, m.SectionBarsIn]] = []
    for i, item in enumerate(given.bars):
        if item.size not in code.sizes:
            wrong(
                ("bars", i, "size"),
                f"'{item.size[:20]}' is not a valid bar size{nearest(item.size, list(code.sizes))}",
            )
            continue
        size = code.sizes[item.size]
        if sum(way is not None for way in (item.at, item.row, item.ring)) != 1:
            wrong(("bars", i), "give either 'at' (a point), 'row' with 'depth', or 'ring'")
            continue
        points: list[tuple[float, float]] = []
        if item.at is not None:
            points = [(item.at[0] - form.moved[0], form.moved[1] - item.at[1])]
        elif item.ring is not None:
            points = _ring(form, item.ring, cover.sides + tie + 0.5 * size.diameter, i, wrong)
        elif item.depth is None:
            wrong(("bars", i, "depth"), "a row needs its 'depth' from the top")
        elif _deep_enough(form, item.depth, size.diameter, (cover.top + tie, cover.bottom + tie), i, wrong):
            rows.append((i, item))
        result += [BarAt(x, y, item.size, size.diameter, size.area, i) for x, y in points]
    for group in _side_by_side(rows, code):
        result += _row(form, group, code, cover, tie, wrong)
    return sorted(result, key=lambda bar: bar.row)


def _deep_enough(
    form: _Form, depth: float, phi: float, inside: tuple[float, float], i: int, wrong: Wrong
) -> bool:
    """Inside the section, and inside cover and stirrup."""
    h = form.profile.depth
    if not 0.0 < depth < h:
        wrong(("bars", i, "depth"), f"{across(depth)} is outside the section, which is {across(h)} deep")
        return False
    low, high = inside[0] + 0.5 * phi, h - inside[1] - 0.5 * phi
    if not low - 1.0 <= depth <= high + 1.0:
        between = f"{across(low)} to {across(high)}" if low <= high else "nowhere"
        wrong(
            ("bars", i, "depth"),
            f"at {across(depth)} these bars are outside cover and stirrup; they fit at {between}",
        )
        return False
    return True


def _side_by_side(
    rows: list[tuple[int, m.SectionBarsIn]], code: DesignCode
) -> list[list[tuple[int, m.SectionBarsIn]]]:
    """Rows whose bars overlap in height, spread over the same width."""
    result: list[list[tuple[int, m.SectionBarsIn]]] = []
    for i, item in sorted(rows, key=lambda r: (r[1].depth or 0.0, r[0])):
        phi = code.sizes[item.size].diameter
        last = result[-1] if result else []
        alike = [
            o
            for _, o in last
            if o.spread == item.spread
            and abs((o.depth or 0.0) - (item.depth or 0.0)) < 0.5 * (phi + code.sizes[o.size].diameter)
        ]
        if alike:
            last.append((i, item))
        else:
            result.append([(i, item)])
    return result


def _ring(form: _Form, number: int, inset: float, i: int, wrong: Wrong) -> list[tuple[float, float]]:
    if not form.round:
        wrong(("bars", i, "ring"), "a ring of bars needs a circle")
        return []
    radius = 0.5 * form.profile.depth
    angles = 0.5 * np.pi + 2.0 * np.pi * np.arange(number) / number
    return [
        ((radius - inset) * float(np.cos(a)), (radius - inset) * float(np.sin(a)) - radius) for a in angles
    ]


def _row(
    form: _Form,
    group: list[tuple[int, m.SectionBarsIn]],
    code: DesignCode,
    cover: Cover,
    tie: float,
    wrong: Wrong,
) -> list[BarAt]:
    """Evenly between the legs of the stirrup, or over the width given: the thickest bars outside."""
    assert form.shape is not None
    bars = [(i, item) for i, item in group for _ in range(item.row or 0)]
    bars.sort(key=lambda b: -code.sizes[b[1].size].diameter)
    first, phi = bars[0][1], code.sizes[bars[0][1].size].diameter
    depth = first.depth or 0.0
    low, high = _width_at(form.shape, depth, phi)
    reach = (
        0.5 * first.spread
        if first.spread is not None
        else 0.5 * form.profile.narrowest
        if form.web is not None
        else None
    )
    if reach is not None:
        low, high = max(low, -reach), min(high, reach)
    inset = (cover.sides + tie if first.spread is None else cover.sides) + 0.5 * phi
    low, high = low + inset, high - inset
    wide = sum(code.sizes[item.size].diameter for _, item in bars)
    if len(bars) > 1 and high - low < wide - phi - 0.5:
        room = max(high - low + phi, 0.0)
        text = f"{len(bars)} bars at one depth are {across(wide)} wide side by side, in {across(room)}"
        wrong(
            ("bars", group[0][0], "row"),
            f"{text} between the stirrup's legs; put them in several rows, apart in height",
        )
        return []
    places = list(np.linspace(low, high, len(bars))) if len(bars) > 1 else [0.5 * (low + high)]
    order = [k for pair in zip(range(len(places)), reversed(range(len(places))), strict=True) for k in pair]
    outside_in = list(dict.fromkeys(order))
    result = []
    for k, (i, item) in zip(outside_in, bars, strict=True):
        size = code.sizes[item.size]
        result.append(BarAt(float(places[k]), -(item.depth or 0.0), item.size, size.diameter, size.area, i))
    return result


def _width_at(shape: Shape, depth: float, phi: float) -> tuple[float, float]:
    """The part of the concrete that holds the middle at a depth: its least reach over the height of a bar."""
    lows, highs = [], []
    for y in (-depth - 0.5 * phi + 1e-3, -depth, -depth + 0.5 * phi - 1e-3):
        a, b = shape.edges[:, 0], shape.edges[:, 1]
        cut = (a[:, 1] <= y) != (b[:, 1] <= y)
        if not cut.any():
            continue
        x = np.sort(a[cut, 0] + (y - a[cut, 1]) / (b[cut, 1] - a[cut, 1]) * (b[cut, 0] - a[cut, 0]))
        pairs = list(zip(x[0::2], x[1::2], strict=False))
        best = min(pairs, key=lambda p: (not p[0] <= 0.0 <= p[1], abs(p[0] + p[1])))
        lows.append(float(best[0]))
        highs.append(float(best[1]))
    return (max(lows), min(highs)) if lows else (0.0, 0.0)


def _forces(
    given: m.SectionFile, code: DesignCode, folder: Path, system: Any, wrong: Wrong, faults: list[Fault]
) -> tuple[list[ForceSet], list[ServiceSet]]:
    """Sets as given, from a table, and by combination."""
    forces: list[ForceSet] = []
    service: list[ServiceSet] = []
    if isinstance(given.forces, m.ForceTableIn):
        forces, service, more = read_sets(folder, given.forces.table, code, system)
        if more and not more[0].line and not more[0].file:
            wrong(("forces", "table"), more[0].text)
        else:
            faults += more
    else:
        forces = [_force_set(f) for f in given.forces]
    for i, s in enumerate(given.service):
        level = (s.level or (s.name if _level(s.name) in code.actions.levels else "")) or ""
        if s.level and _level(s.level) not in code.actions.levels[1:]:
            known = ", ".join(v.replace("_", "-") for v in code.actions.levels[1:])
            wrong(("service", i, "level"), f"'{s.level[:30]}' is not a level of this code (valid: {known})")
        service.append(ServiceSet(s.name, _level(level), s.moment, s.moment_y, s.axial))
    if given.actions:
        more_forces, more_service = combined(given.actions, code, wrong)
        forces += more_forces
        service += more_service
    for key, sets in (("forces", forces), ("service", service)):
        names = [s.name for s in sets]
        for name in dict.fromkeys(n for n in names if names.count(n) > 1):
            wrong((key,), f"the name '{name[:40]}' is given twice")
    return forces, service


def _force_set(f: m.ForcesIn) -> ForceSet:
    """Bounds are magnitudes, however they are signed."""
    bounds = {
        key: None if (v := getattr(f, key)) is None else abs(v)
        for key in ("greatest_moment", "greatest_other")
    }
    return ForceSet(**{**f.model_dump(), **bounds})


def _level(name: str) -> str:
    return name.strip().lower().replace("-", "_").replace(" ", "_")


def _sensible(given: m.SectionFile, section: CrossSection, wrong: Wrong) -> None:
    """Bars inside the concrete and not in one another; a stated axis where it matters; topics that exist."""
    inside = min(section.cover.top, section.cover.bottom) + section.tied
    if 2.0 * inside >= section.depth:
        wrong(
            ("cover",), f"{across(inside)} at both faces leave no room in a depth of {across(section.depth)}"
        )
        return
    _inside(section, wrong)
    twice = [s.name for s in section.forces if s.moment_y] + [s.name for s in section.service if s.moment_y]
    if given.axis == "level" and twice:
        wrong(
            ("axis",),
            f"'{twice[0][:40]}' has a moment_y, which a neutral axis held level does not resist; make it "
            "free",
        )
    if given.axis is None and section.bars and not section.symmetric:
        wrong(
            ("axis",),
            "the section is not symmetric about the vertical: say 'free' (it may bend sideways) or 'level' "
            "(held by a slab)",
        )
    for topic in given.waive:
        if topic not in TOPICS:
            wrong(("waive", topic), f"is no topic{nearest(topic, list(TOPICS))}")
    if not section.bars and not section.forces and not section.choice:
        wrong((), "there is nothing to work out: give 'forces' or 'bars'")
    if section.service and not section.bars and section.choice is None:
        wrong(("service",), "stresses need bars: give 'bars'")
    if section.choice is not None and not section.forces:
        wrong(("choose",), "bars are chosen for forces: give 'forces'")
    if section.choice is not None and section.choice.size and not section.bars:
        wrong(("choose", "size"), "a least size is sought with bars given: give 'bars'")
    if section.choice is not None and section.round:
        wrong(("choose",), "bars of a round section are not chosen in this version; give them")
    if section.choice is not None and section.choice.size and given.form.outline is not None:
        wrong(("choose", "size"), "an outline is not made deeper or wider; give a shape")


def _inside(section: CrossSection, wrong: Wrong) -> None:
    x, y, _, phi = section.points
    if not len(x):
        return
    away = distance_to_edges(section.shape, x, y)
    reported: set[int] = set()
    for k in np.flatnonzero(away < 0.5 * phi - 1e-6):
        bar = section.bars[int(k)]
        if bar.row not in reported:
            reported.add(bar.row)
            wrong(
                ("bars", bar.row),
                f"a bar at {across(float(bar.x))} across, {across(float(-bar.y))} down is outside the "
                "concrete",
            )
    apart = np.hypot(x[:, None] - x, y[:, None] - y) - 0.5 * (phi[:, None] + phi)
    for i, j in zip(*np.nonzero(np.triu(apart < -0.5, 1)), strict=True):
        bar = section.bars[int(j)]
        if bar.row not in reported:
            reported.add(bar.row)
            wrong(
                ("bars", bar.row),
                f"bars at {across(float(x[i]))} and {across(float(x[j]))} across lie in one another",
            )
