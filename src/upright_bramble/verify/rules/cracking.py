"""Cracks, the user's own limit of stress, side bars of deep webs."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.twist import skin_of
from upright_bramble.codes.rules import Place
from upright_bramble.section.cracked import Elastic
from upright_bramble.verify.facts import Facts, Zone, if_fails, negligible, worst_of
from upright_bramble.verify.result import Check, Judged
from upright_bramble.verify.rules.deflection import PULLED
from upright_bramble.verify.service import stage_at
from upright_bramble.working import record


def cracking(f: Facts) -> Judged:
    """By face and zone."""
    result: Judged = []
    if f.tension_along or f.missing(f.code.cracking.level):
        reason = "" if f.missing(f.code.cracking.level) else PULLED
        for zone in f.zones:
            i = worst_of(np.zeros(len(f.at)), zone.where)
            if i is not None:
                result.append(f.unverified(f"cracking.{zone.face}", zone.place, i, reason))
        return result
    for zone in f.zones:
        result += _of_zone(f, zone)
    return result


def _of_zone(f: Facts, zone: Zone) -> list[Check]:
    result = []
    c = f.cracks(zone.bottom)
    e = f.forces.envelopes[f.code.cracking.level]
    moment = e.moment_max if zone.bottom else -e.moment_min
    judged = zone.where & ~negligible(moment, f.at.span)
    i = worst_of(c.demand / c.limit, judged if judged.any() else zone.where)
    if i is not None and (
        c.quantity == "crack" or c.demand[i] > 0.0
    ):  # bars without tension may stand any distance apart
        note = if_fails("more or thinner bars would close the cracks", c.demand[i] > c.limit[i])
        by = e.labels[int((e.moment.high_by if zone.bottom else e.moment.low_by)[i])]
        result.append(
            f.check(
                f"cracking.{zone.face}",
                zone.place,
                i,
                c.demand[i],
                c.limit[i],
                quantity=c.quantity,
                note=note,
                by=by,
                detail=lambda: record_cracking(f, i, zone.bottom),
            )
        )
    maximum = f.beam.detailing.service_stress
    j = worst_of(c.stress, zone.where)
    if maximum is not None and j is not None:
        note = if_fails("your limit of the stress in service: more steel lowers it", c.stress[j] > maximum)
        detail = lambda: record_stress(f, j, zone.bottom)  # noqa: E731
        result.append(
            f.check(
                f"service-stress.{zone.face}", zone.place, j, c.stress[j], maximum, note=note, detail=detail
            )
        )
    return result


def skin(f: Facts) -> list[Check]:
    """Side bars of deep webs, against cracks that are wider there than at the bars of the tension face."""
    result: list[Check] = []
    for index, rows in enumerate(f.placed.side_rows):
        apart, area, height = skin_of(f.beam, f.code, index, f.placed.tie)
        if not np.isfinite(apart):
            continue
        i, place = f.at.of(index).start, Place(span=index)
        local = height / (rows + 1.0)
        record("h", height, "mm", "height between the corner bars")
        record("rows", rows, "", "of side bars provided")
        result.append(
            f.check(
                "skin.spacing",
                place,
                i,
                local,
                apart,
                note=if_fails("side bars are needed from face to face", local > apart),
            )
        )
        if area > 0.0 and rows:
            low, high = f.beam.clear(index)
            own = (b.size for b in f.layout.sides if b.start < high and b.end > low)
            each = min(f.code.sizes[size].area for size in own)
            record("A_s,sides", area, "mm2", "of both sides in the tension half, required")
            record("A_s", rows * each, "mm2", "of them provided")
            result.append(f.check("skin.area", place, i, area, rows * each))
    return result


# ---------------------------------------------------------------- derivation


def record_cracked(f: Facts, i: int, bottom: bool, level: str) -> tuple[float, Elastic]:
    """Moment of a level and the cracked section at a station."""
    code = f.code
    e = f.serviced.ask.faces(code.cracking.stage).cracked[0 if bottom else 1]
    stage = f.serviced.stages[code.cracking.stage]
    v = f.forces.envelopes[level]
    m = float(v.moment_max[i] if bottom else -v.moment_min[i])
    label = v.labels[int((v.moment.high_by if bottom else v.moment.low_by)[i])]
    one = e.at(slice(i, i + 1))
    alpha = float(np.broadcast_to(stage.alpha_e, (len(f.at),))[i])
    record("M", m, "N mm", f"{level.replace('_', '-')} level: {label}")
    record(
        code.words.symbol("alpha_eff"),
        alpha,
        "",
        "ratio of moduli" + (", with creep" if stage.lasting else ""),
    )
    record(code.words.symbol("x"), float(one.x[0]), "mm", "neutral axis of the cracked section")
    record(
        "I_cr" if code.words.symbol("x") == "c" else "I_II",
        float(one.i[0]),
        "mm4",
        "second moment of the cracked section",
    )
    return m, one


def record_cracking(f: Facts, i: int, bottom: bool) -> None:
    """The code's own judgement once more, at one station."""
    code = f.code
    m, e = record_cracked(f, i, bottom, code.cracking.level)
    face = f.crack_face(bottom).at(slice(i, i + 1))
    record("phi", float(face.phi[0]), "mm", "equivalent diameter")
    record("A_s", float(face.area[0]), "mm2", "bars of this face")
    record("b", float(face.b[0]), "mm", "width of concrete that they control")
    stage = stage_at(f.serviced.stages[code.cracking.stage], len(f.at), i)
    judged = code.cracking.judge(np.array([max(m, 0.0)]), e, stage, face, f.beam.service)
    if judged.quantity == "length":
        record("s_prov", float(face.spacing[0]), "mm", "distance of the bars nearest the face")
    c = f.cracks(bottom)
    if c.demand[i] == 0.0 and judged.demand[0] > 0.0:
        record("w", 0.0, "mm", "the rare load leaves this section uncracked: nothing is required")


def record_stress(f: Facts, i: int, bottom: bool) -> None:
    """Stress of the bars as cracking has it."""
    code = f.code
    m, e = record_cracked(f, i, bottom, code.cracking.level)
    face = f.crack_face(bottom).at(slice(i, i + 1))
    stage = stage_at(f.serviced.stages[code.cracking.stage], len(f.at), i)
    code.cracking.judge(np.array([max(m, 0.0)]), e, stage, face, f.beam.service)
