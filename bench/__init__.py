"""Times and memory, side by side in one run: `make bench`. Never a test: machines differ, ratios less."""
