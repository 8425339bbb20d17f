"""The balance of forces in a section at its resistance, told layer by layer."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from upright_bramble.codes.parts import PrintedSection
from upright_bramble.section.arrays import Array
from upright_bramble.section.strength import Balance, ConcreteLaw, Resistance, SteelLaw, balance
from upright_bramble.section.strips import Strips
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.strength import compressed_strips
from upright_bramble.working import Line, lines_of, number, record_line, recording


def record_balance(f: Facts, i: int, bottom: bool, resistance: Resistance) -> None:
    """Strain compatibility at station `i` for the neutral axis that the resistance was found with: strains,
    forces, moment."""
    law, steel = f.code.materials.concrete_law(f.beam.concrete), f.code.materials.steel_law(f.beam.bars)
    strips, areas, depths = _section(f, i, bottom)
    x = resistance.x[i : i + 1]
    forces = balance(strips, areas, depths, law, steel, x)
    # what is left of the forces is the axial one, which acts in the centroid
    design = f.forces.design
    axial = (
        float(forces.concrete[0] + forces.bars.sum()) if design.axial_max[i] or design.axial_min[i] else 0.0
    )
    mid, centroid = 0.5 * strips.height, strips.gross()[1]
    moment = float(forces.moment(mid, depths)[0] + axial * (centroid - mid)[0])
    teller = _Teller(f)
    # printed limits of the neutral axis are those without redistribution
    if not axial and (bottom or design.delta[i] >= 1.0 - 1e-9):
        _record_printed(f, strips, areas[0], depths[0], forces, float(x[0]))
    _record_concrete(teller, law, forces, float(x[0]), float(strips.height[0]), axial)
    terms, numbers = _record_bars(teller, law, steel, forces, areas[0], depths[0])
    if axial and abs(float((centroid - mid)[0])) > 1e-6 * float(strips.height[0]):
        teller.given("y_g", float(centroid[0]), "mm", "centroid of the gross section, in which N acts")
        terms.append("N (y_g - h/2)")
        numbers.append(f"({teller.force('N')}) ({teller.text('y_g')} - {teller.text('h/2')})")
    symbol = f.code.words.symbol("M_R")
    capped = (
        _record_lever(teller, law, steel, float(resistance.d[i]), forces, areas[0]) if not axial else moment
    )
    factor = float(f.code.bending.resistance_factor(resistance.steel_strain[i : i + 1], f.beam.bars)[0])
    named = symbol if factor == 1.0 else "M_n"
    head = f"{teller.force('F_c')} ({teller.text('h/2')} - {teller.text('y_c')})"
    teller.worked(
        named, moment, "N mm", " + ".join(["F_c (h/2 - y_c)", *terms]), " + ".join([head, *numbers])
    )
    if capped < moment:
        teller.worked(
            named,
            capped,
            "N mm",
            f"{law.maximum_lever:g} d F_s",
            f"{law.maximum_lever:g} ({teller.text('d')}) ({teller.force('F_s')})",
        )
    if factor != 1.0:
        teller.worked(symbol, factor * moment, "N mm", "phi M_n", f"{factor:.4g} {teller.moment(moment)}")


def _record_printed(f: Facts, strips: Strips, areas: Array, depths: Array, forces: Balance, x: float) -> None:
    """The code's own closed formulas, where it has some for such a section: a second way to nearly the same
    number."""
    section = printed_section(strips, areas, depths, forces.strain[0], x)
    if section is None:
        return
    with recording() as steps:
        moment = f.code.bending.printed_moment(f.beam.concrete, f.beam.bars, section)
    if moment is None:
        return
    *before, last = lines_of(steps, units=f.code.words.units)
    for line in before:
        record_line(line)
    symbol = f"{f.code.words.symbol('M_R')},printed"
    record_line(
        replace(
            last,
            symbol=symbol,
            text=(
                "printed formulas, bars of the tension face at yield; compared below: strain compatibility, "
                "all bars"
            ),
        )
    )


def printed_section(
    strips: Strips, areas: Array, depths: Array, strain: Array, x: float
) -> PrintedSection | None:
    """The section as a rectangle or a T with its flange compressed, with the bars of its two faces; None: it
    is neither, or the neutral axis `x` lies below what is rectangular. `areas`, `depths`, `strain` of layers
    (u,)."""
    real = strips.bottom[0] > strips.top[0]
    widths = np.unique(np.concatenate([strips.upper[0][real], strips.lower[0][real]]).round(6))
    mid = 0.5 * float(strips.height[0])
    pulled, pressed = (depths > mid) & (strain < 0.0), (depths < min(mid, x)) & (strain > 0.0)
    if not areas[pulled].any() or len(widths) > 2 or (strips.upper != strips.lower)[0][real].any():
        return None
    b, h_f = float(strips.upper[0][real][0]), 0.0
    if len(widths) == 2:
        edge = float(strips.bottom[0][real & (strips.upper[0].round(6) == round(b, 6))].max())
        if b < widths.max() and x > edge:
            return None
        h_f = edge if b == widths.max() else 0.0
    b_w = float(widths.min()) if h_f else b
    d = float(np.average(depths[pulled], weights=areas[pulled]))
    d_2 = float(np.average(depths[pressed], weights=areas[pressed])) if areas[pressed].any() else 0.0
    return PrintedSection(b, b_w, h_f, d, float(areas[pulled].sum()), d_2, float(areas[pressed].sum()))


def _record_lever(
    t: _Teller, law: ConcreteLaw, steel: SteelLaw, d: float, forces: Balance, areas: Array
) -> float:
    """Moment at the longest lever arm that the code permits, N mm; endless where it has no such limit."""
    if not np.isfinite(law.maximum_lever):
        return float("inf")
    pull = float(-(np.where(forces.strain[0] < 0.0, areas, 0.0) * steel.stress(forces.strain[0])).sum())
    t.given("d", d, "mm", "effective depth, of the bars in tension")
    t.given("F_s", pull, "N", "tension of the bars")
    return law.maximum_lever * d * pull


def _section(f: Facts, i: int, bottom: bool) -> tuple[Strips, Array, Array]:
    """The section with the compressed face on top, and what is anchored there as layers from that face on:
    (1, u) each."""
    strips = f.at.sections.strips.at(slice(i, i + 1))
    strips = compressed_strips(f.beam, f.code, strips if bottom else strips.turned())
    columns = f.placed.columns if bottom else f.placed.hogging_columns(*f.placed.columns)
    area, y = (v[i] for v in columns)
    local = area > 0.0
    depths = y[local] if bottom else f.at.depth[i] - y[local]
    layers, which = np.unique(np.round(depths, 6), return_inverse=True)
    areas = np.bincount(which, area[local], len(layers)).astype(float)
    return strips, areas[None], np.asarray(layers, dtype=float)[None]


class _Teller:
    """Lines with numbers put in, in the units of the code's formulas."""

    def __init__(self, f: Facts) -> None:
        self.units = f.code.words.units
        self.known: dict[str, float] = {}

    def value(self, value: float, unit: str) -> float:
        return self.units.of(float(value), unit)

    def given(self, symbol: str, value: float, unit: str, text: str) -> None:
        self.known[symbol] = self.value(value, unit)
        record_line(Line(symbol, self.known[symbol], self.units.names.get(unit, unit), text))

    def worked(
        self, symbol: str, value: float, unit: str, formula: str, numbers: str, text: str = ""
    ) -> None:
        self.known[symbol] = self.value(value, unit)
        record_line(
            Line(symbol, self.known[symbol], self.units.names.get(unit, unit), text, formula, numbers)
        )

    def text(self, symbol: str) -> str:
        return number(self.known[symbol])

    def force(self, symbol: str) -> str:
        """With its power of ten, so that the line comes out right by itself."""
        return number(self.known[symbol] / 1e3) + "e3"

    def moment(self, value: float) -> str:
        return number(self.value(value, "N mm") / self.units.large["N mm"])


def _record_concrete(t: _Teller, law: ConcreteLaw, forces: Balance, x: float, h: float, axial: float) -> None:
    if axial:
        t.given("N", axial, "N", "axial force, compression positive")
    t.given("x", x, "mm", "neutral axis, from the compressed face, at which the forces below are in balance")
    t.given("eps_cu", law.ultimate_strain, "", "strain of the concrete at the compressed face")
    compressed = float(forces.concrete[0])
    stress = f"{number(t.value(law.stress, 'MPa'))} {t.units.names.get('MPa', 'MPa')}"
    block = (
        f"block of {stress} over {law.depth_factor:g} x" if law.curve is None else "parabola and rectangle"
    )
    t.given("F_c", compressed, "N", f"concrete: {block}")
    t.given("y_c", float(forces.first[0]) / max(compressed, 1e-9), "mm", "depth of that force")
    t.given("h", h, "mm", "depth of the section")
    t.known["h/2"] = 0.5 * t.known["h"]


def _record_bars(
    t: _Teller, law: ConcreteLaw, steel: SteelLaw, forces: Balance, areas: Array, depths: Array
) -> tuple[list[str], list[str]]:
    """Strain and force of each layer; the terms of the moment, and the same with numbers."""
    terms, numbers = [], []
    for k, g in enumerate(np.flatnonzero(areas > 1.0).tolist(), start=1):
        strain, force, area = float(forces.strain[0, g]), float(forces.bars[0, g]), float(areas[g])
        depth = number(t.value(depths[g], "mm"))
        state = "yields" if abs(strain) * steel.modulus >= steel.yield_stress else "elastic"
        displaced = strain > 0.0 and force < area * steel.stress(np.array([strain]))[0] - 1.0
        state += ", less the concrete displaced" if displaced else ""
        numbers_in = f"{law.ultimate_strain:g} ({t.text('x')} - {depth})/{t.text('x')}"
        t.worked(f"eps_s{k}", strain, "", f"eps_cu (x - d_{k})/x", numbers_in)
        stress = number(t.value(force / area, "MPa"))
        t.worked(
            f"F_s{k}", force, "N", f"A_s{k} sigma_s{k}", f"{number(t.value(area, 'mm2'))} ({stress})", state
        )
        terms.append(f"F_s{k} (h/2 - d_{k})")
        numbers.append(f"({t.force(f'F_s{k}')}) ({t.text('h/2')} - {depth})")
    return terms, numbers
