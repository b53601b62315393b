"""How many, by when: counts, rooting time, ready by a day."""
