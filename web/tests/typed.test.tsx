/** Choosing by typing a part of a name: the first that fits is taken at once and told. */
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { describe, expect, it } from "vitest";

import { Typed } from "../src/kit/Typed";

const ASSETS = [
  { value: "N1-2", label: "Larch gondola, return station" },
  { value: "N1-1", label: "Larch gondola, drive station" },
  { value: "M1", label: "Drive hall" },
];

function Form({ options = ASSETS }: { options?: typeof ASSETS }) {
  const [value, change] = useState<string | null>(null);
  return (
    <>
      <Typed label="Where" options={options} value={value} change={change} />
      <code>{value ?? "none"}</code>
      <button>Next</button>
    </>
  );
}

const chosen = () => screen.getByText((_, node) => node?.tagName === "CODE").textContent;

describe("Typed", () => {
  it("takes the option that has all words, in any order", async () => {
    render(<Form />);
    await userEvent.type(screen.getByLabelText("Where"), "drive larch");
    expect(chosen()).toBe("N1-1");
    expect(screen.getByRole("status").textContent).toBe("→ Larch gondola, drive station");
  });
  it("prefers what begins with the words, and says that others fit", async () => {
    render(<Form />);
    await userEvent.type(screen.getByLabelText("Where"), "drive");
    expect(chosen()).toBe("M1");
    expect(screen.getByRole("status").textContent).toContain("first of 2");
  });
  it("says that nothing fits and chooses nothing", async () => {
    render(<Form />);
    const field = screen.getByLabelText("Where");
    await userEvent.type(field, "moon");
    expect(chosen()).toBe("none");
    expect(screen.getByRole("status").textContent).toBe("nothing fits");
    expect(field.getAttribute("aria-invalid")).toBe("true");
  });
  it("takes what was typed and entered before the options came, once they are there", async () => {
    const taken: string[] = [];
    const field = (options: typeof ASSETS) => (
      <Typed label="On" options={options} value={null} change={() => {}} take={(v) => taken.push(v)} />
    );
    const { rerender } = render(field([]));
    await userEvent.type(screen.getByLabelText("On"), "hall{Enter}");
    expect(taken).toEqual([]);
    rerender(field(ASSETS));
    expect(taken).toEqual(["M1"]);
    rerender(field([...ASSETS]));
    expect(taken).toEqual(["M1"]);
  });
  it("shows the whole name when the field is left", async () => {
    render(<Form />);
    const field = screen.getByLabelText<HTMLInputElement>("Where");
    await userEvent.type(field, "return");
    await userEvent.tab();
    expect(field.value).toBe("Larch gondola, return station");
    expect(screen.queryByRole("status")).toBeNull();
  });
  it("shows the whole name also if the options come after the field was left", async () => {
    const { rerender } = render(<Form options={[]} />);
    const field = screen.getByLabelText<HTMLInputElement>("Where");
    await userEvent.type(field, "hall");
    await userEvent.tab();
    rerender(<Form />);
    expect(field.value).toBe("Drive hall");
    expect(screen.queryByRole("status")).toBeNull();
  });
  it("chooses as soon as the options come, if they come after what was typed", async () => {
    const { rerender } = render(<Form options={[]} />);
    await userEvent.type(screen.getByLabelText("Where"), "hall");
    expect(chosen()).toBe("none");
    rerender(<Form />);
    expect(chosen()).toBe("M1");
  });
});
