"""Declaring the fields of a thing, and reading and writing all of them by that.

A class is a frozen dataclass whose fields are made by `says`; those without are the program's own,
and stand in no form and no file. Where fields depend on one another it has `together`, which gets
values by name, may mend them, and returns faults by name; what of that a schema can tell
is its `SCHEMA`."""

from collections.abc import Iterable, Mapping
from dataclasses import MISSING, dataclass, field, fields
from functools import cache
from typing import Any, TypeVar

from ..base.errors import PlumError, Refused
from .kinds import DATE, Kind, Schema, Text
from .number import spoken

Thing = TypeVar("Thing")


@dataclass(frozen=True)
class Field:
    """A field of a thing: its name, its name in files and in forms, the label that people read, its
    kind, what stands where nothing is said, whether something has to be said, a note for the tables
    of formats, and whether it is private: cut off where a thing is passed on, if it is not
    wished."""

    name: str
    key: str
    form: str
    label: str
    kind: Kind
    usual: Any
    needed: bool
    note: str
    private: bool

    def read(self, text: str) -> Any:
        """What was typed."""
        if text.strip():
            return self.kind.read(text)
        if self.needed:
            raise PlumError("is still empty")
        return self.usual

    def check(self, told: Mapping[str, Any]) -> Any:
        """What a file says, by key. Words that are empty say nothing."""
        if self.key in told and not (isinstance(self.kind, Text) and told[self.key] == ""):
            return self.kind.check(told[self.key])
        if self.needed:
            raise PlumError("is still empty" if self.key in told else "is missing")
        return self.usual

    def sentence(self, why: object) -> str:
        """What is wrong, by its label."""
        return f"“{self.label}” {why}."


def says(
    kind: Kind,
    label: str,
    usual: Any = MISSING,
    *,
    key: str = "",
    form: str = "",
    note: str = "",
    private: bool = False,
) -> Any:
    """A field of a thing; without `usual` something has to be said. As in `Field`."""
    about = {
        "kind": kind, "label": label, "key": key, "form": form, "note": note,
        "private": private,
    }  # fmt: skip
    return field(**({} if usual is MISSING else {"default": usual}), metadata={"says": about})


def declared(thing: type) -> tuple[Field, ...]:
    """The fields of a class, in order."""
    return _declared(thing)


@cache
def _declared(thing: Any) -> tuple[Field, ...]:
    out = []
    for each in fields(thing):
        about = each.metadata.get("says")
        if about is not None:
            needed = each.default is MISSING
            usual = None if needed else each.default
            key = about["key"] or each.name
            rest = {**about, "key": key, "form": about["form"] or key}
            out.append(Field(each.name, usual=usual, needed=needed, **rest))
    return tuple(out)


def _refuse(thing: type, faults: Mapping[str, str], where: str = "") -> None:
    """Raise, if anything is wrong."""
    every = {f.name: f for f in declared(thing)}
    if faults:
        name, why = next(iter(faults.items()))
        beside = {every[n].form: f"It {why}." for n, why in faults.items()}
        raise Refused(beside, where + every[name].sentence(why))


def _made(thing: type[Thing], values: dict[str, Any], where: str, own: Mapping[str, Any]) -> Thing:
    together = getattr(thing, "together", None)
    if together is not None:
        _refuse(thing, together(values), where)
    return thing(**values, **own)


def from_form(thing: type[Thing], given: Mapping[str, Any], **own: Any) -> Thing:
    """A thing of what a form holds, and of values of the program's `own`. What the form
    does not hold is as usual. Refused tells of all fields that do not fit."""
    values, faults = {}, {}
    for each in declared(thing):
        try:
            values[each.name] = each.read(str(given.get(each.form, "")))
        except PlumError as error:
            faults[each.name] = str(error)
    _refuse(thing, faults)
    return _made(thing, values, "", own)


def from_file(thing: type[Thing], told: Mapping[str, Any], where: str = "", **own: Any) -> Thing:
    """A thing of what a file says, by key; what it does not say is as usual. `where` begins the
    sentence of what is refused."""
    values, faults = {}, {}
    for each in declared(thing):
        try:
            values[each.name] = each.check(told)
        except PlumError as error:
            faults[each.name] = str(error)
    _refuse(thing, faults, where)
    return _made(thing, values, where, own)


def checked(thing: Any) -> None:
    """Refused where a field of a thing that was kept does not fit."""
    faults = {}
    for each in declared(type(thing)):
        try:
            each.kind.check(each.kind.json(getattr(thing, each.name)))
        except PlumError as error:
            faults[each.name] = str(error)
    _refuse(type(thing), faults)


def to_form(thing: Any) -> dict[str, str]:
    """What a form of a thing shows, by name there."""
    return {f.form: f.kind.write(getattr(thing, f.name)) for f in declared(type(thing))}


def to_file(thing: Any, private: bool = True) -> dict[str, Any]:
    """What a file says of a thing, by key; without what is `private`, if it is not wished."""
    return {
        f.key: f.kind.json(getattr(thing, f.name))
        for f in declared(type(thing))
        if private or not f.private
    }


def schema(thing: type, title: str, more: Mapping[str, Schema] | None = None) -> Schema:
    """JSON Schema of a thing in a file; other programs may add to it."""
    every = declared(thing)
    properties = {f.key: _described(f) for f in every}
    return {
        "type": "object",
        "title": title,
        "properties": {**properties, **(more or {})},
        "required": [f.key for f in every if f.needed],
        **getattr(thing, "SCHEMA", {}),
    }


def _described(each: Field) -> Schema:
    told: Schema = {"title": each.label, **each.kind.schema}
    if each.needed and isinstance(each.kind, Text):
        told["minLength"] = 1
    if each.note:
        told["description"] = each.note
    if not each.needed:
        told["default"] = each.usual
    return told


def rows(thing: type) -> Iterable[tuple[str, str, str, str]]:
    """Of each field in a file: its name there, its label, what fits, and a note."""
    for each in declared(thing):
        private = "Private" if each.private else ""
        note = ". ".join(filter(None, (each.note.rstrip("."), private)))
        yield each.key, each.label, _fits(each), note


def _fits(each: Field) -> str:
    told = each.kind.schema
    within, *other = told.get("anyOf", [told])
    if "enum" in within:
        return ", ".join(str(v) for v in within["enum"] if v != "")
    if "minimum" in within:
        whole = "whole, " if within["type"] == "integer" else ""
        rest = "".join(f" or {o.get('const', 'null')}" for o in other)
        return f"{whole}{spoken(within['minimum'])} to {spoken(within['maximum'])}{rest}"
    if "maxLength" in within:
        return f"text of up to {within['maxLength']} letters"
    return "a date" if within["pattern"] == DATE else "a time, as 06:15"
