"""The reinforcement drawing: one model of sheets in paper millimetres, several writers."""

from upright_bramble.present.drawing.sheets import sheets_of

__all__ = ["sheets_of"]
