"""A vector of doubles for compiled code: arithmetic, comparison and choice in all lanes at once.

``wide(x)`` puts one number in every lane; operators take vectors and numbers mixed. A comparison gives a mask.
"""

import operator
from collections.abc import Callable
from typing import Any

from llvmlite import ir
from numba import types
from numba.extending import intrinsic, models, overload, register_model

LANES = 8
"""Doubles side by side. The compiler splits a vector where the machine has narrower ones."""

_VECTOR = ir.VectorType(ir.DoubleType(), LANES)
_WHOLE = ir.VectorType(ir.IntType(64), LANES)
_BITS = ir.VectorType(ir.IntType(1), LANES)
_I32 = ir.IntType(32)
_LOOSE = ("reassoc", "contract", "nsz", "arcp")
"""What the scalar loop lets the compiler do as well."""


class _Vector(types.Type):
    def __init__(self) -> None:
        super().__init__(name="lanes of doubles")


class _Mask(types.Type):
    def __init__(self) -> None:
        super().__init__(name="lanes of truth")


vector, mask = _Vector(), _Mask()


@register_model(_Vector)
class _VectorModel(models.PrimitiveModel):
    def __init__(self, manager: Any, kind: Any) -> None:
        super().__init__(manager, kind, _VECTOR)


@register_model(_Mask)
class _MaskModel(models.PrimitiveModel):
    def __init__(self, manager: Any, kind: Any) -> None:
        super().__init__(manager, kind, _BITS)


@intrinsic
def wide(_typing: Any, x: Any) -> Any:
    """One number in every lane."""

    def make(_context: Any, build: Any, _signature: Any, given: Any) -> Any:
        first = build.insert_element(ir.Constant(_VECTOR, ir.Undefined), given[0], ir.Constant(_I32, 0))
        everywhere = ir.Constant(ir.VectorType(_I32, LANES), [0] * LANES)
        return build.shuffle_vector(first, ir.Constant(_VECTOR, ir.Undefined), everywhere)

    return vector(types.float64), make


def _of_two(result: Any, taken: Any, make: Callable[[Any, Any, Any], Any]) -> Any:
    """An instruction on two of a kind."""

    @intrinsic
    def both(_typing: Any, x: Any, y: Any) -> Any:
        def emit(_context: Any, build: Any, _signature: Any, given: Any) -> Any:
            return make(build, given[0], given[1])

        return result(taken, taken), emit

    return both


def _operator(on: Any, both: Any) -> None:
    """Let an operator take vectors, or a vector and a number."""

    @overload(on)
    def mixed(x, y):  # the compiler compares bare signatures
        if isinstance(x, _Vector) and isinstance(y, _Vector):
            return lambda x, y: both(x, y)
        if isinstance(x, _Vector) and isinstance(y, types.Number):
            return lambda x, y: both(x, wide(float(y)))
        if isinstance(x, types.Number) and isinstance(y, _Vector):
            return lambda x, y: both(wide(float(x)), y)
        return None


def _arithmetic(name: str) -> Callable[[Any, Any, Any], Any]:
    return lambda build, x, y: getattr(build, name)(x, y, flags=_LOOSE)


def _comparison(sign: str) -> Callable[[Any, Any, Any], Any]:
    return lambda build, x, y: build.fcmp_ordered(sign, x, y)


for _on, _name in ((operator.add, "fadd"), (operator.sub, "fsub"), (operator.mul, "fmul"), (operator.truediv, "fdiv")):
    _operator(_on, _of_two(vector, vector, _arithmetic(_name)))
for _on, _sign in (
    (operator.gt, ">"),
    (operator.lt, "<"),
    (operator.ge, ">="),
    (operator.le, "<="),
    (operator.eq, "=="),
):
    _operator(_on, _of_two(mask, vector, _comparison(_sign)))


def _logic(on: Any, name: str) -> None:
    both = _of_two(mask, mask, lambda build, x, y: getattr(build, name)(x, y))

    @overload(on)
    def joined(x, y):
        if isinstance(x, _Mask) and isinstance(y, _Mask):
            return lambda x, y: both(x, y)
        return None


_logic(operator.and_, "and_")
_logic(operator.or_, "or_")

most = _of_two(vector, vector, lambda build, x, y: build.select(build.fcmp_ordered(">", x, y), x, y))
"""The larger of two, lane by lane."""

least = _of_two(vector, vector, lambda build, x, y: build.select(build.fcmp_ordered("<", x, y), x, y))
"""The smaller of two, lane by lane."""


@intrinsic
def without(_typing: Any, x: Any) -> Any:
    """The lanes that a mask does not hold."""

    def make(_context: Any, build: Any, _signature: Any, given: Any) -> Any:
        return build.not_(given[0])

    return mask(mask), make


@intrinsic
def some(_typing: Any, x: Any) -> Any:
    """Whether a mask holds any lane."""

    def make(_context: Any, build: Any, _signature: Any, given: Any) -> Any:
        bits = ir.IntType(LANES)
        return build.icmp_unsigned("!=", build.bitcast(given[0], bits), ir.Constant(bits, 0))

    return types.boolean(mask), make


@intrinsic
def choose(_typing: Any, held: Any, x: Any, y: Any) -> Any:
    """``x`` in the lanes that the mask holds, ``y`` in the others."""

    def make(_context: Any, build: Any, _signature: Any, given: Any) -> Any:
        return build.select(given[0], given[1], given[2])

    return vector(mask, vector, vector), make


@intrinsic
def root(_typing: Any, x: Any) -> Any:
    """Square root, lane by lane."""

    def make(_context: Any, build: Any, _signature: Any, given: Any) -> Any:
        name, kind = f"llvm.sqrt.v{LANES}f64", ir.FunctionType(_VECTOR, [_VECTOR])
        function = build.module.globals.get(name) or ir.Function(build.module, kind, name)
        return build.call(function, [given[0]])

    return vector(vector), make


@intrinsic
def past_whole(_typing: Any, x: Any) -> Any:
    """What a number that is not negative has beyond its whole part."""

    def make(_context: Any, build: Any, _signature: Any, given: Any) -> Any:
        return build.fsub(given[0], build.sitofp(build.fptosi(given[0], _WHOLE), _VECTOR))

    return vector(vector), make


def _place(context: Any, build: Any, kind: Any, held: Any, at: Any) -> Any:
    array = context.make_array(kind)(context, build, held)
    return build.bitcast(build.gep(array.data, [at]), _VECTOR.as_pointer())


@intrinsic
def load(_typing: Any, held: Any, at: Any) -> Any:
    """A vector from a flat array of doubles, from element ``at`` on."""

    def make(context: Any, build: Any, signature: Any, given: Any) -> Any:
        return build.load(_place(context, build, signature.args[0], given[0], given[1]), align=8)

    return vector(held, types.intp), make


@intrinsic
def store(_typing: Any, held: Any, at: Any, x: Any) -> Any:
    """Put a vector into a flat array of doubles, from element ``at`` on."""

    def make(context: Any, build: Any, signature: Any, given: Any) -> Any:
        build.store(given[2], _place(context, build, signature.args[0], given[0], given[1]), align=8)
        return context.get_dummy_value()

    return types.none(held, types.intp, vector), make


@intrinsic
def gather(_typing: Any, held: Any, row: Any, column: Any) -> Any:
    """From a flat array in rows of four: element ``column`` of the row that each lane names by its whole part."""

    def make(context: Any, build: Any, signature: Any, given: Any) -> Any:
        array = context.make_array(signature.args[0])(context, build, given[0])
        rows, found = build.fptosi(given[1], _WHOLE), ir.Constant(_VECTOR, ir.Undefined)
        for lane in range(LANES):
            place = ir.Constant(_I32, lane)
            start = build.mul(build.extract_element(rows, place), ir.Constant(ir.IntType(64), 4))
            value = build.load(build.gep(array.data, [build.add(start, given[2])]))
            found = build.insert_element(found, value, place)
        return found

    return vector(held, vector, types.intp), make
