"""Fields that are lists, each kept in a table of its own: crafts and certificates of people; needs, order and
tools of tasks."""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from typing import Any

from nundine.services.ledger.noun import Part, batches, ids_of
from nundine.store.account import AccountRole, Role
from nundine.store.base import Table
from nundine.store.bulk import insert_rows
from nundine.store.reading.rows import keys_of
from nundine.store.roster import PersonCertificate, PersonCraft
from nundine.store.site import Craft, Tool
from nundine.store.work_order import CrewNeed, Task, TaskAfter, TaskTool

Lists = dict[int, tuple[Any, ...]]


def _rows(table: Any, field: str, ids: list[int], *order: Any) -> list[dict[str, Any]]:
    """Rows that belong to these ids, in order."""
    out: list[dict[str, Any]] = []
    for some in batches(ids):
        query = table.select().where(getattr(table, field).in_(some)).order_by(*order, table.id)
        out.extend(query.dicts())
    return out


def _collected(rows: list[tuple[int, Any]]) -> Lists:
    found: dict[int, list[Any]] = defaultdict(list)
    for id_, value in rows:
        found[id_].append(value)
    return {id_: tuple(values) for id_, values in found.items()}


def _replace(table: type[Table], field: str, lists: Lists, rows: list[dict[str, Any]]) -> None:
    """The rows of these ids, in place of those that are there."""
    for some in batches(lists):
        table.delete().where(getattr(table, field).in_(some)).execute()
    insert_rows(table, rows)


def _read_crafts(ids: list[int]) -> Lists:
    names = keys_of(Craft)
    rows = _rows(PersonCraft, "person", ids, PersonCraft.rank)
    return _collected([(r["person"], (names[r["craft"]], r["level"])) for r in rows])


def _write_crafts(lists: Lists) -> None:
    crafts = ids_of(Craft, "key")
    rows = [
        {"person": who, "craft": crafts[craft], "level": level, "rank": rank}
        for who, have in lists.items()
        for rank, (craft, level) in enumerate(have)
    ]
    _replace(PersonCraft, "person", lists, rows)


def _read_certificates(ids: list[int]) -> Lists:
    rows = _rows(PersonCertificate, "person", ids, PersonCertificate.certificate)
    return _collected([(r["person"], (r["certificate"], r["until"])) for r in rows])


def _write_certificates(lists: Lists) -> None:
    rows = [
        {"person": who, "certificate": name, "until": until}
        for who, held in lists.items()
        for name, until in held
    ]
    _replace(PersonCertificate, "person", lists, rows)


def _read_needs(ids: list[int]) -> Lists:
    names = keys_of(Craft)
    rows = _rows(CrewNeed, "task", ids, CrewNeed.position)
    return _collected(
        [(r["task"], (names[r["craft"]], r["people"], r["level"], r["certificate"])) for r in rows]
    )


def _write_needs(lists: Lists) -> None:
    crafts = ids_of(Craft, "key")
    rows = [
        {
            "task": task,
            "position": n,
            "craft": crafts[craft],
            "people": people,
            "level": level,
            "certificate": held,
        }
        for task, needs in lists.items()
        for n, (craft, people, level, held) in enumerate(needs)
    ]
    _replace(CrewNeed, "task", lists, rows)


def _read_after(ids: list[int]) -> Lists:
    rows = _rows(TaskAfter, "task", ids)
    before = sorted({r["before"] for r in rows})
    numbers: dict[int, str] = {}
    for some in batches(before):
        numbers |= dict(Task.select(Task.id, Task.number).where(Task.id.in_(some)).tuples())
    return _collected(sorted((r["task"], (numbers[r["before"]], r["lag"])) for r in rows))


def _write_after(lists: Lists) -> None:
    """The tasks that come before are of the same WO."""
    order_of: dict[int, int] = {}
    for some in batches(lists):
        order_of |= dict(Task.select(Task.id, Task.work_order).where(Task.id.in_(some)).tuples())
    steps: dict[tuple[int, str], int] = {}
    for some in batches(sorted(set(order_of.values()))):
        query = Task.select(Task.work_order, Task.number, Task.id).where(Task.work_order.in_(some))
        steps |= {(order, number): id_ for order, number, id_ in query.tuples()}
    rows = [
        {"task": task, "before": steps[(order_of[task], number)], "lag": lag}
        for task, before in lists.items()
        for number, lag in before
    ]
    _replace(TaskAfter, "task", lists, rows)


def _read_tools(ids: list[int]) -> Lists:
    names = keys_of(Tool)
    return _collected(sorted((r["task"], names[r["tool"]]) for r in _rows(TaskTool, "task", ids)))


def _write_tools(lists: Lists) -> None:
    tools = ids_of(Tool, "key")
    rows = [{"task": task, "tool": tools[tool]} for task, used in lists.items() for tool in used]
    _replace(TaskTool, "task", lists, rows)


def _tuples(values: list[Any]) -> tuple[Any, ...]:
    return tuple(tuple(v) for v in values)


def _dated(values: list[Any]) -> tuple[Any, ...]:
    return tuple((name, date.fromisoformat(until) if until else None) for name, until in values)


CRAFTS = Part("crafts", "crafts", _read_crafts, _write_crafts, _tuples)
CERTIFICATES = Part("certificates", "certificates", _read_certificates, _write_certificates, _dated)
NEEDS = Part("needs", "crew needs", _read_needs, _write_needs, _tuples)
AFTER = Part("after", "comes after", _read_after, _write_after, _tuples)
TOOLS = Part("tools", "tools", _read_tools, _write_tools, tuple)


def _read_roles(ids: list[int]) -> Lists:
    rows: list[tuple[int, Any]] = []
    for some in batches(ids):
        query = AccountRole.select(AccountRole.account, Role.name, AccountRole.areas).join(Role)
        chosen = query.where(AccountRole.account.in_(some)).order_by(Role.place)
        rows += [(a, (role, None if areas is None else tuple(areas))) for a, role, areas in chosen.tuples()]
    return _collected(rows)


def _write_roles(lists: Lists) -> None:
    roles = ids_of(Role, "name")
    rows = [
        {"account": account, "role": roles[role], "areas": None if areas is None else list(areas)}
        for account, held in lists.items()
        for role, areas in held
    ]
    _replace(AccountRole, "account", lists, rows)


def _limited(values: list[Any]) -> tuple[Any, ...]:
    return tuple((role, None if areas is None else tuple(areas)) for role, areas in values)


ROLES = Part("roles", "roles", _read_roles, _write_roles, _limited)
