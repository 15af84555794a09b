"""The schema of figure.json, made from the classes whose values it holds (JSON Schema 2020-12)."""

import re
from types import NoneType, UnionType
from typing import Any, Union, get_args, get_origin, get_type_hints

from attrs import NOTHING, AttrsInstance, fields, has

from sornix.core.document.stored.migration import FORMAT, MINOR, VERSION
from sornix.core.document.value import Export
from sornix.core.figure import Figure
from sornix.core.figure.model.checks import Rule

_PLAIN = {str: "string", int: "integer", float: "number", bool: "boolean", NoneType: "null"}


def figure_schema() -> dict[str, Any]:
    """The whole of it, as JSON has it."""
    parts: dict[str, Any] = {}
    whole = {
        "format": {"const": FORMAT},
        "version": {"const": VERSION},
        "minor": {"type": "integer", "minimum": 0, "maximum": MINOR},
        "figures": {
            "type": "array",
            "items": _of_type(Figure, parts),
            "minItems": 1,
            "description": "in their order",
        },
        "shown": {
            "type": "integer",
            "minimum": 0,
            "default": 0,
            "description": "which of them is in sight",
        },
        "pattern": {"type": "boolean", "description": "whether it waits for other readings"},
        "export": {**_of_type(Export, parts), "description": "how the figure was exported last"},
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:sornix:figure:{VERSION}",
        "title": f"Sornix figure, version {VERSION}",
        "type": "object",
        "additionalProperties": False,
        "required": ["format", "version", "figures"],
        "properties": whole,
        "$defs": dict(sorted(parts.items())),
    }


def _name(kind: type) -> str:
    """`axis_look` for AxisLook."""
    return re.sub(r"(?<=[a-z])(?=[A-Z])", "_", kind.__name__).lower()


def _of_class(kind: type[AttrsInstance], parts: dict[str, Any]) -> dict[str, Any]:
    """A class as an object with its options."""
    types = get_type_hints(kind)
    found, required = {}, []
    for option in fields(kind):
        said = _of_type(types[option.name], parts)
        if isinstance(option.validator, Rule):
            said = _narrowed(said, option.validator)
        if "help" in option.metadata:
            said = {**said, "description": option.metadata["help"]}
        if option.default is NOTHING:
            required.append(option.name)
        elif option.default is None or isinstance(option.default, str | int | float):
            said = {**said, "default": option.default}
        found[option.name] = said
    schema: dict[str, Any] = {"type": "object", "additionalProperties": False, "properties": found}
    return schema | ({"required": required} if required else {})


def _of_type(kind: Any, parts: dict[str, Any]) -> dict[str, Any]:
    if kind in _PLAIN:
        return {"type": _PLAIN[kind]}
    if get_origin(kind) in (Union, UnionType):
        several = [_of_type(one, parts) for one in get_args(kind)]
        if all(set(one) == {"type"} for one in several):
            return {"type": [one["type"] for one in several]}
        return {"oneOf": several}
    if get_origin(kind) is tuple:
        return {"type": "array", "items": _of_type(get_args(kind)[0], parts)}
    assert has(kind), kind
    name = _name(kind)
    if name not in parts:
        # it may hold others of its own kind
        parts[name] = {}
        parts[name] = _of_class(kind, parts)
    return {"$ref": f"#/$defs/{name}"}


def _narrowed(said: dict[str, Any], rule: Rule) -> dict[str, Any]:
    """What a type allows and a rule allows too."""
    schema = rule.as_schema()
    if "enum" in schema:
        # a list among the names is a tuple here
        return {"enum": [list(n) if isinstance(n, tuple) else n for n in schema["enum"]]}
    if "items" in schema and "items" in said:
        items = schema["items"]
        schema["items"] = items if "enum" in items else {**said["items"], **items}
    return {**said, **schema}
