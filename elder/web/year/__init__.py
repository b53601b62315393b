"""The Year room: lines multiplied, what comes in for winter, the crops that stand for years."""
