"""The layout file: read, written, and told apart from one that a hand has edited."""

from __future__ import annotations

import hashlib
import itertools
from collections.abc import Iterator, Sequence
from dataclasses import replace
from pathlib import Path

from upright_bramble.beam import Bar, Beam, BentUp, Layout, SideBars, StirrupZone
from upright_bramble.codes import get_code
from upright_bramble.core.quantities import SYSTEMS, across, along, worded
from upright_bramble.errors import Fault, InputFaults
from upright_bramble.files import layout_models as m
from upright_bramble.files.faults import validated
from upright_bramble.files.yaml_source import Source, load_yaml, nearest

# of bars, of stirrup zones: for a beam, and for each of its spans
MAXIMUM_ENTRIES, MAXIMUM_OF_A_SPAN = 200, 60
_FOR = "# Designed for the input "
_CHECKSUM_LINE = "# as written: "


def read_layout(path: str | Path, beam: Beam) -> Layout:
    """Read NAME.layout.yaml for a beam. Raises InputFaults with all that is wrong in it."""
    source = load_yaml(Path(path))
    given = validated(m.LayoutFile, source, beam.units)
    faults = _faults(source, given, beam)
    if faults:
        raise InputFaults(faults)
    bars = tuple(
        Bar(
            mark=b.mark,
            face=b.face,
            layer=b.layer,
            count=b.count,
            size=b.size,
            start=_mm(b.from_),
            end=_mm(b.to),
            ends=b.ends,
            legs=(_mm(b.legs[0]), _mm(b.legs[1])),
            held=b.held,
            bent_up=_bent_up(b.bent_up),
        )
        for b in given.bars
    )
    zones = tuple(
        StirrupZone(z.mark, z.size, z.legs, _mm(z.from_), _mm(z.to), _mm(z.spacing), z.held)
        for z in given.stirrups
    )
    sides = tuple(
        SideBars(
            mark=s.mark,
            rows=s.rows,
            size=s.size,
            start=_mm(s.from_),
            end=_mm(s.to),
            held=s.held,
            ends=s.ends,
            legs=(_mm(s.legs[0]), _mm(s.legs[1])),
        )
        for s in given.side_bars
    )
    return Layout(bars, zones, sides)


def _bent_up(given: m.BentUpIn | None) -> BentUp | None:
    if given is None:
        return None
    left, right = (None if v is None else _mm(v) for v in (given.left, given.right))
    return BentUp(left, right, given.angle, given.layer)


def _mm(value: float) -> float:
    """Positions to a micrometre: 6.95 m is 6950 mm, whatever binary fractions make of it."""
    return round(value, 3)


def _faults(source: Source, given: m.LayoutFile, beam: Beam) -> list[Fault]:
    result: list[Fault] = []
    if given.beam != beam.mark:
        result.append(source.fault(("beam",), f"'{given.beam}' is not this beam, which is '{beam.mark}'"))
    sizes = list(get_code(beam.code, beam.annex).sizes)
    seen: dict[str, tuple[str, object]] = {}
    maximum = MAXIMUM_ENTRIES + MAXIMUM_OF_A_SPAN * len(beam.spans)
    groups: list[tuple[str, Sequence[AnyEntry]]] = [
        ("bars", given.bars),
        ("stirrups", given.stirrups),
        ("side_bars", given.side_bars),
    ]
    for key, entries in groups:
        if len(entries) > maximum:
            text = f"has {len(entries):,} entries; {maximum:,} are read for a beam of so many spans"
            result.append(source.fault((key,), text))
            continue
        for i, entry in enumerate(entries):
            other = seen.setdefault(entry.mark, (key, entry))
            found = [*_mark(entry, key, *other), *_size(entry, sizes), *_extent(entry, beam)]
            result += [source.fault((key, i, *place), text) for place, text in found]
    for i, b in enumerate(given.bars):
        if (wrong := _misplaced_bend(b)) is not None:
            result.append(source.fault(("bars", i, "bent_up"), wrong))
    for i, z in enumerate(given.stirrups):
        if z.spacing < 20.0:
            words = f"{across(z.spacing)} is too tight to be meant; {across(20.0)} at least"
            result.append(source.fault(("stirrups", i, "spacing"), words))
    return [replace(f, text=worded(f.text, SYSTEMS[beam.units])) for f in result]


AnyEntry = m.BarIn | m.StirrupIn | m.SideBarsIn
Found = Iterator[tuple[tuple[str, ...], str]]
"""Keys within an entry, and what is wrong there."""


def _mark(entry: AnyEntry, key: str, other: str, first: object) -> Found:
    """A mark names one sort of piece, and may stand at several places, but not twice at one; `first` has it
    under `other`."""
    if other != key:
        yield ("mark",), f"'{entry.mark}' is also a mark under {other}; give it another"
    elif first is not entry and entry == first:
        yield (), f"'{entry.mark}' is given twice at the same place; add to its count instead"


def _size(entry: AnyEntry, sizes: list[str]) -> Found:
    if entry.size not in sizes:
        yield ("size",), f"'{entry.size[:20]}' is not a valid bar size{nearest(entry.size, sizes)}"


def _extent(entry: AnyEntry, beam: Beam) -> Found:
    """From left to right, and about the beam."""
    low, high = beam.ends
    single = isinstance(entry, m.StirrupIn) and entry.from_ == entry.to  # one stirrup by itself
    if not entry.from_ < entry.to and not single:
        yield ("to",), f"{along(entry.to)} does not lie right of 'from', {along(entry.from_)}"
    elif entry.to < low or entry.from_ > high or entry.to - entry.from_ > 2.0 * (high - low) + 1e4:
        yield (), f"lies outside the beam, which extends from {along(low)} to {along(high)}"


def _misplaced_bend(b: m.BarIn) -> str | None:
    """What is wrong with where a bar is bent up, if anything."""
    up = b.bent_up
    if up is None:
        return None
    if b.face != "bottom":
        return "a bar of the top is not bent up; give it as the bottom bar that it comes from"
    if up.left is None and up.right is None:
        return "neither 'left' nor 'right' says where the bar leaves the bottom"
    places = [b.from_, *(v for v in (up.left, up.right) if v is not None), b.to]
    if any(not first < second for first, second in itertools.pairwise(places)):
        return f"does not lie between 'from', {along(b.from_)}, and 'to', {along(b.to)}, from left to right"
    for place, kind in ((up.left, b.ends[0]), (up.right, b.ends[1])):
        if place is not None and kind == "lap":
            return "an end at the top is not lapped with a bottom bar; end it straight, or bent"
    return None


def designed_for(text: str, input_sha256: str) -> bool:
    """Whether a layout is the design for an input, and not one that was mended for it or that is held against
    it."""
    return f"\n{_FOR}{input_sha256[:16]}\n" in text.replace("\r\n", "\n")


def layout_text(beam: Beam, layout: Layout, tool: str, input_sha256: str = "") -> str:
    """The file that `design` writes. Its last line is a checksum: a changed file is known as edited by hand.
    `input_sha256` of what it was designed for."""
    feet = beam.units == "us"

    def far(value: float) -> str:
        """A position along the beam."""
        number = value / (304.8 if feet else 1e3)
        return f"{number:.7f}".rstrip("0").rstrip(".") + (" ft" if feet else " m")

    def near(value: float) -> str:
        """A length of the section."""
        if feet:
            return f"{value / 25.4:.7f}".rstrip("0").rstrip(".") + " in"
        return f"{value:g}" + ("" if beam.units == "si" else " mm")

    def turned(up: BentUp | None) -> str:
        if up is None:
            return ""
        sides = [f"{k}: {far(v)}" for k, v in (("left", up.left), ("right", up.right)) if v is not None]
        more = [f"angle: {up.angle:g}"] * (up.angle != 45.0) + [f"layer: {up.layer}"] * (up.layer != 1)
        return f", bent_up: {{{', '.join([*sides, *more])}}}"

    lines = [
        (
            f"# Bars of {beam.mark}, proposed by {tool}. Edit freely, then: bramble check NAME.beam.yaml "
            "THIS-FILE"
        ),
        "# Positions run along the beam; 0 is the first support's centreline, or the tip of a leading "
        "cantilever.",
        "# 'held: true' keeps an entry when the beam is designed again.",
        *([f"{_FOR}{input_sha256[:16]}"] if input_sha256 else []),
        "bramble_layout: 1",
        f"beam: {beam.mark}",
        "bars:" if layout.bars else "bars: []",
    ]
    for b in layout.bars:
        legs = f", legs: [{near(b.legs[0])}, {near(b.legs[1])}]" if any(b.legs) else ""
        lines.append(
            f'  - {{mark: "{b.mark}", face: {b.face}, layer: {b.layer}, count: {b.count}, size: "{b.size}", '
            f"from: {far(b.start)}, to: {far(b.end)}, ends: [{b.ends[0]}, {b.ends[1]}]{legs}"
            f"{turned(b.bent_up)}, held: {_bool(b.held)}}}"
        )
    lines.append("stirrups:" if layout.stirrups else "stirrups: []")
    for z in layout.stirrups:
        lines.append(
            f'  - {{mark: "{z.mark}", size: "{z.size}", legs: {z.legs}, from: {far(z.start)}, to: '
            f"{far(z.end)}, "
            f"spacing: {near(z.spacing)}, held: {_bool(z.held)}}}"
        )
    lines.append("side_bars:" if layout.sides else "side_bars: []")
    for s in layout.sides:
        bent = f", ends: [{s.ends[0]}, {s.ends[1]}]" if "bend" in s.ends else ""
        bent += f", legs: [{near(s.legs[0])}, {near(s.legs[1])}]" if any(s.legs) else ""
        lines.append(
            f'  - {{mark: "{s.mark}", rows: {s.rows}, size: "{s.size}", from: {far(s.start)}, to: '
            f"{far(s.end)}{bent}, "
            f"held: {_bool(s.held)}}}"
        )
    body = "\n".join(lines) + "\n"
    return body + _CHECKSUM_LINE + _digest(body) + "\n"


def merged_text(old: str, before: Layout, beam: Beam, after: Layout, tool: str) -> str:
    """A user's file with what was added and without what was dropped: every other line, comment and order as
    it stands. It bears no marker: it stays a file that a hand has edited."""
    import io

    from ruamel.yaml import YAML

    yaml = YAML(typ="rt")
    yaml.width, yaml.preserve_quotes = 100_000, True
    yaml.indent(mapping=2, sequence=4, offset=2)
    fresh = yaml.load(layout_text(beam, after, tool))
    body = old.replace("\r\n", "\n")
    if _CHECKSUM_LINE in body:
        body = "\n".join(v for v in body.split("\n") if not v.startswith(_CHECKSUM_LINE))
    own = yaml.load(body)
    for key, was, now in (
        ("bars", before.bars, after.bars),
        ("stirrups", before.stirrups, after.stirrups),
        ("side_bars", before.sides, after.sides),
    ):
        past, present = ([replace(e, held=False) for e in v] for v in (was, now))
        entries = own.get(key)
        if entries is None:
            own[key] = entries = fresh[key]
            continue
        for i in reversed(range(len(entries))):
            if past[i] not in present:
                del entries[i]
        for entry, local in zip(fresh[key], present, strict=True):
            if local not in past:
                entries.append(entry)
    out = io.StringIO()
    yaml.dump(own, out)
    return out.getvalue().rstrip("\n") + "\n"


def edited_by_hand(text: str) -> bool:
    """Whether a layout file differs from what `design` wrote (line endings aside)."""
    plain = text.replace("\r\n", "\n")
    body, marker, digest = plain.rpartition(_CHECKSUM_LINE)
    return not marker or digest.strip() != _digest(body)


def held_part(layout: Layout) -> Layout:
    bars, zones = tuple(b for b in layout.bars if b.held), tuple(z for z in layout.stirrups if z.held)
    return Layout(bars, zones, tuple(s for s in layout.sides if s.held))


def _digest(body: str) -> str:
    return hashlib.sha256(body.encode()).hexdigest()[:16]


def _bool(value: bool) -> str:
    return "true" if value else "false"
