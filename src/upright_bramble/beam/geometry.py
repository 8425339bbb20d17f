"""Where bars lie in the cross-section. One place for what proportioning and verification both need."""

from __future__ import annotations

import math


def bar_area(diameter: float) -> float:
    return math.pi * diameter**2 / 4.0


def axis_distance(
    cover: float, tie: float, layer: int, diameter: float, first_diameter: float, gap: float
) -> float:
    """Distance from a face to the axis of a bar of `layer` (1 next to the stirrup).

    `first_diameter` is the thickest bar of the layers outside it, `gap` the clear distance between layers.
    """
    if layer == 1:
        return cover + tie + 0.5 * diameter
    return cover + tie + (layer - 1) * (first_diameter + gap) + 0.5 * diameter


def maximum_in_row(
    width: float, cover: float, tie: float, diameter: float, gap: float, kept_free: float = 0.0
) -> int:
    """How many bars fit side by side inside the stirrup; `kept_free` is extra room for a vibrator."""
    room = width - 2.0 * (cover + tie) - kept_free
    return max(int((room + gap) / (diameter + gap) + 1e-9), 0)
