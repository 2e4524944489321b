"""The base of all parts of a work: frozen, checked, and edited by making anew."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Self, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from under_lattice.core.errors import InputError


class Frozen(BaseModel):
    """Base of all parts of a work."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """Return a copy with fields changed and not checked; what was worked out of the old ones is not taken along."""
        made = super().model_copy(update=update, deep=deep)
        for name in made.__dict__.keys() - type(self).model_fields.keys():
            del made.__dict__[name]
        return made


Model = TypeVar("Model", bound=BaseModel)


def edited(model: Model, **changes: Any) -> Model:
    """Return `model` with fields changed and validated; unchanged parts stay the same objects.

    Raises
    ------
    InputError
        With the sentence of the field that refuses.
    """
    fields = {name: getattr(model, name) for name in type(model).model_fields}
    try:
        return type(model).model_validate(fields | changes)
    except ValidationError as error:
        raise InputError(first_sentence(error)) from None


def first_sentence(error: ValidationError) -> str:
    """Return the first complaint of a validation error in words."""
    first = error.errors()[0]
    place = ", ".join(str(part) for part in first["loc"] if part not in ("constant", "varied", "chain"))
    message = str(first["msg"]).removeprefix("Value error, ")
    if first["type"] == "literal_error":
        allowed = str(first["ctx"]["expected"]).replace("' or '", "', '").replace("'", "")
        return f"“{str(first['input'])[:40]}” is not one of: {allowed}"
    return message if first["type"] == "value_error" else f"{place}: {message}"
