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
  return (
    <button onClick={() => board.setLetters(!board.letters)}>letters {board.letters ? "on" : "off"}</button>
  );
}

describe("shortcuts", () => {
  it("run by their letter", async () => {
    const build = vi.fn();
    render(
      <Keys>
        <Screen list={[{ keys: "b", what: "Build", run: build }]} />
      </Keys>,
    );
    await userEvent.keyboard("b");
    await userEvent.keyboard("{Shift>}b{/Shift}");
    expect(build).toHaveBeenCalledTimes(1);
  });
  it("are silent while somebody types, but for those with Ctrl", async () => {
    const [build, find] = [vi.fn(), vi.fn()];
    render(
      <Keys>
        <Screen
          list={[
            { keys: "b", what: "Build", run: build },
            { keys: "Ctrl+k", what: "Find", run: find },
          ]}
        />
        <input aria-label="Search" />
      </Keys>,
    );
    await userEvent.type(screen.getByLabelText("Search"), "brake");
    await userEvent.keyboard("{Control>}k{/Control}");
    expect(build).not.toHaveBeenCalled();
    expect(find).toHaveBeenCalledTimes(1);
  });
  it("leave Enter and space to the button that has the focus, and letters work there", async () => {
    const [open, done, press] = [vi.fn(), vi.fn(), vi.fn()];
    render(
      <Keys>
        <Screen
          list={[
            { keys: "Enter", what: "Open", run: open },
            { keys: " ", what: "Choose", run: open },
            { keys: "e", what: "Done", run: done },
          ]}
        />
        <button onClick={press}>Overdue</button>
      </Keys>,
    );
    screen.getByRole("button").focus();
    await userEvent.keyboard("{Enter} e");
    expect([open.mock.calls.length, press.mock.calls.length, done.mock.calls.length]).toEqual([0, 2, 1]);
  });
  it("of letters work on a box that was just ticked, which keeps its space", async () => {
    const [done, choose] = [vi.fn(), vi.fn()];
    render(
      <Keys>
        <Screen
          list={[
            { keys: "e", what: "Done", run: done },
            { keys: " ", what: "Choose", run: choose },
          ]}
        />
        <input type="checkbox" aria-label="Chosen" />
      </Keys>,
    );
    await userEvent.click(screen.getByLabelText("Chosen"));
    await userEvent.keyboard(" e");
    expect((screen.getByLabelText("Chosen") as HTMLInputElement).checked).toBe(false);
    expect([done.mock.calls.length, choose.mock.calls.length]).toEqual([1, 0]);
  });
  it("leave arrows to an open menu and to a choice of one", async () => {
    const down = vi.fn();
    render(
      <Keys>
        <Screen list={[{ keys: "ArrowDown", what: "Next", run: down }]} />
        <ul role="menu">
          <li role="menuitem" tabIndex={0}>
            Tue 1 Dec
          </li>
        </ul>
        <input type="radio" aria-label="Now" />
      </Keys>,
    );
    screen.getByRole("menuitem").focus();
    await userEvent.keyboard("{ArrowDown}");
    screen.getByLabelText("Now").focus();
    await userEvent.keyboard("{ArrowDown}");
    expect(down).not.toHaveBeenCalled();
  });
  it("are silent while a panel lies over the screen, even those with Ctrl", async () => {
    const run = vi.fn();
    const list = [
      { keys: "e", what: "Done", run },
      { keys: "Ctrl+k", what: "Find", run },
      { keys: "Escape", what: "Close the job", run },
    ];
    const { rerender } = render(
      <Keys>
        <Screen list={list} />
        <div role="dialog">
          <button>Mend</button>
        </div>
      </Keys>,
    );
    screen.getByRole("button").focus();
    await userEvent.keyboard("e{Control>}k{/Control}{Escape}");
    expect(run).not.toHaveBeenCalled();
    rerender(
      <Keys>
        <Screen list={list} />
      </Keys>,
    );
    await userEvent.keyboard("e");
    expect(run).toHaveBeenCalledTimes(1);
  });
  it("of the screen that came last win, and go with it", async () => {
    const [below, above] = [vi.fn(), vi.fn()];
    const { rerender } = render(
      <Keys>
        <Screen list={[{ keys: "m", what: "Mend", run: below }]} />
        <Screen list={[{ keys: "m", what: "Move", run: above }]} />
      </Keys>,
    );
    await userEvent.keyboard("m");
    rerender(
      <Keys>
        <Screen list={[{ keys: "m", what: "Mend", run: below }]} />
      </Keys>,
    );
    await userEvent.keyboard("m");
    expect([below.mock.calls.length, above.mock.calls.length]).toEqual([1, 1]);
  });
  it("run what the screen shows now, not what it showed when it was opened", async () => {
    const did: number[] = [];
    const { rerender } = render(
      <Keys>
        <Screen list={[{ keys: "o", what: "Out", run: () => did.push(1) }]} />
      </Keys>,
    );
    rerender(
      <Keys>
        <Screen list={[{ keys: "o", what: "Out", run: () => did.push(2) }]} />
      </Keys>,
    );
    await userEvent.keyboard("o");
    expect(did).toEqual([2]);
  });
  it("of one letter can be switched off, which is remembered; arrows and ? stay", async () => {
    const ran: string[] = [];
    const list = ["b", "?", "ArrowDown"].map((keys) => ({ keys, what: keys, run: () => ran.push(keys) }));
    const shown = (
      <Keys>
        <Screen list={list} />
        <Letters />
      </Keys>
    );
    const { unmount } = render(shown);
    await userEvent.click(screen.getByRole("button"));
    await userEvent.keyboard("b?{ArrowDown}");
    expect(ran).toEqual(["?", "ArrowDown"]);
    unmount();
    render(shown);
    expect(screen.getByRole("button").textContent).toBe("letters off");
  });
});
