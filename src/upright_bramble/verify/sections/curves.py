"""Curves of a section: axial force with moment, moments about both axes, moment and curvature. N, mm, MPa."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array
from upright_bramble.section.curvature import moment_at, stiffened
from upright_bramble.section.elastic import cracking_moment, transformed_section
from upright_bramble.section.plane import Member
from upright_bramble.section.strength import ConcreteLaw, SteelLaw
from upright_bramble.section.surface import curve, with_axial
from upright_bramble.verify.sections.bending import is_level, member_of
from upright_bramble.verify.sections.model import CrossSection, ForceSet
from upright_bramble.verify.sections.service import stage_of

TURN = 361  # directions of the curve of both moments
STEPS = 90  # curvatures
LASTING = 0.5  # beta of (7.19) under lasting load


@dataclass(frozen=True)
class BentLine:
    """Moment against curvature under one axial force."""

    axial: float
    label: str
    curvature: Array
    moment: Array


@dataclass(frozen=True)
class Curves:
    """`axial` and `moment` (closed) about the horizontal axis, `axial_y` and `moment_y` about the vertical;
    `both` (M_x, M_y) under the axial force of the set, None where the axis stays level; `bent` lines of
    several axial forces; `stiffened` curvature and moment of the first."""

    axial: Array
    moment: Array
    axial_y: Array
    moment_y: Array
    both: tuple[Array, Array] | None
    bent: tuple[BentLine, ...]
    stiffened: tuple[Array, Array] | None


def _closed(member: Member, theta: float) -> tuple[Array, Array]:
    """Both senses of bending square to a direction, from tension to compression and back; no more than the
    cap on compression."""
    n, m = [], []
    for sense in (0.0, 180.0):
        s = with_axial(member, theta + sense)
        along = s.moment_x if abs(theta) == 90.0 else s.moment_y
        order = slice(None) if sense == 0.0 else slice(None, None, -1)
        n.append(np.minimum(s.axial, member.axial_cap)[order])
        m.append(along[order])
    return np.concatenate(n), np.concatenate(m)


def curves_of(section: CrossSection, code: DesignCode, forces: ForceSet) -> Curves:
    """For a section with bars."""
    member = member_of(section, code)
    n, m = _closed(member, 90.0)
    n_y, m_y = _closed(member, 0.0)
    both = None
    if not is_level(section, forces):
        s, valid = curve(member, forces.axial, np.linspace(0.0, 360.0, TURN))
        if valid.any():
            both = (np.where(valid, s.moment_x, np.nan), np.where(valid, s.moment_y, np.nan))
            both = (both[0][valid], both[1][valid])
    lines = tuple(_bent(section, code, axial) for axial in _forces_of(section, forces))
    uncracked = stiff_line(section, code, forces, lines[0]) if lines else None
    return Curves(n, m, n_y, m_y, both, lines, uncracked)


def _forces_of(section: CrossSection, forces: ForceSet) -> list[float]:
    """The set's own axial force first, then those of two others."""
    return list(dict.fromkeys([forces.axial, *(s.axial for s in section.forces)]))[:3]


def mean_member(section: CrossSection, code: DesignCode) -> Member:
    """With mean or characteristic strengths, for stiffness: the code's diagram for analysis, or a parabola to
    the strength and a rectangle."""
    law = code.materials.mean_law(section.concrete) or parabola(section, code)
    member = member_of(section, code)
    steel = SteelLaw(section.bars_steel.strength, 200_000.0)
    return replace(member, concrete=law, steel=steel, factor=None, narrowing=1.0, axial_cap=np.inf)


def parabola(section: CrossSection, code: DesignCode) -> ConcreteLaw:
    """Parabola and rectangle with the strength of the concrete and the code's modulus at the origin."""
    f_c = section.concrete.strength * (0.8 if code.materials.cube_strengths else 1.0)
    peak = max(2.0 * f_c / code.materials.modulus(section.concrete), 0.0018)

    def share(strain: Array) -> Array:
        part = np.clip(strain / peak, 0.0, 1.0)
        return np.asarray(part * (2.0 - part))

    return ConcreteLaw(f_c, 0.0035, 0.8, share, kinks=(peak,), degree=2)


def _bent(section: CrossSection, code: DesignCode, axial: float) -> BentLine:
    member = mean_member(section, code)
    depths = -section.points[1]
    curvature = np.geomspace(1e-3, 1.0, STEPS) * 0.03 / max(float(depths.max()), 1.0)
    bent = moment_at(member, axial, curvature, 90.0)
    alive = bent.valid & (bent.moment_x > 0.0)
    label = f"N = {axial / 1e3:.4g} kN" if axial else "N = 0"
    return BentLine(axial, label, curvature[alive], bent.moment_x[alive])


def stiff_line(
    section: CrossSection, code: DesignCode, forces: ForceSet, line: BentLine
) -> tuple[Array, Array] | None:
    """Mean curvature with the concrete between cracks, up to yield."""
    if len(line.moment) < 2:
        return None
    x, y, area, _ = section.points
    stage = stage_of(section, code, code.cracking.stage)
    alpha = 200_000.0 / stage.short_modulus
    bars = (x, y, area)
    cracking = cracking_moment(section.shape, bars, alpha, stage.tensile_strength, axial=forces.axial)
    rigidity = stage.short_modulus * transformed_section(section.shape, bars, alpha).i_xx
    member = mean_member(section, code)
    top = int(line.moment.argmax())
    bent = moment_at(member, forces.axial, line.curvature[: top + 1], 90.0)
    return stiffened(bent, cracking, rigidity, LASTING), bent.moment_x
