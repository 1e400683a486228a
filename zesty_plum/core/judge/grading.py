"""What a standard grade leaves of a recipe's code values, in words."""

from ..develop.grade import standard_grade
from ..recipe import Recipe
from ..scenes.scene import Scene
from ..seen import BAND


def bands_after_a_grade(scene: Scene, recipe: Recipe) -> str:
    """Whether skies may show bands once a recipe's files are graded, at 8 bit and at 10."""
    grade = standard_grade(scene, recipe.look, recipe.camera.sensor)
    if grade.idle:
        return "Firm and full already: a standard grade leaves it as it is."
    steps = {bits: grade.steepest(bits, recipe.look.limited) for bits in (8, 10)}
    return bands_in_words(steps[8], steps[10])


def bands_in_words(eight: float, ten: float) -> str:
    """The sentence for how many steps of a screen one code value becomes, at 8 bit and at 10."""
    said = "bands may show in skies at 8 bit" if eight > BAND else "8 bit is enough"
    return (
        f"One 8-bit code becomes up to {eight:.1f} steps of the screen, one 10-bit code "
        f"{ten:.1f}: {said}."
    )
