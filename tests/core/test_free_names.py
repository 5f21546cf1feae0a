"""Names that are free: a copy counts on, what somebody wrote stays whole."""

import pytest

from gingham.core.free_names import free_name, told_apart


@pytest.mark.parametrize(
    ("wanted", "taken", "counted", "apart"),
    [
        ("Verse", [], "Verse", "Verse"),
        ("Verse", ["Verse"], "Verse 2", "Verse 2"),
        ("Verse 2", ["Verse"], "Verse 2", "Verse 2"),
        ("Verse 2", ["Verse", "Verse 2"], "Verse 3", "Verse 2 2"),
        ("Verse 2", ["Verse 2", "Verse 3"], "Verse 4", "Verse 2 2"),
        ("2", ["2"], "2 2", "2 2"),
        ("", [""], " 2", " 2"),
        ("Bars 12345678901", ["Bars 12345678901"], "Bars 12345678901 2", "Bars 12345678901 2"),
    ],
)
def test_a_free_name(wanted: str, taken: list[str], counted: str, apart: str) -> None:
    """Counted on, or with a number behind it; a number of eleven digits is no count."""
    assert free_name(wanted, taken) == counted
    assert told_apart(wanted, taken) == apart
