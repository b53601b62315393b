"""What a batch asks for day by day, what its signs mean, how it is potted, hardened and carried."""
