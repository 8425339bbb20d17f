"""The judgement of a layout: every check, every curve, every quantity."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.beam import Beam, Layout, StirrupZone
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.errors import LayoutError
from upright_bramble.text import amount
from upright_bramble.verify.bearing import bearings_of
from upright_bramble.verify.compatible import movable
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.gaps import gaps
from upright_bramble.verify.placement import Placed, place
from upright_bramble.verify.practice import practice
from upright_bramble.verify.quantities import STEEL_DENSITY, bar_items, quantities, side_items, stirrup_items
from upright_bramble.verify.required import required_areas
from upright_bramble.verify.result import (
    BarItem,
    Check,
    Curves,
    Message,
    Result,
    StageItem,
    Unverified,
    accepted,
)
from upright_bramble.verify.run import judge
from upright_bramble.verify.service import governing_lines, verify_service
from upright_bramble.verify.strength import verify_strength

CONGESTED, LEAN = 0.025, 0.0015
BENT_UP = "bent-up bars: their inclined lengths are counted for neither bending nor shear"
SLAB_BARS = "slab bars within the effective flange are counted on in hogging, as continuous over supports"
HELD = "held entries of the layout were kept as they are"
FEW = 11  # stations a span below which a table is too coarse to trust


def verify(beam: Beam, code: DesignCode, forces: Forces, layout: Layout) -> Result:
    """Judge the bars of `layout`.

    Raises LayoutError when there is nothing to judge: no bars, or sizes that the catalogue does not have.
    """
    if not layout.bars:
        raise LayoutError("the layout has no bars; `bramble design` proposes some")
    placed = place(beam, code, layout, forces.stations, bearings_of(beam, code, forces))
    strength = verify_strength(beam, code, forces, layout, placed)
    serviced = verify_service(beam, code, forces, placed)
    required = required_areas(beam, code, forces, strength)
    facts = Facts(beam, code, forces, placed, strength, serviced, required, layout)
    judged = [*judge(facts), *gaps(facts)]
    checks = [accepted(c, beam.accept) for c in judged if isinstance(c, Check)]
    bars = bar_items(code, beam, placed)
    formers = {item.bar.size: item.mandrel for item in sorted(bars, key=lambda item: item.mandrel)}
    bars += side_items(code, beam, layout, formers)
    at = forces.stations
    models = code.shear.model(
        beam.concrete, beam.stirrups, strength.web, strength.ties.asw_s, strength.shear.cot
    )
    stirrups = []
    for i in stirrup_items(beam, code, layout.stirrups):
        where = _within(at.x, i.zone)
        steepest = int(where[strength.shear.cot[where].argmin()])
        result = (
            [models[steepest]]
            if len(set(strength.shear.cot)) > 1
            else sorted({models[k] for k in where.tolist()})
        )
        stirrups.append(replace(i, strut=float(strength.shear.cot[steepest]), model=", ".join(result)))
    curves = Curves(
        design_moment_max=strength.moment_max,
        design_moment_min=-strength.moment_min,
        design_shear=strength.shear_demand,
        top_required=_finite(required["top"]),
        top_provided=placed.tension_area(False, anchored=True),
        bottom_required=_finite(required["bottom"]),
        bottom_provided=placed.face_area(True, anchored=True),
        top_percent=_of_web(placed.face_area(False, anchored=True), at.width, strength.d_top),
        bottom_percent=_of_web(placed.face_area(True, anchored=True), at.width, strength.d_bottom),
        moment_positive=strength.positive.moment,
        moment_negative=-strength.negative.moment,
        shear_total=strength.shear.total,
        shear_concrete=strength.shear.concrete,
        shear_stirrups=strength.shear.stirrups,
        strut_cot=strength.shear.cot,
        deflection_immediate=governing_lines(forces.stations, len(beam.spans), serviced.lines.immediate),
        deflection_long_term=governing_lines(forces.stations, len(beam.spans), serviced.lines.long_term),
        deflection_after_finishes=governing_lines(
            forces.stations, len(beam.spans), serviced.lines.after_finishes
        ),
        deflection_striking=governing_lines(forces.stations, len(beam.spans), serviced.lines.striking),
        deflection_live=_lines_of(forces, serviced.lines.live),
        deflection_after_partitions=_lines_of(forces, serviced.lines.after_partitions),
        crack_top=serviced.cracking_top.width,
        crack_bottom=serviced.cracking_bottom.width,
        stress_top=serviced.cracking_top.stress,
        stress_bottom=serviced.cracking_bottom.stress,
    )
    totals = quantities(beam, bars, stirrups, len(placed.laps))
    totals["main_bars_over_least"] = _over_least(forces, curves, bars)
    totals["percent_most"] = 100.0 * float(_percent(forces, curves).max())
    own_messages = [m for m in judged if isinstance(m, Message)]
    messages = [
        *_messages(beam, code, forces, layout, placed, checks, totals),
        *own_messages,
        *practice(facts, bars, stirrups),
    ]
    stages = (
        StageItem(name, s.age, s.creep, float(s.modulus.min()), s.tensile_strength, float(s.shrinkage.max()))
        for name, s in serviced.stages.items()
    )
    return Result(
        beam=beam,
        code_title=code.title,
        forces=forces,
        layout=layout,
        curves=curves,
        checks=tuple(checks),
        messages=tuple(messages),
        bars=tuple(bars),
        stirrups=tuple(stirrups),
        quantities=totals,
        sizes=code.sizes,
        stages=tuple(stages),
        has_strut_angle=bool(code.words.symbol("cot_theta")),
        facts=facts,
        gaps=tuple(g for g in judged if isinstance(g, Unverified)),
        out_of_scope=tuple(code.words.out_of_scope),
    )


def _lines_of(forces: Forces, lines: np.ndarray | None) -> np.ndarray | None:
    """The governing line of each span, where there are any."""
    return None if lines is None else governing_lines(forces.stations, len(forces.beam.spans), lines)


def _over_least(forces: Forces, curves: Curves, bars: Sequence[BarItem]) -> float:
    """Mass of the bars over the theoretical least: what the sections ask for, integrated along the beam."""
    at, required = forces.stations, curves.top_required + curves.bottom_required
    minimum = (
        sum(float(np.trapezoid(required[at.of(i)], at.x[at.of(i)])) for i in range(len(at.first) - 1))
        * STEEL_DENSITY
    )
    return sum(i.mass for i in bars) / minimum if minimum > 0.0 else 0.0


def _within(x: np.ndarray, zone: StirrupZone) -> np.ndarray:
    """Stations within a zone, or the one next to it."""
    inside = np.flatnonzero((x >= zone.start - 1e-6) & (x <= zone.end + 1e-6))
    return inside if len(inside) else np.array([np.abs(x - zone.start).argmin()])


def _of_web(area: np.ndarray, width: np.ndarray, d: np.ndarray) -> np.ndarray:
    """In percent of b d."""
    return np.asarray(100.0 * area / (width * np.maximum(d, 1.0)))


def _finite(area: np.ndarray) -> np.ndarray:
    """Sections that no steel is enough for show 0 here and fail their check."""
    return np.where(np.isfinite(area), area, 0.0)


def _percent(forces: Forces, curves: Curves) -> np.ndarray:
    """Tension steel over the gross section, per face the larger."""
    gross = forces.stations.sections.strips.gross()[0]
    return np.maximum(curves.top_provided, curves.bottom_provided) / gross


def _messages(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    layout: Layout,
    placed: Placed,
    checks: list[Check],
    totals: dict[str, float],
) -> list[Message]:
    result = [
        Message(
            "fail" if c.severity == "must" else "note" if c.beside or c.severity == "waived" else "warning",
            f"{c.id}: {c.note}", f"x = {amount(c.x, 'place')}",
        )
        for c in checks
        if not c.ok and c.note
    ]  # fmt: skip
    share = totals["percent_most"] / 100.0
    if share > CONGESTED:
        result.append(
            Message(
                "warning",
                f"maximum reinforcement ratio {100 * share:.1f} %: congested, a larger section may cost less",
            )
        )
    elif share < LEAN:
        result.append(
            Message("note", f"maximum reinforcement ratio {100 * share:.2f} %: the section could be smaller")
        )
    envelope = forces.envelopes[code.actions.levels[0]]
    for s, support in enumerate(beam.supports):
        if envelope.reaction_min[s] < -1.0:
            pull = amount(-envelope.reaction_min[s], "force")
            result.append(
                Message(
                    "warning",
                    f"support {support.name} is pulled up by {pull}: it must be held down",
                    support.name,
                )
            )
    for s, support in ((0, beam.supports[0]), (-1, beam.supports[-1])):
        end = beam.spans[s].left if s == 0 else beam.spans[s].right
        if support.fixed and end is not None:
            result.append(
                Message(
                    "note",
                    f"bars at the fixed support {support.name} are anchored in what it is fixed to",
                    support.name,
                )
            )
    result += [Message("note", text) for text in beam.proposed]
    if code.words.assumed:
        assumed = (
            f"annex {code.annex}: recommended values and rules are assumed for "
            f"{', '.join(code.words.assumed)}"
        )
        text = f"{assumed}: those of the annex are not known"
        result.append(Message("warning", text))
    for key in beam.remarks:
        if not any(c.id == key or c.id.startswith(f"{key}.") for c in checks):
            result.append(
                Message(
                    "warning",
                    f"the remark on '{key}' belongs to no check of this beam: `bramble why` lists them",
                )
            )
    if beam.service.stiffness == "cracked" and movable(beam) is None:
        text = (
            "vertical springs, hinges or settlement: deflections have moments of gross sections, "
            "'stiffness: cracked' is not followed"
        )
        result.append(Message("warning", text))
    result += _suspended(beam, code, forces)
    result += [Message("warning", text) for text in (*beam.cautions, *forces.neglected)]
    result += [
        Message("warning", f"{c.id}: a ratio of {c.ratio:.3f} is accepted (accept: {beam.accept:g})")
        for c in checks
        if beam.accept > 1.0 and c.accepted
    ]
    if beam.given:
        for level in forces.missing:
            result.append(
                Message(
                    "warning",
                    f"no {level.replace('_', '-')} forces were given: what needs them is not verified",
                )
            )
        sparse = [
            k
            for k in range(len(beam.spans))
            if any(len(v.x[k]) < FEW for lines in beam.given.values() for v in lines)
        ]
        for k in sparse:
            result.append(
                Message(
                    "warning",
                    f"span {k + 1} has fewer than {FEW} stations in a table: peaks between them are missed",
                )
            )
        return [*result, *_own_values(code)]
    variable = any(
        a.kind != "permanent" and any(p.first or p.last for p in beam.loads(a)) for a in beam.actions
    )
    if not variable:
        result.append(Message("warning", "there is no variable action: is one missing?"))
    if not any(p.first or p.last for a in beam.actions if a.kind == "permanent" for p in beam.loads(a)):
        result.append(Message("warning", "there is no permanent action: is the self weight missing?"))
    if (
        code.words.seismic_clause
        and beam.lateral is None
        and any(a.kind == "earthquake" for a in beam.actions)
    ):
        text = (
            "an earthquake acts: say whether the beam belongs to the lateral system ('lateral: true' or "
            "'lateral: false'); it was taken not to; detailing for earthquakes "
            f"({code.words.seismic_clause}) is not covered"
        )
        result.append(Message("warning", text))
    return [*result, *_of_bars(beam, forces, layout, placed), *_own_values(code)]


def _of_bars(beam: Beam, forces: Forces, layout: Layout, placed: Placed) -> Iterator[Message]:
    """What a reader has to know of bars that are kept, bent up, or the slab's."""
    if any(bar.held for bar in layout.bars) or any(z.held for z in layout.stirrups):
        yield Message("note", HELD)
    if any(bar.bent_up is not None for bar in layout.bars):
        yield Message("note", BENT_UP)
    if placed.slab is not None:
        x = forces.stations.x
        over = {s.name: float(placed.slab.anchored[np.abs(x - s.x).argmin()]) for s in beam.supports}
        counted = ", ".join(f"{amount(v, 'area')} at {name}" for name, v in over.items() if v > 1.0)
        if counted:
            yield Message("note", f"{SLAB_BARS}: {counted}")


def _suspended(beam: Beam, code: DesignCode, forces: Forces) -> list[Message]:
    """What the beams that carry this one need for it."""
    result = []
    for i, s in enumerate(beam.supports):
        if not s.direct and not beam.given:
            reaction = float(forces.envelopes[code.actions.levels[0]].reaction_max[i])
            steel = amount(code.shear.suspension_steel(beam.stirrups, reaction), "area")
            suspended = f"the beam at {s.name} takes {amount(reaction, 'force')} of this one"
            text = f"{suspended}: suspension stirrups of {steel} required, beside its own"
            result.append(Message("note", text, s.name))
    return result


def _own_values(code: DesignCode) -> list[Message]:
    return [
        Message("note", f"{key} = {value.value:g} is yours, not the code's ({value.clause})")
        for key, value in code.values.items()
        if value.changed
    ]
