"""The options of `bramble section` as the data of a section file."""

from __future__ import annotations

import re
from typing import Any

import click

_ROW = re.compile(r"^\s*(\d+)\s*[xX]\s*([#\w]+)\s*@\s*(.+?)\s*$")
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
    data: dict[str, Any] = {
        "bramble_section": 1, "section": f"section {given['size']}", "code": given["code"], "units": given["units"],
        "concrete": _strength_or_grade(given["concrete"], "strength", "grade"),
        "reinforcement": _strength_or_grade(given["steel"], "yield", "bars"),
        "cover": _plain(given["cover"]), "form": form, "bars": [_row(v) for v in given["bars"]],
        "asked": {k: _plain(given[k]) for k in ("moment", "shear", "torque", "axial", "service") if given[k] is not None},
    }  # fmt: skip
    if given["annex"]:
        data["annex"] = given["annex"]
    if given["stirrups"]:
        row = _row(given["stirrups"], "--stirrups", "2x8@200")
        data["stirrups"] = {"legs": row["count"], "size": row["size"], "spacing": row["at"]}
    return data


def _pair(option: str, text: str, example: str) -> tuple[float, float]:
    match = _PAIR.match(text)
    if not match:
        raise click.UsageError(f"{option} '{text[:40]}' is not two sizes; such as {example}")
    return float(match.group(1)), float(match.group(2))


def _row(text: str, option: str = "--bars", example: str = "4x20@545") -> dict[str, Any]:
    match = _ROW.match(text)
    if not match:
        raise click.UsageError(f"{option} '{text[:40]}' is not a number of bars, a size and a place; such as {example}")
    return {"count": int(match.group(1)), "size": match.group(2), "at": _plain(match.group(3))}


def _plain(text: str) -> float | str:
    """A bare number as a number: it takes the units of the call."""
    try:
        return float(text)
    except ValueError:
        return text


def _strength_or_grade(text: str, strength: str, grade: str) -> dict[str, Any]:
    """'C30/37' or 'Grade 60' is a grade, '4000 psi' and '30' are strengths."""
    return {strength: _plain(text)} if re.match(r"^\s*[\d.]", text) else {grade: text}
