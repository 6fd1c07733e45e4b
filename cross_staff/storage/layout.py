"""The layouts that a database file can have, as the migrations name them."""

from __future__ import annotations

from functools import cache

from alembic.config import Config
from alembic.script import ScriptDirectory


def migrations() -> Config:
    """Where the migrations are."""
    config = Config()
    config.set_main_option("script_location", "cross_staff.storage:migrations")
    return config


@cache
def _scripts() -> ScriptDirectory:
    return ScriptDirectory.from_config(migrations())


def newest() -> str:
    """The layout that this program writes."""
    return str(_scripts().get_current_head())


def is_known(layout: str) -> bool:
    """Whether this program can bring a file of this layout up."""
    return layout in {script.revision for script in _scripts().walk_revisions()}
