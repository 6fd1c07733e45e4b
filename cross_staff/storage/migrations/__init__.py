"""Alembic migrations, from an empty file on."""
