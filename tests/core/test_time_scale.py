"""The time scale: ticks by the calendar, said so that year and day are known."""

import datetime as dt
import decimal
import itertools

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from sornix.core.errors import EditRefused
from sornix.core.readings.files.dateorder import may_be_date
from sornix.core.scales import KINDS, AxisConstraints, Extent, Resolved, Room, check_step
from sornix.core.scales.datewords import DATE_FORMS
from sornix.core.text import Rich
from sornix.core.text.moments import MEAN_MONTH, finer, moment_text, parse_moment, typed_moment
from tests.base import SornixTest

TIME = KINDS["time"]
HOUR, DAY = 3600.0, 86400.0


def at(text: str) -> float:
    moment = parse_moment(text)
    assert moment is not None
    return moment.seconds


def size(label: Rich) -> float:
    return sum(1.4 * len(run.text) for run in label)


def resolve(start: str, end: str, step: float | None = None, length: float = 90) -> Resolved:
    held = AxisConstraints(at(start), at(end), step)
    return TIME.resolve(None, held, Room(length, size, 1.9, 12.0), reverse=False)


def days(scale: Resolved) -> list[str]:
    return [moment_text(tick.value, "day") for tick in scale.ticks]


def labels(scale: Resolved) -> list[str]:
    return ["".join(run.text for run in tick.label) for tick in scale.ticks if tick.label]


class Ticks(SornixTest):
    def test_years_of_two_digits_are_of_the_century_from_1969_on(self) -> None:
        for text, day in (("01.02.69", "1969-02-01"), ("31.12.99", "1999-12-31"),
                          ("01.02.00", "2000-02-01"), ("29.02.68", "2068-02-29"),
                          ("3 Jun 70", "1970-06-03"), ("Jun-98", "1998-06-01")):  # fmt: skip
            self.assertEqual(moment_text(at(text), "day"), day)

    def test_each_form_of_dates_says_what_its_example_does(self) -> None:
        for name, form in DATE_FORMS.items():
            self.assertEqual(form.make(at("2026-05-04 14:30:05")), form.example, name)
        for day in ("0004-02-29", "1600-01-01", "1969-12-31", "2024-02-29", "2026-12-31"):
            known = dt.date.fromisoformat(day)
            shown = DATE_FORMS["weekday-day"].make((known.toordinal() - 719_162) * DAY - 1)
            self.assertEqual(shown, f"{known:%a} {known.day} {known:%b}")

    def test_steps_by_the_calendar(self) -> None:
        for start, end, step, wanted in (
            ("2024-02-27", "2024-03-02", "day",
             "2024-02-27 2024-02-28 2024-02-29 2024-03-01 2024-03-02"),
            ("2026-03-31", "2026-07-31", "month", "2026-04-01 2026-05-01 2026-06-01 2026-07-01"),
            ("2025-11-15", "2027-02-01", "6 months", "2026-01-01 2026-07-01 2027-01-01"),
            ("2026-04-01", "2026-04-30", "week", "2026-04-06 2026-04-13 2026-04-20 2026-04-27"),
            ("2019-06-01", "2031-01-01", "5 years", "2020-01-01 2025-01-01 2030-01-01"),
            # clocks are put forward on 29 March in much of Europe, and plain times know nothing
            # of it
            ("2026-03-28", "2026-03-30", "day", "2026-03-28 2026-03-29 2026-03-30"),
            ("1969-12-30", "1970-01-02", "day", "1969-12-30 1969-12-31 1970-01-01 1970-01-02"),
        ):  # fmt: skip
            with self.subTest(step, start=start):
                self.assertEqual(days(resolve(start, end, TIME.parse_step(step))), wanted.split())

    def test_labels_say_where_ticks_are_whatever_the_step(self) -> None:
        room = Room(160.0, size, 1.9, 12.0, level=False)
        for start, end, step, wanted in (
            ("2020-01-01", "2024-08-01", "18 months", "Jul 2020 Jan 2022 Jul 2023"),
            ("2020-01-01", "2024-08-01", "1.5 years", "Jul 2020 Jan 2022 Jul 2023"),
            ("2020-01-01", "2020-01-06", "36 hours",
             "1 Jan 12:00|3 Jan|4 Jan 12:00|6 Jan"),
            # a day that no tick at midnight has said is said by the first in it
            ("2020-01-01 01:00", "2020-01-02 06:00", "7 hours",
             "1 Jan 03:00|10:00|17:00|2 Jan"),
            ("2020-01-01 12:00", "2020-01-03", "5 hours",
             "1 Jan 12:00|17:00|22:00|2 Jan 03:00|08:00|13:00|18:00|23:00"),
        ):  # fmt: skip
            held = AxisConstraints(at(start), at(end), TIME.parse_step(step))
            found = labels(TIME.resolve(None, held, room, reverse=False))
            with self.subTest(step):
                joined = " " if "|" not in wanted else "|"
                self.assertEqual(joined.join(found), wanted)
        # labels that are thinned are said beside those that stay
        close = AxisConstraints(at("2020-01-01 01:00"), at("2020-01-06"), 7 * HOUR)
        found = labels(TIME.resolve(None, close, room._replace(length_mm=70.0), reverse=False))
        self.assertEqual(len(set(found)), len(found), found)
        for text in ("1.5 months", "0.3 years"):
            with self.assertRaisesRegex(EditRefused, "whole months"):
                TIME.parse_step(text)
        last = at("9999-12-31 23:59:59")
        at_last = TIME.resolve(
            Extent(last - 3 * 366 * DAY, last), AxisConstraints(), room, reverse=False
        )
        self.assertLessEqual(max(tick.value for tick in at_last.ticks), last)

    def test_parts_of_a_second_are_the_nearest_to_their_decimals(self) -> None:
        room = Room(120.0, size, 1.9, 12.0)
        for begin in (1777852801.6, 1e9 + 0.3, 0.0, -5e8 + 0.7):
            for span in (1.0, 0.5, 0.1, 0.01, 1e-3, 1e-4, 2e-5):
                found = TIME.resolve(
                    Extent(begin, begin + span), AxisConstraints(), room, reverse=False
                )
                self.assertGreater(len(found.ticks), 2)
                for tick in found.ticks:
                    shown = decimal.Decimal(repr(tick.value)) / decimal.Decimal(repr(found.step))
                    self.assertEqual(shown, shown.to_integral_value(), (begin, span, tick.value))

    def test_labels_say_year_and_day_once(self) -> None:
        for start, end, wanted in (
            ("2026-05-04", "2026-05-09", "4|5|6|7|8|9 / May 2026"),
            ("2026-05-04 06:00", "2026-05-05 06:00",
             "06:00|09:00|12:00|15:00|18:00|21:00|00:00|03:00|06:00 / 4 May 2026|5 May"),
            ("2025-10-01", "2026-04-01", "Oct|Nov|Dec|Jan|Feb|Mar|Apr / 2025|2026"),
            ("2026-04-27", "2026-05-25", "27|4|11|18|25 / Apr 2026|May"),
            ("2000-01-01", "2030-01-01", "2000|2005|2010|2015|2020|2025|2030"),
            ("06:00", "12:00", "06:00|07:00|08:00|09:00|10:00|11:00|12:00"),
        ):  # fmt: skip
            with self.subTest(start):
                scale = resolve(start, end)
                below = " / " + "|".join(g.label[0].text for g in scale.groups)
                self.assertEqual("|".join(labels(scale)) + below * bool(scale.groups), wanted)

    @given(st.floats(-6e10, 6e10), st.floats(-3, 10.5).map(lambda p: 10.0**p), st.floats(15, 300))
    def test_ticks_are_inside_ordered_and_their_labels_apart(
        self, start: float, span: float, length: float
    ) -> None:
        room = Room(length, size, 1.9, 12.0)
        scale = TIME.resolve(Extent(start, start + span), AxisConstraints(), room, reverse=False)
        # moments are told to a microsecond
        self.assertLessEqual(scale.start, start + 1e-6)
        self.assertGreaterEqual(scale.end, start + span - 1e-6)
        values = np.array([tick.value for tick in scale.ticks])
        self.assertTrue((np.diff(values) > 0).all())
        self.assertTrue(((values >= scale.start - 1e-5) & (values <= scale.end + 1e-5)).all())
        places = scale.position(values) * length
        shown = [(p, size(t.label)) for p, t in zip(places, scale.ticks, strict=True) if t.label]
        for (a, wide), (b, other) in itertools.pairwise(shown):
            self.assertGreaterEqual(b - a, (wide + other) / 2)
        np.testing.assert_allclose(TIME.value(scale.position(values), scale.start, scale.end),
                                   values, rtol=0, atol=span * 1e-9 + 1e-5)  # fmt: skip
        if scale.step >= MEAN_MONTH:
            self.assertTrue(all(text.endswith("-01") for text in days(scale)))
        elif scale.step == 7 * DAY:
            weekdays = {dt.date.fromisoformat(text[:10]).weekday() for text in days(scale)}
            self.assertLessEqual(weekdays, {0})

    def test_what_is_typed(self) -> None:
        about = at("2026-05-04 12:00")
        for text, wanted in (
            ("2026-06-03", "2026-06-03"), ("3 June", "2026-06-03"), ("3. Jun", "2026-06-03"),
            ("14:30", "2026-05-04 14:30"), ("5/6/2026", "2026-06-05"), ("June 2026", "2026-06-01"),
            ("3 June 2027 8:05", "2027-06-03 08:05"),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(moment_text(TIME.parse(text, about), "day"), wanted)
        for text, seconds in (
            ("10 minutes", 600), ("hour", HOUR), ("6 h", 6 * HOUR), ("2 days", 2 * DAY),
            ("week", 7 * DAY), ("3 months", 3 * MEAN_MONTH), ("1.5 h", 1.5 * HOUR),
            ("year", 12 * MEAN_MONTH),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(TIME.parse_step(text), seconds)
                self.assertEqual(TIME.parse_step(TIME.step_words(seconds)), seconds)
        for act in (
            lambda: TIME.parse("soon", about), lambda: TIME.parse("31 June", about),
            lambda: TIME.parse_step("5"), lambda: TIME.parse_step("3 moons"),
            lambda: check_step("time", 0, DAY, 10.0, str), lambda: check_step("time", 0, DAY,
             MEAN_MONTH, str),
        ):  # fmt: skip
            with self.assertRaises(EditRefused):
                act()
        self.assertIn("does not suit", resolve("2026-05-04", "2026-05-05", MEAN_MONTH).note)
        self.assertEqual(TIME.words(at("2026-05-04 00:01"), 120), "2026-05-04")
        self.assertEqual(resolve("2026-05-04", "2026-05-05").window(0.25, 0.5),
                         (at("2026-05-04 06:00"), at("2026-05-04 12:00")))  # fmt: skip

    @given(st.datetimes(dt.datetime(1, 1, 2), dt.datetime(9999, 12, 30)))  # noqa: DTZ001
    def test_moments_are_written_and_read_back(self, moment: dt.datetime) -> None:
        seconds = (moment - dt.datetime(1970, 1, 1)).total_seconds()  # noqa: DTZ001
        for form in ("month", "day", "minute", "second", "fraction"):
            text = moment_text(round(seconds), form)
            found = parse_moment(text)
            assert found is not None
            self.assertEqual(found.seconds, round(seconds), text)
            self.assertEqual(typed_moment(text, 0.0), round(seconds))
            self.assertTrue(may_be_date(text))
        self.assertFalse(may_be_date("2026-05-04 and 2026-05-05" * 9))
        self.assertEqual(finer("day", "minute"), "minute")
        for said, hours in (("Z", 0), (" UTC", 0), ("+02:00", 2), ("−05:30", -5.5), ("+11", 11),
                            ("-0345", -3.75), (" CEST", 2), (" pdt", -7)):  # fmt: skip
            told = parse_moment(f"2026-05-04T12:00{said}")
            assert told is not None
            self.assertEqual(told.offset, hours * HOUR, said)
