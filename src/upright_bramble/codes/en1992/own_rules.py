"""Rules of EN 1992-1-1 that other codes do not have: minimum steel for cracks, crack tables, stresses in
service, strength for exposure."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from upright_bramble.codes.en1992.cover import indicative_strength
from upright_bramble.codes.en1992.cracking import CrackingClauses
from upright_bramble.codes.en1992.service import ServiceClauses, bar_stress, concrete_stress
from upright_bramble.codes.rules import CheckKind, Place, Rule, if_fails, worst_of
from upright_bramble.working import dropped, record

if TYPE_CHECKING:
    from upright_bramble.verify.facts import Facts, Zone
    from upright_bramble.verify.result import Check, Judged

CREEPS = "creep is more than in proportion to stress: counted in the deflections (3.1.4(4))"
SPLITS = "cracks along the bars are likely, in this exposure: more depth or compression steel"
PULLED = "tension along the beam in service is not counted in this version"


def _faces(
    kind: str,
    topic: str,
    sought: str,
    quantity: str,
    lesson: str = "",
    severity: str = "must",
    beside: bool = False,
) -> tuple[CheckKind, ...]:
    between = "" if kind.endswith("-") else "."
    return tuple(
        CheckKind(
            id=f"{kind}{between}{face}",
            topic=topic,
            sought=sought.format(face),
            quantity=quantity,
            face=face,
            severity=severity,
            beside=beside,
            lesson=lesson,
        )
        for face in ("bottom", "top")
    )


CRACK_STEEL = _faces(
    "minimum.cracks-",
    "minimum",
    "minimum reinforcement at the {} so that cracks stay fine",
    "area",
    "minimum",
)
CRACK_TABLE = _faces(
    "crack-table",
    "cracking",
    "bars at the {} by the tables for cracks",
    "length",
    severity="advice",
    beside=True,
)
STRESSES = (
    *_faces("bar-stress", "cracking", "stress of the {} bars in service", "steel stress", "cracks"),
    *_faces(
        "concrete-stress",
        "cracking",
        "stress of the concrete in service, {} bars in tension",
        "stress",
        severity="advice",
    ),
    *_faces(
        "concrete-stress-rare",
        "cracking",
        "stress of the concrete under the rare load, {} bars in tension",
        "stress",
        severity="advice",
    ),
)
CONCRETE = CheckKind(
    "cover.concrete", "cover", "strength of the concrete for the exposure", "stress", severity="advice"
)


def own_rules(cracking: CrackingClauses, service: ServiceClauses) -> tuple[Rule, ...]:
    """With what is needed of the parts."""
    return (
        Rule("crack steel", 31, CRACK_STEEL, lambda f: crack_steel(f, cracking)),
        Rule("strength for exposure", 171, (CONCRETE,), strength_for_exposure),
        Rule("crack tables", 211, CRACK_TABLE, lambda f: crack_tables(f, cracking)),
        Rule("stresses", 221, STRESSES, lambda f: stresses(f, service)),
    )


def crack_steel(f: Facts, part: CrackingClauses) -> list[Check]:
    """7.3.2(2), where the envelope puts a face in tension."""
    result: list[Check] = []
    for zone in f.zones:
        provided = f.placed.tension_area(zone.bottom, anchored=False)
        minimum = part.minimum_steel(f.beam.concrete, f.beam.bars, f.tension_zone(zone.face), f.at.depth)
        i = worst_of(minimum / np.maximum(provided, 1e-6), f.in_tension(zone))
        if i is not None and minimum[i] > 0.0:
            record("A_s", float(provided[i]), "mm2", f.bars_at(i, zone.face))
            result.append(f.check(f"minimum.cracks-{zone.face}", zone.place, i, minimum[i], provided[i]))
    return result


def crack_tables(f: Facts, part: CrackingClauses) -> list[Check]:
    """7.3.3(2), beside the calculated width: bars thin enough, or near enough to each other."""
    result: list[Check] = []
    if f.missing(part.level) or f.tension_along:
        return result
    for zone in f.zones:
        c = f.cracks(zone.bottom)
        record("sigma_s", c.stress, "MPa", "stress of the bars in service")
        t = part.table(c.stress, f.crack_face(zone.bottom), f.beam.concrete, f.beam.service)
        thin, near = (
            a / np.maximum(highest, 1e-6) for a, highest in ((t.phi, t.most_phi), (t.spacing, t.most_spacing))
        )
        i = worst_of(np.where(c.demand > 0.0, np.minimum(thin, near), 0.0), zone.where)
        if i is None or c.demand[i] <= 0.0:
            continue
        by_size = thin[i] <= near[i]
        pair = (t.phi[i], t.most_phi[i]) if by_size else (t.spacing[i], t.most_spacing[i])
        record(
            "phi" if by_size else "s_prov",
            pair[0],
            "mm",
            "diameter of the bars" if by_size else "distance of the bars",
        )
        note = if_fails(
            "the tables require thinner bars or nearer ones; the calculated width decides",
            min(thin[i], near[i]) > 1.0,
        )
        result.append(f.check(f"crack-table.{zone.face}", zone.place, i, *pair, note=note))
    return result


def stresses(f: Facts, part: ServiceClauses) -> Judged:
    """7.2: bars under the characteristic level, concrete under the quasi-permanent one."""
    result: Judged = []
    if f.missing(f.code.actions.rare_level, f.code.actions.lasting_level):
        return result
    for zone in f.zones:
        if f.tension_along:
            i = worst_of(np.zeros(len(f.at)), zone.where)
            result += (
                [f.unverified(f"bar-stress.{zone.face}", zone.place, i, PULLED)] if i is not None else []
            )
        else:
            result += [*_bars(f, part, zone), *_concrete(f, part, zone)]
    return result


def _bars(f: Facts, part: ServiceClauses, zone: Zone) -> list[Check]:
    s, face = f.serviced.elastic(zone.bottom), zone.face
    sigma = bar_stress(s.alpha_e, s.rare, s.depth, s.cracked.x, s.cracked.i)
    limit = part.bar_limit(f.beam.bars)
    i = worst_of(sigma, zone.where)
    if i is None or sigma[i] <= 0.0:
        return []
    return [
        f.check(
            f"bar-stress.{face}",
            zone.place,
            i,
            sigma[i],
            limit,
            note=if_fails("more steel lowers it", sigma[i] > limit),
        )
    ]


def _concrete(f: Facts, part: ServiceClauses, zone: Zone) -> list[Check]:
    """Told where the limits are exceeded."""
    result = []
    s = f.serviced.elastic(zone.bottom)
    # then more than bending presses on the concrete: not found here
    squeezed = f.forces.responses.axial is not None
    lasting, rare = part.concrete_limits(f.beam.concrete, f.beam.service.exposure)
    for kind, moment, limit, note in (
        ("concrete-stress", s.lasting, lasting, CREEPS),
        ("concrete-stress-rare", s.rare, rare, SPLITS),
    ):
        sigma = concrete_stress(moment, s.cracked.x, s.cracked.i)
        i = worst_of(sigma, zone.where)
        if i is not None and sigma[i] > limit and not squeezed:
            result.append(
                f.check(
                    f"{kind}.{zone.face}",
                    zone.place,
                    i,
                    sigma[i],
                    limit,
                    note=note,
                    of=("sigma_c", "sigma_c,max"),
                )
            )
    dropped()
    return result


def strength_for_exposure(f: Facts) -> list[Check]:
    """Annex E, informative."""
    exposure, strength = f.beam.service.exposure, f.beam.concrete.strength
    minimum = indicative_strength(exposure) if exposure else 0.0
    if minimum <= 0.0:
        return []
    record("f_ck,there", strength, "MPa", "of the concrete given")
    note = if_fails(f"stronger concrete is usual in {exposure}", strength < minimum)
    return [f.check("cover.concrete", Place(part="beam"), 0, minimum, strength, note=note)]
