"""The file everything is kept in: opened with care, backed up, and what to say when it cannot be read or written."""
