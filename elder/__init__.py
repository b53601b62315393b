"""Elder: when to cut, how many, and what to do today."""
