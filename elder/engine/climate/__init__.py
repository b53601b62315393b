"""The climate of a garden: its normals, its records, its frosts, its daylight."""
