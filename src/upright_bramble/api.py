"""The public face for notebooks and scripts. The commands use the same functions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from upright_bramble.analysis import Forces
from upright_bramble.beam import Beam, Layout
from upright_bramble.core.quantities import SYSTEMS, worded
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import read_beam
from upright_bramble.files.layout_file import read_layout as _read_layout
from upright_bramble.pipeline import NoBars, run_check, run_design, run_forces
from upright_bramble.verify import Result, workings
from upright_bramble.working import Working

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.figure import Figure

    from upright_bramble.codes import DesignCode
    from upright_bramble.verify.sections.judge import Verdict
    from upright_bramble.verify.sections.model import CrossSection


def read(path: str | Path) -> Beam:
    """A beam file as a Beam. Raises InputFaults with every fault of the file."""
    return read_beam(path)


def read_layout(path: str | Path, beam: Beam) -> Layout:
    """A layout file for a beam. Raises InputFaults."""
    return _read_layout(path, beam)


def forces(beam: Beam | str | Path) -> Forces:
    """Envelopes of all levels. Raises UnstableLine when the line is a mechanism."""
    return run_forces(_beam(beam))


def design(beam: Beam | str | Path, held: Layout | None = None) -> Result:
    """Proportion bars and stirrups around what is `held`, and verify them.

    The result may fail: look at its `status`, and `suggest` what would cure it. Raises NoBars when no allowed
    bars fit the section at all.
    """
    known = _beam(beam)
    designed = run_design(known, held)
    if designed.result is None:
        raise NoBars(worded(designed.reason, SYSTEMS[known.units]))
    return _in_words(designed.result)


def suggest(
    beam: Beam | str | Path, held: Layout | None = None, *, seconds: float | None = None
) -> tuple[str, ...]:
    """What would cure a beam that fails, each verified in full: the least step of each measure, or what
    `seconds` suffice for."""
    from upright_bramble.suggesting import suggest as seek

    known = _beam(beam)
    return tuple(worded(text, SYSTEMS[known.units]) for text in seek(known, held, seconds=seconds).texts)


def check(beam: Beam | str | Path, layout: Layout | str | Path) -> Result:
    """Verify the bars as given; none is changed."""
    known = _beam(beam)
    return _in_words(run_check(known, layout if isinstance(layout, Layout) else _read_layout(layout, known)))


def why(result: Result, check: str) -> Working:
    """The derivation of a check, by its id: lines of symbol, formula, numbers put in, value, unit, clause.
    Raises KeyError."""
    for collected in workings(result):
        if collected.check == check:
            return collected
    raise KeyError(check)


def design_many(beams: Sequence[Beam | str | Path], *, jobs: int = 1) -> pd.DataFrame:
    """Design many beams, in `jobs` processes; a data frame with a row a beam, in their order.

    Columns: mark, title, verdict, governs, ratio, place, combination, steel_kg, steel_kg_per_m3,
    steel_percent, concrete_m3, cost, carbon_kg, quantity. The results are summarised and let go: memory does
    not grow with their number. Nothing is written; a script that is run as a program needs ``if __name__ ==
    "__main__":`` around it where `jobs` is more than 1.

    Raises InputFaults with all faults of all files.

    >>> from upright_bramble.demo import demo_files
    >>> from upright_bramble.files.beam_file import beam_from
    >>> from upright_bramble.files.yaml_source import parse_yaml
    >>> shelf = beam_from(parse_yaml(demo_files()["boat-shelf.beam.yaml"], "boat-shelf.beam.yaml"))
    >>> design_many([shelf])[["mark", "verdict"]].values.tolist()
    [['BS6', 'pass']]
    """
    from upright_bramble.many import summaries
    from upright_bramble.present.frames import many_frame

    return many_frame(summaries(_all_read(beams), jobs))


def _all_read(beams: Sequence[Beam | str | Path]) -> list[Beam]:
    """Every beam, or InputFaults with the faults of all files."""
    result, faults = [], []
    for beam in beams:
        try:
            result.append(_beam(beam))
        except InputFaults as error:
            faults += error.faults
    if faults:
        raise InputFaults(faults)
    return result


@dataclass(frozen=True)
class JudgedSection:
    """One cross-section with its verdict: `section` as read, `verdict` with checks and gaps, and the same as
    plain `data` (N, mm, MPa)."""

    section: CrossSection
    verdict: Verdict
    code: DesignCode
    units: str

    @property
    def status(self) -> str:
        """'pass', 'incomplete' or 'fail'."""
        return self.verdict.status

    @property
    def data(self) -> dict[str, Any]:
        from upright_bramble.present.section.view import section_data

        return section_data(self.section, self.code, self.verdict)

    def figure(self) -> Figure:
        """Section, strains and stresses, and what it resists, as a Matplotlib figure. Raises ValueError
        without bars."""
        from upright_bramble.present.section.figure import section_figure

        if not self.section.bars:
            raise ValueError("diagrams need bars; give them")
        return section_figure(self.section, self.code, self.units, self.verdict)


def judge_section(given: str | Path | dict[str, Any]) -> JudgedSection:
    """Judge a section file, or the same as plain data. Raises InputFaults with every fault."""
    from upright_bramble.files.section_file import read_section, section_of
    from upright_bramble.verify.sections.judge import judge

    read_, code, units = section_of(given) if isinstance(given, dict) else read_section(given)
    return JudgedSection(read_, judge(read_, code), code, units)


def table(of: Forces | Result, what: str = "") -> pd.DataFrame:
    """Forces: 'strength' (or another level) by station. Result: 'checks', 'bars', 'stirrups' or
    'stations'."""
    from upright_bramble.present.frames import frame

    return frame(of, what)


def figure(of: Result | Forces, beam: Beam | None = None) -> Figure:
    """Diagrams as a Matplotlib figure. Forces alone need their beam."""
    from upright_bramble.files.result_data import result_model
    from upright_bramble.present.diagrams import diagrams
    from upright_bramble.present.forces_diagram import forces_diagram
    from upright_bramble.present.painters import figure as painted

    if isinstance(of, Forces):
        if beam is None:
            raise ValueError("figure(forces) needs the beam as well: figure(forces, beam)")
        return painted(forces_diagram(beam, of))
    return painted(diagrams(result_model(of)))


def _in_words(result: Result) -> Result:
    """Notes and messages with their amounts in the units of the beam's file."""
    system = SYSTEMS[result.beam.units]
    return replace(
        result,
        checks=tuple(replace(c, note=worded(c.note, system)) for c in result.checks),
        messages=tuple(
            replace(m, text=worded(m.text, system), where=worded(m.where, system)) for m in result.messages
        ),
        gaps=tuple(replace(g, reason=worded(g.reason, system)) for g in result.gaps),
    )


def _beam(beam: Beam | str | Path) -> Beam:
    return beam if isinstance(beam, Beam) else read_beam(beam)
