"""A batch under way: its history, its forecast, what puts it right."""
