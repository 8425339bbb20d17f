"""Sample beams of a small made-up boathouse, and the starter file."""

from __future__ import annotations

from importlib import resources

_NAMES = (
    "boathouse-deck.beam.yaml", "hall-transfer.beam.yaml", "slipway-lintel.beam.yaml",
    "canopy-edge.beam.yaml", "annex-floor.beam.yaml",
    "ice-house.beam.yaml", "net-loft.beam.yaml", "tea-room.beam.yaml", "boat-shelf.beam.yaml",
)  # fmt: skip

# width, spans, depth, loads and cover in the units' own round numbers
_KEYS = ("width", "span_1", "span_2", "depth", "dead", "live", "point", "cover", "strength")
_UNITS = {
    "si": ("350", "6.4", "7.2", "600", "9.6", "18", "30", "35", "grade: C30/37"),
    "us": ("14", "21", "24", "24", "0.66", "1.2", "6.5", "1.5", "strength: 4350 psi"),
    "technical": ("35", "6.4", "7.2", "60", "0.98", "1.8", "3", "3.5", "grade: C30/37"),
}


def demo_files() -> dict[str, str]:
    """Name and text of every demo beam."""
    folder = resources.files("upright_bramble.demo")
    return {name: folder.joinpath(name).read_text("utf-8") for name in _NAMES}


def starter_text(code: str, units: str, name: str, rules: bool = False) -> str:
    """A commented beam file to begin with, or a file of shared `rules`."""
    from upright_bramble.codes import get_code

    text = (
        resources.files("upright_bramble.demo")
        .joinpath("rules.txt" if rules else "starter.txt")
        .read_text("utf-8")
    )
    mark = (
        "".join(c for c in name.upper() if (c.isascii() and c.isalnum()) or c in "-_").strip("-_")[:16]
        or "B1"
    )
    chosen = get_code(code)
    values = {**dict(zip(_KEYS, _UNITS[units], strict=True)), "code": code, "units": units, "mark": mark}
    values["bars"], values["stirrups"] = ", ".join(chosen.sizes.main), ", ".join(chosen.sizes.stirrups)
    values["annex"] = (
        f"annex: {chosen.annexes[0]:<23} # or {', '.join(chosen.annexes[1:])}\n" if chosen.annexes else ""
    )
    values |= chosen.words.starter
    for key, value in values.items():
        text = text.replace(f"<{key}>", value)
    return text
