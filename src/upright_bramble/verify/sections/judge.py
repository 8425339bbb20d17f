"""The verdict on one section: every check of the code that applies, for each set of forces, and what could
not be verified."""

from __future__ import annotations

import math
from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Web
from upright_bramble.codes.rules import CheckKind
from upright_bramble.section.arrays import Array
from upright_bramble.text import amount
from upright_bramble.verify.result import MAXIMUM_RATIO, Check, Result
from upright_bramble.verify.sections.along import judged, largest_gap, side_levels
from upright_bramble.verify.sections.bending import Bent, bends_as_beam, bent, is_level
from upright_bramble.verify.sections.cross import turned
from upright_bramble.verify.sections.model import CrossSection, ForceSet, ServiceSet
from upright_bramble.verify.sections.room import room
from upright_bramble.verify.sections.service import Served, served

ALONG = (
    "minimum.", "maximum.", "ductility.", "shear.stirrups", "shear.crushing", "torsion.", "skin.", "spacing.",
    "links.",
    "cover.bars", "tension-flange.",
)  # fmt: skip
"""Kinds of checks of a piece of beam that are those of its section."""
SERVICE = ("cracking.", "crack-table.", "bar-stress.", "concrete-stress", "service-stress.")
ACROSS = (
    "shear.stirrups",
    "shear.crushing",
    "torsion.stirrups",
    "torsion.crushing",
    "minimum.stirrups",
    "spacing.stirrups",
    "spacing.legs",
)
COLUMN = (
    "with more than 0.1 f_c A_c it is a column: its minimum bars, ties, slenderness and second-order "
    "effects are not in this version"
)
# share of the resistance in each direction up to which shears in two directions do not count together
BOTH = 0.5
KINDS = {
    k.id: k
    for k in (
        CheckKind("bending", "bending", "bending with axial force", "moment"),
        CheckKind("bending.axial", "bending", "axial force", "force"),
        CheckKind("bending.shear-pull", "bending", "bending with what shear pulls", "moment"),
        CheckKind(
            "bending.other-face", "bending", "what shear pulls in the bars of the other face", "moment"
        ),
        CheckKind("ductility", "ductility", "neutral axis depth over d", "number"),
        CheckKind("shear.both", "shear", "shear in two directions, ratios together", "number"),
        CheckKind("cracking.around", "cracking", "crack width around the section", "crack"),
        CheckKind("bar-stress", "cracking", "stress of the bars in service", "steel stress"),
        CheckKind(
            "concrete-stress", "cracking", "stress of the concrete in service", "stress", severity="advice"
        ),
        CheckKind("fit.bars", "fit", "clear distance of bars required", "length"),
        CheckKind("fit.cover", "cover", "cover of the bars required", "length"),
    )
}


@dataclass(frozen=True)
class Gap:
    """Something that applies and was not verified: of a topic, for a set of forces ('' for all), and why."""

    topic: str
    by: str
    reason: str


@dataclass(frozen=True)
class Verdict:
    """Checks by the set of forces that they are for (`by`; '' for all), what was not verified, and the states
    behind them by set."""

    checks: tuple[Check, ...]
    gaps: tuple[Gap, ...]
    bending: dict[str, Bent]
    service: dict[str, Served]
    pieces: dict[str, Result]

    @property
    def failing(self) -> tuple[Check, ...]:
        return tuple(c for c in self.checks if not c.ok and c.severity == "must")

    @property
    def governing(self) -> Check | None:
        deciding = [c for c in self.checks if c.severity == "must" and not c.beside]
        return max(deciding, key=lambda c: (not c.ok, c.ratio), default=None)

    @property
    def status(self) -> str:
        if self.failing:
            return "fail"
        return "incomplete" if self.gaps else "pass"


def check_of(
    section: CrossSection,
    kind: str,
    demand: float,
    resistance: float,
    clause: str,
    by: str,
    note: str = "",
    severity: str = "",
) -> Check:
    """A check of the section itself; demand and resistance in N, mm, MPa."""
    known = KINDS[kind]
    ratio = (
        0.0
        if demand <= 0.0
        else MAXIMUM_RATIO
        if resistance <= 0.0
        else min(demand / resistance, MAXIMUM_RATIO)
    )
    ok = ratio <= 1.0 + 1e-9
    severity = severity or known.severity
    if known.topic in section.waive and known.topic == "cracking" and not ok:
        severity = "waived"
    return Check(
        id=kind,
        topic=known.topic,
        span=0,
        x=0.0,
        demand=demand,
        resistance=resistance,
        quantity=known.quantity,
        ratio=ratio,
        ok=ok,
        severity=severity,
        clause=clause,
        note=note if not ok else "",
        station=0,
        by=by,
        kind=known,
    )


def judge(section: CrossSection, code: DesignCode) -> Verdict:
    """Every set of strength forces by itself, then those in service, then what does not depend on forces."""
    checks: list[Check] = []
    gaps: list[Gap] = []
    bending: dict[str, Bent] = {}
    pieces: dict[str, Result] = {}
    states: dict[str, Served] = {}
    for forces in section.forces if section.bars else ():
        more, missing, state, piece = strength(section, code, forces)
        checks += more
        gaps += missing
        bending[forces.name] = state
        if piece is not None:
            pieces[forces.name] = piece
    for acting in section.service if section.bars else ():
        more, missing, found, piece = in_service(section, code, acting)
        checks += more
        gaps += missing
        states[acting.name] = found
        if piece is not None:
            pieces[acting.name] = piece
    if section.bars:
        gaps += _levels_missing(section, code)
        checks += room(section, code, check_of)
        gaps += _unknown(section)
    waived = set(section.waive)
    return Verdict(
        tuple(_once(checks)),
        tuple(g for g in dict.fromkeys(gaps) if g.topic not in waived),
        bending,
        states,
        pieces,
    )


def _once(checks: list[Check]) -> list[Check]:
    """Of a kind the worst for each set of forces; of what is the same for all sets once."""
    worst: dict[tuple[str, str], Check] = {}
    for c in checks:
        key = (c.id, c.by)
        if key not in worst or c.ratio > worst[key].ratio:
            worst[key] = c
    result: dict[tuple[str, float, float], Check] = {}
    for c in worst.values():
        same = (c.id, round(c.demand, 6), round(c.resistance, 6))
        result[same] = replace(c, by="") if same in result else c
    return list(result.values())


def _levels_missing(section: CrossSection, code: DesignCode) -> list[Gap]:
    """Of service: what no set at its level lets be verified."""
    if not section.service:
        return []
    missing = []
    for level, what in (
        (code.cracking.level, "crack control"),
        (code.actions.rare_level, "stresses of the bars"),
    ):
        if (
            level == code.actions.rare_level
            and not math.isfinite(code.service.bar_limit(section.bars_steel))
            and level != code.cracking.level
        ):
            continue
        if not any(level_of(code, s) in ("", level) for s in section.service):
            missing.append(Gap("cracking", "", f"{what}: no {level.replace('_', '-')} forces were given"))
    return missing


def _unknown(section: CrossSection) -> list[Gap]:
    """What the input does not say."""
    result = []
    if not section.service:
        result.append(Gap("cracking", "", "no forces in service were given"))
    if not section.forces:
        result.append(Gap("bending", "", "no factored forces were given"))
    return result


def strength(
    section: CrossSection, code: DesignCode, forces: ForceSet
) -> tuple[list[Check], list[Gap], Bent, Result | None]:
    """One set of factored forces."""
    checks: list[Check] = []
    gaps: list[Gap] = []
    piece = None
    if section.round:
        if forces.shear or forces.shear_y or forces.torque:
            gaps.append(
                Gap("shear", forces.name, "the code's rules for webs do not apply to a round section")
            )
    else:
        piece = judged(section, code, forces, ())
        checks += of_piece(section, forces, piece)
        if not bends_as_beam(section, forces):
            gaps.append(Gap("minimum", forces.name, COLUMN))
        elif not is_level(section, forces) and (forces.moment or forces.moment_y):
            gaps.append(
                Gap(
                    "minimum",
                    forces.name,
                    "the code's minimum reinforcement of beams is not applied to bending about an inclined "
                    "axis",
                )
            )
        if (
            forces.shear
            and section.profile.flange is not None
            and any(abs(b.x) > 0.5 * section.profile.width for b in section.bars)
        ):
            gaps.append(
                Gap(
                    "flange",
                    forces.name,
                    "shear between the web and the flange that bars are spread into: it needs the beam",
                )
            )
    pull = 0.0
    twist = piece.facts.strength.twist if piece is not None and piece.facts is not None else None
    if twist is not None and twist.moment is None:
        pull = (
            code.bending.usual_factor
            * float(twist.bars.max())
            * code.materials.steel_law(section.bars_steel).yield_stress
        )
    state = bent(section, code, forces, pull)
    if twist is not None and twist.moment is not None:  # moments that stand for torque, on both faces
        if forces.about_both or not is_level(section, forces):
            gaps.append(
                Gap("torsion", forces.name, "equivalent moments of torsion beside bending about two axes")
            )
        assert piece is not None
        checks += [
            _own(c, forces.name) for c in piece.checks if c.kind.id in ("bending.sagging", "bending.hogging")
        ]
    checks += _bending(section, code, forces, state, pull)
    checks += ductility(section, code, forces, state)
    if piece is not None:
        more, missing = _shear_pull(section, code, forces, state, piece, pull)
        checks += more
        gaps += missing
        if forces.shear_y:
            other, acting, lying = lying_piece(section, code, forces)
            checks += across(section, code, forces, checks, lying)
            more, missing = _shear_pull(other, code, acting, state, lying, pull)
            checks += [replace(c, id=f"{c.id}-across") for c in more]
            gaps += missing
            if forces.shear:
                gaps.append(
                    Gap("bending", forces.name, "what shears in two directions pull in the bars together")
                )
    return checks, gaps, state, piece


def _own(c: Check, by: str) -> Check:
    return replace(c, id=c.kind.id, by=by, span=0, x=0.0)


def of_piece(section: CrossSection, forces: ForceSet, piece: Result) -> list[Check]:
    """Of the piece's checks those of its section, at the faces that the moment pulls."""
    faces = {"bottom"} if forces.moment > 0.0 else {"top"} if forces.moment < 0.0 else set()
    if forces.torque or forces.axial < 0.0:
        faces = {"bottom", "top"}
    level, beam = is_level(section, forces), bends_as_beam(section, forces)
    result = []
    for c in piece.checks:
        kind = c.kind.id
        if not kind.startswith(ALONG) or (c.kind.face and c.kind.face not in faces):
            continue
        if kind.startswith("ductility."):  # found along the gradient
            continue
        if kind.startswith(
            ("minimum.bottom", "minimum.top", "minimum.cracks", "skin.", "tension-flange.")
        ) and not (level and beam):
            continue
        if (
            section.stirrups is None
            and kind in ("minimum.stirrups", "spacing.stirrups", "spacing.legs")
            and not forces.shear
        ):
            continue
        own = _own(c, forces.name)
        if kind in ("torsion.side-spacing", "skin.spacing") and side_levels(section):
            gap = max(largest_gap(section), own.demand)
            own = replace(
                own, demand=gap, ratio=gap / own.resistance, ok=gap <= own.resistance * (1.0 + 1e-9)
            )
        result.append(own)
    return result


def lying_piece(
    section: CrossSection, code: DesignCode, forces: ForceSet
) -> tuple[CrossSection, ForceSet, Result]:
    """The section turned by a right angle, its forces, and what the rules of beams say of it."""
    other = replace(turned(section), axis="free")
    acting = replace(
        forces,
        moment=forces.moment_y,
        moment_y=-forces.moment,
        shear=forces.shear_y,
        shear_y=forces.shear,
        greatest_moment=None,
        greatest_other=None,
    )
    return other, acting, judged(other, code, acting, ())


def across(
    section: CrossSection, code: DesignCode, forces: ForceSet, upright: list[Check], lying: Result
) -> list[Check]:
    """Shear across the section, beside the whole torque, by the rules on the section turned; ratios of both
    directions together (torsion counts in each: safe)."""
    result = [
        replace(_own(c, forces.name), id=f"{c.kind.id}-across")
        for c in lying.checks
        if c.kind.id.startswith(ACROSS)
    ]
    for part_of, limit in (("crushing", 1.0), ("stirrups", 1.5)):
        kinds = (f"shear.{part_of}", f"torsion.{part_of}")
        ratios = [max((c.ratio for c in own if c.kind.id in kinds), default=0.0) for own in (upright, result)]
        if part_of == "crushing" or min(ratios) > BOTH:
            note = "shears in two directions use up the section together"
            part = check_of(
                section,
                "shear.both",
                sum(ratios),
                limit,
                code.words.clauses["shear.crushing"],
                forces.name,
                note,
            )
            result.append(replace(part, id=f"shear.both-{part_of}"))
    return result


def _bending(
    section: CrossSection, code: DesignCode, forces: ForceSet, state: Bent, pull: float
) -> list[Check]:
    clause = code.words.clauses["bending.sagging"].split(",")[0]
    result = []
    if state.axial:
        limit = state.limits[1] if state.axial > 0.0 else -state.limits[0]
        note = "exceeds the axial capacity of the section" + (" with what torsion pulls" if pull else "")
        if state.resisted is None and abs(state.axial) <= limit:
            limit, note = (
                0.0,
                "the bars do not balance this axial force with these moments: more of them at the other face",
            )
        result.append(check_of(section, "bending.axial", abs(state.axial), limit, clause, forces.name, note))
    if state.moment > 0.0:
        if state.resisted is None:
            note = (
                "nothing balances these forces: the axial force leaves no moment of resistance along this ray"
            )
        else:
            note = f"resists {amount(state.resistance, 'moment')}" + (
                " with the axis held level" if state.lateral else ""
            )
        result.append(check_of(section, "bending", state.moment, state.resistance, clause, forces.name, note))
    return result


def ductility(section: CrossSection, code: DesignCode, forces: ForceSet, state: Bent) -> list[Check]:
    """x/d along the gradient of strain, of sections that bend as beams do."""
    if state.resisted is None or not bends_as_beam(section, forces) or not state.moment or state.depth <= 0.0:
        return []
    ratio = float(np.asarray(code.bending.neutral_axis_ratio(state.axis_depth, state.depth, state.outer)))
    limit = float(
        np.asarray(code.bending.neutral_axis_limit(section.concrete, section.bars_steel, section.delta))
    )
    if not math.isfinite(
        ratio
    ):  # strain is even: no axis, and over-reinforced only where all of it is compressed
        ratio = MAXIMUM_RATIO if ratio > 0.0 else 0.0
    note = "compression bars, more depth or stronger concrete: the section is over-reinforced"
    # a compressed section bent about an inclined axis is no beam by the codes' words: told, not decided by
    severity = "advice" if forces.axial > 0.0 and not is_level(section, forces) else ""
    return [
        check_of(
            section,
            "ductility",
            ratio,
            limit,
            code.words.clauses["ductility.sagging"],
            forces.name,
            note,
            severity,
        )
    ]


def _shear_pull(
    section: CrossSection, code: DesignCode, forces: ForceSet, state: Bent, piece: Result, pull: float
) -> tuple[list[Check], list[Gap]]:
    """The moment with what shear adds to the tension of the bars, no more than the greatest moment near by
    where that is known."""
    facts = piece.facts
    if not forces.shear or facts is None or state.resisted is None:
        return [], []
    s, i = facts.strength, len(facts.at) // 2
    size = abs(forces.moment)
    bound = np.full(1, np.inf if forces.greatest_moment is None else max(abs(forces.greatest_moment), size))
    web = _one(s.web, i)

    def acting() -> tuple[Array, Array]:
        return np.array([[abs(forces.shear)]]), np.array([[size]])

    def pulled(bound: Array) -> float:
        with_chord = code.shear.chord_moment(
            section.concrete, section.stirrups_steel, web, acting, np.array([size]), bound
        )
        return max(float(with_chord[0]), size + abs(forces.shear) * float(s.shift[i]))

    demand = min(pulled(bound), float(bound[0]))
    checks, gaps = _other_face(section, code, forces, pull, pulled(np.full(1, np.inf)) - 2.0 * size)
    if demand <= size * (1.0 + 1e-9):
        return checks, gaps
    more = bent(section, code, replace(forces, moment=math.copysign(demand, forces.moment or 1.0)), pull)
    clause = code.words.clauses.get("chord-force.bottom", code.words.clauses["shear.stirrups"])
    note = f"moment with what shear pulls; resists {amount(more.resistance, 'moment')}"
    check = check_of(section, "bending.shear-pull", more.moment, more.resistance, clause, forces.name, note)
    if check.ok or forces.greatest_moment is not None:
        return [check, *checks], gaps
    reason = (
        f"the tension due to shear is equivalent to {amount(demand - size, 'moment')} more, unless no "
        "greater moment is near: give greatest_moment"
    )
    return checks, [*gaps, Gap("bending", forces.name, reason)]


def _other_face(
    section: CrossSection, code: DesignCode, forces: ForceSet, pull: float, demand: float
) -> tuple[list[Check], list[Gap]]:
    """Near a point of zero moment shear pulls both faces: `demand` is the moment of the other sense that
    stands for it, N mm. A check where the greatest one of that sense near by is known; else a gap, where the
    bars would not resist it."""
    known = forces.greatest_other is not None
    if forces.greatest_other is not None:
        demand = min(demand, forces.greatest_other)
    if demand <= 0.0:
        return [], []
    other = bent(section, code, replace(forces, moment=-math.copysign(demand, forces.moment or 1.0)), pull)
    if known:
        clause = code.words.clauses.get("chord-force.bottom", code.words.clauses["shear.stirrups"])
        note = "near a point of zero moment shear pulls the bars of both faces"
        return [
            check_of(section, "bending.other-face", other.moment, other.resistance, clause, forces.name, note)
        ], []
    if other.ratio <= 1.0:
        return [], []
    reason = (
        "the tension due to shear in the bars of the other face is equivalent to "
        f"{amount(demand, 'moment')}, where moments of that sense are near: give greatest_other"
    )
    return [], [Gap("bending", forces.name, reason)]


def _one(web: Web, i: int) -> Web:
    """A web at one station."""
    shape = np.shape(web.d)

    def at(value: Any) -> Array:
        return np.atleast_1d(np.broadcast_to(np.asarray(value, dtype=float), shape)[i])

    parts: dict[str, Any] = {f.name: at(getattr(web, f.name)) for f in fields(web) if f.name != "bar_yield"}
    return replace(web, **parts)


def in_service(
    section: CrossSection, code: DesignCode, acting: ServiceSet
) -> tuple[list[Check], list[Gap], Served, Result | None]:
    """One set of forces in service: by the rules of beams where it bends about a level axis alone, else
    around the section."""
    own = level_of(code, acting)
    plain = (section.axis == "level" or section.symmetric) and not acting.moment_y and not acting.axial
    plain = plain and len(section.shape.rings) == 1 and not section.round
    state = served(section, code, acting, code.cracking.stage, around=not plain)
    if plain:
        piece = judged(
            section, code, ForceSet(acting.name, moment=acting.moment), (replace(acting, level=own),)
        )
        faces = "bottom" if acting.moment >= 0.0 else "top"
        kept = [
            _own(c, acting.name)
            for c in piece.checks
            if c.kind.id.startswith(SERVICE) and c.kind.face == faces
        ]
        return kept, [], state, piece
    return *_around(section, code, acting, own, state), state, None


def level_of(code: DesignCode, acting: ServiceSet) -> str:
    """The level that a set is at; '' for all."""
    return acting.level if acting.level in code.actions.levels else ""


def _around(
    section: CrossSection, code: DesignCode, acting: ServiceSet, own: str, state: Served
) -> tuple[list[Check], list[Gap]]:
    checks: list[Check] = []
    gaps: list[Gap] = []
    name, clauses = acting.name, code.words.clauses
    if state.plane is None:
        return [
            check_of(
                section,
                "bar-stress",
                1.0,
                0.0,
                "",
                name,
                "no cracked state balances these forces: more bars in tension",
            )
        ], []
    if own in ("", code.cracking.level):
        if state.state is not None:
            k = int((state.state.demand / state.state.limit).argmax())
            x, y = state.points[k]
            where = f"at {amount(float(x), 'length')} across and {amount(float(-y), 'length')} down"
            width, limit = float(state.state.demand[k]), float(state.state.limit[k])
            checks.append(
                check_of(section, "cracking.around", width, limit, clauses["cracking.bottom"], name, where)
            )
        elif state.cracks:
            gaps.append(
                Gap(
                    "cracking",
                    name,
                    "the code's crack control is not applied to bending about two axes or odd outlines",
                )
            )
    if own in ("", code.actions.rare_level):
        limit = code.service.bar_limit(section.bars_steel)
        if math.isfinite(limit):
            clause = clauses.get("bar-stress.bottom", "")
            checks.append(
                check_of(
                    section, "bar-stress", state.highest_bar, limit, clause, name, "more bars in tension"
                )
            )
    lasting, rare = code.service.concrete_limits(section.concrete, section.wanted.exposure)
    pressed = float(state.plane.at(*section.shape.corners.T).max())
    for level, limit in ((code.actions.lasting_level, lasting), (code.actions.rare_level, rare)):
        if own in ("", level) and math.isfinite(limit):
            clause = clauses.get("concrete-stress.bottom", "")
            checks.append(
                check_of(
                    section, "concrete-stress", pressed, limit, clause, name, "more depth or compression bars"
                )
            )
    return checks, gaps
