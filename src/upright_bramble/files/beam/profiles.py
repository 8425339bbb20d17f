"""Profiles, cover and the sizes that hold both."""

from __future__ import annotations

from upright_bramble import beam as b
from upright_bramble.analysis import sized
from upright_bramble.codes import DesignCode
from upright_bramble.codes.parts import CoverWish
from upright_bramble.core.quantities import across, along
from upright_bramble.errors import CodeError
from upright_bramble.files import models as m
from upright_bramble.files.beam.reading import Reading
from upright_bramble.files.yaml_source import Path_
from upright_bramble.section.outline import narrowest_between, parted, polygon

BAND = 60.0  # inside the cover: where stirrup and bars of a face lie, mm
LONGEST = 100_000.0
THICKEST = 5_000.0


def guessed_sizes(r: Reading) -> None:
    """Depths and widths left to the program, at first from the longest span of the profile alone."""
    longest: dict[str, float] = {}
    for entry in r.given.line:
        if isinstance(entry, m.SpanIn):
            for name in (
                [entry.profile] if isinstance(entry.profile, str) else [entry.profile.from_, entry.profile.to]
            ):
                longest[name] = max(longest.get(name, 0.0), entry.span)
    for name, p in r.given.profiles.items():
        depth = (
            sized.rounded_up(longest.get(name, 6000.0) / 14.0, r.units.step)
            if p.depth in ("auto", None)
            else p.depth
        )
        assert isinstance(depth, float)
        width = (
            max(sized.rounded_up(0.5 * depth, r.units.step), 8.0 * r.units.step)
            if p.width in ("auto", None)
            else p.width
        )
        r.profiles[name] = p.model_copy(update={"depth": depth, "width": width})


def profile_of(r: Reading, name: str, p: m.ProfileIn) -> b.Profile:
    """A T has a flange on both sides of its web, an L on one."""
    path: Path_ = ("profiles", name, "flange")
    assert isinstance(p.depth, float)
    assert isinstance(p.width, float)
    bare = p.shape in ("rectangle", "trapezoid", "polygon")
    if (p.shape == "polygon") != (p.outline is not None):
        text = "a polygon has an 'outline', its corners [[x, y], ...], and only a polygon"
        r.wrong((*path[:-1], "outline"), text)
    elif p.outline is not None:
        return _outlined(r, name, p.outline)
    if bare and p.flange is not None:
        r.wrong(path, f"a {p.shape} has no flange; leave it out, or make the shape T or L")
    if not bare and p.flange is None:
        r.wrong(path[:-1], f"a {p.shape} needs a 'flange'")
    if (p.shape == "trapezoid") != (p.foot is not None):
        text = "a trapezoid has a 'foot', the width of its web at the bottom, and only a trapezoid"
        r.wrong((*path[:-1], "foot"), text)
    if p.flange is None or bare:
        return b.Profile(name, p.width, p.depth, None, p.foot)
    return b.Profile(name, p.width, p.depth, _flange(r, path, p, p.flange))


def _flange(r: Reading, path: Path_, p: m.ProfileIn, f: m.FlangeIn) -> b.Flange:
    """Of a T, an L or an inverted T: by its whole width, or half way to the next webs."""
    assert isinstance(p.depth, float)
    below = p.shape == "inverted T"
    if f.thickness >= p.depth:
        r.wrong((*path, "thickness"), f"{across(f.thickness)} is no less than the depth of {across(p.depth)}")
    if below and f.width == "auto":
        r.wrong((*path, "width"), "the flange below of an inverted T ends somewhere: give its full 'width'")
    if p.shape != "L" and f.side is not None:
        text = f"a {p.shape} has its flange on both sides; leave it out, or make the shape L"
        r.wrong((*path, "side"), text)
    slab = _slab_bars(r, (*path, "slab_bars"), f, below)
    if f.width != "auto":
        left, right = _by_width(r, path, p, f, f.width)
        return b.Flange(f.thickness, max(left, 0.0), max(right, 0.0), f.cross_steel, below, slab)
    left, right = _by_gaps(r, path, p, f)
    return b.Flange(f.thickness, left, right, f.cross_steel, slab_bars=slab)


def _by_width(r: Reading, path: Path_, p: m.ProfileIn, f: m.FlangeIn, width: float) -> tuple[float, float]:
    """What of a flange of a given width reaches beyond the web, left and right, mm."""
    assert isinstance(p.width, float)
    if f.gap_left is not None or f.gap_right is not None:
        r.wrong(path, "give the width of the flange, or the gaps to the next webs, not both")
    out = width - p.width
    if out <= 0.0:
        r.wrong((*path, "width"), f"{across(width)} is no wider than the web of {across(p.width)}")
    if p.shape != "L":
        return 0.5 * out, 0.5 * out
    return (out, 0.0) if f.side == "left" else (0.0, out)


def _by_gaps(r: Reading, path: Path_, p: m.ProfileIn, f: m.FlangeIn) -> tuple[float, float]:
    """Half the clear distance to the next web, left and right, mm."""
    gaps = (f.gap_left, f.gap_right)
    if p.shape == "T" and None in gaps:
        r.wrong(path, "give 'gap_left' and 'gap_right', the clear distances to the next webs, or the 'width'")
    if p.shape == "L" and (gaps[0] is None) == (gaps[1] is None):
        text = "the flange of an L is on one side of the web: give 'gap_left' or 'gap_right', or the "
        r.wrong(path, f"{text}'width' and 'side'")
    return 0.5 * (gaps[0] or 0.0), 0.5 * (gaps[1] or 0.0)


def _slab_bars(r: Reading, path: Path_, f: m.FlangeIn, below: bool) -> b.SlabBars | None:
    """Of the slab that is the flange, inside its thickness."""
    given = f.slab_bars
    if given is None:
        return None
    if below:
        r.wrong(path, "the flange below of an inverted T is no slab over the supports; leave it out")
    if given.depth is not None and given.depth >= f.thickness:
        text = f"{across(given.depth)} is no less than the thickness of {across(f.thickness)}"
        r.wrong((*path, "depth"), text)
    return b.SlabBars(given.top, given.size, given.depth)


def cover_of(r: Reading, code: DesignCode, detailing: b.Detailing, concrete: b.Concrete) -> b.Cover:
    """As given, or worked out; what is given wins, but never below what the exposure asks for."""
    c = r.given.cover
    own = {face: getattr(c, face) for face in ("top", "bottom", "sides")}
    if c.exposure is None:
        missing = [face for face, value in own.items() if value is None]
        if missing:
            r.wrong(("cover",), f"give '{missing[0]}', or the 'exposure' that cover is worked out from")
        if c.fire is not None:
            r.wrong(("cover", "fire"), "give the 'exposure' too: cover is worked out from both")
        return b.Cover(*(30.0 if v is None else v for v in own.values()))
    bars = [code.sizes[s].diameter for s in detailing.main_bars if s in code.sizes] or [20.0]
    ties = [code.sizes[s].diameter for s in detailing.stirrup_bars if s in code.sizes] or [8.0]
    # a sloping web is as wide as at the level of its bars, near its foot or its top
    widths = [
        min(float(p.width), float(p.foot or p.width))
        for p in r.profiles.values()
        if isinstance(p.width, (int, float))
    ]
    widths += [_narrow_at_steel(p.outline) for p in r.profiles.values() if p.outline is not None]
    spans = [e for e in r.given.line if isinstance(e, m.SpanIn)]
    share = r.given.redistribution
    alike = share is None or (share.percent != "maximum" and share.percent <= 15.0)
    supports = [e for e in r.given.line if isinstance(e, m.SupportIn)]
    continuous = (
        len(supports) > 2
        and not any(e.hinges for e in spans)
        and not any(e.hinge for e in supports)
        and alike
    )
    wish = CoverWish(
        exposure=c.exposure,
        fire=c.fire,
        structural_class=c.structural_class,
        deviation=c.deviation,
        bars=(min(bars), max(bars)),
        ties=(min(ties), max(ties)),
        width=min(widths, default=300.0),
        continuous=continuous,
        strength=concrete.strength,
        aggregate=concrete.aggregate,
    )
    if code.cover.unverified() and not any(v is None for v in own.values()) and c.fire is None:
        return b.Cover(*(30.0 if v is None else v for v in own.values()))
    try:
        result = code.cover.required(wish)
    except CodeError as error:
        r.wrong(("cover", "fire" if str(error).startswith(("R", "fire")) else "exposure"), str(error))
        return b.Cover(30.0, 30.0, 30.0)
    for face, value in own.items():
        requested = getattr(result, face)
        if value is not None and value < requested - 1e-6:
            words = (
                f"{across(value)} is less than the {across(requested)} that {c.exposure} and fire "
                "require; leave it out"
            )
            r.wrong(("cover", face), words)
    cover = b.Cover(*(getattr(result, face) if value is None else value for face, value in own.items()))
    unit, factor = r.units.unit("section"), r.units.factor("section")
    words = ", ".join(f"{face} {getattr(cover, face) / factor:.4g}" for face in own)
    said = c.exposure + (f", R{c.fire}" if c.fire else "")
    r.proposed = (f"cover was worked out for {said}: {words} {unit}",)
    return cover


def _outlined(r: Reading, name: str, corners: list[list[float]]) -> b.Profile:
    """A polygon with its top at 0, and its widths where stirrups and bars are."""
    highest = min(y for _, y in corners)
    points = tuple((x, y - highest) for x, y in corners)
    fallback = b.Profile(name, 1000.0, 1000.0)
    try:
        strips = polygon(points)
    except ValueError as error:
        r.wrong(("profiles", name, "outline"), str(error))
        return fallback
    if parted(points):
        r.wrong(
            ("profiles", name, "outline"),
            "at some depth it stands in two pieces: give each web of it a beam of its own",
        )
        return fallback
    cover, depth = r.cover, float(strips.height[0])
    if depth <= cover.top + cover.bottom + 2.0 * BAND:
        r.wrong(
            ("profiles", name, "outline"),
            f"{across(depth)} of depth leave no room for bars inside the cover",
        )
        return fallback
    width = narrowest_between(strips, cover.top, depth - cover.bottom)
    rooms = (
        narrowest_between(strips, cover.top, cover.top + BAND),
        narrowest_between(strips, depth - cover.bottom - BAND, depth - cover.bottom),
    )
    return b.Profile(name, width, depth, None, None, points, rooms)


def check_sizes(
    r: Reading,
    profiles: dict[str, b.Profile],
    spans: tuple[b.Span, ...],
    supports: tuple[b.Support, ...],
    detailing: b.Detailing,
    code: DesignCode,
) -> None:
    """Sizes that leave no room for a beam."""
    c = r.cover
    for name, p in profiles.items():
        keys = ("outline", "outline") if p.outline else ("width", "depth")
        for key, value in zip(keys, (p.width, p.depth), strict=True):
            if value > THICKEST:
                r.wrong(
                    ("profiles", name, key),
                    f"{across(value)} is more than {across(THICKEST)}; check its unit",
                )
        _check_slab_bars(r, name, p, code)
        thickest = min(
            (code.sizes[s].diameter for s in detailing.stirrup_bars if s in code.sizes), default=8.0
        )
        if p.width - 2 * c.sides - 2 * thickest < 50.0:
            r.wrong(
                ("profiles", name, keys[0]), f"{across(p.width)} leaves no room for bars inside the cover"
            )
        if p.depth - c.top - c.bottom - 2 * thickest < 60.0:
            r.wrong(
                ("profiles", name, keys[1]), f"{across(p.depth)} leaves no room for bars inside the cover"
            )
    position = [i for i, e in enumerate(r.given.line) if isinstance(e, m.SpanIn)]
    for k, s in enumerate(spans):
        taken = sum(0.5 * supports[q].width for q in (s.left, s.right) if q is not None)
        if s.length > LONGEST:
            r.wrong(
                ("line", position[k], "span"),
                f"{along(s.length)} is longer than {along(LONGEST)}; check its unit",
            )
        elif taken >= s.length:
            r.wrong(
                ("line", position[k], "span"),
                f"{along(s.length)} is no longer than its supports are wide",
            )
        elif s.length < s.deepest:
            r.wrong(
                ("line", position[k], "span"),
                f"{along(s.length)} is shorter than the beam is deep; this is not a beam",
            )


def _check_slab_bars(r: Reading, name: str, p: b.Profile, code: DesignCode) -> None:
    """Of a size that the code's catalogue has."""
    slab = p.flange.slab_bars if p.flange is not None else None
    if slab is not None and slab.size not in code.sizes:
        r.wrong(
            ("profiles", name, "flange", "slab_bars", "size"),
            f"'{slab.size[:20]}' is not a valid bar size (valid: {', '.join(code.sizes)})",
        )


def _narrow_at_steel(corners: list[list[float]]) -> float:
    """Narrowest width of an outline near its lower and upper edge, mm; 300 where it is none (which is told
    elsewhere)."""
    highest = min(y for _, y in corners)
    try:
        strips = polygon(tuple((x, y - highest) for x, y in corners))
        depth = float(strips.height[0])
        return min(
            narrowest_between(strips, 0.02 * depth, 0.15 * depth),
            narrowest_between(strips, 0.85 * depth, 0.98 * depth),
        )
    except ValueError:
        return 300.0
