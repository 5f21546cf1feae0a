"""Fields of a piece file that this program does not know are kept and written back where they were."""

from __future__ import annotations

from typing import Any

import msgspec

from gingham.core.formats.records import (
    ChordRecord,
    FormRecord,
    HereRecord,
    PatternRecord,
    PieceRecord,
    RulesOverrideRecord,
    RulesRecord,
    SectionRecord,
)

Unknown = tuple[tuple[str, str, str, str], ...]
_SINGLE: dict[str, type[msgspec.Struct]] = {
    "rules": RulesRecord,
    "performance": FormRecord,
    "practice": FormRecord,
}
_NAMED: dict[str, type[msgspec.Struct]] = {"patterns": PatternRecord, "sections": SectionRecord}
_OVERRIDES: dict[str, type[msgspec.Struct]] = {
    "here": HereRecord,
    "chord": ChordRecord,
    "rules": RulesOverrideRecord,
}


def unknown_fields(plain: dict[str, Any]) -> Unknown:
    """Every unknown field of a valid piece record: (list, item, field, JSON text)."""
    out = _foreign("", "", plain, PieceRecord)
    for name, kind in _SINGLE.items():
        out += _foreign(name, "", plain.get(name, {}), kind)
    for name, kind in _NAMED.items():
        for item in plain[name]:
            out += _foreign(name, item["name"], item, kind)
    for item in plain["overrides"]:
        out += _foreign("overrides", _address(item), item, _OVERRIDES[item["kind"]])
    return tuple(out)


def _foreign(
    kind: str, item: str, plain: dict[str, Any], of: type[msgspec.Struct]
) -> list[tuple[str, str, str, str]]:
    known = {*of.__struct_fields__, of.__struct_config__.tag_field}
    return [
        (kind, item, field, msgspec.json.encode(value).decode())
        for field, value in plain.items()
        if field not in known
    ]


def _address(override: dict[str, Any]) -> str:
    """What an exception is about, whatever string it names: so its field follows it when that changes."""
    known = _OVERRIDES[override["kind"]].__struct_fields__
    parts = {k: override.get(k) for k in known if k not in ("string", "because")}
    return msgspec.json.encode({"kind": override["kind"], **parts}).decode()


def with_unknown(plain: dict[str, Any], unknown: Unknown) -> dict[str, Any]:
    """`plain` with the unknown fields back in their places; those whose place is gone are left out."""
    for kind, item, field, text in unknown:
        place = _place(plain, kind, item)
        if place is not None:
            place.setdefault(field, msgspec.json.decode(text))
    return plain


def _place(plain: dict[str, Any], kind: str, item: str) -> Any:
    if not kind:
        return plain
    found = plain[kind]
    if kind in _SINGLE:
        return found
    if kind == "overrides":
        return next((each for each in found if _address(each) == item), None)
    return next((each for each in found if each["name"] == item), None)
