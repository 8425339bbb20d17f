"""What the commands do: read, call, write, print."""

from __future__ import annotations

import json
import os
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from upright_bramble.beam import Beam
from upright_bramble.cli.designing import design_all
from upright_bramble.cli.making import Wishes
from upright_bramble.cli.output import Call, echo, echo_json, printed, say
from upright_bramble.core.quantities import SYSTEMS, significant
from upright_bramble.files.beam_file import read_beam
from upright_bramble.files.writing import digest, ready, write_one, write_set

if TYPE_CHECKING:
    from pydantic import BaseModel

    from upright_bramble.codes import DesignCode
    from upright_bramble.present.floor_forces import ForceRow
    from upright_bramble.verify.sections.judge import Verdict
    from upright_bramble.verify.sections.model import CrossSection


def start_file(file: Path, code: str, units: str, force: bool, rules: bool = False) -> Path:
    from upright_bramble.codes import get_code
    from upright_bramble.demo import starter_text

    get_code(code)
    _free(file, force)
    name = file.name.removesuffix(".yaml").removesuffix(".beam")
    write_one(file, starter_text(code, units, name, rules).encode(), force=force)
    return file


def _free(file: Path, force: bool) -> None:
    """Raises Call, or CannotWrite for what cannot be written or is no plain file, before any work is done."""
    ready(file.parent, [file.name])
    if digest(file) and not force:
        raise Call(f"{file} already exists; choose another name, or --force to overwrite it")


def show_forces(
    path: Path,
    level: str,
    action: str | None,
    csv_file: Path | None,
    extremes: bool,
    figure: Path | None,
    force: bool,
    as_json: bool,
    quiet: bool,
    colour: bool,
    root: Path | None = None,
) -> None:
    from upright_bramble.files.tables import forces_csv, has_sets, sets_csv
    from upright_bramble.pipeline import code_of, only_action, only_permanent, run_forces

    kind = figure.suffix.lower().lstrip(".") if figure else ""
    if figure and kind not in ("png", "svg"):
        raise Call(f"{figure}: a figure is .png or .svg")
    for target in (csv_file, figure):
        if target:
            _free(target, force)
    beam = read_beam(path, root)
    full = beam
    permanent = level == "permanent" and action is None
    if permanent:
        beam, level = only_permanent(beam), code_of(beam).actions.rare_level
    if action is not None:
        beam, level = only_action(beam, action), code_of(beam).actions.rare_level
    result = run_forces(beam)
    if level not in result.envelopes:
        raise Call(f"'{level[:40]}' is not a valid level (valid: {', '.join(result.envelopes)})")
    if csv_file and permanent and not extremes:
        write_one(csv_file, sets_csv(run_forces(full), "permanent").encode(), force=force)
    elif csv_file:
        sets = not extremes and has_sets(result, level)
        write_one(csv_file, (sets_csv if sets else forces_csv)(result, level).encode(), force=force)
        if not sets and not extremes and not quiet:
            say(
                "warning: only the extremes were written: the sets of forces are too many, or differ from "
                "place to place"
            )
    if figure:
        from upright_bramble.present.forces_diagram import forces_diagram
        from upright_bramble.present.painters import png, svg_file

        write_one(
            figure, (svg_file if kind == "svg" else png)(forces_diagram(beam, result, level)), force=force
        )
    if as_json:
        echo_json(_forces_data(beam, result))
    elif not quiet:
        from upright_bramble.present.forces_view import forces_summary
        from upright_bramble.present.terminal import make_console

        printed(partial(forces_summary, make_console(colour=colour), beam, result, level, action))


def show_floor_forces(
    files: Sequence[Path], level: str, jobs: int, root: Path | None, as_json: bool, quiet: bool, colour: bool
) -> None:
    """The extremes of several beams in one table."""
    from upright_bramble.cli.many import mapped, read_all
    from upright_bramble.present.floor_forces import force_rows_data, force_rows_table

    read = list(read_all(files, Wishes(jobs=jobs, root=root)))
    faults = [r.fault for r in read if r.beam is None]
    if faults:
        raise Call("\n".join(faults))
    rows = mapped(partial(_force_row, level=level), [r.beam for r in read if r.beam is not None], jobs)
    if as_json:
        echo_json(force_rows_data(rows))
    elif not quiet:
        from upright_bramble.present.terminal import make_console

        printed(partial(force_rows_table, make_console(colour=colour), rows, level))


def _force_row(beam: Beam, level: str) -> ForceRow:
    from upright_bramble.pipeline import code_of, only_permanent, run_forces
    from upright_bramble.present.floor_forces import force_row

    if level == "permanent":
        beam, level = only_permanent(beam), code_of(beam).actions.rare_level
    forces = run_forces(beam)
    if level not in forces.envelopes:
        raise Call(f"{beam.mark}: '{level[:40]}' is not a valid level (valid: {', '.join(forces.envelopes)})")
    return force_row(beam, forces, level)


def list_combinations(path: Path, as_json: bool, colour: bool, root: Path | None = None) -> None:
    from upright_bramble.pipeline import code_of, run_forces

    beam = read_beam(path, root)
    result = run_forces(beam)
    rows = [
        {"level": level, "name": row.combination.name, "arrangement": row.arrangement}
        for level in result.envelopes
        for row in result.rows[level]
    ]
    if as_json:
        echo_json(rows)
        return
    from upright_bramble.present.forces_view import combinations_list
    from upright_bramble.present.terminal import make_console

    printed(partial(combinations_list, make_console(colour=colour), beam, result, code_of(beam)))


def show_codes(name: str | None, annex: str | None, as_json: bool, colour: bool) -> None:
    from upright_bramble.codes import get_code, known_codes

    known = [get_code(key) for key in known_codes()]
    if name is None:
        if as_json:
            echo_json([{"code": c.name, "annexes": list(c.annexes)} for c in known])
        else:
            for c in known:
                annexes = f"annexes: {', '.join(c.annexes)}" if c.annexes else "no annexes"
                required = f"bramble codes {c.name}" + (" --annex NAME" if c.annexes else "")
                echo(f"{c.name:<12} {annexes:<28} its values: {required}")
        return
    code = get_code(name, annex)
    if as_json:
        values = {k: {"value": v.value, "clause": v.clause} for k, v in code.values.items()}
        echo_json(
            {"code": code.name, "annex": code.annex, "values": values, "psi": code.actions.accompanying()}
        )
        return
    from upright_bramble.present.codes_view import code_values
    from upright_bramble.present.terminal import make_console

    printed(partial(code_values, make_console(colour=colour), code))


def _forces_data(beam: Beam, result: Any) -> dict[str, Any]:
    from upright_bramble.files.result_data import envelope_data, numbers, reactions_data

    at, design = result.stations, result.design
    levels: dict[str, Any] = {}
    for level, envelope in result.envelopes.items():
        high, low = result.elastic_deflection(level)
        more = {
            "elastic_deflection_max_mm": numbers(high, 1.0),
            "elastic_deflection_min_mm": numbers(low, 1.0),
        }
        levels[level] = envelope_data(envelope) | more
    return {
        "mark": beam.mark,
        "code_values": dict(beam.code_values),
        "x_mm": numbers(at.x, 1.0, 3),
        "span": [int(v) + 1 for v in at.span],
        "levels": levels,
        "redistributed": None if result.redistributed is None else envelope_data(result.redistributed),
        "design": {
            "moment_max_kNm": numbers(design.moment_max, 1e-6),
            "moment_min_kNm": numbers(design.moment_min, 1e-6),
            "shear_kN": numbers(design.shear, 1e-3),
        },
        "reactions": reactions_data(beam, result),
    }


def run_demo_job(into: Path, jobs: int, quiet: bool, colour: bool) -> int:
    """Write the files of the demo job (what is there stays as it is) and design all of it in one call."""
    from upright_bramble.demo.job import job_files

    ready(into, [])
    by_folder: dict[Path, dict[str, bytes]] = {}
    for name, text in job_files().items():
        path = into / name
        if not os.path.lexists(path):
            by_folder.setdefault(path.parent, {})[path.name] = text.encode()
    for folder, missing in by_folder.items():
        write_set(folder, "demo", missing, seen=dict.fromkeys(missing, ""))
    wishes = Wishes(
        quiet=quiet,
        colour=colour,
        jobs=jobs,
        outputs=("json", "layout"),
        summary=into / "summary.html",
        force=True,
    )
    status = design_all([into], None, wishes)
    if not quiet:
        echo(f"\nThe job is in {into}{os.sep}; its table: {into / 'summary.html'}")
        echo(
            f"next: bramble alike {into} --within 25     bramble bars {into}     bramble report {into} "
            "--depth brief"
        )
    return status


def run_demo(into: Path, jobs: int, quiet: bool, colour: bool) -> int:
    """Copy the demo beams (files that are there stay as they are) and design them all."""
    from upright_bramble.demo import demo_files

    ready(into, [])
    missing = {name: text.encode() for name, text in demo_files().items() if not os.path.lexists(into / name)}
    if missing:
        write_set(into, "demo", missing, seen=dict.fromkeys(missing, ""))
    design_all([into], None, Wishes(quiet=quiet, colour=colour, suggest=True, jobs=jobs))
    if not quiet:
        echo(
            f"\nThe demo's beams and results are in {into}{os.sep}\nOne of them fails on purpose, to show "
            "how that looks."
        )
        echo("One of them by every code: bramble compare boat-shelf.beam.yaml --codes all")
    return 0


def show_section(
    given: Path | dict[str, Any], wishes: SectionWishes, as_json: bool, quiet: bool, colour: bool
) -> int:
    """0 when everything that applies was verified and passes, 1 when not."""
    from upright_bramble.files.section_file import read_section, section_of

    section, code, units = read_section(given) if isinstance(given, Path) else section_of(given)
    return _section(section, code, units, wishes, as_json, quiet, colour)


def show_section_at(
    path: Path, x: str, wishes: SectionWishes, as_json: bool, quiet: bool, colour: bool
) -> int:
    """The same of a designed beam's section at a place; of both sides of a support the right one."""
    from upright_bramble.analysis import analyse
    from upright_bramble.codes import get_code
    from upright_bramble.files.layout_file import read_layout
    from upright_bramble.files.result_reader import find_result
    from upright_bramble.judging import judged
    from upright_bramble.present.place_view import places_of
    from upright_bramble.verify.sections.from_beam import section_at

    reading = find_result(path)
    source = reading.path.parent.parent / reading.data.beam_file
    layout = reading.path.parent / f"{reading.data.beam.mark}.layout.yaml"
    if reading.changed or not reading.data.beam_file or not source.is_file() or not layout.is_file():
        raise Call(
            f"{path}: the beam file and the layout of this result are needed beside it, unchanged; design or "
            "check the beam again"
        )
    beam = read_beam(source)
    code = get_code(beam.code, beam.annex, beam.code_values)
    result = judged(beam, code, analyse(beam, code), read_layout(layout, beam))[1]
    place = places_of(reading.data, x)[-1]
    assert result.facts is not None
    system = SYSTEMS[beam.units]
    low, high = beam.clear(place.span - 1)
    inside = min(max(place.x, low), high)
    moved = ", the face of the support" if inside != place.x else ""
    at = f"{significant(inside / system.factor('span'), 4)} {system.unit('span')}{moved}"
    section = section_at(result.facts, place.x, place.span - 1, f"{beam.mark}  {beam.title}, at {at}")
    return _section(section, code, beam.units, wishes, as_json, quiet, colour)


def _section(
    section: CrossSection,
    code: DesignCode,
    units: str,
    wishes: SectionWishes,
    as_json: bool,
    quiet: bool,
    colour: bool,
) -> int:
    from upright_bramble.present.section.view import section_data, section_summary

    wishes.usable(bool(section.bars) or section.choice is not None)
    section, verdict, notes = _chosen(section, code, units)
    wishes.write(section, code, units, verdict)
    if as_json:
        echo_json({**section_data(section, code, verdict), **({"chosen": notes} if notes else {})})
    elif not quiet:
        from upright_bramble.present.terminal import make_console

        printed(
            partial(section_summary, make_console(colour=colour), section, verdict, code, units, chosen=notes)
        )
    if not section.bars:
        from upright_bramble.present.section.view import beyond

        return 1 if beyond(section, code, verdict) or section.choice is not None else 0
    return 0 if verdict.status == "pass" else 1


def _chosen(section: CrossSection, code: DesignCode, units: str) -> tuple[CrossSection, Verdict, str]:
    """With the bars, or the size, that were wanted; what was chosen in words ('' where nothing was
    wanted)."""
    from upright_bramble.present.section.view import arrangement
    from upright_bramble.verify.sections.choose import choose
    from upright_bramble.verify.sections.judge import judge
    from upright_bramble.verify.sections.least_size import least_size

    wanted, system = section.choice, SYSTEMS[units]
    if wanted is None:
        return section, judge(section, code), ""
    inches = system.unit("section") == "in"
    if wanted.size:
        step = 25.4 if inches else 25.0
        smallest = least_size(section, code, wanted.size, step)
        if smallest is None:
            return section, judge(section, code), f"no {wanted.size} within reason does with these bars"
        size = significant(smallest[0] / system.factor("section"), 4)
        return (
            smallest[1],
            smallest[2],
            f"least {wanted.size} that does with these bars: {size} {system.unit('section')}",
        )
    result = choose(section, code, inches)
    if result.section is None or result.verdict is None:
        return section, judge(section, code), f"nothing chosen: {result.miss}"
    return result.section, result.verdict, arrangement(result.section, code, system)


@dataclass(frozen=True)
class SectionWishes:
    """Files that a section is written to, and whether they may be there already."""

    figure: Path | None = None
    csv: Path | None = None
    report: Path | None = None
    depth: str = "brief"
    force: bool = False

    def usable(self, has_bars: bool) -> None:
        """Raises Call for what cannot be written."""
        for path, kinds in (
            (self.figure, ("png", "svg")),
            (self.csv, ("csv",)),
            (self.report, ("html", "pdf", "md")),
        ):
            if path is None:
                continue
            if path.suffix.lower().lstrip(".") not in kinds:
                raise Call(f"{path}: a file of this sort is {' or '.join('.' + k for k in kinds)}")
            if not has_bars and path is not self.report:
                raise Call("diagrams need bars; give them")
            _free(path, self.force)

    def write(self, section: CrossSection, code: DesignCode, units: str, verdict: Verdict) -> None:
        if self.figure is not None:
            from upright_bramble.present.painters import rendered
            from upright_bramble.present.section.figure import section_figure

            kind = self.figure.suffix.lower().lstrip(".")
            write_one(
                self.figure, rendered(section_figure(section, code, units, verdict), kind), force=self.force
            )
        if self.csv is not None:
            from upright_bramble.present.section.tables import curve_table

            write_one(self.csv, curve_table(section, code, units, verdict).encode(), force=self.force)
        if self.report is not None:
            write_one(
                self.report,
                self._report(section, code, units, verdict, self.report.suffix.lower()),
                force=self.force,
            )

    def _report(
        self, section: CrossSection, code: DesignCode, units: str, verdict: Verdict, kind: str
    ) -> bytes:
        from upright_bramble.present.section import report as paper
        from upright_bramble.version import __version__

        report = paper.section_report(section, code, units, verdict, self.depth, __version__)
        if kind == ".md":
            return paper.markdown(report)
        fonts = "path" if kind == ".pdf" else "none"
        drawings = paper.pictures(section, code, units, verdict, self.depth, fonts)
        return paper.pdf(report, drawings) if kind == ".pdf" else paper.html(report, drawings)


def schema_text(what: str) -> str:
    from upright_bramble.files import layout_models, models
    from upright_bramble.files.alike_file import AlikeFile
    from upright_bramble.files.result_file import ResultFile
    from upright_bramble.files.section_models import SectionFile

    known: dict[str, type[BaseModel]] = {
        "beam": models.BeamFile,
        "rules": models.RulesFile,
        "envelope": AlikeFile,
        "layout": layout_models.LayoutFile,
        "result": ResultFile,
        "section": SectionFile,
    }
    return json.dumps(known[what].model_json_schema(by_alias=True), indent=2, ensure_ascii=False)
