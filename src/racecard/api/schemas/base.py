"""The common ground of all schemas: nothing unknown is let in, nothing is coerced."""

from pydantic import BaseModel, ConfigDict


class In(BaseModel):
    """A request body."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Out(BaseModel):
    """A response body."""

    model_config = ConfigDict(extra="forbid")
