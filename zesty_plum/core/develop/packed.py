"""Four numbers at once, which the compiler does not find by itself. Loaded by `kernels` with
numba."""

from typing import Any

from llvmlite import ir
from numba.core import cgutils, types
from numba.extending import intrinsic

_FOUR = ir.VectorType(ir.FloatType(), 4)
_LOOSE = ("contract", "nsz")


@intrinsic
def mix(
    typing: Any,
    rows: Any,
    at0: Any,
    at1: Any,
    at2: Any,
    at3: Any,
    w0: Any,
    w1: Any,
    w2: Any,
    w3: Any,
    out: Any,
    to: Any,
) -> Any:
    """Row `to` of `out` (n, 4) becomes the sum of four rows of `rows` (m, 4), float32 in one piece,
    each times its weight."""
    del typing
    given = (rows, at0, at1, at2, at3, w0, w1, w2, w3, out, to)

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        def place(array: int, row: int) -> Any:
            made = cgutils.create_struct_proxy(signature.args[array])
            data = made(context, builder, args[array]).data
            at = context.cast(builder, args[row], signature.args[row], types.intp)
            first = builder.gep(data, [builder.shl(at, ir.Constant(at.type, 2))])
            return builder.bitcast(first, _FOUR.as_pointer())

        def everywhere(weight: Any) -> Any:
            empty, zero = ir.Constant(_FOUR, ir.Undefined), ir.IntType(32)
            one = builder.insert_element(empty, weight, ir.Constant(zero, 0))
            return builder.shuffle_vector(one, empty, ir.Constant(ir.VectorType(zero, 4), [0] * 4))

        total = None
        for k in range(4):
            row = builder.load(place(0, 1 + k), align=4)
            part = builder.fmul(row, everywhere(args[5 + k]), flags=_LOOSE)
            total = part if total is None else builder.fadd(total, part, flags=_LOOSE)
        builder.store(total, place(9, 10), align=4)
        return context.get_dummy_value()

    return types.void(*given), generate
