"""The terminal: a console of at least 80 columns, and text that its encoding can show."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from upright_bramble.working.formula import GREEK

if TYPE_CHECKING:
    from rich.console import Console

_PLAIN = str.maketrans({
    "ø": "d", "²": "2", "³": "3", "·": ".", "×": "x", "–": "-", "—": "-", "→": "->",
    "−": "-", "≤": "<=", "≥": ">=", "√": "sqrt", "∛": "cbrt",
    "∞": "inf", "⁰": "^0", "¹": "^1", "⁴": "^4", "⁵": "^5", "⁶": "^6", "⁷": "^7", "⁸": "^8", "⁹": "^9",
    "⁻": "^-",
    **{sign: name for name, sign in GREEK.items()},
})  # fmt: skip


def make_console(*, colour: bool = True, stderr: bool = False, width: int | None = None) -> Console:
    """A console that is at least 80 columns wide, without colour when asked, plain ASCII when it must be."""
    from rich.console import Console

    class Patient(Console):
        def on_broken_pipe(self) -> None:
            """The reader went away (`| head`): nothing is wrong, the rest is not wanted."""
            self.quiet = True
            raise BrokenPipeError

    console = Patient(
        no_color=not colour, stderr=stderr, highlight=False, emoji=False, markup=False, width=width
    )
    if not console.is_terminal:
        console = Patient(
            no_color=True,
            stderr=stderr,
            highlight=False,
            emoji=False,
            markup=False,
            width=width or 80,
            color_system=None,
        )
    return console


def plain(console: Console, text: str) -> str:
    """Text that the console's encoding can show."""
    try:
        text.encode(console.encoding)
        return text
    except (UnicodeEncodeError, LookupError):
        ascii_text = re.sub(
            r"(?:\^[-0-9])+", lambda m: "^" + m.group().replace("^", ""), text.translate(_PLAIN)
        )  # ^1^0 is ^10
        return ascii_text.encode(console.encoding or "ascii", "replace").decode(console.encoding or "ascii")
