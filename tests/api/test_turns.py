"""Who computes now."""

import asyncio
from collections.abc import Awaitable, Callable

import pytest

from nundine.api import turns
from nundine.api.turns import BESIDE_EDITS, EDITS, QUESTIONS, Turns


class Line:
    """Requests of one event loop: who has his turn, who left the line."""

    def __init__(self) -> None:
        self.turns, self.now, self.tasks = Turns(), list[str](), dict[str, asyncio.Task[None]]()
        self.over: dict[str, asyncio.Event] = {}

    async def ask(self, name: str, edits: bool = False) -> None:
        self.over[name] = asyncio.Event()
        self.tasks[name] = asyncio.create_task(self._work(name, edits))
        await self.settle()

    async def _work(self, name: str, edits: bool) -> None:
        async with self.turns.turn(edits):
            self.now.append(name)
            try:
                await self.over[name].wait()
            finally:
                self.now.remove(name)

    async def end(self, name: str) -> None:
        self.over[name].set()
        await self.settle()

    async def leave(self, name: str) -> None:
        self.tasks[name].cancel()
        await self.settle()

    async def settle(self) -> None:
        for _ in range(6):
            await asyncio.sleep(0)


def _run(story: Callable[[Line], Awaitable[None]]) -> None:
    async def told() -> None:
        line = Line()
        await story(line)
        for name in line.tasks:
            line.over[name].set()
        await asyncio.gather(*line.tasks.values(), return_exceptions=True)
        assert line.turns._editing == line.turns._asking == 0

    asyncio.run(told())


def test_an_edit_does_not_wait_for_the_questions_before_it() -> None:
    async def story(line: Line) -> None:
        for n in range(60):
            await line.ask(f"question {n}")
        await line.ask("edit", edits=True)
        assert line.now == [f"question {n}" for n in range(QUESTIONS)] + ["edit"]

    _run(story)


def test_beside_edits_one_question_is_worked_on_at_a_time() -> None:
    async def story(line: Line) -> None:
        await line.ask("edit", edits=True)
        await line.ask("first")
        await line.ask("second")
        assert BESIDE_EDITS == 1 and line.now == ["edit", "first"]
        await line.end("first")
        assert line.now == ["edit", "second"]
        await line.ask("third")
        await line.end("edit")
        assert line.now == ["second", "third"]

    _run(story)


def test_a_question_lets_edits_that_wait_go_first_for_a_second(monkeypatch: pytest.MonkeyPatch) -> None:
    now = [100.0]
    monkeypatch.setattr(turns, "monotonic", lambda: now[0])

    async def story(line: Line) -> None:
        for n in range(EDITS + 3):
            await line.ask(f"edit {n}", edits=True)
        await line.ask("question")
        now[0] += 0.9
        await line.end("edit 0")
        assert line.now == ["edit 1", "edit 2"]
        now[0] += 0.2
        await line.end("edit 1")
        assert line.now == ["edit 2", "edit 3", "question"]

    _run(story)


def test_a_question_waits_no_longer_for_edits_of_which_none_comes_to_its_end(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(turns, "PATIENCE", 0.02)

    async def story(line: Line) -> None:
        for n in range(EDITS + 1):
            await line.ask(f"edit {n}", edits=True)
        await line.ask("question")
        assert "question" not in line.now
        while "question" not in line.now:
            await asyncio.sleep(0.01)

    _run(story)


def test_edits_take_their_turns_in_the_order_in_which_they_came() -> None:
    async def story(line: Line) -> None:
        for n in range(EDITS + 2):
            await line.ask(f"edit {n}", edits=True)
        assert len(line.now) == EDITS
        await line.end("edit 0")
        assert line.now == ["edit 1", "edit 2"]

    _run(story)


def test_who_leaves_the_line_or_his_turn_gives_it_to_the_next() -> None:
    async def story(line: Line) -> None:
        for name in ("a", "b", "c", "d"):
            await line.ask(name, edits=True)
        await line.leave("c")
        await line.end("a")
        assert line.now == ["b", "d"]
        await line.leave("b")
        await line.ask("e", edits=True)
        assert "e" in line.now
        for name in ("f", "g", "h"):
            await line.ask(name)
        await line.leave("g")
        for name in ("d", "e", "f"):
            await line.end(name)
        assert line.now == ["h"]

    _run(story)
