"""Sections of any outline in service: stresses under an axial force and two moments, and cracks around the
perimeter."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import CrackState, Stage
from upright_bramble.section.arrays import Array
from upright_bramble.section.elastic import Plane, cracking_moment, elastic_state, moments_of
from upright_bramble.verify.sections.cracks import crack_points, perimeter_points
from upright_bramble.verify.sections.model import CrossSection, ServiceSet


@dataclass(frozen=True)
class Served:
    """A set of forces in service: the uncracked state and, where it cracks, the cracked one (the state that
    counts is `plane`); the cracking moment along its ray; cracks at `points` (p, 2) where the code has a rule
    for these, None where not or where nothing cracks."""

    stage: Stage
    alpha_e: float
    uncracked: Plane
    plane: Plane | None
    cracks: bool
    cracking: float
    points: Array
    state: CrackState | None

    @property
    def highest_bar(self) -> float:
        """Greatest tension of a bar, MPa."""
        return float(max(-self.plane.bars.min(initial=0.0), 0.0)) if self.plane is not None else np.inf


def stage_of(section: CrossSection, code: DesignCode, name: str) -> Stage:
    """Of the concrete, by the notional size of the section."""
    size = 2.0 * section.shape.gross.area / section.shape.perimeter
    return code.service.stages(section.concrete, section.wanted, np.array([size]))[name]


def served(
    section: CrossSection, code: DesignCode, forces: ServiceSet, stage_name: str, *, around: bool = True
) -> Served:
    """The state under a set of forces in service, with the stage's ratio of moduli; cracks `around` the
    section where they are wanted."""
    x, y, area, phi = section.points
    stage = stage_of(section, code, stage_name)
    alpha = float(np.asarray(stage.alpha_e).ravel()[0])
    acting = (forces.axial, forces.moment, forces.moment_y)
    bars = (x, y, 0.0 * area if code.service.gross_uncracked else area)
    uncracked = elastic_state(
        section.shape, bars, acting, alpha, cracked=False, deduct_displaced=section.displaced
    )
    assert uncracked is not None
    ray = (forces.moment, forces.moment_y) if np.hypot(forces.moment, forces.moment_y) > 0.0 else (1.0, 0.0)
    cracking = cracking_moment(section.shape, bars, alpha, stage.tensile_strength, ray, forces.axial)
    cracks = float(uncracked.at(*section.shape.corners.T).min()) < 0.0
    plane: Plane | None = uncracked
    if cracks:  # as the codes have it: stresses are those of the section without concrete in tension
        plane = elastic_state(section.shape, (x, y, area), acting, alpha, deduct_displaced=section.displaced)
    points = perimeter_points(section.shape)
    state = None
    if around and cracks and plane is not None and len(x):
        cover = max(section.cover.top, section.cover.bottom, section.cover.sides) + section.tied
        places = crack_points(section.shape, (x, y, area, phi), plane, points, cover)
        state = code.cracking.around(places, stage, section.wanted)
    return Served(
        stage=stage,
        alpha_e=alpha,
        uncracked=uncracked,
        plane=plane,
        cracks=cracks,
        cracking=cracking,
        points=points,
        state=state,
    )


def short_state(section: CrossSection, code: DesignCode, forces: ServiceSet) -> Plane | None:
    """Cracked where it cracks, with the modulus of the concrete under short loads."""
    x, y, area, _ = section.points
    stage = stage_of(section, code, code.cracking.stage)
    alpha = stage.steel_modulus / stage.short_modulus
    acting = (forces.axial, forces.moment, forces.moment_y)
    uncracked = elastic_state(
        section.shape, (x, y, area), acting, alpha, cracked=False, deduct_displaced=section.displaced
    )
    if uncracked is None or float(uncracked.at(*section.shape.corners.T).min()) >= 0.0:
        return uncracked
    return elastic_state(section.shape, (x, y, area), acting, alpha, deduct_displaced=section.displaced)


def cracked_second(section: CrossSection, plane: Plane) -> float:
    """Second moment of the cracked section, bars transformed, about its neutral axis, mm4 of concrete."""
    slope = float(np.hypot(plane.slope_x, plane.slope_y))
    if slope <= 0.0:
        return 0.0
    x, y, area, _ = section.points
    integral = moments_of(
        section.shape, np.array([plane.origin, plane.slope_x, plane.slope_y]), plane.reference
    )
    p = np.array([plane.origin, plane.slope_x, plane.slope_y]) / slope  # distance from the axis
    arm = p[0] + p[1] * (x - plane.reference[0]) + p[2] * (y - plane.reference[1])
    weight = area * (plane.alpha_e - (1.0 if section.displaced else 0.0) * (arm > 0.0))
    return float(p @ integral @ p + (weight * arm**2).sum())
