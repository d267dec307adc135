/** A file that takes its time says that it is being made; one that can not be made says why. */
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { App } from "antd";
import { afterEach, describe, expect, it, vi } from "vitest";

import { getFile } from "../src/api/client";
import { Download } from "../src/kit/Download";

const answer = (body: string, more: ResponseInit) =>
  vi.stubGlobal(
    "fetch",
    vi.fn(() => Promise.resolve(new Response(body, more))),
  );
afterEach(() => vi.unstubAllGlobals());

describe("a file", () => {
  it("has the name that the server gives it, in any letters", async () => {
    answer("x", {
      headers: {
        "content-disposition":
          "attachment; filename=\"____.pdf\"; filename*=UTF-8''%D9%84%D9%8A%D9%84%D9%89.pdf",
      },
    });
    expect((await getFile("/api/sheets.pdf?by=crew")).name).toBe("ليلى.pdf");
  });
  it("that is refused is a problem with the server's words", async () => {
    answer(JSON.stringify({ code: "week", title: "There is no week." }), { status: 404 });
    await expect(getFile("/api/x.csv")).rejects.toThrow("There is no week.");
  });
});

describe("a link to a file", () => {
  it("says that the file is being made, asks once however often it is clicked, then lets go", async () => {
    let come: (answer: Response) => void = () => {};
    const asked = vi.fn(
      () =>
        new Promise<Response>((resolve) => {
          come = resolve;
        }),
    );
    vi.stubGlobal("fetch", asked);
    Object.assign(URL, { createObjectURL: () => "blob:it", revokeObjectURL: () => {} });
    const saved = vi.spyOn(HTMLAnchorElement.prototype, "click").mockImplementation(() => {});
    render(
      <App>
        <Download href="/api/sheets.pdf">Crew sheets</Download>
      </App>,
    );
    await userEvent.click(screen.getByText("Crew sheets"));
    await userEvent.click(screen.getByText("Crew sheets"));
    expect(screen.getByRole("status").textContent).toContain("being made");
    come(new Response("x"));
    await vi.waitFor(() => expect(screen.queryByRole("status")).toBeNull());
    expect([asked.mock.calls.length, saved.mock.calls.length]).toEqual([1, 1]);
  });
  it("tells in words why there is none", async () => {
    answer(JSON.stringify({ title: "Nobody by that name." }), { status: 404 });
    render(
      <App>
        <Download href="/api/x.ics">Calendar</Download>
      </App>,
    );
    await userEvent.click(screen.getByText("Calendar"));
    expect(await screen.findByText("Nobody by that name.")).toBeTruthy();
  });
});
