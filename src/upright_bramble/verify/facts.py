"""What checks read, and how one is made."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis import Forces, Stations
from upright_bramble.beam import Beam, Layout
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.errors import InternalMismatch
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.verify.placement import Placed
from upright_bramble.verify.result import MOST_RATIO, Check, Unverified
from upright_bramble.verify.service import Serviced
from upright_bramble.verify.strength import Strength
from upright_bramble.verify.topics import SERVICE
from upright_bramble.working import made


@dataclass(frozen=True)
class Facts:
    """What the checks read."""

    beam: Beam
    code: DesignCode
    forces: Forces
    placed: Placed
    strength: Strength
    serviced: Serviced
    required: Mapping[str, Array]
    layout: Layout

    @property
    def at(self) -> Stations:
        return self.forces.stations


def nearest_support(beam: Beam, at: Stations) -> Array:
    """Index of the support that each station belongs to: hogging is judged by support."""
    x = np.array([s.x for s in beam.supports])
    return np.asarray(np.abs(at.x[:, None] - x).argmin(axis=1))


def make(
    f: Facts,
    check: str,
    place: str,
    at: int,
    demand: float,
    resistance: float,
    quantity: str,
    *,
    severity: str = "must",
    note: str = "",
    topic: str | None = None,
    by: str = "",
) -> Check:
    """One check at station `at`. For a minimum the demand is what is asked and the resistance what is there, so that
    the ratio always is demand over resistance."""
    made(f"{check}.{place}")
    if not math.isfinite(demand) or not math.isfinite(resistance):
        raise InternalMismatch(f"internal check failed: {check}.{place} gives no finite number; no verdict is given")
    ratio = 0.0 if demand <= 0.0 else (MOST_RATIO if resistance <= 0.0 else min(demand / resistance, MOST_RATIO))
    topic = topic or check.split(".")[0]
    if severity == "must" and topic in SERVICE and topic in f.beam.waive:
        severity = "waived"
    return Check(
        f"{check}.{place}", topic, int(f.at.span[at]) + 1, float(f.at.x[at]), float(demand),
        float(resistance), quantity, float(ratio), bool(ratio <= 1.0 + 1e-9), severity, f.code.words.clauses.get(check, ""), note, at, by,
    )  # fmt: skip


def unverified(f: Facts, check: str, place: str, at: int, reason: str = "", *, topic: str | None = None, clause: str = "") -> Unverified:
    """Something at station `at` that was not verified; without a `reason`: the forces of the lasting level are not known."""
    reason = reason or f"no {f.code.actions.lasting_level.replace('_', '-')} forces were given"
    return Unverified(
        f"{check}.{place}", topic or check.split(".")[0], int(f.at.span[at]) + 1, float(f.at.x[at]), reason,
        clause or f.code.words.clauses.get(check, ""),
    )  # fmt: skip


def made_by(f: Facts, i: int, face: str) -> str:
    """The set of forces behind the strength envelope at a station: of the moment that pulls a `face`, within the reach of its shift; of the
    shear ('')."""
    e = f.forces.redistributed or f.forces.envelopes[f.code.actions.levels[0]]
    if not face:
        up = e.shear_max[i] >= -e.shear_min[i]
        return e.labels[int((e.shear_.high_by if up else e.shear_.low_by)[i])]
    at = f.at
    near = np.flatnonzero((at.span == at.span[i]) & (np.abs(at.x - at.x[i]) <= f.strength.shift[i] + 1e-6))
    if face == "bottom":
        return e.labels[int(e.moment.high_by[near[e.moment_max[near].argmax()]])]
    if float(f.forces.design.moment_min[near].min()) < float(e.moment_min[near].min()) * 1.001 - 1e3:
        return "the least hogging moment at a support, whatever the loads"
    return e.labels[int(e.moment.low_by[near[e.moment_min[near].argmin()]])]


def ratio_of(demand: Array, resistance: Array) -> Array:
    tiny = demand <= 1e3  # N mm: nothing
    return np.where(tiny, 0.0, demand / np.maximum(resistance, 1e-6))


def worst_of(ratio: Array, where: Mask) -> int | None:
    if not where.any():
        return None
    return int(np.where(where, ratio, -np.inf).argmax())


def zones_of(f: Facts) -> list[tuple[str, str, Mask]]:
    """(face, place, stations): spans for sagging, supports for hogging."""
    at, near = f.at, nearest_support(f.beam, f.at)
    spans = [("bottom", str(i + 1), f.strength.valid & (at.span == i)) for i in range(len(f.beam.spans))]
    supports = [("top", s.name, f.strength.valid & (near == i)) for i, s in enumerate(f.beam.supports)]
    return spans + supports
