"""Whole numbers as text: the one reader of digits.

`str.isdigit` knows digits that `int` does not (²), and `int` refuses thousands of them: whoever tests with the one and
reads with the other fails on what anybody may send.
"""

MOST_DIGITS = 9  # what a PostgreSQL integer holds whatever they are


def is_whole(text: str) -> bool:
    """Return whether a text is a whole number that can be read: plain digits, not too many.

    >>> is_whole("12"), is_whole("²"), is_whole("٣"), is_whole("9" * 5_000), is_whole("")
    (True, False, False, False, False)
    """
    return len(text) <= MOST_DIGITS and text.isascii() and text.isdigit()


def whole(text: str) -> int | None:
    """Return the whole number that a text is [count], None where it is none.

    >>> whole("0042"), whole("①")
    (42, None)
    """
    return int(text) if is_whole(text) else None
