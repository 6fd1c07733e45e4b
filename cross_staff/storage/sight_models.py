"""The library of sight models: a log in which the newest number of a model holds."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import uuid4

from pydantic import TypeAdapter
from sqlalchemy import Connection, func, insert, select

from cross_staff.core.errors import NotFound, StaleRevision
from cross_staff.core.rig.sight import SightModel
from cross_staff.storage.tables import sight_models

_SIGHT = TypeAdapter(SightModel)


@dataclass(frozen=True)
class KeptModel:
    """A model of the library at its present number."""

    model: int
    number: int
    saved: datetime
    sight: SightModel
    removed: bool = False
    uid: str = ""


def add(connection: Connection, sight: SightModel, now: datetime) -> int:
    """A new model; returns its name in the library."""
    model = int(connection.execute(select(func.coalesce(func.max(sight_models.c.model), 0))).scalar_one()) + 1
    _write(connection, KeptModel(model, 1, now, sight, uid=uuid4().hex))
    return model


def change(
    connection: Connection, model: int, based_on: int, sight: SightModel, now: datetime, removed: bool | None = None
) -> int:
    """The next number of a model, in the list as before unless `removed` says otherwise.

    Raises NotFound, StaleRevision when `based_on` is not current.
    """
    current = find(connection, model)
    if current.number != based_on:
        raise StaleRevision(based_on, current.number)
    taken_off = current.removed if removed is None else removed
    _write(connection, KeptModel(model, current.number + 1, now, sight, taken_off, current.uid))
    return current.number + 1


def find(connection: Connection, model: int) -> KeptModel:
    """A model as it stands. Raises NotFound."""
    model_kept = next((kept for kept in _newest(connection) if kept.model == model), None)
    if model_kept is None:
        raise NotFound(f"there is no sight model {model}")
    return model_kept


def all_models(connection: Connection) -> list[KeptModel]:
    """Every model that was not removed, by name."""
    kept = [each for each in _newest(connection) if not each.removed]
    return sorted(kept, key=lambda each: each.sight.name.lower())


def _newest(connection: Connection) -> list[KeptModel]:
    rows = connection.execute(select(sight_models).order_by(sight_models.c.model, sight_models.c.number))
    models = {
        row.model: KeptModel(
            row.model,
            row.number,
            row.saved_utc.replace(tzinfo=UTC),
            _SIGHT.validate_python(row.sight),
            row.removed,
            row.uid,
        )
        for row in rows
    }
    return list(models.values())


def _write(connection: Connection, kept: KeptModel) -> None:
    connection.execute(
        insert(sight_models).values(
            model=kept.model,
            number=kept.number,
            saved_utc=kept.saved.astimezone(UTC).replace(tzinfo=None),
            sight=_SIGHT.dump_python(kept.sight, mode="json"),
            removed=kept.removed,
            uid=kept.uid,
        )
    )
