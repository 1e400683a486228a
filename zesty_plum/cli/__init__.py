"""The same work from a shell: results to standard output, messages to standard error."""

import click

from .. import __version__
from . import archive, judging, kit, learning, lists, pictures, reckon, serving


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="zesty-plum")
def main() -> None:
    """Design, see, compare and carry in-camera look recipes."""


for command in (
    serving.demo,
    serving.serve,
    pictures.render,
    pictures.write_lut,
    pictures.draw_card,
    archive.develop,
    learning.calibrate,
    kit.kit,
    reckon.reckon,
    judging.compare_recipes,
    judging.measure_recipe,
    judging.translate_recipe,
    judging.nearest_recipes,
    lists.list_bodies,
    lists.list_styles,
    lists.list_scenes,
    lists.list_dials,
    lists.print_schema,
    lists.write_body,
    lists.read_written,
):
    main.add_command(command)
