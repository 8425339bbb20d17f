"""The options of `bramble section` as the data of a section file."""

from __future__ import annotations

import re
from typing import Any

import click

_ROW = re.compile(r"^\s*(\d+)\s*[xX]\s*([#\w]+)\s*@\s*(.+?)\s*$")
_STRESS = re.compile(r"^\s*[\d.]+\s*([A-Za-z]{2,}[^\s]*)?\s*$")
_FORCES = ("moment", "moment_y", "shear", "torque", "axial")
_PAIR = re.compile(r"^\s*([\d.]+)\s*[xX]\s*([\d.]+)\s*$")


def section_options(given: dict[str, Any]) -> dict[str, Any]:
    """Raises click.UsageError for options that say nothing usable."""
    missing = [f"--{k}" for k in ("size", "concrete", "steel", "cover") if not given[k]]
    if missing:
        raise click.UsageError(f"give a section file, or {', '.join(missing)}")
    width, depth = _pair("--size", given["size"], "350x600")
    form: dict[str, Any] = {"shape": "rectangle", "depth": depth, "width": width}
    if given["flange"]:
        wide, thick = _pair("--flange", given["flange"], "1200x150")
        form |= {"shape": "T", "flange": {"width": wide, "thickness": thick}}
    acting = {k: _plain(given[k]) for k in _FORCES if given[k] is not None}
    data: dict[str, Any] = {
        "bramble_section": 1,
        "title": f"section {given['size']}",
        "code": given["code"],
        "units": given["units"],
        "concrete": _strength_or_grade(given["concrete"], "strength", "grade"),
        "reinforcement": _strength_or_grade(given["steel"], "yield", "bars"),
        "cover": _plain(given["cover"]),
        "form": form,
        "bars": [_row(v) for v in given["bars"]],
    }
    if acting:
        data["forces"] = [{"name": "given", **acting}]
    if given["service"] is not None:
        data["service"] = [{"name": "service", "moment": _plain(given["service"])}]
    if given["greatest_moment"] is not None and "forces" in data:
        data["forces"][0]["greatest_moment"] = _plain(given["greatest_moment"])
    if given["choose"] or given["choose_stirrups"] or given["least"]:
        wanted = {"main_bars": given["choose"], "stirrup_bars": given["choose_stirrups"]}
        data["choose"] = {k: [v.strip() for v in text.split(",")] for k, text in wanted.items() if text}
        data["choose"] |= {"size": given["least"]} if given["least"] else {}
    if given["axis"]:
        data["axis"] = given["axis"]
    if given["waive"]:
        data["waive"] = dict(_waived(v) for v in given["waive"])
    if given["annex"]:
        data["annex"] = given["annex"]
    if given["stirrups"]:
        row = _row(given["stirrups"], "--stirrups", "2x8@200")
        data["stirrups"] = {"legs": row["row"], "size": row["size"], "spacing": row["depth"]}
    return data


def _waived(text: str) -> tuple[str, str]:
    topic, _, reason = text.partition("=")
    if not reason.strip():
        raise click.UsageError(
            f"--waive '{text[:40]}' is not a topic and its reason; such as cracking='not asked'"
        )
    return topic.strip(), reason.strip()


def _pair(option: str, text: str, example: str) -> tuple[float, float]:
    match = _PAIR.match(text)
    if not match:
        raise click.UsageError(f"{option} '{text[:40]}' is not two sizes; such as {example}")
    return float(match.group(1)), float(match.group(2))


def _row(text: str, option: str = "--bars", example: str = "4x20@545") -> dict[str, Any]:
    match = _ROW.match(text)
    if not match:
        raise click.UsageError(
            f"{option} '{text[:40]}' is not a number of bars, a size and a place; such as {example}"
        )
    return {"row": int(match.group(1)), "size": match.group(2), "depth": _plain(match.group(3))}


def _plain(text: str) -> float | str:
    """A bare number as a number: it takes the units of the call."""
    try:
        return float(text)
    except ValueError:
        return text


def _strength_or_grade(text: str, strength: str, grade: str) -> dict[str, Any]:
    """'C30/37', 'Grade 60' or '400W' is a grade, '4000 psi' and '30' are strengths."""
    return {strength: _plain(text)} if _STRESS.match(text) else {grade: text}
