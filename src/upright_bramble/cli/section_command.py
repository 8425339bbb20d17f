"""The command that judges one cross-section."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from upright_bramble.cli.arguments import FILE, common


def _once(context: click.Context, option: click.Parameter, values: tuple[str, ...]) -> str | None:
    """An option that says what one set of forces is: given twice, neither is taken."""
    if len(values) > 1:
        raise click.BadParameter(
            "is given more than once; several sets of forces go into a section file", context, option
        )
    return values[0] if values else None


@click.command()
@click.argument("file", type=FILE, required=False)
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
@click.option("--figure", type=FILE, help="Section, strains and curves of resistance, .png or .svg.")
@click.option("--csv", "table", type=FILE, help="The curves as a table.")
@click.option("--report", "paper", type=FILE, help="The calculation report, .html, .pdf or .md.")
@click.option(
    "--depth",
    type=click.Choice(["brief", "full"]),
    default="brief",
    show_default=True,
    help="Of the report; full has derivations.",
)
@click.option("--force", is_flag=True, help="Overwrite files that exist.")
@common
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
