"""The same work from a shell: results to standard output, messages to standard error."""

from importlib import import_module

import click

from .. import __version__

# Where each command is declared, which is looked at when it is asked for: whoever asks for a sum
# waits for no pictures. In the order of the help.
COMMANDS = {
    "demo": "serving.demo",
    "serve": "serving.serve",
    "render": "pictures.render",
    "lut": "pictures.write_lut",
    "card": "pictures.draw_card",
    "develop": "archive.develop",
    "calibrate": "learning.calibrate",
    "kit": "kit.kit",
    "reckon": "reckon.reckon",
    "compare": "judging.compare_recipes",
    "measure": "judging.measure_recipe",
    "translate": "judging.translate_recipe",
    "nearest": "judging.nearest_recipes",
    "bodies": "lists.list_bodies",
    "styles": "lists.list_styles",
    "scenes": "lists.list_scenes",
    "dials": "lists.list_dials",
    "schema": "formats.print_schema",
    "body": "formats.write_body",
    "read": "written.read_written",
}


class Commands(click.Group):
    """Commands whose modules are loaded when they are asked for."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """All names."""
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """The command of a name."""
        if cmd_name not in COMMANDS:
            return None
        module, _, name = COMMANDS[cmd_name].partition(".")
        made: click.Command = getattr(import_module(f".{module}", __name__), name)
        return made


@click.group(cls=Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="zesty-plum")
def main() -> None:
    """Design, see, compare and carry in-camera look recipes."""
