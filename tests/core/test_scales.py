"""The linear scale: places, ticks at round values, labels that say them."""

import itertools
import math
from collections.abc import Callable
from decimal import Decimal

import numpy as np
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st

from sornix.core.errors import EditRefused
from sornix.core.scales import (
    KINDS,
    AxisConstraints,
    Extent,
    Resolved,
    Room,
    check_range,
    check_step,
)
from sornix.core.text import Rich, parse_number, significant, spoken
from tests.base import SornixTest

LINEAR = KINDS["linear"]
# any two numbers that binary64 can tell apart in a range, near and far from zero
ENDS = st.tuples(
    st.floats(-1e300, 1e300), st.floats(1e-300, 1e300), st.sampled_from([0.0, 1e-9, 1.0])
).map(lambda t: (t[0] * t[2], t[0] * t[2] + t[1]))


def _size(label: Rich) -> float:
    return sum(len(run.text) * (0.9 if run.script else 1.4) for run in label)


def _room(length: float, *, upright: bool = False) -> Room:
    if upright:
        return Room(length, lambda _: 1.7, 0.6, 5.6)
    return Room(length, _size, 1.9, 10.0)


def _shown(label: Rich) -> str:
    return "".join(f"^{run.text}" if run.script else run.text for run in label)


def _resolve(low: float, high: float, length: float = 70, **held: float) -> Resolved:
    return LINEAR.resolve(
        Extent(low, high),
        AxisConstraints(held.get("start"), held.get("end"), held.get("step")),
        _room(length),
        reverse=False,
    )


FAR = st.sampled_from(
    [0.0, 5e-324, 1e-310, 1e-300, 1e-9, 1.0, 3.7, 86_400.0, 1.7e9, 2.5e11, 1e15, 1e28, 1e300, 1e307]
)
ANY = st.builds(lambda value, sign: value * sign, FAR, st.sampled_from([-1, 1]))


class AnyKind(SornixTest):
    @given(
        st.sampled_from(sorted(KINDS)), st.tuples(ANY, ANY).map(sorted),
        st.none() | ANY, st.none() | ANY, st.none() | FAR.filter(bool),
        st.sampled_from([2.0, 10.0]),
    )  # fmt: skip
    @settings(max_examples=400)
    @example("log", [1.0, 900.0], None, None, 0.2, 10.0)
    @example("time", [0.0, 1e307], None, None, None, 10.0)
    @example("reciprocal", [5e-324, 10.0], None, None, None, 10.0)
    def test_whatever_a_document_holds_is_a_range_with_places(
        self, kind: str, extent: list[float], start: float | None, end: float | None,
        step: float | None, base: float,
    ) -> None:  # fmt: skip
        assume(start is None or end is None or start < end)
        held = AxisConstraints(start, end, step, base=base)
        found = KINDS[kind].resolve(Extent(*extent), held, _room(70), reverse=False)
        ends = np.array([found.start, found.end])
        self.assertTrue(np.isfinite(ends).all() and found.start < found.end, ends)
        places = KINDS[kind].position(np.array([t.value for t in found.ticks]), *ends)
        self.assertTrue(np.isfinite(places).all(), places)
        self.assertTrue((places >= -1e-6).all() and (places <= 1 + 1e-6).all(), places)
        self.assertTrue((np.diff(places) >= 0).all())


class Ticks(SornixTest):
    @given(ENDS, st.floats(3, 400), st.booleans(), st.booleans())
    @example((1e9, 1e9 + 1e-6), 70.0, False, False)
    @example((-1e-300, 1e300), 70.0, True, True)
    def test_ticks_are_round_ordered_inside_and_said_by_their_labels(
        self, ends: tuple[float, float], length: float, upright: bool, turned: bool
    ) -> None:
        low, high = ends
        room = _room(length, upright=upright)
        scale = LINEAR.resolve(Extent(low, high), AxisConstraints(), room, reverse=turned)
        self.assertLessEqual(scale.start, low)
        self.assertGreaterEqual(scale.end, high)
        values = [tick.value for tick in scale.ticks]
        self.assertEqual(values, sorted(set(values)))
        self.assertTrue(scale.start <= values[0] and values[-1] <= scale.end)
        if length >= 40 and max(map(len, map(_shown, (t.label for t in scale.ticks)))) < 9:
            # steps of 2 and 5 follow one another: ticks are no nearer than √2.5 times the ideal
            most = 1 + length * math.sqrt(2.5) / room.ideal_mm
            self.assertTrue(2 <= len(values) <= max(12, most), values)
        mantissa = Decimal(repr(scale.step)).normalize().as_tuple().digits
        self.assertIn(mantissa, [(1,), (2,), (5,), (2, 5)])
        labelled = [tick for tick in scale.ticks if tick.label]
        self.assertTrue(labelled)
        for tick in labelled:
            read = parse_number(_shown(tick.label))
            self.assertLessEqual(
                abs(read - tick.value), scale.step * 1e-9 + abs(tick.value) * 1e-15
            )
        self.assertEqual(len({_shown(t.label) for t in labelled}), len(labelled))
        places = scale.position(np.array([t.value for t in labelled])) * length
        spans = sorted(
            (place - room.size_mm(t.label) / 2, place + room.size_mm(t.label) / 2)
            for place, t in zip(places.tolist(), labelled, strict=True)
        )
        for (_, end), (begin, _) in itertools.pairwise(spans):
            self.assertGreater(begin, end)

    @given(ENDS, st.floats(0, 1), st.booleans())
    def test_position_and_value_agree(
        self, ends: tuple[float, float], place: float, turned: bool
    ) -> None:
        scale = LINEAR.resolve(Extent(*ends), AxisConstraints(), _room(70), reverse=turned)
        value = scale.value(place)
        grain = np.spacing(max(abs(scale.start), abs(scale.end))) / (scale.end - scale.start)
        self.assertAlmostEqual(float(scale.position(np.array([value]))[0]), place, delta=8 * grain)

    def test_what_a_careful_draughtsman_would_choose(self) -> None:
        for low, high, first, last, step in (
            (0, 12, "0", "12", 2),
            (-0.002, 0.858, "0.0", "0.9", 0.1),
            (1953, 2013, "1950", "2020", 10),
            (0, 1, "0.0", "1.0", 0.2),
            (3.1, 7.9, "3", "8", 1),
            (-40, 40, "−40", "40", 10),
            (0, 100, "0", "100", 20),
            (98.6, 101.2, "98.5", "101.5", 0.5),
            (0, 0.00042, "0.0000", "0.0004", 1e-4),
            (0, 52_000, "0", "50\u2009000", 10_000),
            (0, 3.4e7, "0", "4×10^7", 1e7),
        ):
            with self.subTest(f"{low} to {high}"):
                ticks = _resolve(low, high, 66).ticks
                labels = [_shown(tick.label) for tick in ticks]
                self.assertAlmostEqual(ticks[1].value - ticks[0].value, step)
                self.assertEqual((labels[0], labels[-1]), (first, last))

    def test_held_ends_and_steps_are_followed_exactly(self) -> None:
        scale = _resolve(0, 12, start=0.3, end=11.1, step=2.5)
        self.assertEqual((scale.start, scale.end, scale.step), (0.3, 11.1, 2.5))
        self.assertEqual([t.value for t in scale.ticks], [2.5, 5.0, 7.5, 10.0])
        tenths = _resolve(0, 1, start=0.1, end=0.7)
        self.assertEqual((tenths.ticks[0].value, tenths.ticks[-1].value), (0.1, 0.7))
        tenth = _resolve(0, 1, start=0, end=1, step=0.1)
        self.assertEqual([t.value for t in tenth.ticks], [float(f"0.{i}") for i in range(10)] + [1])
        crowded = _resolve(0, 12, length=30, start=0, end=12, step=0.1)
        self.assertEqual(len(crowded.ticks), 121)
        labels = [_shown(t.label) for t in crowded.ticks if t.label]
        self.assertEqual(labels, ["0.0", "5.0", "10.0"])

    def test_a_held_step_that_no_longer_fits_is_replaced_and_told(self) -> None:
        for step in (50.0, 1e-6):
            scale = _resolve(0, 12, start=0, end=12, step=step)
            self.assertIn(f"The held step of {spoken(step)} makes too", scale.note)
            self.assertTrue(2 <= len(scale.ticks) <= 12)

    def test_a_single_value_and_no_value_have_a_range(self) -> None:
        for value in (0.0, 5.0, -1e300, 1e-300):
            with self.subTest(value):
                scale = _resolve(value, value)
                self.assertTrue(scale.start < value < scale.end)
        nothing = LINEAR.resolve(None, AxisConstraints(), _room(70), reverse=False)
        self.assertEqual((nothing.start, nothing.end), (0, 1))
        beyond = LINEAR.resolve(Extent(0, 1), AxisConstraints(start=5), _room(70), reverse=False)
        self.assertTrue(beyond.start == 5 < beyond.end)


class Labels(SornixTest):
    def test_forms_of_labels(self) -> None:
        for low, high, form, first, last in (
            (0, 12, "2", "0.00", "12.00"),
            (0, 1, "0", "0.00", "1.00"),  # fewer decimals would give two ticks one label
            (0, 12_000, "power", "0", "1.2×10^4"),
            (0, 0.005, "free", "0.0000", "0.0050"),
            (1e9, 1e9 + 5, "1", "1\u2009000\u2009000\u2009000.0", "1\u2009000\u2009000\u2009005.0"),
            (0, 12, "common-power", "0.0", "12.0"),
            (0, 999, "common-power", "0.00", "1.00×10^3"),
            (0, 5e5, "common-power", "0", "500×10^3"),
            (0, 0.05, "common-power", "0.000", "0.050"),
            (0, 0.005, "common-power", "0.0", "5.0×10^−3"),
            (0, 4e-9, "common-power", "0.0", "4.0×10^−9"),
            (0, 900, "thousands", "0.00", "0.90k"),
            (0, 2e7, "prefix", "0", "20\u2009M"),
            (-0.003, 0.003, "prefix", "−3.00\u2009m", "3.00\u2009m"),
            (0, 12, "prefix", "0.0", "12.0"),
            (0, 3e-30, "prefix", "0.0", "3.0\u2009q"),
            (0, 3e32, "prefix", "0", "300\u2009Q"),
            (0, 5e40, "prefix", "0", "5.00×10^40"),
            (0, 0.005, "percent", "0.00\u2009%", "0.50\u2009%"),
            (0, 50, "percent-of-100", "0\u2009%", "50\u2009%"),
        ):
            with self.subTest(form, high=high):
                held = AxisConstraints(labels=form)
                scale = LINEAR.resolve(Extent(low, high), held, _room(300), reverse=False)
                ends = (_shown(scale.ticks[0].label), _shown(scale.ticks[-1].label))
                self.assertEqual((ends[0], ends[1] + _shown(scale.factor)), (first, last))


class Refusals(SornixTest):
    def test_steps_and_ranges_that_make_no_sense(self) -> None:
        def words(value: float) -> str:
            return significant(value, 3).rstrip("0").rstrip(".") if value else "0"

        checks: list[tuple[Callable[[], None], str]] = [
            (lambda: check_step("linear", 0, 12, 20, words), "longer than the range from 0 to 12"),
            (lambda: check_step("linear", 0, 12, 0.01, words), "would make 1"),
            (lambda: check_step("linear", 0, 12, 0, words), "greater than 0"),
            (lambda: check_step("linear", 0, 12, 20, words), "a step of 12 or less"),
            (lambda: check_step("linear", 0, 12, 0.01, words), "a step of 0.06 or more"),
            # steps of powers and of names are whole numbers
            (lambda: check_step("log", 1, 300, 3, words), "a step of 2 powers or less"),
            (lambda: check_step("log", 1, 8, 1, words), "Let the step be free"),
            (lambda: check_step("category", 0, 500, 1, words), "a step of 3 or more"),
            (lambda: check_range(3, 3, words), "no width"),
            (lambda: check_range(4, 3, words), "first; to turn the axis round, reverse its"),
            (lambda: check_range(4, 3, words, of_axis=False), "Give the lower value first."),
        ]
        for check, said in checks:
            with self.subTest(said), self.assertRaises(EditRefused) as caught:
                check()
            self.assertIn(said, str(caught.exception))
        check_step("linear", 0, 12, 12, words)
        # no step is so small that its refusal fails, or is longer than people read
        for kind in KINDS:
            for start, end in ((1.0, 100.0), (1e-10, 1e10), (1e-320, 1e-319)):
                for step in (5e-324, 1e-320, 1e-300, 1e-10, 1.7e308):
                    with self.subTest(kind=kind, end=end, step=step):
                        try:
                            check_step(kind, start, end, step, words)
                        except EditRefused as error:
                            self.assertLess(len(str(error)), 250)
        check_step("linear", 0, 1, 0.005025, words)
