"""Passed on: what is promised, handed over, taken in from another garden."""
