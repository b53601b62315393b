"""A batch's code: short, said over a bench without being misheard, and read off a wet label.

Syllables of one consonant and one vowel, of letters that are not taken for another or for a figure (no B and 8, D and
O, I and 1, S and 5, Z and 2), nor sound like another (no M beside N). The last syllable is a check: with a prime
number of syllables it finds every single wrong syllable and every two exchanged (as ISBN-10 does with 11: ISO 2108,
from memory).
"""

from __future__ import annotations

from itertools import product
from typing import Final

SYLLABLES: Final = tuple(a + b for a, b in product("HJKMPRTW", "AEU") if a + b != "PU")  # 23 of them, a prime
BASE: Final = len(SYLLABLES)
LEAST: Final = 2  # syllables before the check
_VALUES: Final = {syllable: i for i, syllable in enumerate(SYLLABLES)}


def code_of(number: int) -> str:
    """The code of a batch's number, which counts from 1: "HAJEMA". Raises ValueError below 1."""
    if number < 1:
        raise ValueError("batches are numbered from 1")
    digits: list[int] = []
    while number or len(digits) < LEAST:
        number, rest = divmod(number, BASE)
        digits.append(rest)
    digits.reverse()
    return "".join(SYLLABLES[digit] for digit in [*digits, _check(digits)])


def number_of(code: str) -> int | None:
    """The batch's number for a code as somebody types it; ``None`` where it is none, or one misheard."""
    letters = "".join(letter for letter in code.upper() if letter.isalnum())
    parts = [letters[i : i + 2] for i in range(0, len(letters), 2)]
    if len(parts) <= LEAST or any(part not in _VALUES for part in parts):
        return None
    *digits, check = (_VALUES[part] for part in parts)
    if check != _check(digits) or (digits[0] == 0 and len(digits) > LEAST):
        return None
    number = 0
    for digit in digits:
        number = number * BASE + digit
    return number or None


def spoken(code: str) -> str:
    """A code by its syllables, as it is said and printed: "HA·JE·MA"."""
    return "·".join(code[i : i + 2] for i in range(0, len(code), 2))


def _check(digits: list[int]) -> int:
    """Each syllable weighs by its place from the check back, 2 and up, so that no two exchanged weigh the same."""
    return -sum(weight * digit for weight, digit in enumerate(reversed(digits), start=2)) % BASE
