"""Where cuttings stand: warmth at the roots, what was read there, the days ahead."""
