/**
 * What arrows pick has the focus and stays in sight; what is picked otherwise takes the focus from nobody.
 */
import { fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { expect, it, vi } from "vitest";

import { useFollow } from "../src/app/follow";

function List() {
  const [at, setAt] = useState(0);
  const follow = useFollow(".picked");
  return (
    <>
      <button
        onClick={() => {
          setAt(at + 1);
          follow();
        }}
      >
        by key
      </button>
      <button onClick={() => setAt(at + 1)}>by hand</button>
      {["one", "two", "three"].map((name, n) => (
        <div key={name} tabIndex={-1} className={n === at ? "picked" : ""}>
          {name}
        </div>
      ))}
    </>
  );
}

it("follows the pick that a key made, and only that", () => {
  const shown = vi.fn();
  Element.prototype.scrollIntoView = shown;
  render(<List />);
  expect(document.activeElement).toBe(document.body);
  fireEvent.click(screen.getByText("by key"));
  expect(document.activeElement?.textContent).toBe("two");
  expect(shown).toHaveBeenCalledTimes(1);
  screen.getByText("by hand").focus();
  fireEvent.click(screen.getByText("by hand"));
  expect(document.activeElement?.textContent).toBe("by hand");
  expect(shown).toHaveBeenCalledTimes(1);
});
