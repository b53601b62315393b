"""The cut: can it be cut, where, in what steps, with what hormone; and the code of a batch."""
