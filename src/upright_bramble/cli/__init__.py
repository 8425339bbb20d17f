"""Commands: parse, call, print. No engineering; nothing heavy is imported before it is used."""

from __future__ import annotations

import os
import sys
import warnings
from typing import Any

import click

from upright_bramble.cli import interrupts, output
from upright_bramble.version import __version__


class _Group(click.Group):
    """Commands in the order of the work; errors as one line and an exit status."""

    def list_commands(self, ctx: click.Context) -> list[str]:  # noqa: ARG002
        return list(self.commands)

    def main(self, *args: Any, **kwargs: Any) -> Any:
        from upright_bramble.errors import BrambleError, FromOutside

        kwargs["standalone_mode"] = False
        output.prepare()
        interrupts.watch()
        if not os.environ.get("BRAMBLE_DEBUG"):
            warnings.simplefilter(
                "ignore"
            )  # what libraries warn their programmers of is nothing for an engineer
        # no plug-ins are used; looking through every installed package for some costs more than a beam's
        # verification
        os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
        try:
            code = super().main(*args, **kwargs)
        except click.exceptions.Exit as error:
            code = error.exit_code
        except click.ClickException as error:
            output.say(_usage(error))
            code = 2
        except (click.Abort, KeyboardInterrupt):
            output.say("interrupted; existing results are unchanged")
            code = 130
        except FromOutside as error:
            output.say(str(error))
            code = 3
        except BrambleError as error:
            output.say(str(error))
            code = 2
        except BrokenPipeError:
            output.drop_output()
            code = 0
        except OSError as error:
            output.say(
                f"interrupted: {error.filename or 'a file'}: {error.strerror or error}; files written so far "
                "are complete"
            )
            code = 3
        except MemoryError:
            output.say("interrupted: not enough memory; files written so far are complete")
            code = 3
        except Exception as error:
            if os.environ.get("BRAMBLE_DEBUG"):
                raise
            text = " ".join(str(error).split())[:200]
            output.say(
                f"bramble itself failed ({type(error).__name__}: {text}); this is a fault of the program, "
                "not of your file. Set BRAMBLE_DEBUG=1 and run again for the details to report."
            )
            code = 3
        output.printed(lambda: None)
        if output.lost() and code in (0, 1, None):
            output.say(
                f"standard output could not be written: {output.lost()}; the work is done, its files are "
                "complete"
            )
            code = 3
        sys.exit(code if isinstance(code, int) else 0)


def _usage(error: click.ClickException) -> str:
    """As Click words a call that cannot be used."""
    context = getattr(error, "ctx", None)
    usage = f"{context.get_usage()}\n" if context is not None else ""
    return f"{usage}Error: {error.format_message()}"


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
