"""Pages made from templates: every text in them is escaped, and nothing outside them is asked for."""

from __future__ import annotations

import functools
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from jinja2 import Template


@functools.cache
def _template(name: str) -> Template:
    from importlib.resources import files

    from jinja2 import Environment

    text = files("upright_bramble.present").joinpath(name).read_text("utf-8")
    return Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True).from_string(text)


def page(name: str, **content: Any) -> str:
    """A template of this folder, filled."""
    return _template(name).render(**content)
