"""Array types used throughout: float32 pictures (height, width, 3) and colours (..., 3)."""

from typing import TYPE_CHECKING, Any

MID_GREY = 0.18

if TYPE_CHECKING:
    import numpy as np
    import numpy.typing as npt

    Array = npt.NDArray[np.floating[Any]]  # float32 unless a docstring says otherwise
    Matrix = npt.NDArray[np.float64]
    Mask = npt.NDArray[np.bool_]
    Bytes8 = npt.NDArray[np.uint8]
else:  # who only lists bodies and styles does without the library
    Array = Matrix = Mask = Bytes8 = Any
