"""What is issued from a result: drawing, schedule."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from upright_bramble.cli.finding import result_files
from upright_bramble.cli.output import Call, echo, echo_json, printed, say
from upright_bramble.files.result_reader import ReadResult, find_result
from upright_bramble.files.writing import digest, ready, safe_name, settle, write_set
from upright_bramble.version import __version__

if TYPE_CHECKING:
    from upright_bramble.files.result_file import ResultFile


def _read(path: Path, as_was: bool = False) -> ReadResult:
    """The result, as long as its beam file and layout are those that it was made of. Raises Call where they
    have changed."""
    result = find_result(path)
    for changed in result.changed:
        warning = f"{changed} has changed since {result.path.name} was made"
        if not as_was:
            raise Call(
                f"{warning}: design or check the beam again, or use the result as it was with --as-was"
            )
        say(f"warning: {warning}")
    return result


def _derived(reading: ReadResult) -> ResultFile:
    """The result with its derivations: worked out again from beam and layout where the file was written
    without. Raises Call."""
    from upright_bramble.files.beam_file import read_beam
    from upright_bramble.files.layout_file import read_layout
    from upright_bramble.files.result_data import Origin, result_data
    from upright_bramble.files.result_file import ResultFile
    from upright_bramble.pipeline import run_check

    data = reading.data
    if data.derived:
        return data
    source, layout = (
        reading.path.parent.parent / data.beam_file,
        reading.path.parent / f"{data.beam.mark}.layout.yaml",
    )
    if reading.changed or not safe_name(data.beam_file) or not source.is_file() or not layout.is_file():
        raise Call(
            f"{reading.path}: was written without derivations, and beam file and layout, unchanged, are "
            "needed to work them out again"
        )
    beam = read_beam(source)
    again = ResultFile.model_validate(result_data(run_check(beam, read_layout(layout, beam)), Origin("", "")))
    if [(c.id, c.ratio) for c in again.checks] != [(c.id, c.ratio) for c in data.checks]:
        raise Call(
            f"{reading.path}: its checks are not those of its beam file and layout; check the beam again"
        )
    return data.model_copy(update={"workings": again.workings, "derived": True})


def _several(
    paths: Sequence[Path], as_was: bool, pattern: str | None, only: Sequence[str]
) -> Iterator[ReadResult]:
    """Results one after another, those with a verdict of `only`. Each is let go before the next is read."""
    any_ = False
    for path in result_files(paths, pattern):
        reading = _read(path, as_was)
        if not only or reading.data.verdict.status in only:
            any_ = True
            yield reading
    if not any_:
        raise Call(f"no result is {' or '.join(only)}")


def _named(name: str | None, fallback: str) -> str:
    called = name if name is not None else fallback
    if not safe_name(called):
        raise Call(f"'{called[:40]}' is not a valid file name: letters and figures, no folders")
    return called


def show_floor_bars(
    paths: Sequence[Path],
    kinds: str | None,
    name: str | None,
    into: Path | None,
    force: bool,
    as_json: bool,
    quiet: bool,
    colour: bool,
    as_was: bool,
    pattern: str | None,
    only: Sequence[str],
) -> None:
    """One schedule of several results, with the cutting of their pieces."""
    from upright_bramble.present.floor_bars import (
        FloorSchedule,
        floor_schedule_data,
        floor_schedule_file,
        floor_schedule_table,
    )
    from upright_bramble.present.schedule import schedule_of

    wanted = _kinds(kinds, ("csv", "xlsx", "json")) if kinds is not None else []
    called, folder, stock, schedules = _named(name, "beams"), into, 0.0, []
    for reading in _several(paths, as_was, pattern, only):
        folder = reading.path.parent.parent if folder is None else folder
        stock = max(stock, reading.data.beam.stock_length_mm)
        schedules.append(schedule_of(reading.data))
    assert folder is not None
    floor = FloorSchedule(tuple(schedules), stock)
    if wanted:
        _put(
            folder,
            called,
            {f"{called}.bars.{kind}": floor_schedule_file(floor, kind) for kind in wanted},
            force,
        )
    if as_json:
        echo_json(floor_schedule_data(floor))
    elif not quiet:
        from upright_bramble.present.terminal import make_console

        printed(partial(floor_schedule_table, make_console(colour=colour), floor))
        if wanted:
            echo(f"written to {folder}")


def _kinds(required: str, known: tuple[str, ...], what: str = "format") -> list[str]:
    kinds = [k.strip().lower() for k in required.split(",") if k.strip()]
    wrong = [k for k in kinds if k not in known]
    if wrong or not kinds:
        raise Call(f"'{(wrong or [required])[0][:20]}' is not a valid {what} (valid: {', '.join(known)})")
    return list(dict.fromkeys(kinds))


def _put(folder: Path, label: str, files: dict[str, bytes], force: bool) -> None:
    """Written whole; files that are there with other contents only when asked."""
    ready(folder, list(files))
    settle(folder, label)
    seen = {name: digest(folder / name) for name in files}
    other = [name for name, data in files.items() if seen[name] and (folder / name).read_bytes() != data]
    if other and not force:
        raise Call(
            f"{folder / other[0]} already exists with other contents; --force overwrites it, --into DIR "
            "writes elsewhere"
        )
    write_set(folder, label, files, seen=seen)


def show_bars(
    path: Path,
    kinds: str | None,
    into: Path | None,
    force: bool,
    as_json: bool,
    quiet: bool,
    colour: bool,
    as_was: bool = False,
) -> None:
    from upright_bramble.present.schedule import (
        schedule_csv,
        schedule_data,
        schedule_of,
        schedule_table,
        schedule_xlsx,
    )

    result = _read(path, as_was)
    schedule = schedule_of(result.data)
    folder = into if into is not None else result.path.parent
    if kinds is not None:
        made: dict[str, bytes] = {}
        for kind in _kinds(kinds, ("csv", "xlsx", "json")):
            if kind == "csv":
                data = schedule_csv(schedule).encode()
            elif kind == "xlsx":
                data = schedule_xlsx(schedule)
            else:
                data = (json.dumps(schedule_data(schedule), indent=1, ensure_ascii=False) + "\n").encode()
            made[f"{schedule.beam}.bars.{kind}"] = data
        _put(folder, schedule.beam, made, force)
    if as_json:
        echo_json(schedule_data(schedule))
    elif not quiet:
        from upright_bramble.present.terminal import make_console

        printed(partial(schedule_table, make_console(colour=colour), schedule))
        if kinds is not None:
            echo(f"written to {folder}")


def draw(
    paths: Sequence[Path],
    kinds: str,
    name: str | None,
    into: Path | None,
    force: bool,
    quiet: bool,
    as_was: bool = False,
    pattern: str | None = None,
    only: Sequence[str] = (),
) -> None:
    """The sheets of all results in one drawing."""
    from upright_bramble.present.drawing import sheets_of
    from upright_bramble.present.drawing.writers import FORMATS, written

    required = _kinds(kinds, FORMATS)
    sheets, marks, folder = [], [], into
    for reading in _several(paths, as_was, pattern, only):
        sheets += sheets_of(reading.data, __version__)
        marks.append(reading.data.beam.mark)
        home = reading.path.parent if len(marks) == 1 else reading.path.parent.parent
        folder = home if into is None else into
    assert folder is not None
    called = _named(name, marks[0] if len(marks) == 1 else "beams")
    files = written(sheets, called, required)
    _put(folder, called, files, force)
    if not quiet:
        for name in files:
            echo(f"{folder / name} written")


def show_comparison(first: Path, second: Path, as_json: bool, colour: bool) -> None:
    from upright_bramble.present.comparison import compared, comparison_data, comparison_table

    if any(
        len(files) > 1 or files[0] != path
        for path, files in ((p, result_files([p])) for p in (first, second) if p.is_dir())
    ):
        _compare_floors(first, second, as_json, colour)
        return
    a, b = _read(first, True), _read(second, True)
    result = compared(a.data, b.data)
    if as_json:
        echo_json(comparison_data(result))
        return
    from upright_bramble.present.terminal import make_console

    printed(partial(comparison_table, make_console(colour=colour), result))


def _compare_floors(first: Path, second: Path, as_json: bool, colour: bool) -> None:
    """Two folders of results: pairs by mark, and what only one of them has."""
    from upright_bramble.present.comparison import compared
    from upright_bramble.present.floor_changes import BeamChange, change_of, changes_data, changes_table

    old, new = (
        {p.name if p.is_file() else p.resolve().name: p for p in result_files([folder])}
        for folder in (first, second)
    )
    old, new = ({k.removesuffix(".result.json"): p for k, p in known.items()} for known in (old, new))
    changes = []
    for mark in [*old, *(m for m in new if m not in old)]:
        if mark in old and mark in new:
            changes.append(change_of(compared(_read(old[mark], True).data, _read(new[mark], True).data)))
            continue
        r = _read((old if mark in old else new)[mark], True).data
        steel, cost, status, ratio = (
            r.quantities["steel_kg"],
            r.quantities["cost"],
            r.verdict.status,
            r.verdict.ratio,
        )
        only = BeamChange(
            mark=r.beam.mark,
            before=status,
            after="",
            ratio_before=ratio,
            ratio_after=0.0,
            steel_before=steel,
            steel_after=0.0,
            cost_before=cost,
            cost_after=0.0,
            units=r.beam.units,
        )
        if mark in new:
            only = BeamChange(
                mark=r.beam.mark,
                before="",
                after=status,
                ratio_before=0.0,
                ratio_after=ratio,
                steel_before=0.0,
                steel_after=steel,
                cost_before=0.0,
                cost_after=cost,
                units=r.beam.units,
            )
        changes.append(only)
    if as_json:
        echo_json(changes_data(changes))
        return
    from upright_bramble.present.terminal import make_console

    printed(partial(changes_table, make_console(colour=colour), changes))


def show_codes_of(path: Path, wanted: str, as_json: bool, colour: bool) -> int:
    """One beam file designed by several codes: 0 when all of them pass, with everything verified."""
    from upright_bramble.codes import known_codes
    from upright_bramble.errors import BrambleError
    from upright_bramble.files.beam_file import beam_from, source_of
    from upright_bramble.files.other_code import codes_for, in_code
    from upright_bramble.files.result_data import result_model
    from upright_bramble.pipeline import run_design
    from upright_bramble.present.code_table import Entry, code_rows, code_table

    source = source_of(path)
    beam = beam_from(source, path.parent)
    names = (
        list(codes_for(str(source.data.get("units", "si"))))
        if wanted == "all"
        else _kinds(wanted, known_codes(), "code")
    )
    entries = []
    for name in names:
        try:
            other = in_code(source, beam, name, path.parent)
            designed = run_design(other.beam)
            model = None if designed.result is None else result_model(designed.result)
            entries.append(Entry(name, model, designed.reason, other.left_out))
        except BrambleError as error:
            entries.append(Entry(name, None, str(error).splitlines()[0]))
    if as_json:
        echo_json(code_rows(entries))
    else:
        from upright_bramble.present.terminal import make_console

        printed(partial(code_table, make_console(colour=colour), f"{beam.mark}  {beam.title}", entries))
    return 0 if all(e.result is not None and e.result.verdict.status == "pass" for e in entries) else 1


def show_place(path: Path, x: str, as_json: bool, colour: bool, as_was: bool = False) -> None:
    from upright_bramble.present.place_view import place_data, place_table, places_of

    result = _read(path, as_was)
    places = places_of(result.data, x)
    if as_json:
        data = [place_data(p) for p in places]
        echo_json(data)
        return
    from upright_bramble.present.terminal import make_console

    console = make_console(colour=colour)
    for number, place in enumerate(places):
        if number:
            printed(partial(console.rule, style="dim", characters="-"))
        printed(partial(place_table, console, result.data, place))


def show_working(path: Path, name: str | None, kind: str, colour: bool, as_was: bool = False) -> None:
    from upright_bramble.present import working_view as view
    from upright_bramble.present.terminal import make_console

    reading = _read(path, as_was)
    result, console = reading.data, make_console(colour=colour)
    if name is None:
        if kind == "json":
            echo_json([c.model_dump() for c in sorted(result.checks, key=lambda c: -c.ratio)])
        elif kind == "text":
            printed(partial(view.checks_by_ratio, console, result))
        else:
            raise Call(f"name a check for --format {kind}; without one they are listed as text or json")
        return
    check = view.check_called(result, name)
    result = _derived(reading)
    if kind == "text":
        printed(partial(view.working_text, console, result, check))
    elif kind == "json":
        echo_json(view.working_data(result, check))
    else:
        echo(view.working_md(result, check) if kind == "md" else view.working_html(result, check))


def write_report(
    paths: Sequence[Path],
    depth: str,
    kinds: str,
    without: str | None,
    name: str | None,
    into: Path | None,
    force: bool,
    quiet: bool,
    as_was: bool = False,
    pattern: str | None = None,
    only: Sequence[str] = (),
) -> None:
    from upright_bramble.present.report import FORMATS, TOPICS, report_of, written

    required = _kinds(kinds, FORMATS)
    left_out = _kinds(without, tuple(TOPICS), "topic") if without is not None else []
    data, homes = [], []
    for reading in _several(paths, as_was, pattern, only):
        # derivations are as large as all the rest: they are kept where they are shown
        data.append(
            _derived(reading) if depth == "full" else reading.data.model_copy(update={"workings": []})
        )
        homes.append(reading.path.parent)
    several = len(data) > 1
    called = _named(name, "beams" if several else data[0].beam.mark)
    content = report_of(data, depth, left_out)
    files = {f"{called}.report.{kind}": written(content, kind) for kind in required}
    folder = into if into is not None else homes[0]
    _put(folder, called, files, force)
    if not quiet:
        for file in files:
            echo(f"{folder / file} written")
