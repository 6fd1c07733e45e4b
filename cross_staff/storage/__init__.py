"""SQLite through SQLAlchemy. Hands out frozen dataclasses of core, never rows."""
