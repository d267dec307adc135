"""What the demo's work needs of parts, and what is asked for and ordered: each WO that waits for parts waits
for one that is on order, to be bought, or not to be had; two jobs took the last liners, and a third waits."""

from __future__ import annotations

from collections import defaultdict
from datetime import UTC, date, datetime, time, timedelta
from random import Random
from typing import Any

Row = dict[str, Any]
SUPPLIERS = ("Bellweather Drives", "Kestrup Seals", "Norvik Hydraulics", "Tamber Snow Supply")
TO_BE_BOUGHT = 5
"""WOs that wait longest and whose parts nobody has ordered."""
AMPLE, TAKING = 4.0, 60
"""On hand of parts that other work takes, and how much work takes some."""
BY = "Rudi Kemper"


def say(
    orders: list[Row], tasks: list[Row], stock: dict[str, list[Row]], monday: date
) -> dict[str, list[Row]]:
    """Write what tasks need into them; gives what is asked for and ordered, by kind of file."""
    made = _Buying(tasks, stock, monday)
    waiting = sorted((o for o in orders if o["parts_ready"]), key=lambda o: (o["parts_ready"], o["number"]))
    for n, order in enumerate(waiting):
        made.wait(order, ordered=n < len(waiting) - TO_BE_BOUGHT)
    for order in (o for o in orders if o["parts_unknown"]):
        made.can_not_be_had(order)
    taking = [
        o for o in orders if o["state"] == "approved" and not o["parts_ready"] and not o["parts_unknown"]
    ]
    made.compete([o for o in waiting if o["state"] == "planned"][:1], taking[:2])
    for order in taking[2 : 2 + TAKING]:
        made.take(order)
    return made.rows()


class _Buying:
    """Parts are taken from those that nothing else needs, so that each WO is ready when it says it is."""

    def __init__(self, tasks: list[Row], stock: dict[str, list[Row]], monday: date) -> None:
        self.monday = monday
        self.first: dict[str, Row] = {}
        for task in tasks:
            task.setdefault("parts", ())
            self.first.setdefault(task["number"], task)
        there: dict[str, float] = defaultdict(float)
        for movement in stock["movements"]:
            there[movement["part"]] += movement["quantity"]
        tracked = [p for p in stock["parts"] if p["tracked"] and not p["alternates"]]
        named = {key for p in stock["parts"] for key, _ in p["alternates"]}
        free = [p for p in tracked if p["part"] not in named]
        self.out = iter([p for p in free if not there[p["part"]]])
        self.ample = iter([p for p in free if there[p["part"]] >= AMPLE and p["unit"] != "l"][20:])
        self.two = iter([p for p in free if there[p["part"]] == 2.0][8:])
        self.lines: dict[date, list[Row]] = defaultdict(list)
        self.r = Random(707)
        self.made_no_more: Row = {}

    def _need(self, order: Row, part: Row, quantity: float) -> None:
        task = self.first[order["number"]]
        task["parts"] = (*task["parts"], (part["part"], "", quantity, None, True))

    def wait(self, order: Row, ordered: bool) -> None:
        """Its part comes with an order on the day from which it is ready, or would, if it were bought."""
        part = next(self.out)
        quantity = float(self.r.choice((1, 1, 2, 4)))
        self._need(order, part, quantity)
        if ordered:
            self.lines[order["parts_ready"]].append(_line(part, quantity, order["parts_ready"]))
        else:
            part["lead_days"] = (order["parts_ready"] - self.monday).days + 7

    def can_not_be_had(self, order: Row) -> None:
        """Its part is made no more."""
        part = next(self.out, None) or self.made_no_more
        part["lead_days"], part["minimum"] = None, 0.0
        part["description"] = "Made no more; look for one that does instead."
        self.made_no_more = part
        self._need(order, part, 1.0)

    def compete(self, later: list[Row], sooner: list[Row]) -> None:
        """Two took the last two of a part, and the third waits for the order."""
        part = next(self.two)
        for order in sooner:
            self._need(order, part, 1.0)
        for order in later:
            self._need(order, part, 1.0)
            self.lines[order["parts_ready"]].append(_line(part, 2.0, order["parts_ready"]))

    def take(self, order: Row) -> None:
        """Its part lies there."""
        part = next(self.ample, None)
        if part is not None:
            self._need(order, part, float(self.r.choice((1, 1, 2))))

    def rows(self) -> dict[str, list[Row]]:
        requests, asked, purchases, lines = [], [], [], []
        for n, (day, wanted) in enumerate(sorted(self.lines.items())):
            number = f"PO-{1001 + n}"
            placed = self.monday - timedelta(days=24 - n)
            purchases.append(_purchase(number, SUPPLIERS[n % len(SUPPLIERS)], "placed", placed))
            request = f"RB-{1001 + n}"
            requests.append(_request(request, "closed", placed - timedelta(days=1)))
            for k, line in enumerate(wanted):
                key = str(10 * (k + 1))
                asked.append({**line, "request": request, "line": key, "settled": ""})
                lines.append(
                    {
                        **line, "purchase": number, "line": key, "request": request, "request_line": key,
                        "confirmed": self.r.random() < 0.7, "noted": 0.0, "received": 0.0, "awaited": True,
                        "day": day,
                    }
                )  # fmt: skip
        late = next(self.ample)
        overdue = _line(late, 6.0, self.monday - timedelta(days=10))
        number = f"PO-{1001 + len(purchases)}"
        purchases.append(_purchase(number, SUPPLIERS[1], "placed", self.monday - timedelta(days=40)))
        lines.append(
            {
                **overdue, "purchase": number, "line": "10", "request": None, "request_line": "",
                "confirmed": True, "noted": 4.0, "received": 0.0, "awaited": True,
            }
        )  # fmt: skip
        for state, quantity, days in (("asked", 40.0, 9), ("approved", 6.0, 8)):
            request = f"RB-{1001 + len(requests)}"
            requests.append(_request(request, state, self.monday - timedelta(days=days)))
            line = _line(next(self.ample), quantity, self.monday + timedelta(days=14))
            asked.append({**line, "request": request, "line": "10", "settled": ""})
        return {
            "buy_requests": requests, "buy_lines": asked, "purchases": purchases, "purchase_lines": lines,
        }  # fmt: skip


def _line(part: Row, quantity: float, day: date) -> Row:
    return {
        "part": part["part"], "words": "", "quantity": quantity, "price": part["price"],
        "storeroom": "main", "order": None, "day": day,
    }  # fmt: skip


def _at(day: date) -> datetime:
    return datetime.combine(day, time(8, 20), UTC)


def _request(number: str, state: str, day: date) -> Row:
    decided = "Sven Ostrova" if state in ("approved", "closed") else ""
    return {
        "number": number, "state": state, "made": _at(day), "by": BY, "decided": decided, "remark": "",
    }  # fmt: skip


def _purchase(number: str, supplier: str, state: str, placed: date) -> Row:
    return {
        "number": number, "supplier": supplier, "state": state, "made": _at(placed), "placed": placed,
        "by": BY, "remark": "",
    }  # fmt: skip
