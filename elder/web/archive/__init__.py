"""A whole garden as one file to carry away, and read back as a new garden here or elsewhere (docs/archive.md)."""
