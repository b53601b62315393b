"""The handbook in the engine: plants, ways and bench tables, read from YAML and checked."""
