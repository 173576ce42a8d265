"""Column kinds shared by the tables: core values that rest as text or JSON."""

from __future__ import annotations

from contextlib import suppress
from datetime import UTC, datetime
from functools import lru_cache
from typing import Annotated, Any, Generic, TypeVar, cast

from pydantic import BaseModel, ValidationError
from sqlalchemy import DateTime, Dialect, ForeignKey, MetaData, Select, String, Text, select
from sqlalchemy.orm import DeclarativeBase, Session, mapped_column
from sqlalchemy.types import TypeDecorator
from typing_extensions import override

from oak_ledge.core.sizes.size import first_error
from oak_ledge.store.errors import DamagedError

Model = TypeVar("Model", bound=BaseModel)


class Base(DeclarativeBase):
    """Base of all tables; names of constraints follow from their columns."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )


class AsJson(TypeDecorator[Model], Generic[Model]):
    """A frozen core model, resting as the JSON it also travels as."""

    impl, cache_ok = Text, True

    def __init__(self, model: type[Model]) -> None:
        super().__init__()
        self.model = model

    @override
    def process_bind_param(self, value: Model | None, dialect: Dialect) -> str | None:
        if value is None:
            return None
        text = value.model_dump_json()
        _read(self.model, text)  # what could not be read again does not go in
        return text

    @override
    def process_result_value(self, value: Any | None, dialect: Dialect) -> Model | None:
        return None if value is None else cast(Model, _read(self.model, value))


@lru_cache(maxsize=8192)  # frozen, so that one may stand for all that rest as the same text
def _read(model: type[BaseModel], text: str) -> BaseModel:
    try:
        return model.model_validate_json(text)
    except ValidationError as exc:
        msg = f"A stored {model.__name__.lower()} can't be read: {first_error(exc)}."
        raise DamagedError(msg) from exc


def readable(session: Session, rows: Select[Any], key_of: Any) -> list[Any]:
    """Return the rows that can be read; where one can't, they are read one by one and it is left out."""
    try:
        return list(session.scalars(rows))
    except DamagedError:
        readable_rows: list[Any] = []
        for key in list(session.scalars(rows.with_only_columns(key_of))):
            with suppress(DamagedError):
                readable_rows += session.scalars(rows.where(key_of == key))
        return readable_rows


class Moment(TypeDecorator[datetime]):
    """A point in time, kept in UTC; SQLite forgets zones."""

    impl, cache_ok = DateTime, True

    @override
    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    @override
    def process_result_value(self, value: Any | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


key = Annotated[int, mapped_column(primary_key=True)]
short = Annotated[str, mapped_column(String(200))]
moment = Annotated[datetime, mapped_column(Moment)]


def owner(table: str) -> Any:
    """Return a foreign key that goes with its owner."""
    return mapped_column(ForeignKey(f"{table}.id", ondelete="CASCADE"), index=True)


def unreadable(session: Session) -> list[str]:
    """Name the rows of all tables that can't be read, by their table and number."""
    keys = []
    for mapper in Base.registry.mappers:
        row_type = mapper.class_
        with suppress(DamagedError):
            session.scalars(select(row_type)).all()
            session.expunge_all()
            continue
        numbers = session.execute(select(mapper.primary_key[0])).scalars().all()
        for number in numbers:
            try:
                session.get(row_type, number)
            except DamagedError as exc:
                keys.append(f"{row_type.__tablename__} {number}: {exc}")
        session.expunge_all()
    return keys
