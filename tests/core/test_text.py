"""Numbers and scripts as people write them."""

import math
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from sornix.core.errors import EditRefused, FormulaError, SornixError
from sornix.core.letters import printable
from sornix.core.text import (
    Run,
    capital,
    decimal_text,
    parse_number,
    plain_text,
    plural,
    rich,
    shortest,
    significant,
    unit_text,
    with_error,
)
from tests.base import SornixTest

FINITE = st.floats(allow_nan=False, allow_infinity=False)


class Numbers(SornixTest):
    def test_typed_forms(self) -> None:
        for text, value in {
            "0.5": 0.5,
            ".5": 0.5,
            "−3": -3.0,
            "1e-3": 1e-3,
            "10^-3": 1e-3,
            "-2.5 × 10^4": -25000.0,
            "7.1×10⁻⁷": 7.1e-7,
            "0,5": 0.5,
            "12 000": 12000.0,
            "1.5 k": 1500.0,
            "−2µ": -2e-6,
            "12\u2009000": 12000.0,
        }.items():
            with self.subTest(text):
                self.assertEqual(parse_number(text), value)

    def test_a_sentence_begins_with_a_capital_unless_that_means_something_else(self) -> None:
        for text in ("pH", "t", "δ18O of water", "µS", "ln y", "no3", "x-ray", "h^2", "y", "“b”"):
            self.assertEqual((capital(text), capital(text, name=True)), (text, text))
        self.assertEqual((capital("a line"), capital("a", name=True)), ("A line", "a"))
        for text in ("élan", "row 3", "глубина"):
            self.assertEqual(capital(text), text.capitalize())

    def test_what_is_no_number_is_explained(self) -> None:
        for text, said in {
            "abc": "“abc” is not a number",
            "": "There is no number here",
            "1e999": "larger than",
            "1,500": "Write 1500 or 1.500",
            "1;2": "is not a number",
            "nan": "is not a number",
        }.items():
            with self.subTest(text), self.assertRaises(EditRefused) as caught:
                parse_number(text)
            self.assertIn(said, str(caught.exception))

    @given(FINITE)
    def test_shown_in_full_a_number_reads_back_exactly(self, value: float) -> None:
        self.assertEqual(parse_number(shortest(value, 0.0)), value)
        self.assertEqual(shortest(float("inf"), 1.0), "not known")

    @given(st.floats(-1e300, 1e300).filter(lambda v: v != 0), st.integers(1, 15))
    def test_significant_digits_are_right(self, value: float, digits: int) -> None:
        shown = significant(value, digits)
        off = abs(Decimal(value) - Decimal(parse_number(shown)))
        unit = Decimal(1).scaleb(Decimal(value).adjusted() - digits + 1)
        # half a unit of the last digit, and what the binary form of the text adds
        self.assertLessEqual(off, unit / 2 + abs(Decimal(math.ulp(value))))

    def test_forms(self) -> None:
        for shown, wanted in (
            (significant(0.00711234), "0.007112"),
            (significant(-1234567.0), "−1.235×10⁶"),
            (significant(math.nan), "not known"),
            (decimal_text(Decimal("-12345.60")), "−12\u2009345.60"),
            (decimal_text(Decimal(1953)), "1953"),
            (plural(1, "reading"), "1 reading"),
            (plural(24000, "reading"), "24\u2009000 readings"),
            (with_error(0.071017, 0.00033), "0.07102 ± 0.00033"),
            (with_error(52.0, 9.96), "52 ± 10"),
            (with_error(-3.2e-9, 4.1e-11), "(−3.200 ± 0.041)×10⁻⁹"),
            (with_error(1.0, None), "1.00000"),
        ):
            with self.subTest(wanted):
                self.assertEqual(shown, wanted)


class Scripts(SornixTest):
    def test_typed_scripts(self) -> None:
        for typed, shown in {
            "cm^3": "cm³",
            "H_2O": "H₂O",
            "mg L^-1": "mg L⁻¹",
            "NO_3^-": "NO₃⁻",
            "10^{-3}": "10⁻³",
            "flow_rate": "flow_rate",
            "a^ b": "a^ b",
            "plain": "plain",
        }.items():
            with self.subTest(typed):
                self.assertEqual(plain_text(rich(typed)), shown)
        self.assertEqual(rich("k_B T"), (Run("k"), Run("B", -1), Run(" T")))

    def test_powers_of_units_are_raised_as_files_write_them(self) -> None:
        for written, printed in {
            "cm-1": "cm⁻¹",
            "µmol m-2 s-1": "µmol m⁻² s⁻¹",
            "W/m2": "W/m²",
            "kJ mol-1 K−1": "kJ mol⁻¹ K⁻¹",
            "mg L^-1": "mg L^-1",
            **{kept: kept for kept in ("mm H2O", "10-3 M", "1e-3 m", "mg-N/L", "log10", "P-1")},
        }.items():
            with self.subTest(written):
                self.assertEqual(unit_text(written), printed)

    @given(st.text(alphabet="aB2^_{}-+ °µ", max_size=20))
    def test_no_letter_is_lost(self, typed: str) -> None:
        kept = "".join(run.text for run in rich(typed))
        for mark in "^_{}-−":
            typed, kept = typed.replace(mark, ""), kept.replace(mark, "")
        self.assertEqual(kept, typed)


class Sentences(SornixTest):
    def test_what_is_said_is_no_longer_than_is_read(self) -> None:
        for length in (1, 499, 500, 501, 502, 5000):
            with self.subTest(length):
                text = "".join(chr(97 + i % 26) for i in range(length))
                said = str(SornixError(text))
                if length <= 500:
                    self.assertEqual(said, text)
                    continue
                begin, end = said.split(" … ")
                self.assertEqual((begin, end), (text[:440], text[-50:]))
        told = SornixError("No.", where="a\x00b.csv, row 3", remedy="Do otherwise.")
        self.assertRegex(str(told), r"^a.+b\.csv, row 3: No\. Do otherwise\.$")
        self.assertNotIn("\x00", str(told))

    def test_the_part_of_a_formula_that_is_wrong_is_shown(self) -> None:
        text = "".join(chr(97 + i % 26) for i in range(300))
        for at, shown in ((0, text[:60] + "…"), (60, text[:120] + "…"),
                          (61, "…" + text[1:121] + "…"), (239, "…" + text[179:299] + "…"),
                          (240, "…" + text[180:]), (299, "…" + text[239:])):  # fmt: skip
            self.assertEqual(FormulaError("No.", text, at).where, f"“{shown}”, character {at + 1}")

    def test_what_no_file_can_hold_is_a_mark(self) -> None:
        for sign in ("\x07", "\x9f", "\ufdd0", "\uffff", "\U0001fffe", "\U0010ffff"):
            self.assertEqual(printable(f"a{sign}b\tc"), "a\ufffdb\tc")
        self.assertEqual(printable("µ\U0001f600 é\n"), "µ\U0001f600 é\n")
        self.assertEqual(printable("a\ud800b"), "a?b")
