"""Bending with axial force of a section of any outline, about one axis or two: resistance, ductility, what
shear and torsion pull."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array
from upright_bramble.section.plane import Member, states
from upright_bramble.section.surface import Resisted, along, axial_limits, level
from upright_bramble.verify.sections.model import CrossSection, ForceSet

SLIGHT = 1e-6  # of a moment of resistance
COMPRESSED = 0.1  # of f_c A_c: with more axial force a section is no beam


@dataclass(frozen=True)
class Bent:
    """What forces are resisted by. `moments` after the least eccentricity, `axial` after what torsion pulls;
    `resisted` along their ray (None: nothing balances); the lateral moment that a level axis asks of its
    restraint; neutral axis depth and effective depth along the gradient, strain and depth of the extreme
    bars, strains and stresses of all bars (g,)."""

    moments: tuple[float, float]
    axial: float
    limits: tuple[float, float]
    resisted: Resisted | None
    lateral: float
    axis_depth: float
    depth: float
    outer: float
    height: float
    top_strain: float
    factor: float
    strains: Array
    stresses: Array

    @property
    def moment(self) -> float:
        return float(np.hypot(*self.moments))

    @property
    def ratio(self) -> float:
        """Of the moment to that resisted; endless where nothing balances."""
        if self.resisted is None:
            return np.inf
        return self.moment / max(abs(self.resistance), 1e-9)

    @property
    def resistance(self) -> float:
        if self.resisted is None:
            return 0.0
        return abs(self.resisted.moment_x) if self.lateral else self.resisted.moment


def member_of(section: CrossSection, code: DesignCode) -> Member:
    """The section with its bars and the code's laws, about the centroid of the gross concrete."""
    x, y, area, _ = section.points
    law = code.materials.concrete_law(section.concrete)
    if section.ultimate_strain is not None:
        law = replace(law, ultimate_strain=section.ultimate_strain)
    gross, steel = section.shape.gross, code.materials.steel_law(section.bars_steel)
    if section.hardening is not None:
        ratio, last = section.hardening
        curve = (
            (0.0, steel.yield_stress / steel.modulus, last),
            (0.0, steel.yield_stress, ratio * steel.yield_stress),
        )
        steel = replace(steel, curve=curve, limit_strain=last)

    def factor(strain: Array) -> Array:
        return np.asarray(code.bending.resistance_factor(strain, section.bars_steel))

    constant = bool(np.allclose(factor(np.array([0.0, 0.01])), 1.0))
    corners = section.shape.rings[0]
    least = float(np.ptp(corners, axis=0).min())
    return Member(
        shape=section.shape,
        x=x,
        y=y,
        area=area,
        concrete=law,
        steel=steel,
        reference=(gross.x, gross.y),
        deduct_displaced=section.displaced,
        narrowing=code.materials.narrowing_factor(section.concrete),
        factor=None if constant else factor,
        axial_cap=code.bending.axial_cap(
            section.concrete, section.bars_steel, gross.area, float(area.sum()), least
        ),
    )


def is_level(section: CrossSection, forces: ForceSet) -> bool:
    """Whether the neutral axis stays level: held so, or by symmetry."""
    return not forces.about_both and (section.axis == "level" or section.symmetric)


def designed_for(section: CrossSection, code: DesignCode, forces: ForceSet) -> tuple[float, float]:
    """Moments, with the least eccentricity of a compressing axial force."""
    m = np.array([forces.moment, forces.moment_y])
    size = float(np.hypot(*m))
    if forces.axial <= 0.0:
        return float(m[0]), float(m[1])
    along_x = abs(m[0]) >= abs(m[1])
    height = float(np.ptp(section.shape.rings[0], axis=0)[1 if along_x else 0])
    least = forces.axial * code.bending.minimum_eccentricity(height)
    if size >= least:
        return float(m[0]), float(m[1])
    m = np.array([least, 0.0]) if size < 1e-3 else m * least / size
    return float(m[0]), float(m[1])


def bent(section: CrossSection, code: DesignCode, forces: ForceSet, pull: float = 0.0) -> Bent:
    """`pull`: tension along the section that torsion asks of its bars, N."""
    member = member_of(section, code)
    moments, axial = designed_for(section, code, forces), forces.axial - pull
    limits = axial_limits(member)
    lateral, resisted = 0.0, None
    sign = 1.0 if moments[0] >= 0.0 else -1.0
    if limits[0] <= axial <= limits[1]:
        if not forces.about_both and section.axis == "level":
            resisted = level(member, axial, 90.0 * sign)
            # an axial force on few bars needs a moment: of both senses of bending the other one bounds it
            # from below
            other = level(member, axial, -90.0 * sign)
            low = sign * other.moment_x if other is not None else np.inf
            if resisted is not None and (
                resisted.moment_x * sign < 0.0 or low > abs(moments[0]) + SLIGHT * abs(resisted.moment_x)
            ):
                resisted = None
            lateral = resisted.moment_y if resisted is not None and not section.symmetric else 0.0
        else:
            angle = np.degrees(np.arctan2(moments[1], moments[0])) if np.hypot(*moments) > 0.0 else 0.0
            resisted = along(member, axial, float(angle))
    if resisted is None:
        none = np.zeros(len(section.bars))
        return Bent(moments, axial, limits, None, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 1.0, none, none)
    s = states(member, resisted.theta, resisted.place, bars=True)
    strain, stress = s.bar_strain[0], s.bar_stress[0]
    direction = np.array([np.cos(np.radians(resisted.theta)), np.sin(np.radians(resisted.theta))])
    v = np.stack([member.x, member.y], axis=1) @ direction
    depth = float((section.shape.rings[0] @ direction).max()) - v
    tension = np.where(strain < 0.0, -stress * member.area, 0.0)
    total = float(tension.sum())
    d = float((tension * depth).sum()) / total if total > 0.0 else float(s.height[0])
    longest = member.concrete.maximum_lever * d * total * float(s.factor[0])
    if (
        axial == 0.0 and np.isfinite(longest) and 0.0 < longest < resisted.moment
    ):  # the lever arm is no longer than the code lets it be
        share = longest / resisted.moment
        resisted = replace(resisted, moment_x=share * resisted.moment_x, moment_y=share * resisted.moment_y)
        lateral *= share
    return Bent(
        moments,
        axial,
        limits,
        resisted,
        lateral,
        float(s.axis_depth[0]),
        d,
        float(s.outer[0]),
        float(s.height[0]),
        float(s.top_strain[0]),
        float(s.factor[0]),
        strain,
        stress,
    )


def bends_as_beam(section: CrossSection, forces: ForceSet) -> bool:
    """Little axial force: rules of ductility and of minimum steel of beams apply."""
    return forces.axial < COMPRESSED * section.concrete.strength * section.shape.gross.area
