"""What a reader has to know beside the checks: what fails and how, what was assumed, what seems forgotten."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.beam import Action, Beam, Layout
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.text import amount
from upright_bramble.verify.compatible import movable
from upright_bramble.verify.placement import Placed
from upright_bramble.verify.result import Check, Message

CONGESTED, LEAN = 0.025, 0.0015
BENT_UP = "bent-up bars: their inclined lengths are counted for neither bending nor shear"
SLAB_BARS = "slab bars within the effective flange are counted on in hogging, as continuous over supports"
HELD = "held entries of the layout were kept as they are"
FEW = 11  # stations a span below which a table is too coarse to trust
ASSUMED = (
    "annex {annex}: recommended values and rules are assumed for {values}: those of the annex are not known"
)
GROSS = (
    "vertical springs, hinges or settlement: deflections have moments of gross sections, "
    "'stiffness: cracked' is not followed"
)
SEISMIC = (
    "an earthquake acts: say whether the beam belongs to the lateral system ('lateral: true' or "
    "'lateral: false'); it was taken not to; detailing for earthquakes ({clause}) is not covered"
)


def messages_of(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    layout: Layout,
    placed: Placed,
    checks: list[Check],
    percent: float,
) -> Iterator[Message]:
    """Of a layout that has been judged, the failing checks first; `percent` of tension steel there is at
    most, over the gross section."""
    yield from _failing(checks)
    yield from _share_of_steel(percent / 100.0)
    yield from _of_supports(beam, code, forces)
    yield from (Message("note", text) for text in beam.proposed)
    yield from _of_values(code)
    yield from _of_remarks(beam, checks)
    if beam.service.stiffness == "cracked" and movable(beam) is None:
        yield Message("warning", GROSS)
    yield from _suspended(beam, code, forces)
    yield from (Message("warning", text) for text in (*beam.cautions, *forces.neglected))
    yield from _accepted(beam, checks)
    if beam.given:
        yield from _of_tables(beam, forces)
    else:
        yield from _of_actions(beam, code)
        yield from _of_bars(beam, forces, layout, placed)
    yield from _own_values(code)


def _failing(checks: Iterable[Check]) -> Iterator[Message]:
    """The cures of checks that fail, and of those that would."""
    for c in checks:
        if not c.ok and c.note:
            beside = c.beside or c.severity == "waived"
            level = "fail" if c.severity == "must" else "note" if beside else "warning"
            yield Message(level, f"{c.id}: {c.note}", f"x = {amount(c.x, 'place')}")


def _share_of_steel(share: float) -> Iterator[Message]:
    if share > CONGESTED:
        most = f"maximum reinforcement ratio {100 * share:.1f} %"
        yield Message("warning", f"{most}: congested, a larger section may cost less")
    elif share < LEAN:
        yield Message(
            "note", f"maximum reinforcement ratio {100 * share:.2f} %: the section could be smaller"
        )


def _of_supports(beam: Beam, code: DesignCode, forces: Forces) -> Iterator[Message]:
    """Supports that are pulled up, and fixed ones that bars have to go into."""
    envelope = forces.envelopes[code.actions.levels[0]]
    for s, support in enumerate(beam.supports):
        if envelope.reaction_min[s] < -1.0:
            pull = amount(-envelope.reaction_min[s], "force")
            text = f"support {support.name} is pulled up by {pull}: it must be held down"
            yield Message("warning", text, support.name)
    for s, support in ((0, beam.supports[0]), (-1, beam.supports[-1])):
        end = beam.spans[s].left if s == 0 else beam.spans[s].right
        if support.fixed and end is not None:
            text = f"bars at the fixed support {support.name} are anchored in what it is fixed to"
            yield Message("note", text, support.name)


def _of_values(code: DesignCode) -> Iterator[Message]:
    """Values of an annex that are the code's for want of the annex's."""
    if code.words.assumed:
        values = ", ".join(code.words.assumed)
        yield Message("warning", ASSUMED.format(annex=code.annex, values=values))


def _of_remarks(beam: Beam, checks: Iterable[Check]) -> Iterator[Message]:
    """Remarks of the beam file that name nothing there is."""
    ids = [c.id for c in checks]
    for key in beam.remarks:
        if not any(name == key or name.startswith(f"{key}.") for name in ids):
            text = f"the remark on '{key}' belongs to no check of this beam: `bramble why` lists them"
            yield Message("warning", text)


def _suspended(beam: Beam, code: DesignCode, forces: Forces) -> Iterator[Message]:
    """What the beams that carry this one need for it."""
    for i, s in enumerate(beam.supports):
        if not s.direct and not beam.given:
            reaction = float(forces.envelopes[code.actions.levels[0]].reaction_max[i])
            steel = amount(code.shear.suspension_steel(beam.stirrups, reaction), "area")
            suspended = f"the beam at {s.name} takes {amount(reaction, 'force')} of this one"
            text = f"{suspended}: suspension stirrups of {steel} required, beside its own"
            yield Message("note", text, s.name)


def _accepted(beam: Beam, checks: Iterable[Check]) -> Iterator[Message]:
    for c in checks:
        if beam.accept > 1.0 and c.accepted:
            text = f"{c.id}: a ratio of {c.ratio:.3f} is accepted (accept: {beam.accept:g})"
            yield Message("warning", text)


def _of_tables(beam: Beam, forces: Forces) -> Iterator[Message]:
    """What tables of forces do not have, or have too few of."""
    for level in forces.missing:
        text = f"no {level.replace('_', '-')} forces were given: what needs them is not verified"
        yield Message("warning", text)
    for k in range(len(beam.spans)):
        if any(len(v.x[k]) < FEW for lines in beam.given.values() for v in lines):
            text = f"span {k + 1} has fewer than {FEW} stations in a table: peaks between them are missed"
            yield Message("warning", text)


def _of_actions(beam: Beam, code: DesignCode) -> Iterator[Message]:
    """Actions that may have been forgotten, and what an earthquake asks."""

    def acts(action: Action) -> bool:
        return any(p.first or p.last for p in beam.loads(action))

    if not any(acts(a) for a in beam.actions if a.kind != "permanent"):
        yield Message("warning", "there is no variable action: is one missing?")
    if not any(acts(a) for a in beam.actions if a.kind == "permanent"):
        yield Message("warning", "there is no permanent action: is the self weight missing?")
    clause = code.words.seismic_clause
    if clause and beam.lateral is None and any(a.kind == "earthquake" for a in beam.actions):
        yield Message("warning", SEISMIC.format(clause=clause))


def _of_bars(beam: Beam, forces: Forces, layout: Layout, placed: Placed) -> Iterator[Message]:
    """What a reader has to know of bars that are kept, bent up, or the slab's."""
    if any(bar.held for bar in layout.bars) or any(z.held for z in layout.stirrups):
        yield Message("note", HELD)
    if any(bar.bent_up is not None for bar in layout.bars):
        yield Message("note", BENT_UP)
    if placed.slab is not None:
        x = forces.stations.x
        over = {s.name: float(placed.slab.anchored[np.abs(x - s.x).argmin()]) for s in beam.supports}
        counted = ", ".join(f"{amount(v, 'area')} at {name}" for name, v in over.items() if v > 1.0)
        if counted:
            yield Message("note", f"{SLAB_BARS}: {counted}")


def _own_values(code: DesignCode) -> Iterator[Message]:
    for key, value in code.values.items():
        if value.changed:
            yield Message("note", f"{key} = {value.value:g} is yours, not the code's ({value.clause})")
