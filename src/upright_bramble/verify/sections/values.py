"""The numbers of a section in the order of a hand calculation: gross section, steel for each set, resistance,
shear, service."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.elastic import transformed_section
from upright_bramble.section.outline import polygon
from upright_bramble.section.strips import Strips
from upright_bramble.text import amount
from upright_bramble.verify.sections.bending import Bent, bent, is_level
from upright_bramble.verify.sections.by_hand import Line, Row, Section, work_out
from upright_bramble.verify.sections.judge import Verdict
from upright_bramble.verify.sections.model import CrossSection, ForceSet, ServiceSet
from upright_bramble.verify.sections.service import Served, cracked_second, short_state

FEW_BARS = 24  # bars whose strains are told one by one


def strips_of(section: CrossSection) -> Strips:
    """The shape as strips from its top, holes left out."""
    rings = [[(float(x), float(-y)) for x, y in ring] for ring in section.shape.rings]
    return polygon(rings[0], rings[1:])


def by_hand(section: CrossSection, forces: ForceSet) -> Section:
    """The section as a hand calculation sees it, bars by rows."""
    rows: dict[tuple[float, float], list[float]] = {}
    for b in section.bars:
        rows.setdefault((round(-b.y, 3), b.diameter), []).append(b.area)
    own = tuple(Row(sum(areas), depth, phi, len(areas)) for (depth, phi), areas in rows.items())
    s = section.stirrups
    cover = section.cover.bottom if forces.moment >= 0.0 else section.cover.top
    return Section(
        title=section.title,
        strips=strips_of(section),
        concrete=section.concrete,
        bars=section.bars_steel,
        stirrups=section.stirrups_steel,
        cover=cover,
        rows=own,
        tie=s.diameter if s else section.tie,
        legs=s.legs if s else 2,
        asw_s=s.legs * s.area / s.spacing if s else 0.0,
        moment=forces.moment,
        shear=forces.shear,
        torque=forces.torque,
        axial=forces.axial,
    )


def gross_lines(section: CrossSection) -> list[Line]:
    """Of the concrete without bars."""
    g, head = section.shape.gross, "the gross section"
    result = [
        Line(head, "depth", "h", section.depth, "length"),
        Line(head, "area", "A_c", g.area, "area"),
        Line(head, "centroid from the top", "y_c", -g.y, "length"),
        Line(head, "second moment about the horizontal axis", "I_x", g.i_xx, "fourth"),
        Line(head, "second moment about the vertical axis", "I_y", g.i_yy, "fourth"),
    ]
    if abs(g.i_xy) > 1e-6 * g.i_xx:
        result += [
            Line(head, "mixed second moment", "I_xy", g.i_xy, "fourth"),
            Line(head, "greater principal second moment", "I_1", g.i_1, "fourth"),
            Line(head, "smaller principal second moment", "I_2", g.i_2, "fourth"),
        ]
    if section.bars:
        area = float(section.points[2].sum())
        result += [
            Line(head, "bars", "A_s", area, "area"),
            Line(head, "ratio of bars", "rho", 100.0 * area / g.area, "percent"),
        ]
    return result


def set_lines(section: CrossSection, code: DesignCode, forces: ForceSet, verdict: Verdict) -> list[Line]:
    """Steel required, resistance, shear and torsion under one set of factored forces."""
    result: list[Line] = []
    if is_level(section, forces) and not section.round:
        result += work_out(by_hand(section, forces), code)
    state = verdict.bending.get(forces.name)
    if state is not None:
        result += bent_lines(section, code, forces, state)
        result += other_axis(section, code, forces)
    return [line for line in result if not math.isnan(line.value)]


def bent_lines(section: CrossSection, code: DesignCode, forces: ForceSet, state: Bent) -> list[Line]:
    """The state at which the moment of resistance is reached."""
    head, r = "resistance of the bars", state.resisted
    clause = code.words.clauses["bending.sagging"].split(",")[0]
    result = []
    if forces.axial:
        result += [
            Line(head, "axial force in compression resisted", "N_R+", state.limits[1], "force", clause),
            Line(head, "in tension", "N_R-", state.limits[0], "force"),
        ]
    if r is None:
        return result
    one_axis = is_level(section, forces)
    if not one_axis or state.lateral:
        result.append(
            Line(
                head,
                "direction along which compression grows, from the right",
                "theta",
                r.theta % 360.0,
                "degrees",
            )
        )
    result += [
        Line(head, "neutral axis depth", "x", state.axis_depth, "length"),
        Line(head, "effective depth along it", "d", state.depth, "length"),
        Line(head, "strain of the compressed edge", "eps_c", state.top_strain, "strain"),
    ]
    if state.factor != 1.0:
        result.append(Line(head, "factor for the strain", "phi", state.factor, "number"))
    if one_axis:
        result.append(
            Line(head, "moment of resistance", code.words.symbol("M_R"), r.moment_x, "moment", clause)
        )
    else:
        result += [
            Line(
                head,
                "moment of resistance along the ray",
                code.words.symbol("M_R"),
                r.moment,
                "moment",
                clause,
            ),
            Line(head, "about the horizontal axis", "M_Rx", r.moment_x, "moment"),
            Line(head, "about the vertical axis", "M_Ry", r.moment_y, "moment"),
        ]
    if state.lateral:
        result.append(
            Line(
                head,
                "lateral moment that what holds the axis level supplies",
                "M_lat",
                state.lateral,
                "moment",
            )
        )
    stated: set[tuple[float, float]] = set()
    for k, b in enumerate(section.bars):
        key = (round(b.y, 3), round(float(state.strains[k]), 9))
        if key in stated or len(stated) >= FEW_BARS:
            continue
        stated.add(key)
        where = f"{amount(-b.y, 'length')} down" + ("" if one_axis else f", {amount(b.x, 'length')} across")
        result.append(Line(head, f"strain of the bars {where}", "eps_s", float(state.strains[k]), "strain"))
        result.append(
            Line(head, "their stress, compression +", "sigma_s", float(state.stresses[k]), "steel stress")
        )
    return result


def other_axis(section: CrossSection, code: DesignCode, forces: ForceSet) -> list[Line]:
    """Of a section that may bend sideways, under a moment about the horizontal axis: what it resists the
    other way, with its axis held level or turning freely."""
    if section.symmetric or forces.about_both:
        return []
    other = "level" if section.axis == "free" else "free"
    r = bent(replace(section, axis=other), code, forces).resisted
    if r is None:
        return []
    head = "with the axis held level" if other == "level" else "with the axis turning freely"
    result = [Line(head, "moment of resistance", code.words.symbol("M_R"), r.moment_x, "moment")]
    if other == "level":
        result.append(
            Line(
                head, "lateral moment that what holds the axis level supplies", "M_lat", r.moment_y, "moment"
            )
        )
    return result


def service_lines(section: CrossSection, code: DesignCode, acting: ServiceSet, state: Served) -> list[Line]:
    """Stresses and cracks under one set in service: with the stage's modulus, and beside it with that of
    short loads."""
    head = f"service, {acting.name}"
    uncracked = transformed_section(
        section.shape, section.points[:3], state.alpha_e, deduct_displaced=section.displaced
    )
    result = [
        Line(head, "ratio of moduli", "alpha_e", state.alpha_e, "number"),
        Line(head, "second moment, uncracked, bars transformed", "I_x,I", uncracked.i_xx, "fourth"),
        Line(head, "cracking moment", "M_cr", state.cracking, "moment"),
    ]
    plane = state.plane
    if plane is None:
        return result
    if state.cracks:
        result.append(
            Line(
                head,
                "second moment, cracked, about the neutral axis",
                "I_II",
                cracked_second(section, plane),
                "fourth",
            )
        )
    corners = plane.at(*section.shape.corners.T)
    result.append(Line(head, "greatest stress of the concrete", "sigma_c", float(corners.max()), "stress"))
    if len(plane.bars):
        result.append(Line(head, "greatest tension of a bar", "sigma_s", state.highest_bar, "steel stress"))
        short = short_state(section, code, acting)
        if short is not None and abs(short.alpha_e - state.alpha_e) > 1e-6:
            stress = float(max(-short.bars.min(initial=0.0), 0.0))
            result.append(Line(head, "the same under short loads", "sigma_s,0", stress, "steel stress"))
            pressed = float(short.at(*section.shape.corners.T).max())
            result.append(Line(head, "of the concrete under short loads", "sigma_c,0", pressed, "stress"))
    if state.cracks:
        left, right = float(section.shape.corners[:, 0].min()), float(section.shape.corners[:, 0].max())
        heights = [-plane.axis_height(x) for x in (left, right)]
        if all(np.isfinite(heights)) and max(abs(h) for h in heights) < 1e3 * section.depth:
            same = abs(heights[0] - heights[1]) < 1e-3
            result.append(
                Line(
                    head,
                    "neutral axis from the top" + ("" if same else ", at the left"),
                    "x",
                    heights[0],
                    "length",
                )
            )
            if not same:
                result.append(Line(head, "at the right", "x", heights[1], "length"))
    if state.state is not None:
        result.append(
            Line(
                head,
                "greatest crack width around the section",
                "w_k",
                float(state.state.width.max()),
                "crack",
            )
        )
    return result
