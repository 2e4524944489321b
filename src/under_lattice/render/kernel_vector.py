"""Eight numbers at once in compiled kernels, and the four of a pixel: types for them and what can be done with them.

They are plain vectors of the compiler, which makes of them what the processor has: steps of four, of eight or half of sixteen.
Arrays are flat and float32; `at` is the place of the first number.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from under_lattice.core.kernel_compiler import intrinsic, ir, models, register_model, types
from under_lattice.render.kernel_cover import FAINT, FULL

F32, I32 = ir.FloatType(), ir.IntType(32)
V8, V4 = ir.VectorType(F32, 8), ir.VectorType(F32, 4)
FUSED = ("contract",)  # a product and a sum may be one instruction
SOLID = 1.0 - 1e-6  # what sums of shares may miss by


class Eight(types.Type):
    """The type of eight numbers."""

    def __init__(self) -> None:
        super().__init__(name="Eight")


class Four(types.Type):
    """The type of a premultiplied colour: red, green, blue, opacity."""

    def __init__(self) -> None:
        super().__init__(name="Four")


@register_model(Eight)
class _EightModel(models.PrimitiveModel):
    def __init__(self, dmm: Any, fe_type: Any) -> None:
        super().__init__(dmm, fe_type, V8)  # type: ignore[no-untyped-call]


@register_model(Four)
class _FourModel(models.PrimitiveModel):
    def __init__(self, dmm: Any, fe_type: Any) -> None:
        super().__init__(dmm, fe_type, V4)  # type: ignore[no-untyped-call]


eight, four, number, place, truth, nothing = Eight(), Four(), types.float32, types.int64, types.boolean, types.none


def _lane(k: int) -> Any:
    return ir.Constant(I32, k)


def _all_of(kind: Any, value: float) -> Any:
    return ir.Constant(kind, [ir.Constant(F32, value)] * kind.count)


def _shuffled(builder: Any, one: Any, other: Any, order: tuple[int, ...]) -> Any:
    return builder.shuffle_vector(one, other, ir.Constant(ir.VectorType(I32, len(order)), [_lane(k) for k in order]))


def _every(builder: Any, kind: Any, value: Any) -> Any:
    """One number in all places."""
    one = builder.insert_element(ir.Constant(kind, ir.Undefined), value, _lane(0))
    return _shuffled(builder, one, one, (0,) * kind.count)


def _pointer(context: Any, builder: Any, kind: Any, array: Any, at: Any, vector: Any) -> Any:
    data = context.make_array(kind)(context, builder, array).data
    return builder.bitcast(builder.gep(data, [at]), vector.as_pointer())


def _whether_all(builder: Any, test: Any) -> Any:
    return builder.icmp_unsigned("==", builder.bitcast(test, ir.IntType(8)), ir.Constant(ir.IntType(8), 255))


@intrinsic
def load8(typing_context: Any, array: Any, at: Any) -> Any:
    """Eight numbers of an array."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        return builder.load(_pointer(context, builder, signature.args[0], args[0], args[1], V8), align=4)

    return eight(array, place), generate


@intrinsic
def store8(typing_context: Any, array: Any, at: Any, value: Any) -> Any:
    """Write eight numbers into an array."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        builder.store(args[2], _pointer(context, builder, signature.args[0], args[0], args[1], V8), align=4)
        return context.get_dummy_value()

    return nothing(array, place, eight), generate


@intrinsic
def splat8(typing_context: Any, value: Any) -> Any:
    """The same number eight times."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        return _every(builder, V8, args[0])

    return eight(number), generate


@intrinsic
def scan8(typing_context: Any, value: Any, before: Any) -> Any:
    """Running sums of eight numbers, `before` added."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        v, zero = args[0], _all_of(V8, 0.0)
        for order in ((0, 8, 9, 10, 11, 12, 13, 14), (0, 0, 8, 9, 10, 11, 12, 13), (0, 0, 0, 0, 8, 9, 10, 11)):
            v = builder.fadd(v, _shuffled(builder, zero, v, order))
        return builder.fadd(v, _every(builder, V8, args[1]))

    return eight(eight, number), generate


@intrinsic
def lane8(typing_context: Any, value: Any, at: Any) -> Any:
    """One of eight numbers."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        return builder.extract_element(args[0], builder.trunc(args[1], I32))

    return number(eight, place), generate


@intrinsic
def covered8(typing_context: Any, value: Any) -> Any:
    """Coverage 0..1 of winding-weighted sums, non-zero; too faint ones are nought."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        back = builder.fsub(_all_of(V8, 0.0), args[0])
        c = builder.select(builder.fcmp_ordered(">", args[0], back), args[0], back)
        c = builder.select(builder.fcmp_ordered(">", c, _all_of(V8, float(FULL))), _all_of(V8, 1.0), c)
        return builder.select(builder.fcmp_ordered("<", c, _all_of(V8, float(FAINT))), _all_of(V8, 0.0), c)

    return eight(eight), generate


@intrinsic
def share8(typing_context: Any, cover: Any, there: Any) -> Any:
    """How much of a coverage finds room where `there` is taken: max(0, min(cover, 1 - there))."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        left = builder.fsub(_all_of(V8, 1.0), args[1])
        least = builder.select(builder.fcmp_ordered("<", args[0], left), args[0], left)
        return builder.select(builder.fcmp_ordered(">", least, _all_of(V8, 0.0)), least, _all_of(V8, 0.0))

    return eight(eight, eight), generate


@intrinsic
def more8(typing_context: Any, base: Any, share: Any, colour: Any) -> Any:
    """Base + share * colour."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        return builder.fadd(args[0], builder.fmul(args[1], args[2], flags=FUSED), flags=FUSED)

    return eight(eight, eight, eight), generate


@intrinsic
def full8(typing_context: Any, value: Any) -> Any:
    """Whether all eight are one, or nearly."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        return _whether_all(builder, builder.fcmp_ordered(">=", args[0], _all_of(V8, SOLID)))

    return truth(eight), generate


@intrinsic
def none8(typing_context: Any, value: Any) -> Any:
    """Whether none of eight is above nought."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        return _whether_all(builder, builder.fcmp_unordered("<=", args[0], _all_of(V8, 0.0)))

    return truth(eight), generate


@intrinsic
def above8(typing_context: Any, value: Any) -> Any:
    """Which of eight numbers are above nought, a bit for each."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        bits = builder.bitcast(builder.fcmp_ordered(">", args[0], _all_of(V8, 0.0)), ir.IntType(8))
        return builder.zext(bits, ir.IntType(64))

    return types.uint64(eight), generate


@intrinsic
def four_of(typing_context: Any, r: Any, g: Any, b: Any, a: Any) -> Any:
    """A premultiplied colour."""

    def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        colour = ir.Constant(V4, ir.Undefined)
        for k in range(4):
            colour = builder.insert_element(colour, args[k], _lane(k))
        return colour

    return four(number, number, number, number), generate


def _laying(mixed: Callable[[Any, Any, Any], Any]) -> Any:
    """What lays a share of a colour over a pixel; `mixed` says how, of pixel and share."""

    @intrinsic
    def lay(typing_context: Any, pixels: Any, at: Any, colour: Any, share: Any) -> Any:
        def generate(context: Any, builder: Any, signature: Any, args: Any) -> Any:
            to = _pointer(context, builder, signature.args[0], args[0], args[1], V4)
            laid = builder.fmul(args[2], _every(builder, V4, args[3]))
            builder.store(mixed(builder, builder.load(to, align=4), laid), to, align=4)
            return context.get_dummy_value()

        return nothing(pixels, place, four, number), generate

    return lay


def _clear(builder: Any, colour: Any) -> Any:
    """One less the opacity of a colour, four times."""
    return builder.fsub(_all_of(V4, 1.0), _every(builder, V4, builder.extract_element(colour, _lane(3))))


def _normal(builder: Any, there: Any, laid: Any) -> Any:
    return builder.fadd(builder.fmul(there, _clear(builder, laid), flags=FUSED), laid, flags=FUSED)


def _multiply(builder: Any, there: Any, laid: Any) -> Any:
    alone = builder.fmul(laid, _clear(builder, there), flags=FUSED)
    both = builder.fmul(there, builder.fadd(laid, _clear(builder, laid)), flags=FUSED)
    return builder.fadd(alone, both, flags=FUSED)


def _screen(builder: Any, there: Any, laid: Any) -> Any:
    return builder.fsub(builder.fadd(there, laid), builder.fmul(there, laid), flags=FUSED)


lay_normal, lay_multiply, lay_screen = _laying(_normal), _laying(_multiply), _laying(_screen)
