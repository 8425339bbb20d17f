"""What a verdict is made of: topics by name, and which of them a user may waive altogether."""

from __future__ import annotations

TOPICS = {
    "forces": "Forces",
    "bending": "Bending",
    "ductility": "Ductility and redistribution",
    "minimum": "Minimum reinforcement",
    "maximum": "Maximum reinforcement",
    "shear": "Shear",
    "flange": "Shear of flanges",
    "torsion": "Torsion",
    "stirrups": "Stirrups",
    "deep": "Deep and short spans",
    "bracing": "Lateral stability",
    "anchorage": "Anchorage",
    "cut-off": "Cut-offs",
    "lap": "Laps",
    "joints": "Joints at hinges",
    "lateral": "Lateral system",
    "deflection": "Deflection",
    "cracking": "Cracking and stresses in service",
    "fit": "Fit",
    "cover": "Cover",
    "practice": "Practice",
}
SERVICE = ("deflection", "cracking")
"""Topics whose failing checks a waiver covers too. Of all others it covers what could not be verified, never
a check that fails."""
