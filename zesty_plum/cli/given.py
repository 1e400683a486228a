"""Recipes, pictures and scenes from the arguments of a command."""

from pathlib import Path

import click

from ..core import scenes
from ..core.base.errors import PlumError
from ..core.pictures import metadata
from ..core.pictures.read import read
from ..core.recipe import Recipe, loads
from ..core.scenes.scene import Scene
from .common import read_bytes


def read_recipe(path: str) -> Recipe:
    """A recipe from a file, from '-', or from a picture that carries one."""
    data = read_bytes(path)
    if data[:2] == b"\xff\xd8" or data[:4] == b"\x89PNG":
        found = metadata.find(data)
        if found is None:
            raise PlumError(f"The picture '{path}' carries no recipe. Give a recipe file.")
        return found
    recipe = loads(data)
    for told in recipe.carried:
        click.echo(told, err=True)
    return recipe


def scene_of(scene: str | None, picture: str | None) -> Scene:
    """The sample scene or the picture that a command was given; it needs one of the two."""
    if (scene is None) == (picture is None):
        raise click.UsageError("Give either --scene or --picture.")
    if picture is not None:
        return read(read_bytes(picture), Path(picture).name, "own-picture")
    assert scene is not None
    return scenes.load(scene)
