"""The kinds of one thing: those of its folder, in their order, and those that installed packages bring.

A package brings kinds by the entry points of a group, such as `mudskipper.shapes`; they are looked for when the kinds
are first asked for. A field that holds any of some kinds is annotated with `OneOf`, and what it takes is made when a
document is first read: no kind must be there before another module is imported.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from functools import cached_property, reduce
from importlib.metadata import entry_points
from operator import or_
from typing import Annotated, Any, TypeVar, overload

from pydantic import Discriminator, GetCoreSchemaHandler, GetJsonSchemaHandler, Tag, TypeAdapter
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, core_schema

from .base_model import Model

T = TypeVar("T")
MARK = "@"
"""In the place of a fault, what begins the name of a kind; no field begins with it."""
log = logging.getLogger("mudskipper.core")


class Kinds(Sequence[T]):
    """Kinds in their order. `group` is that of the entry points of other packages' kinds."""

    def __init__(self, group: str, *own: T) -> None:
        self.group = group
        self._kinds = list(own)
        self._looked = False

    @overload
    def __getitem__(self, index: int) -> T: ...
    @overload
    def __getitem__(self, index: slice) -> Sequence[T]: ...
    def __getitem__(self, index: int | slice) -> T | Sequence[T]:
        return self._all[index]

    def __len__(self) -> int:
        return len(self._all)

    def __iter__(self) -> Iterator[T]:
        return iter(self._all)

    def add(self, kind: T) -> T:
        """Have one kind more; documents that were read before do not know it."""
        self._kinds.append(kind)
        return kind

    @property
    def _all(self) -> list[T]:
        if not self._looked:
            self._looked = True
            self._kinds += [kind for kind in brought(self.group).values() if kind not in self._kinds]
        return self._kinds


class Named(Mapping[str, T]):
    """Things by their names, in their order, and those that other packages bring by the entry points of a group."""

    def __init__(self, group: str, own: Mapping[str, T]) -> None:
        self.group = group
        self._own = dict(own)
        self._looked = False

    def __getitem__(self, name: str) -> T:
        return self._all[name]

    def __len__(self) -> int:
        return len(self._all)

    def __iter__(self) -> Iterator[str]:
        return iter(self._all)

    @property
    def _all(self) -> dict[str, T]:
        if not self._looked:
            self._looked = True
            self._own |= brought(self.group)
        return self._own


def brought(group: str) -> dict[str, Any]:
    """What other packages bring by the entry points of a group, by their names; what cannot be loaded is left out, and
    told in the log."""
    found = {}
    for point in sorted(entry_points(group=group), key=lambda one: one.name):
        try:
            found[point.name] = point.load()
        except Exception:
            log.exception("'%s' of %s could not be loaded from %s, and is not known", point.name, group, point.value)
    return found


class OneOf:
    """Annotates a field that holds one of some kinds: `Annotated[Any, OneOf(SHAPES)]`; or of those that a function
    gives when a value first comes."""

    def __init__(self, kinds: Sequence[type[Model]] | Callable[[], Sequence[type[Model]]]) -> None:
        self._kinds = kinds

    @property
    def kinds(self) -> Sequence[type[Model]]:
        """The kinds that it may hold."""
        return self._kinds() if callable(self._kinds) else self._kinds

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        kinds = self.kinds
        if len(kinds) == 1:
            return handler.generate_schema(kinds[0])
        told_by = kinds[0].told_by

        def tag(value: Any) -> str | None:
            name = value.get(told_by) if isinstance(value, dict) else getattr(value, told_by, None)
            return f"{MARK}{name}" if isinstance(name, str) else None

        tagged = [Annotated[kind, Tag(f"{MARK}{kind.model_fields[told_by].default}")] for kind in kinds]
        return handler.generate_schema(Annotated[reduce(or_, tagged), Discriminator(tag)])


class AnyOf:
    """Annotates a field that holds a plain value, or one of some kinds, told by the first field that each of them has:
    `{"bezier": […]}`, `{"x": …, "y": …}`."""

    def __init__(self, plain: Any, kinds: Sequence[type[Model]]) -> None:
        self._plain, self.kinds = plain, kinds

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        kinds = {next(iter(kind.model_fields)): kind for kind in self.kinds}
        own = tuple(kinds)

        def tag(value: Any) -> str:
            if value.__class__ is dict:
                return next((MARK + name for name in own if name in value), MARK)
            if isinstance(value, Model):
                return next((MARK + name for name, kind in kinds.items() if isinstance(value, kind)), MARK)
            return MARK

        tagged = [Annotated[kind, Tag(MARK + name)] for name, kind in kinds.items()]
        return handler.generate_schema(
            Annotated[reduce(or_, tagged, Annotated[self._plain, Tag(MARK)]), Discriminator(tag)]
        )


class Late:
    """Annotates a field whose kinds are asked for when the first value comes that is not `plain`: values that modules
    hold from their beginning are made before other packages can bring any."""

    def __init__(self, of: AnyOf, plain: Collection[str]) -> None:
        self._of, self._plain = of, frozenset(plain)

    @cached_property
    def _adapter(self) -> TypeAdapter[Any]:
        return TypeAdapter(Annotated[Any, self._of])

    def _valid(self, value: Any) -> Any:
        if value.__class__ is str and value in self._plain:
            return value
        return self._adapter.validate_python(value)

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(self._valid)

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return handler(self._adapter.core_schema)
