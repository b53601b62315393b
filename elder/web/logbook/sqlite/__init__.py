"""Django's SQLite, opened with care. Named as a database ``ENGINE``."""
