"""What rules read, and how a check is made."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from upright_bramble.analysis import Forces, Stations
from upright_bramble.analysis.flanges import tension_zone
from upright_bramble.beam import Beam, Entry, Layout
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import ActingSets, CrackState, Face, TensionZone
from upright_bramble.codes.rules import CheckKind, Place, if_fails, worst_of
from upright_bramble.core.bars import counted
from upright_bramble.core.topics import SERVICE
from upright_bramble.errors import InternalMismatch
from upright_bramble.section.arrays import Array, Index, Mask
from upright_bramble.verify.kinds import kinds_of
from upright_bramble.verify.placement import Placed, developed
from upright_bramble.verify.result import MAXIMUM_RATIO, Check, Unverified
from upright_bramble.verify.service import Serviced, compression_ratio, crack_face
from upright_bramble.verify.strength import Strength, acting_sets, stirrup_positions
from upright_bramble.working import made

MAXIMUM_PRECAMBER = 250.0  # of a span over it, that is counted on (EN 1992-1-1, 7.4.1(4))
MINIMUM_HOGGING = "the minimum hogging moment at a support, whatever the loads"


TENSE = 0.01  # of the greatest moment that pulls a face: up to there it is not in tension
NEGLIGIBLE = 2e-3  # of the greatest moment of a span: what no section is judged for


@dataclass(frozen=True)
class Zone:
    """Stations that one check is made for: `face` that is in tension, the span (sagging) or the support
    (hogging) that they belong to."""

    face: str
    place: Place
    where: Mask

    @property
    def bottom(self) -> bool:
        return self.face == "bottom"


@dataclass(frozen=True)
class Facts:
    """What rules read: everything at every station."""

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

    @cached_property
    def acting_sets(self) -> ActingSets | None:
        """Strength forces that act together."""
        return acting_sets(self.code, self.forces, self.placed, self.strength.d_shear)

    @cached_property
    def kinds(self) -> Mapping[str, CheckKind]:
        return kinds_of(self.code)

    @cached_property
    def stirrups(self) -> tuple[Array, Array, Array, Array]:
        """Every stirrup, sorted: place, area of its legs, number of legs, nominal spacing of its zone."""
        return stirrup_positions(self.code, self.layout)

    @cached_property
    def zones(self) -> tuple[Zone, ...]:
        """Spans for sagging, supports for hogging; the middle of a span belongs to both of its supports."""
        at, valid = self.at, self.strength.valid
        away = np.abs(at.x[:, None] - np.array([s.x for s in self.beam.supports]))
        near = away <= away.min(axis=1)[:, None] + 1e-6
        spans = [
            Zone("bottom", Place(span=i, face="bottom"), valid & (at.span == i))
            for i in range(len(self.beam.spans))
        ]
        over = [
            Zone("top", Place(support=s.name, face="top"), valid & near[:, i])
            for i, s in enumerate(self.beam.supports)
        ]
        return (*spans, *over)

    def clear_span(self, index: int) -> Mask:
        """Stations between the faces of a span's supports."""
        low, high = self.beam.clear(index)
        return np.asarray((self.at.span == index) & (self.at.x >= low - 1e-6) & (self.at.x <= high + 1e-6))

    def nearest(self, x: float) -> int:
        """The station next to a place."""
        return int(np.abs(self.at.x - x).argmin())

    def name(self, entry: Entry) -> str:
        """Of an entry of the layout, among others of its mark, or of a part of a bent-up bar."""
        return self.layout.names.get(entry) or self._part_names.get(entry, entry.mark)

    @cached_property
    def _part_names(self) -> Mapping[Entry, str]:
        """Parts in the bottom are called as their bars; those at the top as what is bent up of it."""
        result: dict[Entry, str] = {}
        for entry, own in self.placed.parts.own.items():
            bar, parts = self.placed.entries[entry], [self.placed.bars[g] for g in own]
            name = self.layout.names.get(bar, bar.mark)
            for part in parts:
                side = "" if part.face == "bottom" else "-up-left" if part is parts[0] else "-up-right"
                result[part] = name + side
        return result

    def nearest_of(self, index: int, x: float) -> int:
        """The station of a span next to a place."""
        rows = self.at.of(index)
        return int(rows.start + np.abs(self.at.x[rows] - x).argmin())

    def in_tension(self, zone: Zone) -> Mask:
        """Stations of a zone whose face the envelope puts in tension."""
        raw = self.pulled(zone.bottom)
        return np.asarray(zone.where & (raw > TENSE * max(raw.max(), 1.0)))

    def tension_zone(self, face: str) -> TensionZone:
        """Concrete in tension at a face just before it cracks."""
        return tension_zone(self.at, face)

    def crack_face(self, bottom: bool) -> Face:
        """The bars of a face as cracking sees them."""
        return self._crack_faces[0 if bottom else 1]

    @cached_property
    def _crack_faces(self) -> tuple[Face, Face]:
        return crack_face(self.beam, self.at, self.placed, True), crack_face(
            self.beam, self.at, self.placed, False
        )

    def cracks(self, bottom: bool) -> CrackState:
        """What cracking of a face was judged by."""
        return self.serviced.cracking_bottom if bottom else self.serviced.cracking_top

    def bars_at(self, i: int, face: str) -> str:
        """What lies in a face at a station, in words."""
        p, sizes = self.placed, self.code.sizes
        here = [p.bars[g] for g in np.flatnonzero(p.present[i] > 0.0) if p.bars[g].face == face]
        return "bars at this place: " + (
            ", ".join(counted(b.count, sizes.label(b.size)) for b in here) or "none"
        )

    def once(self, groups: list[int]) -> float:
        """Area of groups of bars, mm2; of two that are lapped with each other one."""
        p = self.placed
        doubles = {lap.second for lap in p.laps if lap.first != lap.second and lap.first in groups}
        return float(p.area[[g for g in groups if g not in doubles]].sum())

    def nominal_moment(self, pull: float, i: int) -> float:
        """At a station with bottom bars of a force `pull` at yield, N mm."""
        stress = self.code.materials.concrete_law(self.beam.concrete).stress
        block = pull / max(stress * float(self.at.sections.flange_width[i]), 1e-9)
        return pull * max(float(self.strength.d_bottom[i]) - 0.5 * block, 0.0)

    def developed(self, face: float, sign: float, bottom: bool) -> tuple[float, float]:
        """Area and number of the bars that develop their yield at a support's face."""
        return developed(self.placed, face, sign, bottom)

    def maximum_gap(self, left: float, right: float, low: float, high: float) -> float:
        """Between stirrups of a clear span from `left` to `right` that reach into the part from `low` to
        `high`, mm."""
        place = self.stirrups[0]
        own = place[(place >= left - 1e-6) & (place <= right + 1e-6)]
        edges = np.concatenate([[left], own, [right]])
        over = (edges[1:] > low + 1.0) & (edges[:-1] < high - 1.0)
        return float(np.diff(edges)[over].max(initial=0.0))

    def with_stirrups(self, index: int) -> Mask:
        """Stations of a clear span; the concrete beyond the last bar end at a free tip is cover, not a
        section without stirrups."""
        low, high = self.beam.ends
        cover = self.beam.cover.sides + 1.0
        return np.asarray(self.clear_span(index) & (self.at.x >= low + cover) & (self.at.x <= high - cover))

    @cached_property
    def thinnest_counted(self) -> Array:
        """Diameter of the thinnest bars in compression where the resistance to bending counts on them, (n,);
        endless elsewhere."""
        return np.minimum(self._counted(True), self._counted(False))

    def _counted(self, sagging: bool) -> Array:
        """Of one sense of bending."""
        s, p = self.strength, self.placed
        demand, r, alone = (
            (s.moment_max, s.positive, s.alone[0]) if sagging else (s.moment_min, s.negative, s.alone[1])
        )
        depth = p.y if sagging else self.at.depth[:, None] - p.y
        pressed = (p.effective > 1.0) & (p.bottom != sagging) & (depth < r.x[:, None])
        counted = (demand > 1e3) & (demand > alone * (1.0 + 1e-6))
        requested = self.required["top_compression" if sagging else "bottom_compression"] > 0.0
        thin = np.where(pressed, p.diameter, np.inf).min(axis=1, initial=np.inf)
        return np.where(counted | requested, thin, np.inf)

    @cached_property
    def pressed_in_row(self) -> Array:
        """Bars in the outermost row of the face that is compressed where its bars count, (n,); lapped ones
        once."""
        s, p = self.strength, self.placed
        counts = np.array([b.count for b in p.bars], dtype=float)
        share = np.where(p.area > 0.0, p.present / np.maximum(p.area, 1e-9), 0.0) * counts * (p.layer == 1.0)
        top, bottom = (share[:, p.bottom == side].sum(axis=1) for side in (False, True))
        sagging, hogging = s.moment_max > s.alone[0], s.moment_min > s.alone[1]
        return np.maximum(np.where(sagging, top, 0.0), np.where(hogging, bottom, 0.0))

    @cached_property
    def compression_ratio(self) -> Array:
        """Compression steel over b d that a span's deflection counts on, (n,)."""
        return compression_ratio(self.beam, self.at, self.placed)

    def allowed_deflection(self, index: int, limit: tuple[float | None, float | None]) -> float:
        """A limit of deflection for a span, mm."""
        span = self.beam.spans[index]
        reference = span.length * (self.beam.service.cantilever if span.cantilever else 1.0)
        return reference / limit[0] if limit[0] else limit[1] or 0.0

    def precamber(self, index: int) -> Array:
        """Of a span, at its stations, mm: a parabola with its rise at mid-span, or at the tip of a
        cantilever."""
        span, rows, given = self.beam.spans[index], self.at.of(index), self.beam.service.precamber
        rise = min(given[index] if given else 0.0, span.length / MAXIMUM_PRECAMBER)
        share = self.at.local[rows] / span.length
        if span.cantilever:
            return np.asarray(rise * (share if span.left is not None else 1.0 - share) ** 2)
        return np.asarray(4.0 * rise * share * (1.0 - share))

    def total_deflection(self, lines: Array, index: int) -> tuple[int, float, float]:
        """Of total lines of a span: the station of the greatest deflection, the deflection, and what is
        permitted, mm."""
        assert self.beam.service.total is not None
        rows = self.at.of(index)
        part = np.maximum(lines[:, rows] - self.precamber(index), 0.0).max(axis=0)
        return (
            rows.start + int(part.argmax()),
            float(part.max()),
            self.allowed_deflection(index, self.beam.service.total),
        )

    def pulled(self, bottom: bool) -> Array:
        """Design moments (n,) that pull a face, positive; negative where they press on it."""
        design = self.forces.design
        return design.moment_max if bottom else -design.moment_min

    def check(
        self,
        kind: str,
        place: Place,
        at: int,
        demand: float,
        resistance: float,
        *,
        note: str = "",
        by: str = "",
        quantity: str = "",
        severity: str = "",
        of: tuple[str, ...] = (),
        detail: Callable[[], None] | None = None,
    ) -> Check:
        """A check of a kind at station `at`; for a minimum the demand is what is required, so that the ratio
        always is demand over resistance. `note` is kept where it fails. `by`: the set of forces behind the
        demand.

        For its derivation: the symbols that are compared (`of`), and what more there is to tell (`detail`).
        Raises InternalMismatch for what is no number.
        """
        known = self.kinds[kind]
        name = f"{kind}.{place.text(known.face)}"
        made(name, of, detail)
        if not math.isfinite(demand) or not math.isfinite(resistance):
            raise InternalMismatch(
                f"internal check failed: {name} gives no finite number; no verdict is given"
            )
        if demand <= 0.0:
            ratio = 0.0
        else:
            ratio = MAXIMUM_RATIO if resistance <= 0.0 else min(demand / resistance, MAXIMUM_RATIO)
        severity = severity or known.severity
        if severity == "must" and known.topic in SERVICE and known.topic in self.beam.waive:
            severity = "waived"
        return Check(
            id=name,
            topic=known.topic,
            span=int(self.at.span[at]) + 1,
            x=float(self.at.x[at]),
            demand=float(demand),
            resistance=float(resistance),
            quantity=quantity or known.quantity,
            ratio=float(ratio),
            ok=bool(ratio <= 1.0 + 1e-9),
            severity=severity,
            clause=self.code.words.clauses.get(kind, ""),
            note=note,
            station=at,
            by=by,
            kind=known,
            place=place,
        )

    def unverified(
        self, kind: str, place: Place, at: int, reason: str = "", *, clause: str = ""
    ) -> Unverified:
        """Something at station `at` that was not verified; without a `reason`: the forces of the lasting
        level are not known."""
        known = self.kinds[kind]
        return Unverified(
            id=f"{kind}.{place.text(known.face)}",
            topic=known.topic,
            span=int(self.at.span[at]) + 1,
            x=float(self.at.x[at]),
            reason=reason or f"no {self.code.actions.lasting_level.replace('_', '-')} forces were given",
            clause=clause or self.code.words.clauses.get(kind, ""),
            kind=known,
            place=place,
        )

    def missing(self, *levels: str) -> bool:
        """Whether the tables do not give one of these levels."""
        return bool(set(levels) & set(self.forces.missing))

    @cached_property
    def tension_along(self) -> bool:
        """Whether the beam is in tension along its axis in service."""
        axial, actions = self.forces.responses.axial, self.code.actions
        levels = {self.code.cracking.level, actions.rare_level, actions.lasting_level}
        return axial is not None and any(
            bool((self.forces.factors[level] @ axial).min() < -1.0) for level in levels
        )

    def origin(self, i: int, face: str) -> str:
        """The set of forces behind the strength envelope at a station: of the moment that pulls a `face`,
        within the reach of its shift; of the shear ('')."""
        e = self.forces.redistributed or self.forces.envelopes[self.code.actions.levels[0]]
        if not face and self.strength.governing_set is not None:
            return e.labels[int(self.strength.governing_set[i])]
        if not face:
            up = e.shear_max[i] >= -e.shear_min[i]
            return e.labels[int((e.shear_.high_by if up else e.shear_.low_by)[i])]
        at = self.at
        near = np.flatnonzero(
            (at.span == at.span[i]) & (np.abs(at.x - at.x[i]) <= self.strength.shift[i] + 1e-6)
        )
        if face == "bottom":
            return e.labels[int(e.moment.high_by[near[e.moment_max[near].argmax()]])]
        if float(self.forces.design.moment_min[near].min()) < float(e.moment_min[near].min()) * 1.001 - 1e3:
            return MINIMUM_HOGGING
        return e.labels[int(e.moment.low_by[near[e.moment_min[near].argmin()]])]


def negligible(moment: Array, span: Index) -> Mask:
    """Where a moment (n,) is nothing beside the greatest of its own span, such as at the last millimetre of a
    free tip."""
    greatest = np.zeros(int(span.max(initial=-1)) + 1)
    np.maximum.at(greatest, span, moment)
    return np.asarray(moment <= np.maximum(1e3, NEGLIGIBLE * greatest[span]))  # N mm


def ratio_of(demand: Array, resistance: Array, span: Index) -> Array:
    """0 where there is no demand to speak of; `span` of each station (n,)."""
    tiny = negligible(demand, span)
    return np.where(tiny, 0.0, demand / np.maximum(resistance, 1e-6))


__all__ = ["Facts", "Zone", "if_fails", "negligible", "ratio_of", "worst_of"]
