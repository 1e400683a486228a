"""Programs for those who work on the product; each says of itself what it is for."""

import argparse


def asked(told: str | None, *options: str) -> argparse.Namespace:
    """What a tool was asked for: `names` of parts, and whether each of `options` is wished."""
    parser = argparse.ArgumentParser(description=told)
    parser.add_argument("names", nargs="*", help="some parts of it; all where none is named")
    for option in options:
        parser.add_argument(option, action="store_true")
    return parser.parse_args()
