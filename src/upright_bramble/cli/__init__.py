"""Commands: parse, call, print. No engineering; nothing heavy is imported before it is used."""

from __future__ import annotations

import contextlib
import os
import sys
from typing import Any

import click

from upright_bramble.cli import interrupts
from upright_bramble.cli.output import drop_output
from upright_bramble.version import __version__


class _Group(click.Group):
    """Commands in the order of the work; errors as one line and an exit status."""

    def list_commands(self, ctx: click.Context) -> list[str]:  # noqa: ARG002
        return list(self.commands)

    def main(self, *args: Any, **kwargs: Any) -> Any:
        from upright_bramble.errors import BrambleError

        kwargs["standalone_mode"] = False
        interrupts.watch()
        # no plug-ins are used; looking through every installed package for some costs more than a beam's verification
        os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
        try:
            code = super().main(*args, **kwargs)
        except click.exceptions.Exit as error:
            code = error.exit_code
        except click.ClickException as error:
            with contextlib.suppress(BrokenPipeError):
                error.show()
            code = 2
        except (click.Abort, KeyboardInterrupt):
            _say("interrupted; what was there before is whole")
            code = 130
        except BrambleError as error:
            _say(str(error))
            code = 2
        except BrokenPipeError:
            drop_output()
            code = 0
        except Exception as error:
            if os.environ.get("BRAMBLE_DEBUG"):
                raise
            text = " ".join(str(error).split())[:200]
            _say(
                f"bramble itself failed ({type(error).__name__}: {text}); this is a fault of the program, not of your file. "
                "Set BRAMBLE_DEBUG=1 and run again for the details to report."
            )
            code = 2
        sys.exit(code if isinstance(code, int) else 0)


def _say(text: str) -> None:
    with contextlib.suppress(BrokenPipeError):
        click.echo(text, err=True)


@click.group(cls=_Group, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="bramble")
def main() -> None:
    """Upright Bramble designs multi-span reinforced concrete beams.

    A beam file goes in; bars, stirrups, checks and figures come out.

    \b
    bramble start deck.beam.yaml      a file to begin with
    bramble forces deck.beam.yaml     is the moment diagram what you expect?
    bramble design deck.beam.yaml     bars, stirrups, every check, figures
    bramble check deck.beam.yaml DB1/DB1.layout.yaml    after editing the bars
    """


from upright_bramble.cli import commands  # noqa: E402

commands.add_to(main)
