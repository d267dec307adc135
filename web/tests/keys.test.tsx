/** Shortcuts: one key does one thing, never while somebody types, and letters can be switched off. */
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";

import { Keys, useBoard, useShortcuts } from "../src/app/keys";

function Screen({ list }: { list: Parameters<typeof useShortcuts>[0] }) {
  useShortcuts(list);
  return null;
}

function Letters() {
  const board = useBoard();
  return <button onClick={() => board.setLetters(!board.letters)}>letters {board.letters ? "on" : "off"}</button>;
}

describe("shortcuts", () => {
  it("run by their letter", async () => {
    const build = vi.fn();
    render(<Keys><Screen list={[{ keys: "b", what: "Build", run: build }]} /></Keys>);
    await userEvent.keyboard("b");
    await userEvent.keyboard("{Shift>}b{/Shift}");
    expect(build).toHaveBeenCalledTimes(1);
  });
  it("are silent while somebody types, but for those with Ctrl", async () => {
    const [build, find] = [vi.fn(), vi.fn()];
    render(<Keys><Screen list={[{ keys: "b", what: "Build", run: build }, { keys: "Ctrl+k", what: "Find", run: find }]} /><input aria-label="Search" /></Keys>);
    await userEvent.type(screen.getByLabelText("Search"), "brake");
    await userEvent.keyboard("{Control>}k{/Control}");
    expect(build).not.toHaveBeenCalled();
    expect(find).toHaveBeenCalledTimes(1);
  });
  it("of the screen that came last win, and go with it", async () => {
    const [below, above] = [vi.fn(), vi.fn()];
    const { rerender } = render(<Keys><Screen list={[{ keys: "m", what: "Mend", run: below }]} /><Screen list={[{ keys: "m", what: "Move", run: above }]} /></Keys>);
    await userEvent.keyboard("m");
    rerender(<Keys><Screen list={[{ keys: "m", what: "Mend", run: below }]} /></Keys>);
    await userEvent.keyboard("m");
    expect([below.mock.calls.length, above.mock.calls.length]).toEqual([1, 1]);
  });
  it("run what the screen shows now, not what it showed when it was opened", async () => {
    const did: number[] = [];
    const { rerender } = render(<Keys><Screen list={[{ keys: "o", what: "Out", run: () => did.push(1) }]} /></Keys>);
    rerender(<Keys><Screen list={[{ keys: "o", what: "Out", run: () => did.push(2) }]} /></Keys>);
    await userEvent.keyboard("o");
    expect(did).toEqual([2]);
  });
  it("of one letter can be switched off, which is remembered; arrows and ? stay", async () => {
    const ran: string[] = [];
    const list = ["b", "?", "ArrowDown"].map((keys) => ({ keys, what: keys, run: () => ran.push(keys) }));
    const shown = <Keys><Screen list={list} /><Letters /></Keys>;
    const { unmount } = render(shown);
    await userEvent.click(screen.getByRole("button"));
    await userEvent.keyboard("b?{ArrowDown}");
    expect(ran).toEqual(["?", "ArrowDown"]);
    unmount();
    render(shown);
    expect(screen.getByRole("button").textContent).toBe("letters off");
  });
});
