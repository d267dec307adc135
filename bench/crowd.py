"""`./nundine bench crowd [--seconds 120] [--editors 20] [--readers 60] [--pause 1.0]`: many at one site at
one moment.

Editors put jobs in, take them out, move and pin them; readers look at one screen after another and hear what
happens; one scheduler builds and accepts, one brings files in. It prints latencies, errors, lost updates
(edits that were acknowledged and are not in the log, or a log that replayed is not what is stored) and double
bookings. The baseline is an edit of one editor alone in the same run.
"""

from __future__ import annotations

import argparse
import http.client
import json
import statistics
import threading
import time
import uuid
from collections import Counter
from random import Random

from rich.console import Console
from rich.table import Table
from tests.conftest import PASSWORDS, WEEK
from tests.replay import commands_of, said_by_log

from bench.site import Site, demo_site
from nundine.services.cache import forget
from nundine.services.week.state import load_state
from nundine.store.base import db
from nundine.store.placement import load_placements
from nundine.store.week import Week

NAMES = ("sven", "mila")
READERS = ("rene", "karl", "olivia", "sven")
VIEWS = (
    "",
    "/backlog?size=50",
    "/backlog/summary",
    "/crew",
    "/agree",
    "/review",
    "/revisions",
    "/builds/latest",
)
BETWEEN_VIEWS, BETWEEN_FILES = 3.0, 10.0
"""Seconds for which a reader looks at a screen, and between two files."""


class Client:
    """One browser: a connection that is kept, a session, what was answered how fast."""

    def __init__(self, crowd: Crowd, name: str) -> None:
        self.crowd, self.host = crowd, crowd.site.address.removeprefix("http://")
        self.line: http.client.HTTPConnection | None = None
        self.cookie = ""
        with crowd.lock:
            if name not in crowd.cookies:
                _, _, headers = self.send("POST", "/api/session", {"name": name, "password": PASSWORDS[name]})
                crowd.cookies[name] = "; ".join(c.split(";")[0] for c in headers.get_all("set-cookie") or ())
        self.cookie = crowd.cookies[name]

    def send(
        self, method: str, path: str, body: object = None, kind: str = "application/json"
    ) -> tuple[int, bytes, http.client.HTTPMessage]:
        data = body if isinstance(body, bytes) else json.dumps(body).encode() if body is not None else None
        headers = {"x-nundine": "1", "content-type": kind, "cookie": self.cookie}
        for again in (True, False):
            if self.line is None:
                self.line = http.client.HTTPConnection(self.host, timeout=120)
            try:
                self.line.request(method, path, data, headers)
                answer = self.line.getresponse()
                return answer.status, answer.read(), answer.headers
            except (OSError, http.client.HTTPException):
                self.line = None
                if not again:
                    raise
        raise AssertionError

    def ask(
        self, what: str, method: str, path: str, body: object = None, kind: str = "application/json"
    ) -> tuple[int, dict]:
        """Send, and note how long it took and how it was answered."""
        began = time.perf_counter()
        try:
            status, text, _ = self.send(method, path, body, kind)
        except (OSError, http.client.HTTPException) as bad:
            self.crowd.note(what, time.perf_counter() - began, 599)
            return 599, {"title": str(bad)}
        self.crowd.note(what, time.perf_counter() - began, status)
        told = json.loads(text) if text else {}
        if status >= 400:
            self.refused(f"{what}: {told.get('code')}")
        return status, told

    def refused(self, why: str) -> None:
        with self.crowd.lock:
            self.crowd.refusals[why] += 1


class Crowd:
    def __init__(self, site: Site, pause: float) -> None:
        self.site, self.pause = site, pause
        self.cookies: dict[str, str] = {}
        """Of each account one session, as of many tabs."""
        self.over = threading.Event()
        self.lock = threading.Lock()
        self.took: dict[str, list[float]] = {}
        self.answers: dict[str, Counter[int]] = {}
        self.refusals: Counter[str] = Counter()
        """What was not done, by its code."""
        self.acknowledged = 0

    def note(self, what: str, seconds: float, status: int) -> None:
        with self.lock:
            self.took.setdefault(what, []).append(1000 * seconds)
            self.answers.setdefault(what, Counter())[status] += 1

    def wait(self, seconds: float) -> None:
        self.over.wait(seconds)

    def editor(self, n: int, of: int) -> None:
        """Edits one after another, each with what the last answer showed; a refusal is looked at, then it
        goes on."""
        r, client = Random(n), Client(self, NAMES[n % 2])
        week = f"/api/weeks/{WEEK}"
        _, page = client.ask("look", "GET", f"{week}/backlog?ready=true&size=200")
        jobs = [row["number"] for row in page["rows"]][n::of]
        _, now = client.ask("look", "GET", week)
        seen, days, mine = now["edits"], now["days"], set[str]()
        self.wait(r.random() * self.pause)
        while not self.over.is_set():
            job = r.choice(sorted(mine)) if mine and r.random() < 0.4 else r.choice(jobs)
            edit = (
                {"kind": "take out", "jobs": [job]}
                if job in mine
                else {"kind": "put", "jobs": [job], "day": r.choice(days)}
            )
            status, told = client.ask("edit", "POST", f"{week}/edits", {"edit": edit, "seen": seen})
            if status == 200:
                with self.lock:
                    self.acknowledged += 1
                seen = told["week"]["edits"]
                (mine.discard if job in mine else mine.add)(job)
            elif status == 409:
                _, now = client.ask("look", "GET", week)
                seen = now.get("edits", seen)
            else:
                mine.discard(job)
            self.wait(self.pause * (0.5 + r.random()))

    def reader(self, n: int) -> None:
        r, client = Random(1000 + n), Client(self, READERS[n % len(READERS)])
        self.wait(r.random() * BETWEEN_VIEWS)
        while not self.over.is_set():
            client.ask("look", "GET", f"/api/weeks/{WEEK}{r.choice(VIEWS)}")
            self.wait(BETWEEN_VIEWS * (0.5 + r.random()))

    def listener(self, n: int) -> None:
        """The stream that each open browser holds."""
        client = Client(self, READERS[n % len(READERS)])
        line = http.client.HTTPConnection(client.host, timeout=30)
        line.request("GET", f"/api/events?week={WEEK}", headers={"cookie": client.cookie})
        answer = line.getresponse()
        self.note("listen", 0.0, answer.status)
        while not self.over.is_set() and answer.readline():
            pass
        line.close()

    def builder(self) -> None:
        client, week = Client(self, "sven"), f"/api/weeks/{WEEK}/builds"
        while not self.over.is_set():
            status, made = client.ask("build", "POST", week, {"seconds": 3})
            while not self.over.is_set() and status == 200:
                self.wait(1)
                _, found = client.ask("look", "GET", f"{week}/latest")
                if found and found["state"] == "ready":
                    status, _ = client.ask("accept", "POST", f"{week}/{made['id']}/accept")
                    if status == 200:
                        with self.lock:
                            self.acknowledged += 1
                    break
                if not found or found["state"] == "failed":
                    client.refused(f"build: {found.get('error') if found else 'none'}")
                    self.note("build", 0.0, 598)
                    break
            self.wait(5)

    def importer(self) -> None:
        client, n = Client(self, "mila"), 0
        while not self.over.is_set():
            n += 1
            rows = "".join(f"CR-{n}-{k},Crowd {n},N1,corrective,approved,2026-11-01\n" for k in range(20))
            tasks = "".join(f"CR-{n}-{k},10,Do it,2,hand\n" for k in range(20))
            mark = uuid.uuid4().hex
            body = b""
            for name, text in (
                ("work_orders.csv", "number,title,asset,kind,state,raised\n" + rows),
                ("tasks.csv", "number,task,title,hours,needs\n" + tasks),
            ):
                head = (
                    f'--{mark}\r\nContent-Disposition: form-data; name="files"; filename="{name}"\r\n'
                    "Content-Type: text/csv\r\n\r\n"
                )
                body += head.encode() + text.encode() + b"\r\n"
            body += f"--{mark}--\r\n".encode()
            client.ask("import", "POST", "/api/imports", body, f"multipart/form-data; boundary={mark}")
            self.wait(BETWEEN_FILES)

    def run(self, seconds: float, editors: int, readers: int, others: bool = True) -> None:
        """All of them at once for so many seconds."""
        self.over.clear()
        work = [(self.editor, (n, editors)) for n in range(editors)] + [
            (self.reader, (n,)) for n in range(readers)
        ]
        work += [(self.listener, (n,)) for n in range(readers)]
        work += [(self.builder, ()), (self.importer, ())] if others else []
        threads = [threading.Thread(target=f, args=a, daemon=True) for f, a in work]  # type: ignore[arg-type]
        for t in threads:
            t.start()
            time.sleep(0.02)
        self.over.wait(seconds)
        self.over.set()
        for t in threads:
            t.join(60)


def stored(acknowledged: int) -> dict[str, int]:
    """What was lost or doubled, read from the database."""
    forget()
    with db.connection_context():
        week = Week.get(Week.name == WEEK)
        commands, said = commands_of(week), said_by_log(week)
        have = load_placements(week)
        differ = sum(1 for key in {*said, *have} if said.get(key) != have.get(key))
        conflicts = load_state(WEEK).checked.conflicts
        # Work that a hand puts on a day where its asset is taken has no time yet: told, and nothing doubled.
        double = sum(
            1 for c in conflicts if c.code in ("double", "one job") and c.facts.get("how") != "there"
        )
    return {
        "edits in the log": len(commands),
        "acknowledged edits that are not in the log": max(0, acknowledged - len(commands)),
        "gaps in the log": len(commands) - len({c.seq for c in commands} & set(range(1, week.edits + 1))),
        "placements that the log does not say": differ,
        "double bookings": double,
    }


def _percentile(values: list[float], share: float) -> float:
    return sorted(values)[min(len(values) - 1, int(share * len(values)))]


def main(asked: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="./nundine bench crowd")
    parser.add_argument("--seconds", type=float, default=120)
    parser.add_argument("--editors", type=int, default=20)
    parser.add_argument("--readers", type=int, default=60)
    parser.add_argument("--pause", type=float, default=1.0)
    given = parser.parse_args(asked)
    with demo_site() as (site, _):
        alone = Crowd(site, 0.3)
        alone.run(10, 1, 0, others=False)
        two = Crowd(site, 0.3)
        two.run(15, 2, 0, others=False)
        crowd = Crowd(site, given.pause)
        crowd.run(given.seconds, given.editors, given.readers)
        found = stored(alone.acknowledged + two.acknowledged + crowd.acknowledged)
    base = statistics.median(alone.took["edit"])
    table = Table("what", "answers", "median", "95th of 100", "x baseline", "refused", "errors of the server")
    rows = [("edit, one editor (baseline)", alone, "edit"), ("edit, two editors", two, "edit")]
    rows += [
        (what, crowd, what)
        for what in ("edit", "look", "build", "accept", "import", "listen")
        if what in crowd.took
    ]
    bad = 0
    for name, run, what in rows:
        took, answers = run.took[what], run.answers[what]
        wrong = sum(n for s, n in answers.items() if s >= 500)
        bad += wrong
        refused = ", ".join(f"{n} x {s}" for s, n in sorted(answers.items()) if 400 <= s < 500)
        p95 = _percentile(took, 0.95)
        table.add_row(
            name,
            str(len(took)),
            f"{statistics.median(took):.0f} ms",
            f"{p95:.0f} ms",
            f"{p95 / base:.1f}",
            refused,
            str(wrong),
        )
    console = Console(width=130)
    console.print(table)
    console.print("refused:", ", ".join(f"{n} x {why}" for why, n in crowd.refusals.most_common()))
    for what, count in found.items():
        console.print(f"{what}: {count}")
    lost = sum(count for what, count in found.items() if what != "edits in the log")
    return 1 if bad or lost else 0
