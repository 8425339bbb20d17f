"""Sample beams of a small made-up boathouse, and the starter file."""

from __future__ import annotations

from importlib import resources

_NAMES = ("boathouse-deck.beam.yaml", "hall-transfer.beam.yaml", "slipway-lintel.beam.yaml")

_UNITS = {
    "kN-m": {"width": "350", "span_1": "6.4", "span_2": "7.2", "depth": "600", "dead": "9.6", "live": "18", "point": "30", "cover": "35", "strength": "grade: C30/37"},
    "kip-ft": {"width": "14", "span_1": "21", "span_2": "24", "depth": "24", "dead": "0.66", "live": "1.2", "point": "6.5", "cover": "1.5", "strength": "strength: 4350 psi"},
    "tf-m": {"width": "35", "span_1": "6.4", "span_2": "7.2", "depth": "60", "dead": "0.98", "live": "1.8", "point": "3", "cover": "3.5", "strength": "grade: C30/37"},
}  # fmt: skip


def demo_files() -> dict[str, str]:
    """Name and text of every demo beam."""
    folder = resources.files("upright_bramble.demo")
    return {name: folder.joinpath(name).read_text("utf-8") for name in _NAMES}


def starter_text(code: str, units: str, name: str) -> str:
    """A commented beam file to begin with."""
    text = resources.files("upright_bramble.demo").joinpath("starter.txt").read_text("utf-8")
    mark = "".join(c for c in name.upper() if c.isalnum() or c in "-_").strip("-_")[:16] or "B1"
    for key, value in {**_UNITS[units], "code": code, "units": units, "mark": mark}.items():
        text = text.replace(f"<{key}>", value)
    return text
