"""Files that people edit: a fault is a sentence with file and line, whatever was mistyped."""

import re

import pytest

from tests.core.test_bodies import OTHER
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import reading
from zesty_plum.core.judge import rules
from zesty_plum.core.styles import HERE as STYLES
from zesty_plum.core.styles import read as read_style


def line_with(text: str, words: str) -> int:
    return next(n for n, line in enumerate(text.splitlines(), 1) if words in line)


@pytest.mark.parametrize(
    ("old", "new", "words", "at"),
    [
        ("slots = 2", "slot = 2", "A body has no 'slot'.", "slot = 2"),
        ('name = "Curlew 1"\n', "", "The body has no name", "kind ="),
        ("headroom = 3.5", "headrom = 3.5", "a sensor has no 'headrom'", "headrom"),
        ("read_noise = 3", 'read_noise = "low"', "has to be a number", "read_noise"),
        ("from = -2", "fron = -2", "Dial 'contrast' has no 'fron'.", "fron"),
        ("highlights = 0.3", "highlight = 0.3", "A look has no 'highlight'.", "highlight = 0.3"),
        ("sharpness = -0.1", "sharp = -0.1", "A look has no 'sharp'.", "sharp = -0.1"),
        ('default = "soft"', 'default = "mild"', "cannot be set to 'mild'", "default ="),
        ('dial = "contrast", not', 'dial = "kontrast", not', "that is not there", "needs ="),
        ("not = [0]", "not = [7]", "needs what cannot be", "needs ="),
        ("not = [0]", "nott = [0]", "A need of 'mode' has no 'nott'.", "nott"),
        (
            'purpose = "p"\nmeans = "m"\nlater = "l"\nneeds',
            'later = "l"\nneeds',
            "no purpose",
            "mode",
        ),
        ("to = 2\n", "to = \n", "this is not TOML", "to = "),
    ],
)
def test_a_fault_in_a_body_is_told_with_its_line(tmp_path, old, new, words, at):
    assert old in OTHER
    text = OTHER.replace(old, new, 1)
    path = tmp_path / "curlew-1.toml"
    path.write_text(text)
    with pytest.raises(PlumError) as fault:
        reading.read(path)
    said = str(fault.value)
    assert words in said
    assert re.match(r"curlew-1\.toml, line \d+: ", said)
    assert int(re.search(r"line (\d+)", said)[1]) == line_with(text, at)


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ("contrast = 1.14", "kontrast = 1.14", "the tone of a style has no 'kontrast'"),
        ("toe = 0.82", 'toe = "long"', "'toe' of the tone of a style has to be a number"),
        ("[   8.0,   5.0,", "[   8.0,", "'turn' needs 12 numbers around the hue circle, not 11"),
        ("skin_turn = [0, 9]", "skin_turn = 9", "'skin_turn' is a band: write two numbers"),
        ("order = 5\n", "", "The style has no order"),
        ("purpose = ", "purpos = ", "A style has no 'purpos'"),
    ],
)
def test_a_fault_in_a_style_is_told_with_its_line(tmp_path, old, new, words):
    text = (STYLES / "lamplight.toml").read_text()
    assert old in text
    path = tmp_path / "lamplight.toml"
    path.write_text(text.replace(old, new, 1))
    with pytest.raises(PlumError, match=r"^lamplight\.toml, line \d+: ") as fault:
        read_style(path)
    assert words in str(fault.value)


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ('try = ["density", "saturation"', 'try = ["density", "colour"', "A look has no 'colour'"),
        ('unit = "mired"', 'unit = "mireds"', "A figure has no 'mireds'"),
        ("weight = 3", "wait = 3", "Rule 'over' has no 'wait'"),
        ('unless = { grain = "any" }', 'unless = { grane = "any" }', "A look has no 'grane'"),
    ],
)
def test_a_fault_in_a_rule_is_told_with_its_line(tmp_path, old, new, words):
    text = (rules.HERE / "rules.toml").read_text()
    assert old in text
    (tmp_path / "rules.toml").write_text(text.replace(old, new, 1))
    with pytest.raises(PlumError, match=r"^rules\.toml, line (\d+): ") as fault:
        rules.read(tmp_path / "rules.toml")
    assert words in str(fault.value)
