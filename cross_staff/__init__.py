"""Cross Staff: the bow technician's measuring, arithmetic, order of work and record."""

__version__ = "0.1.0"
