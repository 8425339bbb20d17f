"""Deflection against its limits."""

from __future__ import annotations

import numpy as np

from upright_bramble.beam import Beam
from upright_bramble.codes.parts import Slender
from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Array
from upright_bramble.verify.facts import MAXIMUM_PRECAMBER, Facts, if_fails
from upright_bramble.verify.result import Check, Judged
from upright_bramble.verify.service import LINES, goes_on, governing_row, stage_at
from upright_bramble.working import leading_to, lines_of, record, record_line, recording

PULLED = "tension along the beam in service is not counted in this version"
UNKNOWN_BEFORE = "the tables give no permanent load before finishes"
SYMBOLS = {
    "total": "a_lt",
    "upward": "a_lt",
    "live": "a_live",
    "after-finishes": "a_after",
    "after-partitions": "a_after",
}
NEED_PERMANENT = ("live", "after-finishes", "after-partitions")


def deflection(f: Facts) -> Judged:
    """Sag against its limits; movement upwards is told beside it as advice."""
    result: Judged = []
    if f.tension_along or f.missing(f.code.actions.lasting_level, f.code.cracking.level):
        reason = PULLED if f.tension_along else ""
        spans = range(len(f.beam.spans))
        return [f.unverified("deflection.total", Place(span=i), f.at.of(i).start, reason) for i in spans]
    for index in range(len(f.beam.spans)):
        for name in LINES_IN_ORDER:
            result += _line(f, index, name)
    return result


LINES_IN_ORDER = ("total", "live", "after-finishes", "after-partitions", "upward")


def _limit_and_lines(
    f: Facts, name: str
) -> tuple[tuple[float | None, float | None] | None, Array | None, float]:
    """What is permitted, the lines of deflection, and the direction that counts: downwards or upwards."""
    service, lines = f.beam.service, f.serviced.lines
    return {
        "total": (service.total, lines.long_term, 1.0),
        "live": (service.live, lines.live, 1.0),
        "after-finishes": (service.after_finishes, lines.after_finishes, 1.0),
        "after-partitions": (service.after_partitions, lines.after_partitions, 1.0),
        "upward": (service.total, lines.long_term, -1.0),
    }[name]


def _line(f: Facts, index: int, name: str) -> Judged:
    """One limit of one span."""
    limit, lines, way = _limit_and_lines(f, name)
    if limit is None or lines is None:
        return []
    rows, place, kind = f.at.of(index), Place(span=index), f"deflection.{name}"
    if name in NEED_PERMANENT and f.beam.given and "permanent" not in f.beam.given:
        return [f.unverified(kind, place, rows.start, UNKNOWN_BEFORE)]
    rare = f.code.actions.rare_level
    if name == "live" and f.missing(rare):
        return [f.unverified(kind, place, rows.start, f"no {rare.replace('_', '-')} forces were given")]
    part = np.maximum(way * lines[:, rows] - (f.precamber(index) if name == "total" else 0.0), 0.0).max(
        axis=0
    )
    i = rows.start + int(part.argmax())
    allowed, demand = f.allowed_deflection(index, limit), float(part.max())
    if name == "upward" and demand <= 0.5 * allowed:
        return []
    advised = name == "total" and f.beam.service.total_advised
    record("a_limit", allowed, "mm", "permitted")
    note = if_fails(_note(name, advised), demand > allowed)
    return [
        f.check(
            kind,
            place,
            i,
            demand,
            allowed,
            severity="advice" if advised else "",
            note=note,
            detail=lambda: _record_line(f, index, name, i),
        )
    ]


def _note(name: str, advised: bool) -> str:
    if name == "upward":
        return "the span behind lifts it; stiffen that span if this matters"
    if advised:
        return "a target, no limit of the code: give 'total' in 'deflection', or 'total: none'"
    return "more tension steel, compression steel or depth would stiffen it"


def precamber(f: Facts) -> list[Check]:
    """Against what is counted on of it."""
    result = []
    for index, rise in enumerate(f.beam.service.precamber):
        length = f.beam.spans[index].length
        maximum = length / MAXIMUM_PRECAMBER
        record("l", length, "mm", "span")
        record("a_0", rise, "mm", "precamber given")
        note = if_fails("no more than that is taken off the deflection", rise > maximum)
        result.append(
            f.check("deflection.precamber", Place(span=index), f.at.of(index).start, rise, maximum, note=note)
        )
    return result


def span_depth(f: Facts) -> list[Check]:
    """The quick check of every span, told beside the calculated deflection, which alone decides."""
    result: list[Check] = []
    s, at = f.strength, f.at
    for index, span in enumerate(f.beam.spans):
        rows = at.of(index)
        x = 0.5 * span.length if not span.cantilever else (0.0 if span.left is not None else span.length)
        here = np.where(s.valid[rows], np.abs(at.local[rows] - x), np.inf)
        i = rows.start + int(here.argmin())
        face = "top" if span.cantilever else "bottom"
        requested = float(f.required[f"{face}_tension"][i])
        if not np.isfinite(requested) or requested <= 0.0:
            continue
        facts = _slender(f, index, i, face, requested)
        record("l", span.length, "mm", "span")
        record("d", facts.d, "mm", "effective depth")
        record("A_s,req", requested, "mm2", "required for the design moment")
        demand, limit, quantity = f.code.deflection.span_depth(f.beam.concrete, f.beam.bars, facts)
        note = if_fails(
            "the quick check requires a stiffer span; the calculated deflection decides", demand > limit
        )
        result.append(
            f.check(
                "deflection.span-depth", Place(span=index), i, demand, limit, quantity=quantity, note=note
            )
        )
    return result


def _slender(f: Facts, index: int, i: int, face: str, required: float) -> Slender:
    """A span as its quick check sees it, at station `i`."""
    s, at, span = f.strength, f.at, f.beam.spans[index]
    bottom, other = face == "bottom", "top" if face == "bottom" else "bottom"
    d = float((s.d_bottom if bottom else s.d_top)[i])
    wide = bottom and not at.sections.below[i]
    block = float(at.sections.flange_width[i]) if wide else float(at.width[i])
    return Slender(
        length=span.length,
        d=d,
        h=float(at.depth[i]),
        ends=_ends_of(f.beam, index),
        rho=required / (block * d),
        rho_compression=float(f.placed.face_area(not bottom, anchored=True)[i]) / (block * d),
        rho_compression_required=float(f.required[f"{other}_compression"][i]) / (block * d),
        provided=float(f.placed.face_area(bottom, anchored=True)[i]) / required,
        wide=block / float(at.width[i]),
    )


def _ends_of(beam: Beam, index: int) -> str:
    """How a span goes on: 'cantilever', 'simple', 'end' (at one end), 'interior' (at both)."""
    span = beam.spans[index]
    if span.cantilever:
        return "cantilever"
    held = 0
    for s in (span.left, span.right):
        assert s is not None
        held += goes_on(beam, index, s)
    return ("simple", "end", "interior")[held]


# ---------------------------------------------------------------- derivation


def _record_line(f: Facts, index: int, name: str, i: int) -> None:
    """Curvature of the section that bends most, and the lines that the code makes the deflection of, at its
    place."""
    row = governing_row(f.serviced.lines, LINES[name], i, upward=name == "upward")
    _record_curvature(f, index, row)
    value = _record_lines(f, name, row, i)
    if name == "upward":
        return
    rise = float(f.precamber(index)[i - f.at.of(index).start]) if name == "total" else 0.0
    if rise:
        record("a_0", rise, "mm", "precamber, taken off")
    if value - rise < 0.0:
        record("a_down", 0.0, "mm", "it rises; no part of it is downward")


def _record_lines(f: Facts, name: str, row: int, i: int) -> float:
    """The code's own call once more, with the lines of one row at one station."""
    ratio = f.compression_ratio[i : i + 1]

    def one(
        level: str, stage: str, *, lasting: bool = False, before: float = np.inf, symbol: str = ""
    ) -> Array:
        result = f.serviced.ask(level, stage, lasting=lasting, before=before)
        value = float(result[min(row, len(result) - 1), i])
        record(symbol or f"a_{stage}", value, "mm", _line_in_words(level, stage, lasting, before))
        return np.array([[value]])

    with recording() as entries:
        lines = f.code.deflection.lines(one, f.beam.service, ratio)
    derived = lines_of(entries, units=f.code.words.units)
    for line in leading_to(derived, {SYMBOLS[name]}) or derived:
        record_line(line)
    return float(getattr(lines, LINES[name])[0, 0])


def _line_in_words(level: str, stage: str, lasting: bool, before: float) -> str:
    part = "the lasting part of the " if lasting else ""
    by = f", what acts before day {before:.0f}" if np.isfinite(before) else ""
    return f"curvature integrated along the line: {part}{level.replace('_', '-')} load, stage '{stage}'{by}"


def _record_curvature(f: Facts, index: int, row: int) -> None:
    """The section of the span that bends most, in the stage of the long term."""
    code, serviced = f.code, f.serviced
    level, name = code.deflection.shown or (code.cracking.level, code.cracking.stage)
    m = serviced.ask(level, name, moments=True)
    rows = f.at.of(index)
    line = m[min(row, len(m) - 1)]
    j = rows.start + int(np.abs(line[rows]).argmax())
    side = 0 if line[j] >= 0.0 else 1
    stage = stage_at(serviced.stages[name], len(f.at), j)
    faces = serviced.ask.faces(name)
    sense = "sagging" if side == 0 else "hogging"
    record(
        "M",
        abs(float(line[j])),
        "N mm",
        f"{sense} at its greatest in this span, {level.replace('_', '-')} level",
    )
    creep = f", with creep {stage.creep:.2f}" if stage.creep else ""
    record("E", float(stage.modulus[0]), "MPa", f"modulus of the concrete{creep}")
    uncracked, cracked = (e.at(slice(j, j + 1)) for e in (faces.uncracked[side], faces.cracked[side]))
    for e, symbol, kind in ((uncracked, "I_I", "uncracked"), (cracked, "I_II", "cracked")):
        record(f"x_{symbol[2:]}", float(e.x[0]), "mm", f"neutral axis of the {kind} section")
        record(symbol, float(e.i[0]), "mm4", f"second moment of the {kind} section")
    before = float(serviced.ask.cracked_before[side][j])
    if before > 0.0:
        cracking = code.service.cracking_level
        text = "share that the striking cracked: it counts where it is the greater"
        record(
            "zeta_0",
            before,
            "",
            f"1 less M_cr over the greatest moment of the {cracking} level" if cracking else text,
        )
    moment = np.array([abs(float(line[j]))])
    bent = code.service.curvature(
        moment, uncracked, cracked, f.at.depth[j : j + 1], stage, stage.lasting, before
    )
    record("kappa_max", float(bent[0]), "1/mm", "curvature at this place")
