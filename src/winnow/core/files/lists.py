"""Lists: frames with their marks, texts, facts and hints as CSV (RFC 4180) or JSON, out and in
again."""

from __future__ import annotations

import csv
import io
import json
import re
import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final, Literal

from winnow.core.facts import STATED
from winnow.core.files.merge import Said
from winnow.core.files.texts import FIELDS, Texts, cleaned
from winnow.core.frames import split_name
from winnow.core.marks import MAX_STARS, Decision
from winnow.say import say

Form = Literal["csv", "json"]
NAMING: Final = ("file", "folder", "hash")
MARKS: Final = ("decision", "stars", "label")
FACTS: Final = (
    "taken", *(fact.column for fact in STATED), "width", "height", "type", "group", "companions",
)  # fmt: skip
HINTS: Final = ("hints", "verdict")
PARTS: Final[dict[str, tuple[str, ...]]] = {
    "marks": MARKS,
    "texts": tuple(FIELDS),
    "facts": FACTS,
    "hints": HINTS,
}
MOST_BYTES: Final = 32 * 1024 * 1024
MOST_ROWS: Final = 200_000
_KIND: Final = "winnow list"
_BETWEEN: Final = "; "
NO_LABEL: Final = "none"
# A spreadsheet would take what begins so for a formula and run it: at the beginning of a text, and,
# where it parts columns or rows otherwise than this file does, behind those signs. Each gets one
# apostrophe more, which reading takes away.
_FORMULA: Final = re.compile(r"(^|[;\t\r\n])( *)('*)(?=[=+\-@\t])")
_HARMLESS: Final = re.compile(r"(^|[;\t\r\n])( *)'('*)(?=[=+\-@\t])")
# Spreadsheets write in a first line by what sign columns are parted.
_PARTED_BY: Final = re.compile(r"\ufeff?sep=(.)\r?(?:\n|$)", re.IGNORECASE)

Value = str | int | float | bool | None | Sequence[str]
Row = Mapping[str, Value]


class ListError(ValueError):
    """A list that can't be read, in words."""


def columns_of(parts: Iterable[str]) -> tuple[str, ...]:
    """The columns of a list with these parts; what names a frame is always there."""
    wanted = set(parts)
    return (
        *NAMING,
        *(column for part, columns in PARTS.items() if part in wanted for column in columns),
    )


def to_csv(columns: Sequence[str], rows: Iterable[Row]) -> str:
    """Rows as CSV in UTF-8 with a byte order mark, by which spreadsheets know it."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        writer.writerow([_cell(row.get(column)) for column in columns])
    return "\ufeff" + out.getvalue()


def _cell(value: Value) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return f"{value:g}" if isinstance(value, float) else str(value)
    text = value if isinstance(value, str) else _BETWEEN.join(map(_quoted, value))
    return _FORMULA.sub(r"\1\2'\3", text)


def _quoted(entry: str) -> str:
    """One of several entries in a cell: in quotes where it has signs that part entries, as cells
    are."""
    if ";" not in entry and not entry.startswith('"'):
        return entry
    return '"' + entry.replace('"', '""') + '"'


def _entries(cell: str) -> list[str]:
    """What ``_quoted`` made of several entries."""
    try:
        return next(csv.reader([cell.strip()], delimiter=";", skipinitialspace=True), [])
    except csv.Error:
        return cell.split(";")


def to_json(name: str, columns: Sequence[str], rows: Iterable[Row]) -> str:
    """Rows as JSON, with the name of the shoot."""
    frames = [{column: row.get(column) for column in columns} for row in rows]
    content = {"kind": _KIND, "version": 1, "shoot": name, "frames": frames}
    return json.dumps(content, ensure_ascii=False, indent=1) + "\n"


@dataclass(frozen=True, slots=True)
class Entry:
    """One row of a list that came back. ``at``: its number, from 1 (of a CSV file, its line).

    ``values``: what it says, by column; what is empty says nothing.
    """

    at: int
    values: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Listed:
    """A list that came back. ``unknown``: columns that mean nothing here."""

    entries: tuple[Entry, ...]
    unknown: tuple[str, ...]


def read(data: bytes) -> Listed:
    """Read a list, whichever form it has. Raises ListError.

    CSV may be in UTF-8 or UTF-16 with a byte order mark, else in Windows-1252, with commas,
    semicolons or tabs, as spreadsheets save it.
    """
    if len(data) > MOST_BYTES:
        raise ListError(say("This file is too large for a list."))
    text = _decoded(data)
    if text.lstrip()[:1] in ("{", "["):
        return _read_json(text)
    return _read_csv(text)


def _decoded(data: bytes) -> str:
    encodings = ("utf-16",) if data[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig", "cp1252")
    for encoding in encodings:
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    raise ListError(say("This file is no text that can be read. Save it as UTF-8."))


def _read_json(text: str) -> Listed:
    try:
        content = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise ListError(
            say("This file is not JSON that can be read ({error}).", error=error)
        ) from None
    if isinstance(content, dict):
        if content.get("version", 1) != 1:
            raise ListError(say("This list was written by a newer Winnow."))
        content = content.get("frames")
    if not isinstance(content, list) or not all(isinstance(entry, dict) for entry in content):
        raise ListError(say("This file holds no list of frames."))
    return _listed([(n, entry) for n, entry in enumerate(content, 1)])


def _read_csv(text: str) -> Listed:
    said = _PARTED_BY.match(text)
    if said:
        text = text[said.end() :]
    first = text.lstrip("\ufeff").split("\n", 1)[0]
    delimiter = said.group(1) if said else max(",;\t", key=first.count)
    csv.field_size_limit(1_000_000)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    rows: list[tuple[int, dict[str, Any]]] = []
    try:
        header = [name.strip().casefold() for name in next(reader, [])]
        for cells in reader:
            if any(cell.strip() for cell in cells):
                cut = [_HARMLESS.sub(r"\1\2\3", cell) for cell in cells]
                at = reader.line_num + bool(said)
                rows.append((at, dict(zip(header, cut, strict=False))))
    except csv.Error as error:
        raise ListError(
            say("This file is not CSV that can be read ({error}).", error=error)
        ) from None
    if not header or not {"file", "name", "hash"} & set(header):
        raise ListError(
            say("The first line must name the columns, with “file” or “hash” among them.")
        )
    return _listed(rows)


def _listed(rows: list[tuple[int, dict[str, Any]]]) -> Listed:
    if len(rows) > MOST_ROWS:
        raise ListError(say("This list has more than {most:,} rows.", most=MOST_ROWS))
    known = {*NAMING, "name", *MARKS, *FIELDS}
    ignored = {*FACTS, *HINTS, ""}
    unknown: dict[str, None] = {}
    entries = []
    for at, row in rows:
        values = {}
        for column, value in row.items():
            name = str(column).strip().casefold()
            if name in known:
                if value not in (None, "", []):
                    values[name] = value
            elif name not in ignored:
                unknown[name] = None
        entries.append(Entry(at, values))
    return Listed(tuple(entries), tuple(unknown))


@dataclass(frozen=True, slots=True)
class Known:
    """A frame that an entry may mean. ``files``: the names of its files; ``folder``: theirs."""

    frame: int
    files: tuple[str, ...]
    folder: str
    hash: str | None
    said: Said


@dataclass(frozen=True, slots=True)
class ListPlan:
    """What a list would do. ``after``: what would be said of frames that it changes.

    ``same``: frames of which it says what is said already. ``problems``: rows left out, and why.
    """

    after: Mapping[int, Said]
    same: int = 0
    problems: tuple[tuple[int, str], ...] = ()


def plan(listed: Listed, frames: Iterable[Known], labels: Mapping[str, str]) -> ListPlan:
    """Find each entry's frame, by hash and name, and what it would change.

    ``labels``: names by letter.
    """
    known = list(frames)
    by_hash: dict[str, list[Known]] = {}
    by_name: dict[str, list[Known]] = {}
    for row in known:
        if row.hash:
            by_hash.setdefault(row.hash.casefold(), []).append(row)
        for name in {_name(file) for file in row.files} | {_stem(file) for file in row.files}:
            by_name.setdefault(name, []).append(row)
    after: dict[int, Said] = {}
    seen: dict[int, int] = {}
    same = 0
    problems: list[tuple[int, str]] = []
    for entry in listed.entries:
        try:
            match = _find(entry.values, by_hash, by_name)
            if match.frame in seen:
                raise ListError(
                    say("It is about the same frame as row {row}.", row=seen[match.frame])
                )
            said = _applied(match.said, entry.values, labels)
        except ListError as error:
            problems.append((entry.at, str(error)))
            continue
        seen[match.frame] = entry.at
        if said == match.said:
            same += 1
        else:
            after[match.frame] = said
    return ListPlan(after, same, tuple(problems))


def _name(text: str) -> str:
    return unicodedata.normalize("NFC", text.strip()).casefold()


def _stem(file: str) -> str:
    return _name(split_name(file)[0])


def _find(
    values: Mapping[str, Any],
    by_hash: Mapping[str, list[Known]],
    by_name: Mapping[str, list[Known]],
) -> Known:
    digest = str(values.get("hash", "")).strip().casefold()
    typed = str(values.get("file", values.get("name", ""))).replace("\\", "/").strip()
    name = _name(typed.rpartition("/")[2])
    if not digest and not name:
        raise ListError(say("It names no file."))
    named = by_name.get(name, [])
    if digest:
        equal = by_hash.get(digest, [])
        if equal:
            # Copies are alike; the name tells which one is meant.
            both = [row for row in equal if row in named] or equal
            return _only(both, values, say("Several copies of this picture are in the shoot."))
        if any(row.hash for row in named):
            raise ListError(
                say(
                    "“{typed}” is here with another content than the list was made of.", typed=typed
                )
            )
    if not named:
        raise ListError(say("There is no “{given}” in this shoot.", given=typed or digest[:12]))
    return _only(
        named,
        values,
        say("“{typed}” is the name of {number} frames.", typed=typed, number=len(named)),
    )


def _only(candidates: Sequence[Known], values: Mapping[str, Any], words: str) -> Known:
    folder = str(values.get("folder", "")).replace("\\", "/").strip("/ ")
    if len(candidates) > 1 and folder:
        candidates = [row for row in candidates if row.folder.strip("/") == folder] or candidates
    if len(candidates) > 1:
        raise ListError(words)
    return candidates[0]


_DECISIONS: Final = {
    "pick": Decision.PICK, "picked": Decision.PICK, "yes": Decision.PICK,
    "reject": Decision.REJECT, "rejected": Decision.REJECT, "no": Decision.REJECT,
    "undecided": Decision.UNDECIDED,
}  # fmt: skip


def _applied(said: Said, values: Mapping[str, Any], labels: Mapping[str, str]) -> Said:
    mark, texts = said.mark, said.texts
    if "decision" in values:
        decision = _DECISIONS.get(str(values["decision"]).strip().casefold())
        if decision is None:
            raise ListError(
                say(
                    "“{given}” is no decision: pick, reject or undecided.",
                    given=values["decision"],
                )
            )
        mark = replace(mark, decision=decision)
    if "stars" in values:
        mark = replace(mark, stars=_stars(values["stars"]))
    if "label" in values:
        mark = replace(mark, label=_letter(str(values["label"]).strip(), labels))
    for name, field in FIELDS.items():
        if name in values:
            value: Any = values[name]
            if field.listed:
                value = tuple(
                    str(v) for v in (value if isinstance(value, list) else _entries(str(value)))
                )
            changed: dict[str, Any] = {name: value if field.listed else str(value)}
            texts = replace(texts, **changed)
    return Said(mark, cleaned(texts) if texts != said.texts else texts)


def _stars(value: Any) -> int:
    text = str(value).strip()
    if text.count("★") == len(text):
        return min(len(text), MAX_STARS)
    number = text.rstrip("★ ").removesuffix(".0")
    if not number.isdecimal() or int(number) > MAX_STARS:
        raise ListError(say("“{given}” are no stars: 0 to {most}.", given=value, most=MAX_STARS))
    return int(number)


def _letter(text: str, labels: Mapping[str, str]) -> str | None:
    wanted = text.casefold()
    if wanted == NO_LABEL:
        return None
    for letter, name in labels.items():
        if wanted == name.casefold():
            return letter
    for letter in labels:
        if wanted == letter.casefold():
            return letter
    raise ListError(say("There is no label “{given}”.", given=text))


def values_of(said: Said, labels: Mapping[str, str]) -> dict[str, Value]:
    """What is said of a frame, by column."""
    mark = said.mark
    label = labels.get(mark.label, mark.label) if mark.label else NO_LABEL
    marks: dict[str, Value] = {
        "decision": str(mark.decision.value),
        "stars": mark.stars,
        "label": label,
    }
    return {**marks, **_texts(said.texts)}


def _texts(texts: Texts) -> dict[str, Value]:
    return {
        name: list(getattr(texts, name)) if field.listed else getattr(texts, name)
        for name, field in FIELDS.items()
    }
