"""What applies to a beam and is not verified here: each with its place, its reason and the clause. A pass
never hides it."""

from __future__ import annotations

import numpy as np

from upright_bramble.beam import Beam
from upright_bramble.codes.parts import ShortSpan
from upright_bramble.codes.rules import Place
from upright_bramble.text import amount
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.result import Unverified

# of the shear at a face: a force near a support that makes more of it makes the region one of struts
DOMINANT = 0.5
STUB, STUB_SHARE = 1.25, 0.25  # depths: a cantilever so short is a bracket for a lesser share


def gaps(f: Facts) -> list[Unverified]:
    """Of the whole beam."""
    return [
        *_cover(f),
        *_joints(f),
        *_webs(f),
        *_loads(f),
        *_tables(f),
        *deep_spans(f),
        *_bracing(f),
        *_lateral(f),
    ]


def _cover(f: Facts) -> list[Unverified]:
    """Cover for a class of exposure by a rule that is not in the program."""
    reason = f.code.cover.unverified() if f.beam.service.exposure else ""
    return (
        [f.unverified("cover.durability", Place(part="beam"), 0, reason, clause="4.4.1.2(5)")]
        if reason
        else []
    )


def _joints(f: Facts) -> list[Unverified]:
    result = []
    text = "the joint at the hinge is not designed: end the bars at the hinge, detail both halves"
    for index, span in enumerate(f.beam.spans):
        for number, a in enumerate(span.hinges, start=1):
            i = int(np.abs(f.at.x - span.start - a).argmin())
            result.append(f.unverified("joints.hinge", Place(span=index, number=number), i, text))
    for s in f.beam.supports:
        if s.hinge:
            result.append(f.unverified("joints.hinge", Place(support=s.name), f.nearest(s.x), text))
    return result


def _webs(f: Facts) -> list[Unverified]:
    result = []
    for index, span in enumerate(f.beam.spans):
        p = span.profile
        if not p.outline:
            continue
        wide = max(x for x, _ in p.outline) - min(x for x, _ in p.outline)
        if wide > 1.5 * p.width:
            reason = f"profile {p.name}: the shear between its web and its overhang is not verified"
            result.append(f.unverified("flange.outline", Place(span=index), f.at.of(index).start, reason))
    return result


def _loads(f: Facts) -> list[Unverified]:
    """Actions that no combination of the strength level contains."""
    if f.beam.given:
        return []
    used = (f.forces.factors[f.code.actions.levels[0]] != 0.0).any(axis=0)
    result = []
    names = dict.fromkeys(
        "the permanent actions" if g < 0 else f"'{f.forces.groups[int(g)].key}'"
        for g, loads, local in zip(f.forces.cases.group, f.forces.cases.loads, used, strict=True)
        if loads and not local and any(p.first or p.last for p in loads)
    )
    for number, name in enumerate(names, start=1):
        reason = f"{name}: in no combination of the strength level; nothing is verified for these loads"
        result.append(f.unverified("forces.combinations", Place(number=number), 0, reason))
    return result


def _tables(f: Facts) -> list[Unverified]:
    """Forces from tables that contradict each other."""
    result: list[Unverified] = []
    if not f.beam.given:
        return result
    strength = f.forces.envelopes[f.code.actions.levels[0]]
    lasting = f.forces.envelopes[f.code.actions.lasting_level]
    for level, inner, outer, what in (
        (
            f.code.actions.rare_level,
            f.forces.envelopes[f.code.actions.rare_level],
            strength,
            "the strength table",
        ),
        (
            f.code.actions.lasting_level,
            lasting,
            f.forces.envelopes[f.code.actions.rare_level],
            f"the {f.code.actions.rare_level.replace('_', '-')} table",
        ),
    ):
        needed = {level, f.code.actions.rare_level} if outer is not strength else {level}
        if needed & set(f.forces.missing):
            continue
        tiny = 0.02 * max(float(np.abs(outer.moment_max).max()), float(np.abs(outer.moment_min).max()), 1e3)
        beyond = np.maximum(
            inner.moment_max - np.maximum(outer.moment_max, 0.0),
            np.minimum(outer.moment_min, 0.0) - inner.moment_min,
        )
        i = int(beyond.argmax())
        if beyond[i] > tiny:
            reason = (
                f"moments of the {level.replace('_', '-')} table exceed those of {what} by "
                f"{amount(float(beyond[i]), 'moment')}"
            )
            result.append(f.unverified("forces.tables", Place(part=level), i, reason))
    return [*result, *_slopes(f)]


def _slopes(f: Facts) -> list[Unverified]:
    """The slope of moments is the shear: no slope of either line of moments lies beyond the shears given."""
    at, e = f.at, f.forces.envelopes[f.code.actions.levels[0]]
    size = max(
        float(e.shear.max()),
        float(np.abs(np.diff(e.moment_max)).max()) / max(float(np.diff(at.x).max()), 1.0),
        1.0,
    )
    for index in range(len(f.beam.spans)):
        rows = at.of(index)
        x = at.x[rows]
        step = np.diff(x)
        wide = step > 1.0
        low = np.minimum(e.shear_min[rows][:-1], e.shear_min[rows][1:])
        high = np.maximum(e.shear_max[rows][:-1], e.shear_max[rows][1:])
        worst = np.zeros(len(step))
        for line in (e.moment_max[rows], e.moment_min[rows]):
            slope = np.where(wide, np.diff(line) / np.where(wide, step, 1.0), 0.0)
            worst = np.maximum(worst, np.where(wide, np.maximum(slope - high, low - slope), 0.0))
        i = int(worst.argmax())
        if worst[i] > 0.15 * size:
            reason = (
                "the shears given do not belong to the moments: these change faster than any shear given at "
                "that place"
            )
            return [f.unverified("forces.shear", Place(span=index), rows.start + i, reason)]
    return []


def deep_spans(f: Facts) -> list[Unverified]:
    """Spans and regions where plane sections do not remain plane: the code asks for struts and ties."""
    result = []
    for index, span in enumerate(f.beam.spans):
        low, high = f.beam.clear(index)
        rows = f.at.of(index)
        required = f.code.analysis.deep_span(
            ShortSpan(
                span.length,
                high - low,
                span.deepest,
                span.narrowest,
                span.cantilever,
                _dominant_load(f, index),
            )
        )
        if required is None:
            continue
        spacing = amount(required.spacing, "length")
        mesh = (
            f"{amount(required.mesh, 'steel per length')} at each face in both directions, at most {spacing} "
            "apart"
        )
        reason = (
            f"{required.reason}: sections do not remain plane; design it with struts and ties, with a mesh "
            f"of {mesh}"
        )
        result.append(
            f.unverified("deep.span", Place(span=index), rows.start, reason, clause=required.clause)
        )
    return result


def _dominant_load(f: Facts, index: int) -> float:
    """Distance from a face (mm) of the nearest force that makes up most of the shear at that face, of a
    cantilever hardly longer than deep a quarter of it; endless where there is none."""
    beam, span = f.beam, f.beam.spans[index]
    low, high = beam.clear(index)
    if beam.given:
        return float("inf")
    factors = np.abs(f.forces.factors[f.code.actions.levels[0]]).max(axis=0)
    nearest = float("inf")
    for s, face, sign in ((span.left, low, 1.0), (span.right, high, -1.0)):
        if s is None:
            continue
        points: dict[float, float] = {}
        for case, loads in enumerate(f.forces.cases.loads):
            for p in loads:
                if p.span == index and p.shape == "point":
                    a = sign * (span.start + p.start - face)
                    if a > 1.0:
                        points[a] = points.get(a, 0.0) + float(factors[case]) * max(p.first, 0.0)
        i = int(np.abs(f.at.x[f.at.of(index)] - face).argmin()) + f.at.of(index).start
        shear = max(float(f.forces.design.shear[i]), 1.0)
        stub = span.cantilever and high - low <= STUB * span.deepest
        for a, force in points.items():
            share = force * (1.0 if span.cantilever else max(1.0 - a / span.length, 0.0)) / shear
            if share > (STUB_SHARE if stub else DOMINANT):
                nearest = min(nearest, a)
    return nearest


def _bracing(f: Facts) -> list[Unverified]:
    """Lateral stability where nothing is said of what holds the compressed face; a slab in a flange holds
    it."""
    result: list[Unverified] = []
    for index in range(len(f.beam.spans)):
        limit, free = bracing_limit(f, index), unbraced(f.beam, index)
        if limit is not None and free > limit + 1e-6 and (f.beam.bracing is None or limit == 0.0):
            permitted = (
                f"where {amount(limit, 'length')} are permitted"
                if limit
                else "which a section this narrow does not permit"
            )
            reason = (
                f"lateral bracing: {amount(free, 'length')} without lateral support, {permitted}; give the "
                "distance as 'bracing', or 'bracing: continuous'"
            )
            result.append(f.unverified("bracing.span", Place(span=index), f.at.of(index).start, reason))
    return result


def unbraced(beam: Beam, index: int) -> float:
    """Length of a span without lateral support, mm."""
    length = beam.spans[index].length
    return length if beam.bracing is None else min(beam.bracing, length)


def bracing_limit(f: Facts, index: int) -> float | None:
    """Permitted distance of lateral supports of a span, mm; None where a flange above is held by its slab."""
    span = f.beam.spans[index]
    flange = span.profile.flange
    if flange is not None and not flange.below:
        return None
    return f.code.analysis.bracing_limit(span.narrowest, span.deepest)


def _lateral(f: Facts) -> list[Unverified]:
    """An earthquake: the detailing of frames that dissipate energy is not designed here."""
    if not _shaken(f.beam) or not f.code.words.seismic_clause:
        return []
    reason = "earthquake: the detailing of members of the seismic-force-resisting system is not covered"
    return (
        [f.unverified("lateral.seismic", Place(part="beam"), 0, reason, clause=f.code.words.seismic_clause)]
        if f.beam.lateral
        else []
    )


def _shaken(beam: Beam) -> bool:
    return any(a.kind == "earthquake" for a in beam.actions)
