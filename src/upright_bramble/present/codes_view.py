"""A design code on the terminal: its values in force, and the factors of accompanying actions."""

from __future__ import annotations

from typing import TYPE_CHECKING

from upright_bramble.present.palette import BERRY
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

    from upright_bramble.codes import DesignCode


def code_values(console: Console, code: DesignCode) -> None:
    """Values in force with their clauses, and the factors of accompanying actions."""
    from rich.table import Table

    console.print(plain(console, code.title), style="bold")
    console.print(
        f"rules of combination: {', '.join(code.actions.rules)}; kinds of action: permanent, "
        f"{', '.join(code.actions.kinds)}"
    )
    console.print()
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name, justify in (("value of", "left"), ("", "right"), ("clause", "left")):
        table.add_column(name, justify=justify, no_wrap=True)  # type: ignore[arg-type]
    for key, value in code.values.items():
        table.add_row(key, f"{value.value:g}", value.clause)
    console.print(table)
    console.print()
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name in ("action", "psi_0", "psi_1", "psi_2"):
        table.add_column(name, justify="left" if name == "action" else "right")
    for key, psi in code.actions.accompanying().items():
        table.add_row(key, *(f"{v:g}" for v in psi))
    console.print(table)
