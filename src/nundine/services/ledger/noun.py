"""What a noun has to say of itself so that commands can change its records: how they are named, read and
written."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from nundine.services.ledger.values import CLOCK, MOMENT, PLAIN, clock, decode, encode
from nundine.store.base import Record, Table
from nundine.store.bulk import insert_rows
from nundine.store.once import forget, once

Row = dict[str, Any]
"""Fields of a record by their names, as Python values."""
Key = tuple[Any, ...]
"""What a record is known by, encoded."""
BATCH = 1000


def batches(things: Iterable[Any]) -> Iterator[list[Any]]:
    """A thousand at a time."""
    listed = list(things)
    return (listed[n : n + BATCH] for n in range(0, len(listed), BATCH))


@dataclass(frozen=True)
class Column:
    """One field. `refers`: it holds the key of a record of that table; `of` is the field of the model where
    its name differs.

    `counts_from`: the file counts from 1 what is stored from 0. `late`: it refers to records of the same
    table.
    """

    name: str
    label: str
    kind: str = PLAIN
    of: str = ""
    refers: type[Table] | None = None
    by: str = "key"
    counts_from: int = 0
    late: bool = False
    matters: bool = True

    @property
    def field(self) -> str:
        return self.of or self.name

    def read(self, stored: Any) -> Any:
        """The value of what is stored; a reference is still an id."""
        if stored is None:
            return None
        return (
            clock(stored) if self.kind == CLOCK else stored + self.counts_from if self.counts_from else stored
        )

    def stored(self, value: Any) -> Any:
        return value - self.counts_from if self.counts_from and value is not None else value


NAME = Column("name", "name", matters=False)
END = Column("end", "end", MOMENT)


@dataclass(frozen=True)
class Part:
    """A field that is a list, kept in a table of its own by the record's id."""

    name: str
    label: str
    read: Callable[[list[int]], Mapping[int, tuple[Any, ...]]]
    write: Callable[[dict[int, tuple[Any, ...]]], None]
    decode: Callable[[list[Any]], tuple[Any, ...]]
    matters: bool = True


def ids_of(table: type[Table], by: str, values: Collection[Any] | None = None) -> dict[Any, int]:
    """Row ids of a table by what its records are known by; of all where no values are given."""
    field: Any = getattr(table, by)
    query = table.select(table.id, field)  # type: ignore[attr-defined]
    if values is None:
        return {key: id_ for id_, key in query.tuples()}
    found: dict[Any, int] = {}
    for some in batches(values):
        found |= {key: id_ for id_, key in query.where(field.in_(some)).tuples()}
    return found


def ids_once(table: type[Table], by: str, values: Collection[Any]) -> dict[Any, int]:
    """Row ids of those that are there, by what they are known by; within a command each is asked for once."""
    known: dict[Any, int] = once(("ids", table, by), dict)
    missing = set(values) - known.keys()
    if missing:
        known |= ids_of(table, by, missing)
    return {v: known[v] for v in values if v in known}


@dataclass(frozen=True)
class Noun:
    """Records of one table. `people` and `work` say what a change of one that matters changes for the engine.

    `live`: screens that show it hear of each change at once, though it is nothing to the engine.
    `owner`: the noun whose record it belongs to, by the first part of the key; the owner's revision counts
    its changes.
    """

    name: str
    model: type[Table]
    key: tuple[Column, ...]
    columns: tuple[Column, ...]
    told: Callable[[Key], str]
    parts: tuple[Part, ...] = ()
    order: tuple[Any, ...] = ()
    people: bool = False
    work: bool = False
    live: bool = False
    owner: str | None = None

    @property
    def fields(self) -> tuple[Column | Part, ...]:
        """All of a record but its key."""
        return (*self.columns, *self.parts)

    @property
    def labels(self) -> dict[str, str]:
        return {f.name: f.label for f in self.fields}

    def key_of(self, row: Row) -> Key:
        """What a row is known by."""
        return tuple(encode(row[c.name]) for c in self.key)

    def decoded(self, fields: Row) -> Row:
        """Encoded fields as values; those that the noun does not know are left out."""
        kinds = {c.name: c.kind for c in self.columns}
        parts = {p.name: p.decode for p in self.parts}
        known = {n: decode(kinds[n], v) for n, v in fields.items() if n in kinds}
        return {**known, **{n: parts[n](v) for n, v in fields.items() if n in parts}}

    def encoded(self, row: Row) -> Row:
        """Fields of a row, without its key, as the ledger keeps them."""
        return {f.name: encode(row[f.name]) for f in self.fields if f.name in row}

    def matters(self, before: Row | None, after: Row | None) -> bool:
        """Whether a change is one for the engine."""
        if before is None or after is None:
            return True
        dull = {f.name for f in self.fields if not f.matters}
        return bool({n for n in after if after[n] != before.get(n)} - dull)

    def read(
        self, keys: Collection[Key] | None = None, fields: Collection[str] | None = None
    ) -> dict[Key, Row]:
        """Rows as they stand, in the order of the noun.

        Parameters
        ----------
        keys
            Of the records wanted; None for all.
        fields
            Those that are wanted beside the key; None for all.
        """
        rows, first = self._chosen(keys, fields)
        out = self._read(rows, first, fields)
        if keys is None:
            return out
        wanted = set(keys)
        return {k: row for k, row in out.items() if k in wanted}

    def first(self, count: int) -> list[Row]:
        """The first so many rows, in the order of the noun."""
        model: Any = self.model
        query = model.select().order_by(*(self.order or (model.id,))).limit(count)
        return list(self._read(list(query.dicts()), {}, None).values())

    def count(self) -> int:
        """How many records there are."""
        model: Any = self.model
        return int(model.select().count())

    def read_of(self, owners: Collection[Any]) -> dict[Key, Row]:
        """Rows of the records that belong to these: those whose keys begin so."""
        rows, first = self._chosen([(one,) for one in owners])
        return self._read(rows, first, None)

    def _read(self, rows: list[Row], first: dict[int, Any], fields: Collection[str] | None) -> dict[Key, Row]:
        columns = [c for c in self.columns if fields is None or c.name in fields]
        lists = [p for p in self.parts if fields is None or p.name in fields]
        names = {c.name: self._names(c, rows, first) for c in (*self.key, *columns) if c.refers}
        parts = {p.name: p.read([r["id"] for r in rows]) for p in lists}
        known = self._known()
        out: dict[Key, Row] = {}
        for r in rows:
            row = {
                c.name: names[c.name].get(r[c.field]) if c.refers else c.read(r[c.field])
                for c in (*self.key, *columns)
            }
            row |= {name: found.get(r["id"], ()) for name, found in parts.items()}
            key = self.key_of(row)
            known[self._stored(key)], out[key] = r["id"], row
        return out

    def _chosen(
        self, keys: Collection[Key] | None, fields: Collection[str] | None = None
    ) -> tuple[list[Row], dict[int, Any]]:
        """Stored rows whose keys begin like these, with their ids, keys and these fields (None: all), and
        what the ids in the first part of their keys stand for."""
        model: Any = self.model
        columns = [*self.key, *(c for c in self.columns if fields is None or c.name in fields)]
        chosen = [model.id, *(getattr(model, name) for name in dict.fromkeys(c.field for c in columns))]
        query = model.select(*chosen).order_by(*(self.order or (model.id,)))
        if keys is None:
            return list(query.dicts()), {}
        first = self.key[0]
        values = {decode(first.kind, k[0]) for k in keys}
        names: dict[int, Any] = {}
        if first.refers:
            names = {id_: value for value, id_ in ids_once(first.refers, first.by, values).items()}
            values = set(names)
        rows: list[Row] = []
        for some in batches(sorted(values)):
            rows.extend(query.where(getattr(model, first.field).in_(some)).dicts())
        return rows, names

    def _names(self, column: Column, rows: list[Row], first: dict[int, Any]) -> dict[int, Any]:
        """Keys by id of what a column refers to."""
        if first and column is self.key[0]:
            return first
        table: Any = column.refers
        wanted = {r[column.field] for r in rows} - {None}
        found: dict[int, Any] = {}
        for some in batches(sorted(wanted)):
            query = table.select(table.id, getattr(table, column.by)).where(table.id.in_(some))
            found |= dict(query.tuples())
        return found

    def ids(self, keys: Collection[Key]) -> dict[Key, int]:
        """Row ids of those that are there; within a command each is asked for once."""
        stored = {k: self._stored(k) for k in keys}
        if self._is_plain:
            found = ids_once(self.model, self.key[0].field, stored.values())
            return {k: found[v] for k, v in stored.items() if v in found}
        known = self._known()
        missing = [k for k in keys if k not in known]
        if missing:
            known |= self._ids(missing)
        return {k: known[k] for k in keys if k in known}

    @property
    def _is_plain(self) -> bool:
        """Whether its records are known by one value, by which others refer to them."""
        return len(self.key) == 1 and not self.key[0].refers

    def _stored(self, key: Key) -> Any:
        """What a key is remembered by within a command."""
        return decode(self.key[0].kind, key[0]) if self._is_plain else key

    def _known(self) -> dict[Any, int]:
        """Row ids by keys, or by what is stored of plain ones, as far as the command has come upon them."""
        field = self.key[0].field if self._is_plain else ""
        known: dict[Any, int] = once(("ids", self.model, field), dict)
        return known

    def _ids(self, keys: Collection[Key]) -> dict[Key, int]:
        rows, first = self._chosen(keys, fields=())
        names = {c.name: self._names(c, rows, first) for c in self.key if c.refers}
        return {
            tuple(
                encode(names[c.name].get(r[c.field]) if c.refers else c.read(r[c.field])) for c in self.key
            ): r["id"]
            for r in rows
        }

    def write(self, changed: dict[Key, Row]) -> None:
        """Make records that are not there, from whole rows, and change the given fields of those that are."""
        if not changed:
            return
        there = self.ids(list(changed))
        new = {k: row for k, row in changed.items() if k not in there}
        refs = self._references(changed, bool(new))
        self._insert(new, refs)
        self._update({there[k]: row for k, row in changed.items() if k in there}, refs)
        ids = {**there, **(self.ids(list(new)) if self.parts or any(c.late for c in self.columns) else {})}
        late = [c for c in self.columns if c.late]
        if new and late:
            refs = self._references(changed, False)
            self._update({ids[k]: {c.name: new[k].get(c.name) for c in late} for k in new}, refs)
        for part in self.parts:
            lists = {ids[k]: row[part.name] for k, row in changed.items() if part.name in row}
            if lists:
                part.write(lists)

    def _references(self, changed: dict[Key, Row], of_keys: bool) -> dict[str, dict[Any, int]]:
        """Ids of what columns refer to, and parts of keys where rows are made."""
        out: dict[str, dict[Any, int]] = {}
        for n, c in enumerate(self.key):
            if c.refers and of_keys:
                out[c.name] = ids_of(c.refers, c.by, {k[n] for k in changed})
        for c in self.columns:
            if not c.refers:
                continue
            wanted = {row.get(c.name) for row in changed.values()} - {None}
            if wanted:
                out[c.name] = ids_of(c.refers, c.by, wanted)
        return out

    def _insert(self, new: dict[Key, Row], refs: dict[str, dict[Any, int]]) -> None:
        def value(c: Column, given: Any) -> Any:
            return refs.get(c.name, {}).get(given) if c.refers else c.stored(given)

        rows = []
        for key, row in new.items():
            made = {c.field: value(c, decode(c.kind, part)) for c, part in zip(self.key, key, strict=True)}
            made |= {c.field: value(c, row[c.name]) for c in self.columns if c.name in row and not c.late}
            rows.append(made)
        by_fields: dict[frozenset[str], list[Row]] = {}
        for made in rows:
            by_fields.setdefault(frozenset(made), []).append(made)
        for same_kind in by_fields.values():
            insert_rows(self.model, same_kind)

    def _update(self, changed: dict[int, Row], refs: dict[str, dict[Any, int]]) -> None:
        by_fields: dict[tuple[str, ...], list[Any]] = {}
        columns = {c.name: c for c in self.columns}
        for id_, row in changed.items():
            fields = {}
            for name in row.keys() & columns.keys():
                c = columns[name]
                fields[c.field] = refs.get(name, {}).get(row[name]) if c.refers else c.stored(row[name])
            if fields:
                by_fields.setdefault(tuple(sorted(fields)), []).append(self.model(id=id_, **fields))
        for names, rows in by_fields.items():
            fields_ = [getattr(self.model, n) for n in names]
            self.model.bulk_update(rows, fields_, batch_size=200)

    def remove(self, keys: Collection[Key]) -> None:
        if not keys:
            return
        ids = list(self.ids(keys).values())
        forget("ids")  # of those too that go with them
        for some in batches(ids):
            self.model.delete().where(self.model.id.in_(some)).execute()  # type: ignore[attr-defined]

    def count_up(self, keys: Collection[Key]) -> dict[Key, int]:
        """The revision of each record, one more than before; none for records without one."""
        if not keys or not issubclass(self.model, Record):
            return {}
        ids, model = self.ids(keys), self.model
        now: dict[int, int] = {}
        for some in batches(ids.values()):
            these = model.id.in_(some)  # type: ignore[attr-defined]
            model.update(revision=model.revision + 1).where(these).execute()
            rows = model.select(model.id, model.revision)  # type: ignore[attr-defined]
            now |= dict(rows.where(these).tuples())
        return {k: now[id_] for k, id_ in ids.items()}
