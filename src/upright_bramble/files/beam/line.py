"""Supports and spans, tapers, redistribution."""

from __future__ import annotations

from dataclasses import replace

from upright_bramble import beam as b
from upright_bramble.core.quantities import along
from upright_bramble.files import models as m
from upright_bramble.files.beam.reading import Reading
from upright_bramble.files.yaml_source import Path_, nearest


def _tapers(
    r: Reading, i: int, entry: m.SpanIn, profiles: dict[str, b.Profile]
) -> tuple[b.Profile, b.Profile | None]:
    """Profiles at the two ends of a span; the second is None where it does not taper."""
    first = next(iter(profiles.values()))
    names = (
        [("profile", entry.profile)]
        if isinstance(entry.profile, str)
        else [("from", entry.profile.from_), ("to", entry.profile.to)]
    )
    result = []
    for key, name in names:
        if name not in profiles:
            path: Path_ = ("line", i, "profile") if key == "profile" else ("line", i, "profile", key)
            r.wrong(path, f"'{name[:40]}' is not a valid profile{nearest(name, list(profiles))}")
        result.append(profiles.get(name, first))
    if len(result) == 1 or result[0] == result[1]:
        return result[0], None
    if result[0].outline or result[1].outline:
        r.wrong(("line", i, "profile"), "a span with a polygon as its profile does not taper")
    if result[0].flange != result[1].flange:
        r.wrong(
            ("line", i, "profile"),
            "a span tapers in depth and width of its web; both its ends need the same flange",
        )
    return result[0], result[1]


def line_of(r: Reading, profiles: dict[str, b.Profile]) -> tuple[tuple[b.Support, ...], tuple[b.Span, ...]]:
    """Supports and spans in turn; x grows from the first centreline or tip."""
    supports: list[b.Support] = []
    spans: list[b.Span] = []
    x, left, valid = 0.0, None, _in_turn(r)
    names: set[str] = set()
    for i, entry in enumerate(r.given.line):
        if isinstance(entry, m.SupportIn):
            supports.append(_support(r, i, entry, x, names))
            left = len(supports) - 1
            if spans and valid and spans[-1].right is None:
                spans[-1] = replace(spans[-1], right=left)
            continue
        profile, becomes = _tapers(r, i, entry, profiles)
        hinges = _hinges(r, i, entry)
        spans.append(
            b.Span(
                name=str(len(spans) + 1),
                start=x,
                length=entry.span,
                profile=profile,
                left=left,
                right=None,
                becomes=becomes,
                hinges=hinges,
            )
        )
        x += entry.span
    if not spans:
        r.wrong(("line",), "has no span")
    if not supports:
        r.wrong(("line",), "has no support")
    elif len(supports) == 1 and not supports[0].restrains_rotation:
        at = next(i for i, e in enumerate(r.given.line) if isinstance(e, m.SupportIn))
        r.wrong(
            ("line", at),
            "one plain support lets the line turn over; make it 'fixed: true' or add a support",
        )
    if not valid or not supports:
        return tuple(supports), ()
    return tuple(supports), tuple(spans)


def _in_turn(r: Reading) -> bool:
    """Whether spans stand between supports, and supports between spans."""
    kinds = ["support" if isinstance(e, m.SupportIn) else "span" for e in r.given.line]
    alike = [i for i in range(1, len(kinds)) if kinds[i] == kinds[i - 1]]
    for i in alike:
        r.wrong(("line", i), f"two {kinds[i]}s follow each other; supports and spans come in turn")
    return not alike


def _support(r: Reading, i: int, entry: m.SupportIn, x: float, names: set[str]) -> b.Support:
    """At x; what holds it does not contradict itself."""
    if entry.support in names:
        r.wrong(("line", i, "support"), f"'{entry.support}' names two supports; give each its own name")
    names.add(entry.support)
    spring, columns = entry.spring or m.SpringIn(), _columns(entry)
    if entry.fixed and spring.rotation is not None:
        r.wrong(("line", i, "spring"), "a fixed support does not turn; drop 'fixed' or 'rotation'")
    if entry.fixed and entry.column is not None:
        r.wrong(("line", i, "column"), "a fixed support does not turn; drop 'fixed' or 'column'")
    if entry.hinge and (entry.fixed or columns or spring.rotation is not None):
        text = "a support that restrains the beam has no hinge over it; put it beside, with 'hinges'"
        r.wrong(("line", i, "hinge"), text)
    return b.Support(
        name=entry.support,
        x=x,
        width=entry.width,
        fixed=entry.fixed,
        spring_vertical=spring.vertical,
        spring_rotation=spring.rotation,
        columns=columns,
        settles=entry.settles,
        direct=entry.framing == "direct",
        holds_torsion=entry.torsion == "held",
        hinge=entry.hinge,
    )


def _hinges(r: Reading, i: int, entry: m.SpanIn) -> tuple[float, ...]:
    """Of a span, from its left end, inside it."""
    for k, a in enumerate(entry.hinges):
        if not 1.0 <= a <= entry.span - 1.0:
            text = f"{along(a)} is not inside the span, which is {along(entry.span)} long"
            r.wrong(("line", i, "hinges", k), text)
    return tuple(sorted(set(entry.hinges)))


def _columns(entry: m.SupportIn) -> tuple[b.Column, ...]:
    given = [c for c in ((entry.column.below, entry.column.above) if entry.column else ()) if c is not None]
    return tuple(
        b.Column(c.height, c.size[1] * c.size[0] ** 3 / 12.0, c.far_end == "fixed", c.stiffness)
        for c in given
    )


def redistribution_of(
    r: Reading, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
) -> b.Redistribution:
    """Only where spans stand on both sides: a cantilever's moment is what its loads make it."""
    given = r.given.redistribution
    if given is None:
        return b.Redistribution()
    # the moment line of a span with a hinge cannot be shifted: it passes through zero there
    beside = [
        sum(i in (s.left, s.right) and not s.cantilever and not s.hinges for s in spans)
        for i in range(len(supports))
    ]
    inner = {s.name: i for i, s in enumerate(supports) if beside[i] == 2 and not s.hinge}
    fixed = {
        s.name: i
        for i, s in enumerate(supports)
        if beside[i] == 1 and s.fixed and sum(i in (p.left, p.right) for p in spans) == 1
    }
    known = {s.name: i for i, s in enumerate(supports) if s.name in inner or s.name in fixed}
    if r.given.arrangements == "every":
        r.wrong(("redistribution",), "moments are redistributed set by set: it needs 'arrangements: code'")
    chosen = []
    for k, name in enumerate(
        inner if given.supports == "inner" else known if given.supports == "all" else given.supports
    ):
        if name in known:
            chosen.append(known[name])
        else:
            words = (
                f"'{name[:40]}' has no span without hinges on both sides, nor is it a fixed end; such "
                f"are {', '.join(known) or 'none'}"
            )
            r.wrong(("redistribution", "supports", k), words)
    if not chosen and not isinstance(given.supports, list):
        r.wrong(
            ("redistribution",),
            "no support has spans without hinges on both sides: there is nothing to redistribute",
        )
    if isinstance(given.percent, str):
        return b.Redistribution(None, tuple(chosen))
    return b.Redistribution(1.0 - given.percent / 100.0, tuple(chosen) if given.percent else ())


def spans_named(
    r: Reading, on: object, path: Path_, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
) -> list[int]:
    if on is None:
        return list(range(len(spans)))
    between = {
        f"{supports[s.left].name}-{supports[s.right].name}": k
        for k, s in enumerate(spans)
        if s.left is not None and s.right is not None
    }
    result: list[int] = []
    for item in on if isinstance(on, list) else [on]:
        assert isinstance(item, (int, str))
        number = int(item) if isinstance(item, int) or str(item).isdigit() else 0
        if 1 <= number <= len(spans):
            k = number - 1
        elif str(item) in between:
            k = between[str(item)]
        else:
            r.wrong(
                (*path, "on"),
                f"'{str(item)[:40]}' is not a valid span; spans are 1 to {len(spans)}, or "
                f"{', '.join(between) or 'by number'}",
            )
            continue
        if k in result:
            r.wrong((*path, "on"), f"span {k + 1} is named twice")
            continue
        result.append(k)
    return result
