"""Small line drawings as SVG: curves over labelled axes, nothing else."""

from html import escape

import numpy as np

INKS = (
    "#6a1d4e",
    "#b97a00",
    "#2a6f97",
    "#4f7942",
    "#8a4a3a",
    "#5f565c",
    "#a63d7a",
    "#3f8f8a",
    "#7a6a1f",
    "#444444",
    "#b05f8f",
    "#2f4f9f",
)
WIDE, TALL, LEFT, BOTTOM, TOP, RIGHT = 520, 320, 58, 44, 14, 150


def curves(lines, x_label, y_label, x_range, y_range, x_ticks, y_ticks):
    """An SVG with one polyline for each of `lines`: {name: (x, y)}."""
    width, height = WIDE - LEFT - RIGHT, TALL - TOP - BOTTOM

    def place(x, y):
        px = LEFT + (np.asarray(x, float) - x_range[0]) / (x_range[1] - x_range[0]) * width
        py = TOP + (1 - (np.asarray(y, float) - y_range[0]) / (y_range[1] - y_range[0])) * height
        return px, py

    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDE} {TALL}" '
        'font-family="sans-serif" font-size="12">',
        f'<rect width="{WIDE}" height="{TALL}" fill="#fbfaf7"/>',
    ]
    for tick in x_ticks:
        px, _ = place(tick, y_range[0])
        out.append(f'<path d="M{px:.1f} {TOP}V{TOP + height}" stroke="#d9d3d2"/>')
        out.append(
            f'<text x="{px:.1f}" y="{TOP + height + 17}" text-anchor="middle" '
            f'fill="#5f565c">{tick:g}</text>'
        )
    for tick in y_ticks:
        _, py = place(x_range[0], tick)
        out.append(f'<path d="M{LEFT} {py:.1f}H{LEFT + width}" stroke="#d9d3d2"/>')
        out.append(
            f'<text x="{LEFT - 7}" y="{py + 4:.1f}" text-anchor="end" '
            f'fill="#5f565c">{tick:g}</text>'
        )
    for k, (name, (x, y)) in enumerate(lines.items()):
        px, py = place(x, np.clip(y, *y_range))
        points = " ".join(f"{a:.1f},{b:.1f}" for a, b in zip(px, py))
        ink = INKS[k % len(INKS)]
        out.append(f'<polyline points="{points}" fill="none" stroke="{ink}" stroke-width="1.8"/>')
        out.append(
            f'<text x="{WIDE - RIGHT + 12}" y="{TOP + 12 + 17 * k}" '
            f'fill="{ink}">{escape(name)}</text>'
        )
    out.append(
        f'<text x="{LEFT + width / 2}" y="{TALL - 8}" text-anchor="middle" '
        f'fill="#211a1f">{escape(x_label)}</text>'
    )
    middle = TOP + height / 2
    out.append(
        f'<text transform="translate(15 {middle}) rotate(-90)" text-anchor="middle" '
        f'fill="#211a1f">{escape(y_label)}</text>'
    )
    return "\n".join([*out, "</svg>"]) + "\n"
