"""The commands."""

from __future__ import annotations

from pathlib import Path

import click

from upright_bramble.cli.arguments import FILE, VERDICTS, common, listed, many
from upright_bramble.cli.issue_commands import at, bars, compare, draw, report, why
from upright_bramble.cli.section_command import section


@click.command()
@click.argument("file", type=FILE)
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
@click.argument("beams", type=FILE, nargs=-1, required=True, metavar="BEAM...")
@click.option(
    "--level",
    default="strength",
    show_default=True,
    help="Level to show: strength, a service level, or permanent.",
)
@click.option("--csv", "csv_file", type=FILE, help="Write every set of forces by station as CSV.")
@click.option("--extremes", is_flag=True, help="With --csv: the envelope alone, one row a station.")
@click.option("--figure", type=FILE, help="Write the envelopes as .png or .svg.")
@click.option("--combinations", is_flag=True, help="List every combination instead.")
@click.option("--action", help="Draw and list one action's own diagram instead, unfactored on all its spans.")
@click.option("--force", is_flag=True, help="Overwrite files that exist.")
@click.option("--mark", "pattern", metavar="PATTERN", help="Beams whose mark is like this, such as 'DB*'.")
@click.option(
    "--jobs", default=1, show_default=True, type=click.IntRange(1, 64), help="Beams at the same time."
)
@click.option(
    "--root",
    type=FILE,
    help="Files that a beam file names lie inside this folder; the one above it when left out.",
)
@common
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


@click.command()
@click.argument("beams", nargs=-1, required=True, type=FILE, metavar="BEAM...")
@click.option("--into", type=FILE, help="Folder for the results; beside each beam file when left out.")
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
@many
@common
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

    wanted = listed(outputs, tuple(OUTPUTS), "output") or tuple(OUTPUTS)
    wishes = Wishes(
        fresh=fresh,
        mend=mend,
        figures=figures,
        suggest=suggest,
        jobs=jobs,
        as_json=as_json,
        quiet=quiet,
        colour=not no_colour,
        alternatives=alternatives,
        outputs=wanted,
        again=again,
        only=listed(only, VERDICTS, "verdict"),
        sort=sort,
        summary=summary,
        cluster=cluster,
        root=root,
        force=force,
    )
    return design_all(beams, into, wishes, pattern, shard)


@click.command()
@click.argument("beams", nargs=-1, required=True, type=FILE, metavar="BEAM... [LAYOUT]")
@click.option("--into", type=FILE, help="With a LAYOUT: also write result and diagrams into this folder.")
@many
@common
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
        jobs=jobs,
        as_json=as_json,
        quiet=quiet,
        colour=not no_colour,
        mode="check",
        again=again,
        only=listed(only, VERDICTS, "verdict"),
        sort=sort,
        summary=summary,
        cluster=cluster,
        root=root,
        force=force,
    )
    return design_all(beams, None, wishes, pattern, shard)


@click.command()
@click.argument("beams", nargs=-1, required=True, type=FILE, metavar="BEAM...")
@click.option(
    "--within",
    default=15.0,
    show_default=True,
    type=click.FloatRange(0.0, 90.0),
    help="Percent that forces may be apart.",
)
@click.option("--write", type=FILE, metavar="DIR", help="Write a file for each group, to be designed as one.")
@click.option("--mark", "pattern", metavar="PATTERN", help="Beams whose mark is like this, such as 'DB*'.")
@click.option(
    "--jobs", default=1, show_default=True, type=click.IntRange(1, 64), help="Beams at the same time."
)
@click.option(
    "--root",
    type=FILE,
    help="Files that a beam file names lie inside this folder; the one above it when left out.",
)
@common
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
@click.argument("beam", type=FILE)
@click.argument("layout", type=FILE, required=False)
@click.option("--page", is_flag=True, help="Serve a page with the diagrams, to this machine alone.")
@click.option(
    "--port", default=0, type=click.IntRange(0, 65535), help="Port of the page; a free one when left out."
)
@click.option(
    "--root",
    type=FILE,
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
@click.option("--into", type=FILE, help="Folder for the demo; bramble-demo, or bramble-job, when left out.")
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
