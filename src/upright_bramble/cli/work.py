"""What the commands do: read, call, write, print."""

from __future__ import annotations

import hashlib
import json
import os
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from upright_bramble.beam import Beam, Layout
from upright_bramble.cli import interrupts
from upright_bramble.cli.output import printed
from upright_bramble.errors import BrambleError, KeptLayout
from upright_bramble.files.beam_file import read_beam
from upright_bramble.files.layout_file import edited_by_hand, held_part, layout_text, merged_text, read_layout
from upright_bramble.files.result_file import Origin
from upright_bramble.files.result_reader import input_digest
from upright_bramble.files.writing import write_all, write_one
from upright_bramble.version import __version__

if TYPE_CHECKING:
    from pydantic import BaseModel

    from upright_bramble.verify import Result

SUFFIX = ".beam.yaml"


class Call(BrambleError):
    """The call cannot be used."""


def start_file(file: Path, code: str, units: str, force: bool) -> Path:
    from upright_bramble.codes import get_code
    from upright_bramble.demo import starter_text

    get_code(code)
    _free(file, force)
    write_one(file, starter_text(code, units, file.name.removesuffix(".yaml").removesuffix(".beam")).encode())
    return file


def _free(file: Path, force: bool) -> None:
    if file.exists() and not force:
        raise Call(f"{file} is there already; choose another name, or --force to overwrite it")


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
) -> None:
    from upright_bramble.files.tables import forces_csv, has_sets, sets_csv
    from upright_bramble.pipeline import code_of, only_action, only_permanent, run_forces

    beam = read_beam(path)
    if level == "permanent" and action is None and csv_file and not extremes:
        _free(csv_file, force)
        write_one(csv_file, sets_csv(run_forces(beam), level).encode())
        csv_file = None
    if level == "permanent" and action is None:
        beam, level = only_permanent(beam), code_of(beam).rare_level
    if action is not None:
        beam, level = only_action(beam, action), code_of(beam).rare_level
    found = run_forces(beam)
    if level not in found.envelopes:
        raise Call(f"no level is called '{level}'; levels: {', '.join(found.envelopes)}")
    kind = figure.suffix.lower().lstrip(".") if figure else ""
    if figure and kind not in ("png", "svg"):
        raise Call(f"{figure}: a figure is .png or .svg")
    for target in (csv_file, figure):
        if target:
            _free(target, force)
    if csv_file:
        sets = not extremes and has_sets(found, level)
        write_one(csv_file, (sets_csv if sets else forces_csv)(found, level).encode())
        if not sets and not extremes and not quiet:
            click.echo("warning: only the extremes were written: the sets of forces are too many, or differ from place to place", err=True)
    if figure:
        from upright_bramble.present.figures import forces_figure, rendered

        write_one(figure, rendered(forces_figure(beam, found, level), kind))
    if as_json:
        click.echo(json.dumps(_forces_data(beam, found), ensure_ascii=False))
    elif not quiet:
        from upright_bramble.present.terminal import forces_summary, make_console

        forces_summary(make_console(colour=colour), beam, found, level, action)


def list_combinations(path: Path, as_json: bool, colour: bool) -> None:
    from upright_bramble.pipeline import code_of, run_forces

    beam = read_beam(path)
    found = run_forces(beam)
    rows = [
        {"level": level, "name": row.combination.name, "arrangement": row.arrangement}
        for level in found.envelopes
        for row in found.rows[level]
    ]
    if as_json:
        click.echo(json.dumps(rows, ensure_ascii=False))
        return
    from upright_bramble.present.terminal import combinations_list, make_console

    combinations_list(make_console(colour=colour), beam, found, code_of(beam))


def show_codes(name: str | None, annex: str | None, as_json: bool, colour: bool) -> None:
    from upright_bramble.codes import get_code, known_codes

    known = [get_code(key) for key in known_codes()]
    if name is None:
        if as_json:
            click.echo(json.dumps([{"code": c.name, "annexes": list(c.annexes)} for c in known]))
        else:
            for c in known:
                annexes = f"annexes: {', '.join(c.annexes)}" if c.annexes else "no annexes"
                asked = f"bramble codes {c.name}" + (" --annex NAME" if c.annexes else "")
                click.echo(f"{c.name:<12} {annexes:<28} its values: {asked}")
        return
    code = get_code(name, annex)
    if as_json:
        values = {k: {"value": v.value, "clause": v.clause} for k, v in code.values.items()}
        click.echo(json.dumps({"code": code.name, "annex": code.annex, "values": values, "psi": code.accompanying()}))
        return
    from upright_bramble.present.terminal import code_values, make_console

    code_values(make_console(colour=colour), code)


def _forces_data(beam: Beam, found: Any) -> dict[str, Any]:
    from upright_bramble.files.result_file import envelope_data, numbers, reactions_data

    at, design = found.stations, found.design
    levels: dict[str, Any] = {}
    for level, envelope in found.envelopes.items():
        high, low = found.elastic_deflection(level)
        more = {"elastic_deflection_max_mm": numbers(high, 1.0), "elastic_deflection_min_mm": numbers(low, 1.0)}
        levels[level] = envelope_data(envelope) | more
    return {
        "mark": beam.mark,
        "code_values": dict(beam.code_values),
        "x_mm": numbers(at.x, 1.0, 3),
        "span": [int(v) + 1 for v in at.span],
        "levels": levels,
        "redistributed": None if found.redistributed is None else envelope_data(found.redistributed),
        "design": {
            "moment_max_kNm": numbers(design.moment_max, 1e-6),
            "moment_min_kNm": numbers(design.moment_min, 1e-6),
            "shear_kN": numbers(design.shear, 1e-3),
        },
        "reactions": reactions_data(beam, found),
    }


@dataclass(frozen=True)
class _Job:
    """One beam to design: where from, where to, around what; the layout that was there `before`, to be mended or replaced."""

    path: Path
    folder: Path
    beam: Beam
    held: Layout | None
    backup: tuple[Path, bytes] | None
    figures: bool
    before: Layout | None = None
    mend: bool = False


def design_all(
    paths: Sequence[Path],
    into: Path | None,
    fresh: bool,
    jobs: int,
    figures: bool,
    as_json: bool,
    quiet: bool,
    colour: bool,
    alternatives: int = 0,
    mend: bool = False,
) -> int:
    """0 when every beam passes, 1 when a check fails or something was not verified.

    Faults of any input stop all before anything is written."""
    if fresh and mend:
        raise Call("--fresh starts over and --mend keeps what there is: give one of them")
    work = _prepare(_beam_files(paths), into, fresh, figures, mend)
    results: list[tuple[_Job, Result | None, str]] = []
    for number, (job, outcome) in enumerate(_run(work, jobs, quiet or as_json)):
        results.append((job, *outcome))
        if not as_json and not quiet:
            printed(partial(_print_result, job, *outcome, colour=colour, first=number == 0, alternatives=alternatives))
    if as_json:
        from upright_bramble.files.result_file import result_data

        data = [
            result_data(r, _origin(job)) if r is not None else {"mark": job.beam.mark, "verdict": {"status": "fail"}, "reason": why}
            for job, r, why in results
        ]
        printed(partial(click.echo, json.dumps(data[0] if len(data) == 1 else data, ensure_ascii=False)))
    return 0 if all(r is not None and r.status == "pass" for _, r, _ in results) else 1


def _beam_files(paths: Sequence[Path]) -> list[Path]:
    found: list[Path] = []
    for path in paths:
        if path.is_dir():
            inside = sorted(path.glob(f"*{SUFFIX}"))
            if not inside:
                raise Call(f"{path}: there is no *{SUFFIX} file in this folder")
            found += inside
        elif not path.exists():
            raise Call(f"{path}: there is no such file")
        else:
            found.append(path)
    return list(dict.fromkeys(found))


def _prepare(paths: Sequence[Path], into: Path | None, fresh: bool, figures: bool, mend: bool) -> list[_Job]:
    """Read everything, tell all faults of all files at once, write nothing."""
    faults: list[str] = []
    jobs: list[_Job] = []
    folders: dict[Path, Path] = {}
    for path in paths:
        try:
            beam = read_beam(path)
            folder = (into if into is not None else path.parent) / beam.mark
            if folder in folders:
                raise Call(f"{path}: the mark '{beam.mark}' is also that of {folders[folder]}; both would write {folder}")
            folders[folder] = path
            before, backup = _existing(folder, beam, fresh or mend)
            held = held_part(before) if before is not None and not mend else None
            told = before if backup is not None or (held is not None and (held.bars or held.stirrups or held.sides)) or mend else None
            jobs.append(_Job(path, folder, beam, held, backup, figures, told, mend and before is not None))
        except BrambleError as error:
            faults.append(str(error))
    if faults:
        raise Call("\n".join(faults))
    return jobs


def _existing(folder: Path, beam: Beam, asked: bool) -> tuple[Layout | None, tuple[Path, bytes] | None]:
    """A layout that is there, and the backup to keep of one that a hand has edited."""
    file = folder / f"{beam.mark}.layout.yaml"
    if not file.exists():
        return None, None
    raw = file.read_bytes()
    if not edited_by_hand(raw.decode("utf-8", "replace")):
        return read_layout(file, beam), None
    if not asked:
        raise KeptLayout(
            f"{file}: was edited by hand and is not overwritten; `bramble check` verifies it as it is, `bramble design --mend` adds "
            "only what it lacks, `bramble design --fresh` designs anew (entries held: true stay, this file is kept under a number)"
        )
    number = 1
    while (backup := folder / f"{beam.mark}.layout.{number}.yaml").exists():
        number += 1
    return read_layout(file, beam), (backup, raw)


def _run(work: list[_Job], jobs: int, silent: bool) -> Any:
    """Jobs in order with their outcomes, designed one by one or side by side, with a progress bar for many."""
    if len(work) == 1 or jobs == 1:
        outcomes: Any = map(_design_one, work)
        pool = None
    else:
        from concurrent.futures import ProcessPoolExecutor
        from multiprocessing import get_context

        pool = ProcessPoolExecutor(min(jobs, len(work)), mp_context=get_context("spawn"))
        outcomes = pool.map(_design_one, work)
    try:
        if silent or len(work) == 1:
            for pair in zip(work, outcomes, strict=True):
                interrupts.look()
                yield pair
            return
        from rich.progress import Progress

        from upright_bramble.present.terminal import make_console

        with Progress(console=make_console(stderr=True), transient=True) as bar:
            task = bar.add_task("designing", total=len(work))
            for pair in zip(work, outcomes, strict=True):
                interrupts.look()
                bar.advance(task)
                yield pair
    finally:
        if pool is not None:
            pool.shutdown(cancel_futures=True)


def _design_one(job: _Job) -> tuple[Any, str]:
    """Design and write; (result, '') or (None, why there are no bars)."""
    from upright_bramble.files.amounts import worded
    from upright_bramble.mending import run_mend
    from upright_bramble.pipeline import run_design
    from upright_bramble.units import SYSTEMS

    designed = run_mend(job.beam, job.before) if job.mend and job.before is not None else run_design(job.beam, job.held)
    if designed.result is None:
        words = "; ".join([designed.reason, *(f"suggestion: {c}" for c in designed.cures)])
        return None, worded(words, SYSTEMS[job.beam.units])
    name = f"{job.beam.mark}.layout.yaml"
    layout = layout_text(job.beam, designed.result.layout, f"Upright Bramble {__version__}").encode()
    if job.mend and job.before is not None:
        old = (job.folder / name).read_text("utf-8")
        if edited_by_hand(old):
            layout = merged_text(old, job.before, job.beam, designed.result.layout, f"Upright Bramble {__version__}").encode()
    contents = _outputs(designed.result, Origin(job.path.name, input_digest(job.path), _sha(layout)), figures=job.figures)
    contents[name] = layout
    if job.backup:
        contents = {job.backup[0].name: job.backup[1], **contents}
    write_all(job.folder, contents)
    return designed.result, ""


def _origin(job: _Job) -> Origin:
    layout = layout_file(job)
    return Origin(job.path.name, input_digest(job.path), _sha(layout.read_bytes()) if layout.is_file() else "")


def layout_file(job: _Job) -> Path:
    return job.folder / f"{job.beam.mark}.layout.yaml"


def _outputs(result: Result, origin: Origin, *, figures: bool) -> dict[str, bytes]:
    """Every file of a result folder but the layout, by name."""
    from upright_bramble.files.result_file import ResultFile, result_data, to_json
    from upright_bramble.present.schedule import schedule_csv, schedule_of

    mark = result.beam.mark
    data = result_data(result, origin)
    issued = ResultFile.model_validate(data)
    schedule = schedule_of(issued)
    found = {f"{mark}.result.json": to_json(data).encode(), f"{mark}.bars.csv": schedule_csv(schedule).encode()}
    if figures:
        from upright_bramble.present.drawing import sheets_of
        from upright_bramble.present.drawing.writers import dxf
        from upright_bramble.present.figures import diagrams, rendered
        from upright_bramble.present.report import report_of
        from upright_bramble.present.report import written as report_bytes

        found[f"{mark}.drawing.dxf"] = dxf(sheets_of(issued, __version__))
        report = report_of([issued], "normal")
        found |= {f"{mark}.report.{kind}": report_bytes(report, kind) for kind in ("html", "pdf")}
        figure = diagrams(result)
        found[f"{mark}.diagrams.svg"] = rendered(figure, "svg")
        found[f"{mark}.diagrams.png"] = rendered(figure, "png")
    return found


def _sha(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _print_result(job: _Job, result: Result | None, why: str, *, colour: bool, first: bool, alternatives: int = 0) -> None:
    from upright_bramble.present.terminal import make_console, plain, runners_up, summary

    console = make_console(colour=colour)
    if not first:
        console.rule(style="dim", characters="-")
    if result is None:
        console.print(plain(console, f"fail  {job.beam.mark}  {job.beam.title}"), style="bold")
        console.print(plain(console, f"     {why}"))
        return
    summary(console, result)
    if job.before is not None:
        from upright_bramble.mending import changes

        console.print(plain(console, f"\nbars {changes(job.before, result.layout).words}"))
    if alternatives:
        runners_up(console, result, alternatives)
    console.print(plain(console, f"\n     written to {job.folder}{os.sep}"), style="dim")


def check_layout(path: Path, layout_path: Path, into: Path | None, as_json: bool, quiet: bool, colour: bool) -> int:
    from upright_bramble.pipeline import run_check

    for file in (path, layout_path):
        if not file.exists():
            raise Call(f"{file}: there is no such file")
    beam = read_beam(path)
    result = run_check(beam, read_layout(layout_path, beam))
    origin = Origin(path.name, input_digest(path), _sha(layout_path.read_bytes()))
    home = layout_path.parent
    if into is not None:
        write_all(into / beam.mark, _outputs(result, origin, figures=True))
    elif layout_path.name == f"{beam.mark}.layout.yaml" and (home / f"{beam.mark}.result.json").is_file():
        # the layout of a result: what stands beside it is renewed, and no file more than there was
        renewed = _outputs(result, origin, figures=(home / f"{beam.mark}.diagrams.svg").is_file())
        write_all(home, {name: data for name, data in renewed.items() if (home / name).is_file()})
    if as_json:
        from upright_bramble.files.result_file import result_data

        printed(partial(click.echo, json.dumps(result_data(result, origin), ensure_ascii=False)))
    elif not quiet:
        from upright_bramble.present.terminal import make_console, summary

        printed(partial(summary, make_console(colour=colour), result))
    return 0 if result.status == "pass" else 1


def run_demo(into: Path, quiet: bool, colour: bool) -> int:
    """Copy the demo beams (files that are there stay as they are) and design them all."""
    from upright_bramble.demo import demo_files

    missing = {name: text.encode() for name, text in demo_files().items() if not (into / name).exists()}
    if missing:
        write_all(into, missing)
    design_all([into], None, False, 1, True, False, quiet, colour)
    if not quiet:
        click.echo(f"\nThe demo's beams and results are in {into}{os.sep}")
        click.echo("One of them fails on purpose, to show how that looks.")
    return 0


def show_section(given: Path | dict[str, Any], figure: Path | None, force: bool, as_json: bool, quiet: bool, colour: bool) -> int:
    """0 when what is asked is resisted (or nothing is compared), 1 when it is not."""
    from upright_bramble.files.section_file import read_section, section_of
    from upright_bramble.present.section_view import section_data, section_figure, section_summary
    from upright_bramble.verify.cross_section import work_out

    section, code, units = read_section(given) if isinstance(given, Path) else section_of(given)
    if figure is not None:
        kind = figure.suffix.lower().lstrip(".")
        if kind not in ("png", "svg"):
            raise Call(f"{figure}: a figure is .png or .svg")
        if not section.rows:
            raise Call("diagrams need bars; give them")
        _free(figure, force)
    worked = work_out(section, code)
    if figure is not None:
        from upright_bramble.present.figures import rendered

        write_one(figure, rendered(section_figure(section, code, units), kind))
    if as_json:
        click.echo(json.dumps(section_data(section, worked), ensure_ascii=False))
    elif not quiet:
        from upright_bramble.present.terminal import make_console

        printed(partial(section_summary, make_console(colour=colour), section, worked, code, units))
    return 1 if any(ratio > 1.0 + 1e-9 for _, ratio in worked.ratios) else 0


def schema_text(what: str) -> str:
    from upright_bramble.files import models
    from upright_bramble.files.result_file import ResultFile

    known: dict[str, type[BaseModel]] = {
        "beam": models.BeamFile,
        "layout": models.LayoutFile,
        "result": ResultFile,
        "section": models.SectionFile,
    }
    return json.dumps(known[what].model_json_schema(by_alias=True), indent=2, ensure_ascii=False)
