"""Names of the API's fields in earlier releases: what a page or a device of theirs sends is understood."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

from rest_framework import serializers


class WithFormerNames(serializers.Serializer[Any]):
    """`former`: old name → the present one, which wins where both are given."""

    former: ClassVar[Mapping[str, str]] = {}

    def to_internal_value(self, data: Any) -> Any:
        if isinstance(data, dict) and not self.former.keys().isdisjoint(data):
            now = {name: self.former.get(name, name) for name in data}
            data = {now[name]: value for name, value in data.items() if now[name] == name or now[name] not in data}
        return super().to_internal_value(data)
