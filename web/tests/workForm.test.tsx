/** A form of a record with its tasks: what was typed is never lost, whatever the server or others say. */
import { act, renderHook } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import { Problem } from "../src/api/client";
import { useWorkForm, type Start } from "../src/features/orders/workForm";

const start: Start = {
  order: { title: "Brake shoes", due: "2026-12-04" },
  tasks: [
    { task: "10", title: "Isolate", hours: "1" },
    { task: "20", title: "Change", hours: "3" },
  ],
  revision: 4,
};
const shown = (more: Partial<Parameters<typeof useWorkForm>[0]> = {}) => {
  const close = vi.fn();
  const fresh = vi.fn(async () => start);
  const { result } = renderHook(() => useWorkForm({ start, close, fresh, ...more }));
  return { form: result, close, fresh };
};
const refusal = (status: number, code: string, text: string, field = "", facts = {}) =>
  new Problem(status, code, text, field, facts);

describe("a form of work", () => {
  it("has not changed until something else stands in it than before", () => {
    const { form } = shown();
    expect(form.current.changed).toBe(false);
    act(() => form.current.set("title", "Brake shoes, all"));
    expect(form.current.changed).toBe(true);
    act(() => form.current.set("title", "Brake shoes"));
    expect(form.current.changed).toBe(false);
    act(() => form.current.setTasks(start.tasks.slice(1)));
    expect(form.current.changed).toBe(true);
  });
  it("has changed from the beginning where it says what is kept nowhere yet", () => {
    expect(shown({ begun: true }).form.current.changed).toBe(true);
  });
  it("takes several fields at once and leaves the others alone", () => {
    const { form } = shown();
    act(() => form.current.setAll({ due: "2026-12-11", kind: "safety" }));
    expect(form.current.order).toEqual({ title: "Brake shoes", due: "2026-12-11", kind: "safety" });
  });
  it("closes with the number of what was made", async () => {
    const { form, close } = shown();
    await act(() => form.current.act(async () => "WO-3200"));
    expect(close).toHaveBeenCalledWith("WO-3200");
  });
  it("that is refused says why at its field, and keeps what was typed", async () => {
    const { form, close } = shown();
    act(() => form.current.set("due", "2026-02-30"));
    await act(() =>
      form.current.act(async () => {
        throw refusal(422, "date", "There is no 30 February.", "due");
      }),
    );
    expect(close).not.toHaveBeenCalled();
    expect(form.current.wrong).toEqual({ text: "There is no 30 February.", field: "due" });
    expect(form.current.order.due).toBe("2026-02-30");
    expect(form.current.busy).toBe(false);
  });
  it("that meets no server says so as well", async () => {
    const { form } = shown();
    await act(() =>
      form.current.act(async () => {
        throw new Error("Nundine does not answer.");
      }),
    );
    expect(form.current.wrong).toEqual({ text: "Nundine does not answer.", field: "" });
  });
  it("shows field by field what others changed, and goes on on top of it", async () => {
    const theirs: Start = {
      order: { title: "Brake shoes", due: "2026-12-09" },
      tasks: start.tasks,
      revision: 5,
    };
    const { form } = shown({ fresh: async () => theirs });
    act(() => form.current.set("title", "Brake shoes, all four"));
    const differs = [{ field: "due", was: "2026-12-04", is: "2026-12-09" }];
    await act(() =>
      form.current.act(async () => {
        throw refusal(409, "changed", "Mila changed this meanwhile.", "", { differs });
      }),
    );
    expect(form.current.differs).toEqual(differs);
    await act(() => form.current.onTop());
    expect(form.current.differs).toBeNull();
    expect(form.current.base.revision).toBe(5);
    expect(form.current.order).toEqual({ title: "Brake shoes, all four", due: "2026-12-09" });
    expect(form.current.changed).toBe(true);
  });
  it("forgets what was refused when it is sent again", async () => {
    const { form } = shown();
    await act(() =>
      form.current.act(async () => {
        throw refusal(422, "empty", "Give it a title.", "title");
      }),
    );
    let go: (number: string) => void = () => {};
    await act(async () => {
      void form.current.act(() => new Promise<string>((done) => (go = done)));
    });
    expect([form.current.wrong, form.current.busy]).toEqual([null, true]);
    await act(async () => go("WO-1"));
  });
});
