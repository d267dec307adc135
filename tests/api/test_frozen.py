"""What a revision or a closing freezes is one moment of the week, whatever others do meanwhile."""

from __future__ import annotations

import threading

from nundine.services.ledger import entries
from nundine.services.week import publish
from nundine.services.week.state import load_state
from nundine.store.base import db
from nundine.store.week import Revision
from tests.api.conftest import Client, Week
from tests.conftest import WEEK

Rows = dict[tuple[str, str, int], dict]


def after(rows: Rows, first: int, last: int) -> Rows:
    """Placements after the commands beyond `first` up to `last`."""
    out = dict(rows)
    for command in entries.after(WEEK, first):
        if command.seq > last:
            break
        for c in entries.changes_of_all([command], "placement"):
            key = (c.key[0], c.key[1], c.key[2])
            out.pop(key, None)
            if c.after:
                out[key] = c.after
    return out


def promised(rows: Rows) -> set[tuple]:
    return {(*key, row["day"], row["pinned"]) for key, row in rows.items()}


def test_a_revision_holds_the_week_as_it_was_after_the_edits_that_it_counts(
    published: Week, client: Client
) -> None:
    """Two threads: one edits without a pause, the other publishes."""
    start = load_state(WEEK)
    rows, first = dict(start.rows), start.week.edits
    mila, failed, over = Week(client("mila")), [], threading.Event()
    keys = [list(k) for k in sorted(rows)]

    def edit() -> None:
        for n in range(400):
            if over.is_set():
                return
            answer = mila.send(seen=10**6, kind="pin", keys=keys[n % len(keys) :][:3], on=n % 2 == 0)
            if answer.status_code != 200:
                failed.append(answer.text)

    editing = threading.Thread(target=edit)
    editing.start()
    try:
        for _ in range(3):
            assert published.http.post(f"{published.base}/revisions").status_code == 200
    finally:
        over.set()
        editing.join()
    assert not failed
    revisions = list(Revision.select().order_by(Revision.number))
    assert len({r.edits for r in revisions}) > 1, "edits came between"
    for r in revisions[1:]:
        lines = {(x["job"], x["task"], x["portion"], x["day"], x["pinned"]) for x in r.content["lines"]}
        assert lines == promised(after(rows, first, r.edits)), f"revision {r.number}"


def test_two_publish_at_once_and_each_gets_a_revision_of_its_own(published: Week) -> None:
    numbers: list[int] = []

    def freeze() -> None:
        with db.connection_context():
            numbers.append(publish.publish(WEEK, published_by()).number)

    threads = [threading.Thread(target=freeze) for _ in range(4)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert sorted(numbers) == [2, 3, 4, 5]


def published_by():
    return Revision.select().first().account
