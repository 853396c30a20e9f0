"""Energizers brought in as rows."""

import pytest

from adze.formats.errors import FormatError
from adze.formats.parts.units_csv import read_units

ROW = "Barn 6 J, mains, 8.6, 6, 9.2, 7.2, 1.4, 390"


def test_rows_with_and_without_a_heading() -> None:
    heading = "label,supply,released_j,stored_j,open_kv,kv_500\nShed,battery,1,1.43,8.5,4.5"
    (barn,), (shed,) = read_units(ROW), read_units(heading)
    assert (barn.label, barn.supply, barn.released_j, barn.price) == ("Barn 6 J", "mains", 6, 390)
    assert (shed.supply, shed.stored_j, shed.pulse_s) == ("battery", 1.43, 1.3)
    (comma,) = read_units("Stall; mains; 8,6; 6; 9,2; 7,2")
    assert comma.open_kv == 9.2


def test_two_of_one_name_have_keys_of_their_own() -> None:
    assert len({unit.key for unit in read_units(f"{ROW}\n\n{ROW}")}) == 2


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no row"),
        ("label,colour\nx,red", "'colour' is no column"),
        ("Barn, mains, lots, 6, 9.2, 7.2", "line 1, stored_j: 'lots' is not a number"),
        (f"{ROW}\nBad, mains, 5, 6, 9.2, 7.2", "line 2, released_j: 6 J released cannot come from 5 J stored"),
        ("Odd, steam, 8.6, 6, 9.2, 7.2", "line 1, supply"),
        ("Short, mains, 8.6, 6", "line 1, open_kv"),
        ("\n".join([ROW] * 41), "at most 40"),
    ],
)
def test_what_is_wrong_is_told_by_line_and_column(text: str, words: str) -> None:
    with pytest.raises(FormatError, match=words):
        read_units(text)
