"""Rows to engine values to answers, kept: what every room asks of the database and the engine. Below every room."""
