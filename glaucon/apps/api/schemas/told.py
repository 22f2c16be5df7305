"""What every answer is made of."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Told(BaseModel):
    """An answer's body, or a part of one.

    Plain pydantic: django-ninja's own base looks each field of each part up by way of Django's templates, which took
    half of a reading's time.
    """

    model_config = ConfigDict(from_attributes=True)
