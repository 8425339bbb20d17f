"""The commands."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import click

from upright_bramble.text import hidden, shown


class _Place(click.Path):
    """A file or folder that a call names: its name is text, and no longer than file systems bear."""

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> Any:
        path = Path(os.fsdecode(value))
        if (strange := hidden(str(path))) is not None:
            self.fail(
                f"'{shown(str(path)[:80])}' holds the character {strange}, which is not text", param, ctx
            )
        if any(len(os.fsencode(part)) > 255 for part in path.parts) or len(os.fsencode(path)) > 4000:
            self.fail(f"'{str(path)[:40]}...' is longer than the name of a file can be", param, ctx)
        return path


_FILE = _Place(path_type=Path)


def _common(function: Any) -> Any:
    """--json, --quiet, --no-colour."""
    for option in (
        click.option("--no-colour", is_flag=True, help="No colours (NO_COLOR is honoured too)."),
        click.option("--quiet", is_flag=True, help="Print nothing but faults; the exit status tells."),
        click.option("--json", "as_json", is_flag=True, help="Machine output on stdout, and nothing else."),
    ):
        function = option(function)
    return function


def _some(function: Any) -> Any:
    """Which of many results."""
    function = click.option(
        "--only",
        metavar="LIST",
        help="Results with these verdicts: pass, fail, incomplete, with commas between.",
    )(function)
    return click.option(
        "--mark", "pattern", metavar="PATTERN", help="Results whose mark is like this, such as 'DB*'."
    )(function)


_AS_WAS = click.option(
    "--as-was", is_flag=True, help="Use the result although its beam file or layout has changed since."
)


@click.command()
@click.argument("file", type=_FILE)
@click.option("--code", default="en1992-1-1", show_default=True, help="Design code.")
@click.option("--units", default="si", show_default=True, type=click.Choice(["si", "us", "technical"]))
@click.option(
    "--rules", is_flag=True, help="A file of rules that many beams share instead, such as office.rules.yaml."
)
@click.option("--force", is_flag=True, help="Overwrite FILE if it exists.")
def start(file: Path, code: str, units: str, rules: bool, force: bool) -> None:
    """Write a commented beam file to begin with, or shared rules."""
    from upright_bramble.cli.output import echo
    from upright_bramble.cli.work import start_file

    following = f"name it in the beam files, 'rules: [{file.name}]'" if rules else f"bramble forces {file}"
    echo(f"{start_file(file, code, units, force, rules)} written; next: {following}")


@click.command()
@click.argument("beams", type=_FILE, nargs=-1, required=True, metavar="BEAM...")
@click.option(
    "--level",
    default="strength",
    show_default=True,
    help="Level to show: strength, a service level, or permanent.",
)
@click.option("--csv", "csv_file", type=_FILE, help="Write every set of forces by station as CSV.")
@click.option("--extremes", is_flag=True, help="With --csv: the envelope alone, one row a station.")
@click.option("--figure", type=_FILE, help="Write the envelopes as .png or .svg.")
@click.option("--combinations", is_flag=True, help="List every combination instead.")
@click.option("--action", help="Draw and list one action's own diagram instead, unfactored on all its spans.")
@click.option("--force", is_flag=True, help="Overwrite files that exist.")
@click.option("--mark", "pattern", metavar="PATTERN", help="Beams whose mark is like this, such as 'DB*'.")
@click.option(
    "--jobs", default=1, show_default=True, type=click.IntRange(1, 64), help="Beams at the same time."
)
@click.option(
    "--root",
    type=_FILE,
    help="Files that a beam file names lie inside this folder; the one above it when left out.",
)
@_common
def forces(
    beams: tuple[Path, ...],
    level: str,
    combinations: bool,
    action: str | None,
    csv_file: Path | None,
    extremes: bool,
    figure: Path | None,
    force: bool,
    pattern: str | None,
    jobs: int,
    root: Path | None,
    as_json: bool,
    quiet: bool,
    no_colour: bool,
) -> None:
    """Reactions, and the envelopes of moment, shear and torsion.

    BEAM is a beam file, a folder with all beam files under it, or a pattern: of several the extremes of each
    in one table.
    """
    from upright_bramble.cli.finding import beam_files
    from upright_bramble.cli.work import list_combinations, show_floor_forces, show_forces

    files = beam_files(beams, pattern)
    if len(files) > 1:
        if combinations or csv_file or figure or extremes or action:
            raise click.UsageError("--combinations, --csv, --figure, --extremes and --action are of one beam")
        show_floor_forces(files, level, jobs, root, as_json, quiet, not no_colour)
        return
    beam = files[0]
    if combinations and (csv_file or figure or extremes or action):
        raise click.UsageError(
            "--combinations lists them and writes no file: leave out --csv, --figure, --extremes and --action"
        )
    if extremes and not csv_file:
        raise click.UsageError("--extremes needs --csv")
    if combinations:
        list_combinations(beam, as_json, not no_colour, root)
    else:
        show_forces(
            beam, level, action, csv_file, extremes, figure, force, as_json, quiet, not no_colour, root
        )


def _many(function: Any) -> Any:
    """What commands take that work on many beams."""
    for option in (
        click.option(
            "--root",
            type=_FILE,
            help=("Files that a beam file names lie inside this folder; the one above it when left out."),
        ),
        click.option(
            "--shard", metavar="k/n", help=("The k-th of n parts of the beams: one a job of an array.")
        ),
        click.option(
            "--cluster",
            metavar="ADDRESS",
            default="",
            help=("Work on a dask scheduler's workers; files are written here."),
        ),
        click.option(
            "--jobs", default=1, show_default=True, type=click.IntRange(1, 64), help="Beams at the same time."
        ),
        click.option("--again", is_flag=True, help="Do anew what is up to date."),
        click.option("--force", is_flag=True, help="Overwrite a summary that exists."),
        click.option(
            "--summary", type=_FILE, metavar="FILE", help=("Write the table: .csv, .xlsx, .json or .html.")
        ),
        click.option(
            "--sort",
            type=click.Choice(["file", "mark", "verdict", "ratio", "steel", "cost", "time"]),
            default="file",
            show_default=True,
            help="Order of the table.",
        ),
        click.option(
            "--only",
            metavar="LIST",
            help=("Show these verdicts alone: pass, fail, incomplete, with commas between."),
        ),
        click.option(
            "--mark", "pattern", metavar="PATTERN", help=("Beams whose mark is like this, such as 'DB*'.")
        ),
    ):
        function = option(function)
    return function


def _listed(text: str | None, known: tuple[str, ...], what: str) -> tuple[str, ...]:
    """Words with commas between. Raises click.UsageError."""
    words = [w.strip().lower() for w in (text or "").split(",") if w.strip()]
    wrong = [w for w in words if w not in known]
    if wrong or (text is not None and not words):
        raise click.UsageError(
            f"'{(wrong or [str(text)])[0][:20]}' is not a valid {what} (valid: {', '.join(known)})"
        )
    return tuple(dict.fromkeys(words))


_VERDICTS = ("pass", "fail", "incomplete")


@click.command()
@click.argument("beams", nargs=-1, required=True, type=_FILE, metavar="BEAM...")
@click.option("--into", type=_FILE, help="Folder for the results; beside each beam file when left out.")
@click.option(
    "--fresh",
    is_flag=True,
    help="Design anew over a hand-edited layout: held entries stay, the old file is kept numbered.",
)
@click.option(
    "--mend", is_flag=True, help="Keep every entry of the layout that suffices; add only what is lacking."
)
@click.option(
    "--outputs",
    metavar="LIST",
    help=(
        "Any of json, layout, csv, diagrams, drawing, report, derivations (in the result); result and "
        "layout are always written."
    ),
)
@click.option("--figures/--no-figures", default=True, show_default=True, help="Diagrams, drawing and report.")
@click.option(
    "--suggest",
    is_flag=True,
    help=(
        "Of beams that fail: search all that would cure them (a single beam gets the results of half a "
        "second)."
    ),
)
@click.option(
    "--alternatives",
    default=0,
    type=click.IntRange(0, 12),
    help="Show so many alternatives of each face, and their extra cost.",
)
@_many
@_common
def design(
    beams: tuple[Path, ...],
    into: Path | None,
    fresh: bool,
    mend: bool,
    outputs: str | None,
    figures: bool,
    suggest: bool,
    alternatives: int,
    pattern: str | None,
    only: str | None,
    sort: str,
    summary: Path | None,
    force: bool,
    again: bool,
    jobs: int,
    cluster: str,
    shard: str | None,
    root: Path | None,
    as_json: bool,
    quiet: bool,
    no_colour: bool,
) -> int:
    """Design beams: bars, stirrups, every check.

    BEAM is a beam file, a folder with all beam files under it, or a pattern. Of several one table is shown.
    What is up to date is not done again.

    \b
    bramble design deck.beam.yaml
    bramble design level-2 --jobs 2 --outputs json,layout --summary level-2.html
    bramble design . --mend              after a change: keep what suffices
    """
    from upright_bramble.cli.designing import design_all
    from upright_bramble.cli.making import OUTPUTS, Wishes

    wanted = _listed(outputs, tuple(OUTPUTS), "output") or tuple(OUTPUTS)
    wishes = Wishes(
        fresh=fresh, mend=mend, figures=figures, suggest=suggest, jobs=jobs, as_json=as_json, quiet=quiet,
        colour=not no_colour,
        alternatives=alternatives, outputs=wanted, again=again, only=_listed(only, _VERDICTS, "verdict"),
        sort=sort, summary=summary,
        cluster=cluster, root=root, force=force,
    )  # fmt: skip
    return design_all(beams, into, wishes, pattern, shard)


@click.command()
@click.argument("beams", nargs=-1, required=True, type=_FILE, metavar="BEAM... [LAYOUT]")
@click.option("--into", type=_FILE, help="With a LAYOUT: also write result and diagrams into this folder.")
@_many
@_common
def check(
    beams: tuple[Path, ...],
    into: Path | None,
    pattern: str | None,
    only: str | None,
    sort: str,
    summary: Path | None,
    force: bool,
    again: bool,
    jobs: int,
    cluster: str,
    shard: str | None,
    root: Path | None,
    as_json: bool,
    quiet: bool,
    no_colour: bool,
) -> int:
    """Verify the bars of a layout file; no bar is changed.

    BEAM is a beam file, a folder with all beam files under it, or a pattern; verified is the LAYOUT named, or
    the one in each beam's result folder, whose result is renewed. Exit status 1: a check fails, or something
    could not be verified.

    \b
    bramble check deck.beam.yaml DB1/DB1.layout.yaml    after editing the bars
    bramble check level-2 --only fail                   after the loads have changed
    """
    from upright_bramble.cli.designing import check_layout, design_all
    from upright_bramble.cli.making import Wishes

    if (
        len(beams) == 2
        and beams[1].name.endswith((".yaml", ".yml"))
        and not beams[1].name.endswith(".beam.yaml")
    ):
        return check_layout(beams[0], beams[1], into, as_json, quiet, not no_colour, root)
    if into is not None:
        raise click.UsageError(
            "--into needs one beam and its LAYOUT: the layouts of several are renewed in place"
        )
    wishes = Wishes(
        jobs=jobs, as_json=as_json, quiet=quiet, colour=not no_colour, mode="check", again=again,
        only=_listed(only, _VERDICTS, "verdict"), sort=sort, summary=summary, cluster=cluster, root=root,
        force=force,
    )  # fmt: skip
    return design_all(beams, None, wishes, pattern, shard)


@click.command()
@click.argument("result", type=_FILE)
@click.argument("x", metavar="X")
@click.option("--json", "as_json", is_flag=True, help="Machine output on stdout, and nothing else.")
@click.option("--no-colour", is_flag=True, help="No colours.")
@_AS_WAS
def at(result: Path, x: str, as_json: bool, no_colour: bool, as_was: bool) -> None:
    """Every value of a result at one place: forces, steel, resistance, deflection, cracks.

    X is a place along the beam ('3.25 m'), a support (both sides of it), or 2:0.5, the middle of span 2.
    RESULT is a result.json, its folder, or the beam file beside it.
    """
    from upright_bramble.cli.issue import show_place

    show_place(result, x, as_json, not no_colour, as_was)


@click.command()
@click.argument("result", type=_FILE)
@click.argument("check", required=False)
@click.option(
    "--format", "kind", type=click.Choice(["text", "md", "html", "json"]), default="text", show_default=True
)
@click.option("--no-colour", is_flag=True, help="No colours.")
@_AS_WAS
def why(result: Path, check: str | None, kind: str, no_colour: bool, as_was: bool) -> None:
    """The worked derivation of one check: formula, numbers put in, result, clause.

    CHECK is the id of a check, or the beginning of just one; without it all are listed by their ratio. RESULT
    is a result.json, its folder, or the beam file beside it.
    """
    from upright_bramble.cli.issue import show_working

    show_working(result, check, kind, not no_colour, as_was)


@click.command()
@click.argument("results", type=_FILE, nargs=-1, required=True, metavar="RESULT...")
@click.option(
    "--format",
    "kinds",
    default="dxf,pdf",
    show_default=True,
    help="Any of dxf, svg, pdf, png, with commas between.",
)
@click.option(
    "--name", help="Name of the files, without ending; the mark of the beam, or 'beams', when left out."
)
@click.option("--into", type=_FILE, help="Folder for the drawing; that of the result when left out.")
@click.option("--force", is_flag=True, help="Overwrite drawings that differ.")
@click.option("--quiet", is_flag=True, help="Print nothing but faults.")
@_some
@_AS_WAS
def draw(
    results: tuple[Path, ...],
    kinds: str,
    name: str | None,
    into: Path | None,
    force: bool,
    quiet: bool,
    pattern: str | None,
    only: str | None,
    as_was: bool,
) -> None:
    """The reinforcement drawing: elevation, bars, sections, schedule; of several results one with all sheets.

    RESULT is a result.json, its folder, the beam file beside it, a folder of many results, or a pattern.
    """
    from upright_bramble.cli.issue import draw as issue_drawing

    issue_drawing(
        results, kinds, name, into, force, quiet, as_was, pattern, _listed(only, _VERDICTS, "verdict")
    )


@click.command()
@click.argument("results", type=_FILE, nargs=-1, required=True, metavar="RESULT...")
@click.option("--format", "kinds", help="Also write it: any of csv, xlsx, json, with commas between.")
@click.option("--name", help="Name of the files of several results, without ending; 'beams' when left out.")
@click.option("--into", type=_FILE, help="Folder for these files; that of the result when left out.")
@click.option("--force", is_flag=True, help="Overwrite files that differ.")
@_some
@_AS_WAS
@_common
def bars(
    results: tuple[Path, ...],
    kinds: str | None,
    name: str | None,
    into: Path | None,
    force: bool,
    pattern: str | None,
    only: str | None,
    as_was: bool,
    as_json: bool,
    quiet: bool,
    no_colour: bool,
) -> None:
    """The bar schedule: marks, shapes, cut lengths, masses; of several results one, with sizes and cutting
    from stock.

    RESULT is a result.json, its folder, the beam file beside it, a folder of many results, or a pattern.
    """
    from upright_bramble.cli.finding import result_files
    from upright_bramble.cli.issue import show_bars, show_floor_bars

    wanted = _listed(only, _VERDICTS, "verdict")
    files = result_files(results, pattern)
    if len(files) == 1 and not wanted and name is None:
        show_bars(files[0], kinds, into, force, as_json, quiet, not no_colour, as_was)
    else:
        show_floor_bars(files, kinds, name, into, force, as_json, quiet, not no_colour, as_was, None, wanted)


@click.command()
@click.argument("results", type=_FILE, nargs=-1, required=True, metavar="RESULT...")
@click.option("--depth", type=click.Choice(["brief", "normal", "full"]), default="normal", show_default=True)
@click.option(
    "--format",
    "kinds",
    default="html,pdf",
    show_default=True,
    help="Any of html, pdf, md, with commas between.",
)
@click.option(
    "--without",
    help="Topics to leave out, with commas between: bending, shear, cracking, fit, ...; the report says so.",
)
@click.option("--name", help="Name of the files, without ending; the mark of the beam when left out.")
@click.option("--into", type=_FILE, help="Folder for the report; that of the first result when left out.")
@click.option("--force", is_flag=True, help="Overwrite reports that differ.")
@click.option("--quiet", is_flag=True, help="Print nothing but faults.")
@_some
@_AS_WAS
def report(
    results: tuple[Path, ...],
    depth: str,
    kinds: str,
    without: str | None,
    name: str | None,
    into: Path | None,
    force: bool,
    quiet: bool,
    pattern: str | None,
    only: str | None,
    as_was: bool,
) -> None:
    """The calculation report: brief (one page), normal, or full with derivations.

    Several results make one report with a summary in front. RESULT is a result.json, its folder, the beam
    file beside it, a folder of many results, or a pattern.
    """
    from upright_bramble.cli.issue import write_report

    write_report(
        results,
        depth,
        kinds,
        without,
        name,
        into,
        force,
        quiet,
        as_was,
        pattern,
        _listed(only, _VERDICTS, "verdict"),
    )


@click.command()
@click.argument("first", type=_FILE, metavar="A")
@click.argument("second", type=_FILE, metavar="B", required=False)
@click.option(
    "--codes",
    "across",
    metavar="LIST",
    help="Design the beam file A by these codes (all, or names with commas) instead.",
)
@click.option("--json", "as_json", is_flag=True, help="Machine output on stdout, and nothing else.")
@click.option("--no-colour", is_flag=True, help="No colours.")
def compare(first: Path, second: Path | None, across: str | None, as_json: bool, no_colour: bool) -> int:
    """Two results side by side: bars, ratios, mass, cost. Or one beam by several codes.

    Each is a result.json, its folder, or the beam file beside it; of two folders of many results a row a
    beam. With --codes A is a beam file: width, depth, cover and loads are kept, materials and bars are the
    nearest ones of each code; nothing is written.

    \b
    bramble compare DB3 DB3-b
    bramble compare shelf.beam.yaml --codes all
    """
    from upright_bramble.cli.issue import show_codes_of, show_comparison

    if (second is None) == (across is None):
        raise click.UsageError("give two results, or one beam file with --codes")
    if across is not None:
        return show_codes_of(first, across, as_json, not no_colour)
    assert second is not None
    show_comparison(first, second, as_json, not no_colour)
    return 0


@click.command()
@click.argument("beams", nargs=-1, required=True, type=_FILE, metavar="BEAM...")
@click.option(
    "--within",
    default=15.0,
    show_default=True,
    type=click.FloatRange(0.0, 90.0),
    help="Percent that forces may be apart.",
)
@click.option(
    "--write", type=_FILE, metavar="DIR", help="Write a file for each group, to be designed as one."
)
@click.option("--mark", "pattern", metavar="PATTERN", help="Beams whose mark is like this, such as 'DB*'.")
@click.option(
    "--jobs", default=1, show_default=True, type=click.IntRange(1, 64), help="Beams at the same time."
)
@click.option(
    "--root",
    type=_FILE,
    help="Files that a beam file names lie inside this folder; the one above it when left out.",
)
@_common
def alike(
    beams: tuple[Path, ...],
    within: float,
    write: Path | None,
    pattern: str | None,
    jobs: int,
    root: Path | None,
    as_json: bool,
    quiet: bool,
    no_colour: bool,
) -> int:
    """Beams that could share one design: alike in line and profile, their forces near. With what that costs.

    Every beam is designed by itself and with its group; nothing is written without --write. Exit status 1:
    there are none.

    \b
    bramble alike . --within 20 --write typical
    bramble design typical
    """
    from upright_bramble.cli.alike import show_alike

    return show_alike(beams, within / 100.0, write, jobs, pattern, root, as_json, quiet, not no_colour)


@click.command()
@click.argument("beam", type=_FILE)
@click.argument("layout", type=_FILE, required=False)
@click.option("--page", is_flag=True, help="Serve a page with the diagrams, to this machine alone.")
@click.option(
    "--port", default=0, type=click.IntRange(0, 65535), help="Port of the page; a free one when left out."
)
@click.option(
    "--root",
    type=_FILE,
    help="Files that a beam file names lie inside this folder; the one above it when left out.",
)
@click.option("--no-colour", is_flag=True, help="No colours (NO_COLOR is honoured too).")
def watch(beam: Path, layout: Path | None, page: bool, port: int, root: Path | None, no_colour: bool) -> int:
    """Design a beam again each time its file is saved, or check a layout.

    Watched are the beam file, the rules and tables that it names, and its layout: one that is named, or that
    a hand has edited, is checked as it is. Shown is the summary with what changed since the last save.
    Nothing is written; Ctrl-C ends it.
    """
    from upright_bramble.cli.watching import watch as watching

    if port and not page:
        raise click.UsageError("--port needs --page")
    return watching(beam, layout, page, port, root, not no_colour)


@click.command()
@click.argument("code", required=False)
@click.option("--annex", help="Values of this annex; the code's first when left out.")
@click.option("--json", "as_json", is_flag=True, help="Machine output on stdout, and nothing else.")
@click.option("--no-colour", is_flag=True, help="No colours.")
def codes(code: str | None, annex: str | None, as_json: bool, no_colour: bool) -> None:
    """The design codes known; with CODE its values with their clauses, and its factors."""
    from upright_bramble.cli.work import show_codes

    show_codes(code, annex, as_json, not no_colour)


@click.command()
@click.option("--into", type=_FILE, help="Folder for the demo; bramble-demo, or bramble-job, when left out.")
@click.option(
    "--job",
    is_flag=True,
    help="A job of 120 beams on four levels, with shared rules and tables of a frame, instead.",
)
@click.option(
    "--jobs", default=1, show_default=True, type=click.IntRange(1, 64), help="Beams at the same time."
)
@click.option("--quiet", is_flag=True, help="Print nothing but faults.")
@click.option("--no-colour", is_flag=True, help="No colours.")
def demo(into: Path | None, job: bool, jobs: int, quiet: bool, no_colour: bool) -> int:
    """Copy the demo beams to a folder and run the whole job on them."""
    from upright_bramble.cli.work import run_demo, run_demo_job

    if job:
        return run_demo_job(into if into is not None else Path("bramble-job"), jobs, quiet, not no_colour)
    return run_demo(into if into is not None else Path("bramble-demo"), jobs, quiet, not no_colour)


def _once(context: click.Context, option: click.Parameter, values: tuple[str, ...]) -> str | None:
    """An option that says what one set of forces is: given twice, neither is taken."""
    if len(values) > 1:
        raise click.BadParameter(
            "is given more than once; several sets of forces go into a section file", context, option
        )
    return values[0] if values else None


@click.command()
@click.argument("file", type=_FILE, required=False)
@click.argument("place", required=False)
@click.option("--code", default="en1992-1-1", show_default=True, help="Design code, without a file.")
@click.option("--annex", help="National values.")
@click.option("--units", default="si", show_default=True, type=click.Choice(["si", "us", "technical"]))
@click.option("--size", help="Width x depth, such as 350x600.")
@click.option("--flange", help="Width x thickness of a flange above, such as 1200x150.")
@click.option("--concrete", help="Grade, or strength with its unit.")
@click.option("--steel", help="Grade, or yield strength with its unit.")
@click.option("--cover", help="To the stirrup.")
@click.option(
    "--bars", multiple=True, help="Number x size @ depth from the top, such as 4x20@545; once a row."
)
@click.option("--stirrups", help="Legs x size @ spacing, such as 2x8@200.")
@click.option("-M", "--moment", callback=_once, multiple=True, help="Sagging positive.")
@click.option(
    "--moment-y",
    callback=_once,
    multiple=True,
    help="About the vertical axis; positive compresses the right.",
)
@click.option("-V", "--shear", callback=_once, multiple=True)
@click.option("-T", "--torque", callback=_once, multiple=True)
@click.option("-N", "--axial", callback=_once, multiple=True, help="Compression positive.")
@click.option("--service", callback=_once, multiple=True, help="Moment in service.")
@click.option("--greatest-moment", help="Of the beam near the section: bounds what shear adds to the moment.")
@click.option("--choose", help="Sizes to choose bars from, such as 16,20,25; bars given stay.")
@click.option("--choose-stirrups", help="Sizes to choose stirrups from, such as 8,10.")
@click.option(
    "--least", type=click.Choice(["depth", "width"]), help="The least depth or width with which the bars do."
)
@click.option(
    "--axis", type=click.Choice(["free", "level"]), help="Neutral axis turning freely or held level."
)
@click.option(
    "--waive",
    multiple=True,
    help="TOPIC=REASON: what is not to decide, such as cracking='checked elsewhere'.",
)
@click.option("--figure", type=_FILE, help="Section, strains and curves of resistance, .png or .svg.")
@click.option("--csv", "table", type=_FILE, help="The curves as a table.")
@click.option("--report", "paper", type=_FILE, help="The calculation report, .html, .pdf or .md.")
@click.option(
    "--depth",
    type=click.Choice(["brief", "full"]),
    default="brief",
    show_default=True,
    help="Of the report; full has derivations.",
)
@click.option("--force", is_flag=True, help="Overwrite files that exist.")
@_common
def section(
    file: Path | None,
    place: str | None,
    figure: Path | None,
    table: Path | None,
    paper: Path | None,
    depth: str,
    force: bool,
    as_json: bool,
    quiet: bool,
    no_colour: bool,
    **given: Any,
) -> int:
    """One cross-section: every check of the code that applies, steel required, resistance, stresses and
    cracks.

    \b
    bramble section deck.section.yaml
    bramble section --size 350x600 --concrete C30/37 --steel B500B --cover 35 --bars 4x20@545 -M 310 -V 180
    bramble section DB3 2:0.5

    FILE is a section file; or a result, and PLACE a place along its beam: its section there, with the forces
    that act there.
    """
    from upright_bramble.cli.options import section_options
    from upright_bramble.cli.work import SectionWishes, show_section, show_section_at

    wishes = SectionWishes(figure, table, paper, depth, force)
    if place is not None and file is not None:
        return show_section_at(file, place, wishes, as_json, quiet, not no_colour)
    requested = file if file is not None else section_options(given)
    return show_section(requested, wishes, as_json, quiet, not no_colour)


@click.command()
@click.argument(
    "what", type=click.Choice(["beam", "rules", "envelope", "layout", "result", "section"]), default="beam"
)
def schema(what: str) -> None:
    """JSON Schema of a file, for editors."""
    from upright_bramble.cli.output import echo
    from upright_bramble.cli.work import schema_text

    echo(schema_text(what))


def add_to(group: click.Group) -> None:
    """In the order of the work."""
    for command in (
        start,
        forces,
        design,
        check,
        section,
        at,
        why,
        draw,
        bars,
        report,
        compare,
        alike,
        watch,
        codes,
        demo,
        schema,
    ):
        group.add_command(command)
