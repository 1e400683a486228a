"""What people wear who are seen from near: garments that fall, with their cloth."""

from . import fabric
from .draped import Garment
from .patterns import Tee
from .person import Piece

SMOCK = Tee(hem=-0.3, wide=2.7, sleeve_end=0.75, cuff=0.8)
OILSKIN = Tee(hem=-1.2, wide=2.95, sleeve=1.2, sleeve_end=0.95, cuff=0.85, neck_wide=0.62, slit=0.9)


def smock(rgb, seed, melange=0.10):
    """A linen smock with short sleeves."""
    return Piece(
        "smock",
        Garment("shirt", SMOCK, spacing=0.08, bending=5),
        lambda: fabric.weave(rgb, melange=melange, seed=seed, repeat=2.0),
        {"crease": 0.02, "seed": seed},
    )


def scarf(rgb, seed, lift=1.1):
    """A woollen scarf wound once and a half; its nap is `lift` times as bright as its yarn."""
    return Piece(
        "scarf",
        Garment("scarf", spacing=0.08, bending=3, over=0.11, seconds=2.2, seed=seed),
        lambda: fabric.weave(rgb, threads=36, melange=0.14, depth=0.010, sheen=0.6, seed=seed + 3),
        {"crease": 0.006, "hem": 0.01, "seed": seed},
        (30000, 0.07, tuple(lift * c for c in rgb)),
    )


def oilskin(rgb, seed):
    """A stiff coat of oiled cotton."""
    return Piece(
        "oilskin",
        Garment("oilskin", OILSKIN, spacing=0.09, bending=40, seed=seed),
        lambda: fabric.oiled(rgb, seed),
        {"crease": 0.012, "thick": 0.02, "seed": seed},
    )


def shawl(rgb, fibres, melange=0.10, **given):
    """A woollen shawl over the head, with what `Garment` is given, and its nap of `fibres`, their
    count and length."""
    return Piece(
        "shawl",
        Garment("shawl", spacing=0.085, **given),
        lambda: fabric.weave(rgb, threads=34, melange=melange, depth=0.010, sheen=0.6),
        {"crease": 0.006, "hem": 0.02},
        (*fibres, rgb),
    )
