"""Commands that read results: at a place, why, drawing, bars, report, comparison."""

from __future__ import annotations

from pathlib import Path

import click

from upright_bramble.cli.arguments import AS_WAS, FILE, VERDICTS, common, listed, some


@click.command()
@click.argument("result", type=FILE)
@click.argument("x", metavar="X")
@click.option("--json", "as_json", is_flag=True, help="Machine output on stdout, and nothing else.")
@click.option("--no-colour", is_flag=True, help="No colours.")
@AS_WAS
def at(result: Path, x: str, as_json: bool, no_colour: bool, as_was: bool) -> None:
    """Every value of a result at one place: forces, steel, resistance, deflection, cracks.

    X is a place along the beam ('3.25 m'), a support (both sides of it), or 2:0.5, the middle of span 2.
    RESULT is a result.json, its folder, or the beam file beside it.
    """
    from upright_bramble.cli.issue import show_place

    show_place(result, x, as_json, not no_colour, as_was)


@click.command()
@click.argument("result", type=FILE)
@click.argument("check", required=False)
@click.option(
    "--format", "kind", type=click.Choice(["text", "md", "html", "json"]), default="text", show_default=True
)
@click.option("--no-colour", is_flag=True, help="No colours.")
@AS_WAS
def why(result: Path, check: str | None, kind: str, no_colour: bool, as_was: bool) -> None:
    """The worked derivation of one check: formula, numbers put in, result, clause.

    CHECK is the id of a check, or the beginning of just one; without it all are listed by their ratio. RESULT
    is a result.json, its folder, or the beam file beside it.
    """
    from upright_bramble.cli.issue import show_working

    show_working(result, check, kind, not no_colour, as_was)


@click.command()
@click.argument("results", type=FILE, nargs=-1, required=True, metavar="RESULT...")
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
@click.option("--into", type=FILE, help="Folder for the drawing; that of the result when left out.")
@click.option("--force", is_flag=True, help="Overwrite drawings that differ.")
@click.option("--quiet", is_flag=True, help="Print nothing but faults.")
@some
@AS_WAS
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
        results, kinds, name, into, force, quiet, as_was, pattern, listed(only, VERDICTS, "verdict")
    )


@click.command()
@click.argument("results", type=FILE, nargs=-1, required=True, metavar="RESULT...")
@click.option("--format", "kinds", help="Also write it: any of csv, xlsx, json, with commas between.")
@click.option("--name", help="Name of the files of several results, without ending; 'beams' when left out.")
@click.option("--into", type=FILE, help="Folder for these files; that of the result when left out.")
@click.option("--force", is_flag=True, help="Overwrite files that differ.")
@some
@AS_WAS
@common
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

    wanted = listed(only, VERDICTS, "verdict")
    files = result_files(results, pattern)
    if len(files) == 1 and not wanted and name is None:
        show_bars(files[0], kinds, into, force, as_json, quiet, not no_colour, as_was)
    else:
        show_floor_bars(files, kinds, name, into, force, as_json, quiet, not no_colour, as_was, None, wanted)


@click.command()
@click.argument("results", type=FILE, nargs=-1, required=True, metavar="RESULT...")
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
@click.option("--into", type=FILE, help="Folder for the report; that of the first result when left out.")
@click.option("--force", is_flag=True, help="Overwrite reports that differ.")
@click.option("--quiet", is_flag=True, help="Print nothing but faults.")
@some
@AS_WAS
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
        listed(only, VERDICTS, "verdict"),
    )


@click.command()
@click.argument("first", type=FILE, metavar="A")
@click.argument("second", type=FILE, metavar="B", required=False)
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
