"""Column kinds shared by the tables: core values that rest as text or JSON."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import lru_cache
from typing import Annotated, Any, Generic, TypeVar, cast

from pydantic import BaseModel
from sqlalchemy import DateTime, Dialect, ForeignKey, MetaData, String, Text
from sqlalchemy.orm import DeclarativeBase, mapped_column
from sqlalchemy.types import TypeDecorator
from typing_extensions import override

Model = TypeVar("Model", bound=BaseModel)


class Base(DeclarativeBase):
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
        return None if value is None else value.model_dump_json()

    @override
    def process_result_value(self, value: Any | None, dialect: Dialect) -> Model | None:
        return None if value is None else cast(Model, _read(self.model, value))


@lru_cache(maxsize=8192)  # frozen, so that one may stand for all that rest as the same text
def _read(model: type[BaseModel], text: str) -> BaseModel:
    return model.model_validate_json(text)


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
    """A foreign key that goes with its owner."""
    return mapped_column(ForeignKey(f"{table}.id", ondelete="CASCADE"), index=True)
