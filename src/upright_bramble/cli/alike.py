"""`alike`: which beams of a folder could share a design, and what that costs."""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from upright_bramble.beam import Beam
from upright_bramble.beam.alike import shared
from upright_bramble.cli.finding import beam_files
from upright_bramble.cli.making import Wishes
from upright_bramble.cli.many import mapped, read_all
from upright_bramble.cli.output import Call, echo, echo_json, printed
from upright_bramble.files.writing import digest, ready, write_set
from upright_bramble.standardising import Designs, designed, groups, peaks, spread

if TYPE_CHECKING:
    from rich.console import Console


@dataclass(frozen=True)
class Proposal:
    """Beams that could share a design: their marks, how far their forces are apart, steel and money of all of
    them with designs of their own and with the shared one, and the marks of bars that are fixed."""

    mark: str
    beams: tuple[str, ...]
    files: tuple[str, ...]
    quantity: int
    spread: float
    own: Designs
    together: Designs

    @property
    def extra_kg(self) -> float:
        return self.together.steel_kg - self.own.steel_kg

    @property
    def extra_cost(self) -> float:
        return self.together.cost - self.own.cost


def show_alike(
    paths: Sequence[Path],
    within: float,
    write: Path | None,
    jobs: int,
    pattern: str | None,
    root: Path | None,
    as_json: bool,
    quiet: bool,
    colour: bool,
) -> int:
    """0 when there are beams that could share a design, 1 when there are none."""
    files = beam_files(paths, pattern)
    read = list(read_all(files, Wishes(jobs=jobs, root=root)))
    faults = [r.fault for r in read if r.beam is None]
    if faults:
        raise Call("\n".join(faults))
    beams = [r.beam for r in read if r.beam is not None]
    strengths = mapped(peaks, beams, jobs, "" if quiet or as_json else "analysing")
    proposed = groups(beams, strengths, within)
    proposals = _proposals(beams, files, strengths, proposed, jobs, "" if quiet or as_json else "designing")
    if write is not None and proposals:
        _write(write, proposals)
    if as_json:
        echo_json(
            {"within": within, "groups": [_data(p) for p in proposals], "alone": _alone(beams, proposed)}
        )
    elif not quiet:
        from upright_bramble.present.terminal import make_console

        printed(partial(_print, make_console(colour=colour), proposals, _alone(beams, proposed), within))
        if write is not None and proposals:
            echo(f"written to {write}{os.sep}: bramble design {write}")
    return 0 if proposals else 1


def _alone(beams: Sequence[Beam], proposed: Sequence[Sequence[int]]) -> list[str]:
    taken = {i for group in proposed for i in group}
    return [beam.mark for i, beam in enumerate(beams) if i not in taken]


def _proposals(
    beams: Sequence[Beam],
    files: Sequence[Path],
    strengths: Sequence[Any],
    proposed: Sequence[Sequence[int]],
    jobs: int,
    what: str,
) -> list[Proposal]:
    """With the designs that they compare: of every beam by itself, and of each group."""
    marks = _marks(beams, proposed)
    together = [
        shared([(beams[i].mark, beams[i]) for i in group], mark, _title(beams, group))
        for mark, group in zip(marks, proposed, strict=True)
    ]
    members = [i for group in proposed for i in group]
    made = mapped(designed, [*(beams[i] for i in members), *together], jobs, what)
    own = dict(zip(members, made[: len(members)], strict=True))
    result = []
    for mark, group, beam, design in zip(marks, proposed, together, made[len(members) :], strict=True):
        alone = [own[i] for i in group]
        number = [beams[i].quantity for i in group]
        status = "pass" if all(d.status == "pass" for d in alone) else "fail"
        apart = Designs(
            sum(d.steel_kg * n for d, n in zip(alone, number, strict=True)),
            sum(d.cost * n for d, n in zip(alone, number, strict=True)),
            sum(d.marks for d in alone),
            status,
        )
        all_of_them = Designs(
            design.steel_kg * beam.quantity, design.cost * beam.quantity, design.marks, design.status
        )
        names = tuple(beams[i].mark for i in group)
        result.append(
            Proposal(
                mark,
                names,
                tuple(str(files[i]) for i in group),
                beam.quantity,
                spread([strengths[i] for i in group]),
                apart,
                all_of_them,
            )
        )
    return result


def _marks(beams: Sequence[Beam], proposed: Sequence[Sequence[int]]) -> list[str]:
    """A mark of its own for each group: that of its first beam with T (typical) before it."""
    taken = {beam.mark for beam in beams}
    result = []
    for group in proposed:
        mark = f"T-{beams[group[0]].mark}"[:32]
        while mark in taken:
            mark = f"T{mark}"[:32]
        taken.add(mark)
        result.append(mark)
    return result


def _title(beams: Sequence[Beam], group: Sequence[int]) -> str:
    names = [beams[i].mark for i in group]
    return f"{beams[group[0]].title}: {', '.join(names[:6])}" + (
        f" and {len(names) - 6} more" if len(names) > 6 else ""
    )


def _write(folder: Path, proposals: Sequence[Proposal]) -> None:
    """Files of alike beams, that `design` takes; none over one that is there."""
    names = {f"{p.mark.lower()}.beam.yaml": _text(folder, p) for p in proposals}
    ready(folder, list(names))
    existing = [name for name in names if digest(folder / name)]
    if existing:
        raise Call(f"{folder / existing[0]} already exists; write into another folder")
    write_set(folder, "alike", names, seen=dict.fromkeys(names, ""))


def _text(folder: Path, p: Proposal) -> bytes:
    import json

    lines = [
        "bramble: 1",
        f"beam: {json.dumps('Alike beams ' + ', '.join(p.beams), ensure_ascii=False)}",
        f"mark: {p.mark}",
        f"# forces no more than {100 * p.spread:.0f} % apart; {p.extra_kg:+.0f} kg of steel against designs "
        "of their own",
        "envelope_of:",
        *(
            f"  - {json.dumps(Path(os.path.relpath(file, folder)).as_posix(), ensure_ascii=False)}"
            for file in p.files
        ),
    ]
    return ("\n".join(lines) + "\n").encode()


def _data(p: Proposal) -> dict[str, Any]:
    return {
        "mark": p.mark,
        "beams": list(p.beams),
        "files": list(p.files),
        "quantity": p.quantity,
        "spread": round(p.spread, 4),
        "own": {
            "steel_kg": round(p.own.steel_kg, 2),
            "cost": round(p.own.cost, 2),
            "marks": p.own.marks,
            "status": p.own.status,
        },
        "together": {
            "steel_kg": round(p.together.steel_kg, 2),
            "cost": round(p.together.cost, 2),
            "marks": p.together.marks,
            "status": p.together.status,
        },
        "extra_kg": round(p.extra_kg, 2),
        "extra_cost": round(p.extra_cost, 2),
    }


def _print(console: Console, proposals: Sequence[Proposal], alone: Sequence[str], within: float) -> None:
    from rich.table import Table

    from upright_bramble.present.palette import BERRY
    from upright_bramble.present.terminal import plain

    if not proposals:
        console.print(
            plain(console, f"no beams are alike in line and profile with forces within {100 * within:.3g} %")
        )
        return
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    heads = (
        "shared",
        "beams",
        "forces apart",
        "own kg",
        "shared kg",
        "extra",
        "marks",
        "extra cost",
        "verdict",
    )
    for k, name in enumerate(heads):
        table.add_column(plain(console, name), justify="left" if k in (0, 1, 8) else "right", overflow="fold")
    for p in proposals:
        share = p.extra_kg / p.own.steel_kg if p.own.steel_kg else 0.0
        cells = (
            p.mark,
            ", ".join(p.beams),
            f"{100 * p.spread:.0f} %",
            f"{p.own.steel_kg:.0f}",
            f"{p.together.steel_kg:.0f}",
            f"{100 * share:+.0f} %",
            (f"{p.own.marks} to {p.together.marks}"),
            f"{p.extra_cost:+.0f}",
            p.together.status,
        )
        table.add_row(*(plain(console, c) for c in cells))
    console.print(table)
    console.print()
    extra, money = sum(p.extra_kg for p in proposals), sum(p.extra_cost for p in proposals)
    beams, designs = (
        sum(len(p.beams) for p in proposals),
        f"{len(proposals)} design{'s' * (len(proposals) > 1)}",
    )
    console.print(
        plain(
            console,
            f"{beams} beams in {designs}: {extra:+.0f} kg of steel, {money:+.0f} of cost (rates of the "
            "files)",
        )
    )
    if alone:
        more = f" and {len(alone) - 12} more" if len(alone) > 12 else ""
        console.print(plain(console, f"on their own: {', '.join(alone[:12])}{more}"), style="dim")
