"""Exports of other systems: opened, understood through a mapping, compared with what is here, and brought in as decided."""

from __future__ import annotations

import threading
from collections import Counter, defaultdict
from collections.abc import Callable
from dataclasses import asdict, dataclass, field, replace
from datetime import timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.difference import Difference, difference, plain_value
from nundine.core.week.problem import After
from nundine.core.week.problem import Task as CoreTask
from nundine.core.work import in_order
from nundine.formats.foreign.cells import blank, plain
from nundine.formats.foreign.fields import FIELD_BY_NAME, FIELDS
from nundine.formats.foreign.mapping import WORDS, ForeignMapping, guess, questions
from nundine.formats.foreign.table import ForeignTable, foreign_tables
from nundine.formats.foreign.understand import NAMED, Understood, understand
from nundine.formats.tables import BadFile
from nundine.services import imports
from nundine.services.errors import NotFound, Refused
from nundine.services.kinds import KINDS
from nundine.services.log import tell
from nundine.services.standing import standing_work
from nundine.services.state import remember_value
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.foreign import Bringing, OrderChange, SavedMapping
from nundine.store.site import Craft, site, touch
from nundine.store.week import Placement, Week
from nundine.store.work_order import OPEN_STATES, Task, WorkOrder

KEPT_DAYS = timedelta(days=2)
SHOWN = 200
VANISHED = ("leave", "on hold", "cancelled", "done")
ORDER_LABELS = {f.name: f.label for f in FIELDS}


@dataclass(frozen=True)
class Decision:
    """What to do with each kind of difference. `both`: fields changed here and there; `fields`: those to leave as they are here."""

    new: bool = True
    changed: bool = True
    both: str = "ours"
    vanished: str = "leave"
    fields: tuple[str, ...] = ()
    without_bad_rows: bool = False


@dataclass
class Compared:
    """All of an export against what is here."""

    new: list[str] = field(default_factory=list)
    changed: list[Difference] = field(default_factory=list)
    unchanged: int = 0
    kept: int = 0
    vanished: list[str] = field(default_factory=list)


class Stopped(Exception):
    """Somebody stopped it; nothing was changed."""


# ------------------------------------------------------------------ open


def upload(file: str, data: bytes, account: Account) -> Bringing:
    """Keep a file for a while. Raises Refused for what holds no table."""
    try:
        foreign_tables(file, data)
    except BadFile as bad:
        raise Refused("file", str(bad), field="file") from bad
    now = settings().now()
    Bringing.delete().where(Bringing.at < now - KEPT_DAYS).execute()
    return Bringing.create(account=account, file=file[:200], content=data, at=now, heartbeat=now)


def found(id_: int, account: Account) -> Bringing:
    """A file of this account's own. Raises NotFound."""
    one = Bringing.get_or_none((Bringing.id == id_) & (Bringing.account == account))
    if one is None:
        raise NotFound("file", "This file is not here any more. Choose it again.")
    return one


def table_of(one: Bringing) -> ForeignTable:
    """The table with most rows of the file."""

    def make() -> ForeignTable:
        return max(foreign_tables(one.file, bytes(one.content)), key=lambda t: len(t.rows))

    made: ForeignTable = remember_value(("foreign", one.id, one.at.isoformat()), make)
    return made


def known_words() -> dict[str, dict[str, str]]:
    """Our key by each plain key and name of assets and crafts; a name that two have in common means neither."""
    out: dict[str, dict[str, str]] = {}
    for name, rows in (("asset", Asset.select(Asset.key, Asset.name)), ("craft", Craft.select(Craft.key, Craft.name))):
        named = Counter(plain(r.name) for r in rows)
        words = {plain(r.name): r.key for r in rows if named[plain(r.name)] == 1}
        out[name] = {**words, **{plain(r.key): r.key for r in rows}}
    return out


def opened(one: Bringing) -> dict[str, Any]:
    """The table as it is in the file, with the saved mapping that has the same columns, else with a guess."""
    table = table_of(one)
    saved = next((m for m in SavedMapping.select().order_by(SavedMapping.at.desc()) if set(m.columns) == set(table.columns)), None)
    mapping = ForeignMapping.of(saved.body) if saved else guess(table, known_words())
    samples = {c: [str(r[n]).removesuffix(" 00:00:00") for _, r in table.rows if not blank(r[n])][:4] for n, c in enumerate(table.columns)}
    return {
        "id": one.id, "file": one.file, "title": table.title, "read_as": table.read_as, "rows": len(table.rows),
        "columns": [{"name": c, "samples": samples[c]} for c in table.columns],
        "fields": [{"name": f.name, "label": f.label} for f in FIELDS],
        "mapping": mapping.document(), "saved": saved.name if saved else None,
        "meanings": {**{k: list(v) for k, v in WORDS.items()}, "craft": [c.key for c in Craft.select(Craft.key).order_by(Craft.id)],
                     "asset": [a.key for a in Asset.select(Asset.key).order_by(Asset.key)]},
    }  # fmt: skip


def mapping_of(document: dict[str, Any]) -> ForeignMapping:
    try:
        return ForeignMapping.of(document)
    except (TypeError, ValueError) as bad:
        raise Refused("mapping", f"This is no mapping: {bad}.", field="mapping") from bad


def read(one: Bringing, mapping: ForeignMapping) -> Understood:
    return understand(table_of(one), mapping, known_words(), ZoneInfo(site().timezone))


def preview(one: Bringing, mapping: ForeignMapping) -> dict[str, Any]:
    """The first rows as they will be understood; questions still open; words without a meaning; rows with problems."""
    table, said = table_of(one), read(one, mapping)
    words = Counter((p.field, p.word) for p in said.problems if p.word is not None and p.field in NAMED)
    rows = []
    for number in list(said.orders)[:12]:
        tasks = [{"task": t, "title": v["title"], "hours": v["hours"], "needs": needs_text(v["needs"]),
                  "after": ", ".join(b for b, _ in v["after"])} for t, v in said.tasks.get(number, {}).items()]  # fmt: skip
        rows.append({"number": number, "row": said.rows[number], "fields": {k: shown(v) for k, v in said.orders[number].items()}, "tasks": tasks})
    return {
        "questions": [
            {"what": q.what, "text": q.text, "choices": [{"value": v, "label": w} for v, w in q.choices]} for q in questions(table, mapping)
        ],
        "words": [{"field": f, "label": FIELD_BY_NAME[f].label, "word": w, "rows": n} for (f, w), n in words.most_common(100)],
        "problems": [
            {"row": p.row, "column": p.column, "text": p.text, "number": p.number} for p in said.problems if p.word is None or p.field not in NAMED
        ][:SHOWN],
        "bad_rows": len(said.problems), "notes": said.notes, "orders": len(said.orders),
        "tasks": sum(len(t) for t in said.tasks.values()), "rows": rows,
    }  # fmt: skip


def needs_text(needs: Any) -> str:
    return "; ".join(f"{craft} x{people}" + (f" level {level}" if level > 1 else "") for craft, people, level, _ in needs)


def shown(value: Any) -> str:
    """A value in words, moments in the site's zone."""
    if value is None or value == "":
        return "–"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if hasattr(value, "astimezone"):
        local = value.astimezone(ZoneInfo(site().timezone))
        clock = "" if f"{local:%H:%M}" in ("00:00", "23:59") else f" {local:%H:%M}"
        return f"{local:%a} {local.day} {local:%b %Y}{clock}"
    if hasattr(value, "strftime"):
        return f"{value:%a} {value.day} {value:%b %Y}"
    return str(value)


# ------------------------------------------------------------------ compare


def usable(one: Bringing, mapping: ForeignMapping, decision: Decision) -> Understood:
    """What may come in. Raises Refused while questions are open or rows have problems."""
    open_ = questions(table_of(one), mapping)
    if open_:
        raise Refused("question", open_[0].text, field=open_[0].what)
    said = read(one, mapping)
    if said.problems and not decision.without_bad_rows:
        first = said.problems[0]
        where = f"row {first.row}, {first.column}: " if first.row else ""
        raise Refused(
            "rows", f"{len(said.problems)} rows are not understood ({where}{first.text}). Give the words a meaning, or leave these WOs out."
        )
    said = said.without_problems() if said.problems else said
    if not said.orders:
        raise Refused("empty", "No work order was understood in this file. Look at the columns that were chosen.")
    for number, tasks in said.tasks.items():
        try:
            in_order([CoreTask(t, 1.0, after=tuple(After(b, lag) for b, lag in v["after"])) for t, v in tasks.items()])
        except ValueError as bad:
            raise Refused("order", f"Row {said.rows[number]}, {number}: {bad}") from bad
    return said


def _theirs(said: Understood, number: str) -> dict[str, Any]:
    return {"fields": plain_value(said.orders[number]), "tasks": plain_value(said.tasks.get(number, {}))}


def compare(said: Understood, source: str) -> Compared:
    """New, changed field by field, unchanged and vanished WOs of a source."""
    orders, tasks = standing_work(set(said.orders))
    told = {
        w.number: w.imported
        for w in WorkOrder.select(WorkOrder.number, WorkOrder.imported).where(
            WorkOrder.imported.is_null(False) & (WorkOrder.number.in_(list(said.orders)))
        )
    }
    out = Compared()
    for number in said.orders:
        if number not in orders:
            out.new.append(number)
            continue
        ours = {"fields": plain_value(orders[number]), "tasks": plain_value(tasks.get(number, {}))}
        one = difference(number, told.get(number), ours, _theirs(said, number))
        out.kept += one.kept
        if one.any:
            out.changed.append(one)
        else:
            out.unchanged += 1
    if source:
        gone = WorkOrder.select(WorkOrder.number).where((WorkOrder.source == source) & WorkOrder.state.in_(OPEN_STATES)).order_by(WorkOrder.number)
        out.vanished = [w.number for w in gone if w.number not in said.orders]
    return out


def placed_in(numbers: list[str]) -> dict[str, str]:
    """The open week in which each of these WOs is placed."""
    rows = (
        Placement.select(WorkOrder.number, Week.name)
        .join(Week)
        .switch(Placement)
        .join(Task)
        .join(WorkOrder)
        .where((Week.status != "closed") & WorkOrder.number.in_(numbers or [""]))
        .distinct()
    )
    return dict(rows.tuples())


def compared(one: Bringing, mapping: ForeignMapping, decision: Decision) -> dict[str, Any]:
    """The difference in words, the first of each kind."""
    said = usable(one, mapping, decision)
    made = compare(said, mapping.name)
    changed = [d.number for d in made.changed]
    placed = placed_in(changed + made.vanished)
    titles = dict(WorkOrder.select(WorkOrder.number, WorkOrder.title).where(WorkOrder.number.in_((changed + made.vanished) or [""])).tuples())
    by_field = Counter(c.field for d in made.changed for c in d.changes)
    return {
        "new": [{"number": n, "title": said.orders[n]["title"]} for n in made.new[:SHOWN]], "new_count": len(made.new),
        "changed": [{"number": d.number, "title": titles.get(d.number, ""), "week": placed.get(d.number), "lines": lines_of(d)} for d in made.changed[:SHOWN]],
        "changed_count": len(made.changed), "unchanged": made.unchanged, "kept": made.kept,
        "both": sum(c.by_hand for d in made.changed for c in d.changes),
        "fields": [{"name": f, "label": ORDER_LABELS.get(f, "crew need" if f == "needs" else f), "count": n} for f, n in by_field.most_common()],
        "vanished": [{"number": n, "title": titles.get(n, ""), "week": placed.get(n)} for n in made.vanished[:SHOWN]], "vanished_count": len(made.vanished),
    }  # fmt: skip


def lines_of(one: Difference) -> list[dict[str, Any]]:
    """Each change of a WO in words: what, ours, theirs."""
    out = []
    for c in one.changes:
        what = ORDER_LABELS.get(c.field, "crew need" if c.field == "needs" else c.field) + (f" of task {c.task}" if c.task else "")
        out.append({"field": c.field, "what": what, "before": _told(c.field, c.before), "after": _told(c.field, c.after), "by_hand": c.by_hand})
    out += [{"field": "tasks", "what": "task", "before": "–", "after": f"{t} is new", "by_hand": False} for t in one.new_tasks]
    out += [{"field": "tasks", "what": "task", "before": t, "after": "gone there: will be skipped", "by_hand": False} for t in one.gone_tasks]
    return out


def _told(name: str, value: Any) -> str:
    """A plain value in words."""
    if value is None or value == "" or value == []:
        return "–"
    if name == "needs":
        return "; ".join(f"{c} x{p:g}" + (f" level {lv:g}" if lv > 1 else "") for c, p, lv, _ in value)
    if name == "after":
        return ", ".join(str(b) for b, _ in value)
    if isinstance(value, str) and len(value) > 18 and value[4:5] == "-" and value[10:11] == "T":
        from datetime import datetime

        return shown(datetime.fromisoformat(value))
    return f"{value:g} h" if name == "hours" else shown(value)


# ------------------------------------------------------------------ bring in


def ask(one: Bringing, mapping: ForeignMapping, decision: Decision) -> Bringing:
    """Hand it to a worker. Raises Refused if it can not come in, or is on its way already."""
    if one.state not in ("new", "stopped", "failed"):
        raise Refused("state", f"This file is {one.state} already. Choose it again to bring it in again.")
    if decision.vanished not in VANISHED or decision.both not in ("ours", "theirs"):
        raise Refused("decision", f"What vanished can be: {', '.join(VANISHED)}; what changed on both sides: ours or theirs.")
    usable(one, mapping, decision)
    Bringing.update(
        state="waiting",
        stop=False,
        progress=0.0,
        error=None,
        heartbeat=settings().now(),
        asked={"mapping": mapping.document(), "decision": asdict(decision)},
    ).where(Bringing.id == one.id).execute()
    return Bringing.get_by_id(one.id)


def stop(one: Bringing) -> None:
    Bringing.update(stop=True).where(Bringing.id == one.id).execute()


def standing_of(one: Bringing) -> dict[str, Any]:
    return {"id": one.id, "file": one.file, "state": one.state, "progress": one.progress, "result": one.result, "error": one.error}


class _Watch:
    """Tells how far it is and hears whether to stop, on a connection of its own beside the one transaction."""

    def __init__(self, id_: int) -> None:
        self.id, self.progress, self.stopped = id_, 0.0, False
        self._over = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True)

    def __enter__(self) -> Callable[[float], None]:
        self._thread.start()
        return self.step

    def __exit__(self, *_: object) -> None:
        self._over.set()
        self._thread.join()

    def step(self, progress: float) -> None:
        self.progress = progress
        if self.stopped:
            raise Stopped

    def _run(self) -> None:
        with db.connection_context():
            while not self._over.wait(0.3):
                Bringing.update(progress=self.progress, heartbeat=settings().now()).where(Bringing.id == self.id).execute()
                self.stopped = bool(Bringing.select(Bringing.stop).where(Bringing.id == self.id).scalar())


def run(id_: int) -> None:
    """What the worker does: all of it in one transaction, or nothing."""
    one = Bringing.get_or_none((Bringing.id == id_) & (Bringing.state == "waiting"))
    if one is None:
        return
    Bringing.update(state="working").where(Bringing.id == id_).execute()
    mapping = ForeignMapping.of(one.asked["mapping"])
    decision = Decision(**{**one.asked["decision"], "fields": tuple(one.asked["decision"]["fields"])})
    try:
        with _Watch(id_) as step:
            result = bring_in(usable(one, mapping, decision), mapping, decision, step)
        Bringing.update(state="done", progress=1.0, result=result).where(Bringing.id == id_).execute()
    except Stopped:
        Bringing.update(state="stopped").where(Bringing.id == id_).execute()
    except Exception as bad:
        Bringing.update(state="failed", error=f"{bad}"[:500]).where(Bringing.id == id_).execute()
        if not isinstance(bad, Refused):
            raise


def bring_in(said: Understood, mapping: ForeignMapping, decision: Decision, step: Callable[[float], None] = lambda _: None) -> dict[str, Any]:
    """Write what was decided, mark placed work that changed, and keep the mapping under its name."""
    source = mapping.name or "unnamed export"
    with db.atomic():
        made = compare(said, mapping.name)
        step(0.2)
        orders, tasks = standing_work(set(said.orders))
        changed, skipped = _decided(made, decision), list[tuple[str, str]]()
        rows: dict[str, list[dict[str, Any]]] = {"work_orders": [], "tasks": []}
        for number in made.new if decision.new else ():
            rows["work_orders"].append(_new_order(number, said))
            rows["tasks"] += [_new_task(number, t, said) for t in said.tasks.get(number, {})]
        for d in changed:
            _merge(d, said, orders[d.number], tasks.get(d.number, {}), rows)
            skipped += [(d.number, t) for t in d.gone_tasks]
        step(0.3)
        _write(rows, step)
        for number, task in skipped:
            at = Task.select(Task.id).join(WorkOrder).where((WorkOrder.number == number) & (Task.number == task) & (Task.state == "to do"))
            Task.update(state="skipped").where(Task.id.in_([t.id for t in at] or [0])).execute()
        if decision.vanished != "leave" and made.vanished:
            WorkOrder.update(state=decision.vanished).where(WorkOrder.number.in_(made.vanished)).execute()
            touch(work=True)
        step(0.85)
        _remember_theirs(said, made, decision, source)
        marked = _mark(changed, made.vanished if decision.vanished != "leave" else [], decision.vanished, source)
        if mapping.name:
            SavedMapping.insert(name=mapping.name, columns=list(mapping.columns.values()), body=mapping.document(), at=settings().now()).on_conflict(
                preserve=[SavedMapping.columns, SavedMapping.body, SavedMapping.at]
            ).execute()
        step(0.95)
    return {
        "new": len(made.new) if decision.new else 0, "changed": len(changed), "unchanged": made.unchanged, "kept": made.kept,
        "vanished": len(made.vanished), "vanished_as": decision.vanished, "marked": marked,
    }  # fmt: skip


def _decided(made: Compared, decision: Decision) -> list[Difference]:
    """The differences that are taken, without fields that stay ours."""
    if not decision.changed:
        return []
    out = []
    for d in made.changed:
        taken = tuple(c for c in d.changes if c.field not in decision.fields and (decision.both == "theirs" or not c.by_hand))
        if taken or d.new_tasks or d.gone_tasks:
            out.append(replace(d, changes=taken))
    return out


def _blank_row(kind: str) -> dict[str, Any]:
    return {c.name: c.default for c in KINDS[kind].columns}


def _new_order(number: str, said: Understood) -> dict[str, Any]:
    today = settings().day(site().timezone)
    return {**_blank_row("work_orders"), "number": number, "raised": today, **said.orders[number]}


def _new_task(number: str, task: str, said: Understood) -> dict[str, Any]:
    return {**_blank_row("tasks"), "number": number, "task": task, **said.tasks[number][task]}


def _merge(d: Difference, said: Understood, order: dict[str, Any], tasks: dict[str, Any], rows: dict[str, list[dict[str, Any]]]) -> None:
    """Ours with the changes that are taken."""
    taken: dict[str | None, set[str]] = defaultdict(set)
    for c in d.changes:
        taken[c.task].add(c.field)
    if taken[None]:
        rows["work_orders"].append({**order, "number": d.number, **{f: said.orders[d.number][f] for f in taken[None]}})
    for task in (t for t in taken if t is not None):
        rows["tasks"].append({**tasks[task], "number": d.number, "task": task, **{f: said.tasks[d.number][task][f] for f in taken[task]}})
    rows["tasks"] += [_new_task(d.number, t, said) for t in d.new_tasks]


def _write(rows: dict[str, list[dict[str, Any]]], step: Callable[[float], None], batch: int = 1000) -> None:
    """A thousand WOs at a time, so that stopping does not take long; what follows from them is computed once."""
    by_order: dict[str, list[dict[str, Any]]] = defaultdict(list)
    for t in rows["tasks"]:
        by_order[t["number"]].append(t)
    orders = {r["number"]: r for r in rows["work_orders"]}
    numbers = list(dict.fromkeys([*orders, *by_order]))
    for n in range(0, len(numbers), batch):
        part = numbers[n : n + batch]
        imports.store({"work_orders": [orders[x] for x in part if x in orders], "tasks": [t for x in part for t in by_order[x]]})
        step(0.3 + 0.5 * min(1.0, (n + batch) / len(numbers)))


def _remember_theirs(said: Understood, made: Compared, decision: Decision, source: str) -> None:
    """What they told last, also where ours was kept: it is asked about again only when they change it again."""
    skip = set() if decision.new else set(made.new)
    left = set() if decision.changed else {d.number for d in made.changed}
    values = [(source, WorkOrder.imported.db_value(_theirs(said, n)), n) for n in said.orders if n not in skip | left]
    with db.connection().cursor() as cursor:
        cursor.executemany("UPDATE work_order SET source=%s, imported=%s WHERE number=%s", values)


def _mark(changed: list[Difference], vanished: list[str], became: str, source: str) -> int:
    """Placed work that changed is marked, never moved; its weeks are told."""
    placed = placed_in([d.number for d in changed] + vanished)
    ids = dict(WorkOrder.select(WorkOrder.number, WorkOrder.id).where(WorkOrder.number.in_(list(placed) or [""])).tuples())
    now = settings().now()
    for d in changed:
        if d.number in placed:
            OrderChange.create(work_order=ids[d.number], at=now, source=source, changes=lines_of(d))
    for number in vanished:
        if number in placed:
            line = {"field": "state", "what": "gone there", "before": "–", "after": became, "by_hand": False}
            OrderChange.create(work_order=ids[number], at=now, source=source, changes=[line])
    for week in set(placed.values()):
        tell(week, "work", {"source": source})
    return len(placed)


# ------------------------------------------------------------------ marks


def seen(number: str) -> None:
    """Somebody has looked at the changes of a WO."""
    order = WorkOrder.get_or_none(WorkOrder.number == number)
    if order is None:
        raise NotFound("job", f"There is no work order {number}.")
    OrderChange.update(seen=True).where(OrderChange.work_order == order).execute()
