"""What is proposed before anything is verified, bar by bar, with what the runners-up would cost and why: for the beams
of `pinned_designs`, and once more as if a verification had asked for much.

`python tests/pinned_proposals.py NAME...` writes the pins of some (or all) anew; a person reads what changed before it is committed.
"""

from __future__ import annotations

import sys
from pathlib import Path

import pinned_designs
from plain_beams import beam, layout_of
from upright_bramble.beam import Beam, Layout
from upright_bramble.pipeline import code_of, run_forces
from upright_bramble.proportion import Needs, NoProposal, Proposal, propose

PINS = Path(__file__).parent / "pins" / "proposals.txt"
SHOWN = 2  # runners-up of each run that are written out; all count in the sum


def _stronger(given: Beam, asked: Needs) -> None:
    """More of everything, by other factors from zone to zone."""
    for i in range(len(given.spans)):
        asked.raise_bending("bottom", i, 1.05 + 0.1 * i)
        asked.raise_shear(i, 1.3 - 0.1 * i)
    for s in range(len(given.supports)):
        asked.raise_bending("top", s, 1.2 - 0.05 * s)
    asked.raise_spacing(len(given.spans) - 1, 1.4)
    asked.raise_through("top", 260.0)
    asked.raise_through("bottom", 140.0)
    asked.tied.add(0)
    asked.number.update(bottom=3, top=4)
    first = given.spans[0]
    asked.cut_offs[first.start + 0.2 * first.length] = 260e3
    asked.cut_offs[given.spans[-1].start + 0.7 * given.spans[-1].length] = 180e3
    asked.legs[0] = 4
    asked.staggered.update(("bottom", "top"))


def _narrower(given: Beam, asked: Needs) -> None:
    """Room beside laps, ends that go farther, fewer and thinner bars."""
    asked.narrow = asked.fewer_marks = True
    asked.crowded.update({("bottom", 0): 1, ("top", len(given.supports) - 1): 2})
    asked.above.add(("top", 1))
    asked.fewer.update(bottom=3, top=3)
    asked.thinner["top"] = 21.0
    asked.slim.add("bottom")
    asked.onward.update(range(len(given.supports)))
    asked.anchored.update({("bottom", len(given.spans) - 1), ("top", 0)})
    asked.across.update(bottom=150.0, top=125.0)
    for size in given.detailing.sizes("bottom"):
        asked.raise_legs("bottom", size, 235.0)
    asked.long_laps.add("top")
    asked.cut_reach = 200.0


KINDS = {"stronger": _stronger, "narrower": _narrower}
FIRST = dict.fromkeys((*pinned_designs.DESIGNS, *pinned_designs.HELD))
AGAIN = {f"{name} {kind}": kind for name in FIRST for kind in [list(KINDS)[len(name) % 2]]}
ALL: dict[str, str | None] = {**FIRST, **AGAIN}


def made(of: str, kind: str | None) -> tuple[Beam, Proposal]:
    """Raises NoProposal where no bars fit."""
    known, around = pinned_designs.HELD.get(of, (of, ""))
    given = beam(pinned_designs.DESIGNS[known])
    held: Layout | None = layout_of(given, around) if around else None
    code, forces = code_of(given), run_forces(given)
    asked = Needs(continuous=code.curtailment.continuity is not None)
    if kind is not None:
        KINDS[kind](given, asked)
    return given, propose(forces.beam, code, forces, asked, held)


def proposed(name: str) -> list[str]:
    """Every entry of a proposal, how many arrangements it is the cheapest of, and by how much."""
    try:
        _, found = made(name.split()[0], ALL[name])
    except NoProposal as error:
        return [f"== {name}: {error}"]
    runs: dict[tuple[str, int, int], list] = {}
    for r in found.runners:
        runs.setdefault((r.face, r.first_span, r.last_span), []).append(r)
    lines = [f"== {name}: cheapest of {found.weighed}", *pinned_designs.entries(found.layout)]
    for (face, first, last), runners in runs.items():
        total = sum(r.cost for r in runners)
        lines.append(f"{face}, spans {first + 1} to {last + 1}: {len(runners)} more, {total:.1f} together")
        for r in runners[:SHOWN]:
            why = ", ".join(f"{part} {more:+.2f}" for part, more in r.because)
            lines.append(
                f"  {r.through} and {r.extra or 'none'}: {r.cost:.2f}, {r.extra_cost:+.2f} by {why or 'nothing'}"
            )
    return lines  # fmt: skip


def write(names: list[str]) -> None:
    pins = {**pinned_designs.stored(PINS), **{name: proposed(name) for name in names}}
    PINS.write_text("".join("\n".join(pins[name]) + "\n\n" for name in ALL), "utf-8")


if __name__ == "__main__":
    write(sys.argv[1:] or list(ALL))
