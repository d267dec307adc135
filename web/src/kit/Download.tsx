import { useState, type MouseEvent, type ReactNode } from "react";

import { getFile } from "../api/client";
import { there } from "../api/site";
import { useRefusal } from "./useRefusal";

/** Gives a file to whoever sits before the browser, as if they had followed a link to it. */
export function giveOut({ name, data }: { name: string; data: Blob }): void {
  const link = Object.assign(document.createElement("a"), {
    href: URL.createObjectURL(data),
    download: name,
  });
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

/**
 * A link to a file that is made when it is asked for: says so while it is being made, and in words when it
 * can not be.
 */
export function Download({ href, children }: { href: string; children: ReactNode }) {
  const refuse = useRefusal();
  const [making, setMaking] = useState(false);
  const get = async () => {
    setMaking(true);
    try {
      giveOut(await getFile(href));
    } catch (bad) {
      refuse("The file was not made", bad);
    } finally {
      setMaking(false);
    }
  };
  const click = (event: MouseEvent) => {
    if (event.ctrlKey || event.metaKey || event.shiftKey) return; // into another tab, as the browser does it
    event.preventDefault();
    if (!making) void get();
  };
  return (
    <>
      <a href={there(href)} download onClick={click} aria-busy={making}>
        {children}
      </a>
      {making && (
        <span className="ochre" role="status">
          {" "}
          being made …
        </span>
      )}
    </>
  );
}
